"""Made-up dyno sessions with known truth, weighed by the product: how often its intervals and verdicts are right."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from multiprocessing import get_context

import numpy as np
from scipy import stats

from longbreath.core.compare import bands, compare
from longbreath.core.compare.compare import PullCurve
from longbreath.core.compare.scatter import Scatter
from tests.core.compare.flat import BANDS, GRID
from tests.core.compare.quick import few_draws

LEVEL = 180.0
_lag = np.abs(np.arange(GRID.size)[:, None] - np.arange(GRID.size)[None, :])
_ROOT = np.linalg.cholesky(0.3 + 0.7 * np.exp(-((_lag / 4.0) ** 2)) + 1e-8 * np.eye(GRID.size))


def set_shape(rng: np.random.Generator) -> np.ndarray:
    """How a set lies off, one on average over the band: a shift, tilted a little."""
    return np.asarray(rng.standard_normal() + 0.4 * rng.standard_normal() * np.linspace(-1.7, 1.7, GRID.size))


def still(place: np.ndarray) -> np.ndarray:
    """No drift; `place` 0..1 over the session, returns a share of torque."""
    return np.zeros_like(place)


def straight(place: np.ndarray) -> np.ndarray:
    """One per cent lost from first to last pull."""
    return -0.01 * place


def warm_up(place: np.ndarray) -> np.ndarray:
    """One per cent gained while the engine warms through."""
    return -0.01 * np.exp(-4.0 * place)


def heat_soak(place: np.ndarray) -> np.ndarray:
    """Up to 0.8 % lost in the middle of the session, come back at its end."""
    return -0.008 * (1.0 - (2.0 * place - 1.0) ** 2)


@dataclass(frozen=True)
class Study:
    """A kind of session: order of pulls (days parted by a bar), true difference as a share of A, scatter of A and B [N m], drift; how
    far each set lies off [N m], and from how many degrees of freedom the dyno's records know that (None: not at all)."""

    name: str
    order: str = "AAABBBAAA"
    effect: float = 0.0
    sd_a: float = 0.9
    sd_b: float = 0.9
    drift: Callable[[np.ndarray], np.ndarray] = still
    sets: float = 0.0
    history: int | None = None

    def session(self, rng: np.random.Generator) -> list[PullCurve]:
        """One session."""
        found: list[PullCurve] = []
        fitting = -1
        for day, order in enumerate(self.order.split("|")):
            places, shift, last = self.drift(np.linspace(0.0, 1.0, len(order))), rng.normal(0.0, 2.0) * (day > 0), ""
            for k, label in enumerate(order):
                if label != last:
                    fitting, off, last = fitting + 1, self.sets * set_shape(rng), label
                sd = self.sd_b if label == "B" else self.sd_a
                level = LEVEL * (1.0 + places[k] + (self.effect if label == "B" else 0.0)) + off + shift
                curve = level + sd * (_ROOT @ rng.standard_normal(GRID.size))
                found.append(PullCurve(label, len(found) + 1, curve, "", fitting, day))
        return found

    def known(self, rng: np.random.Generator, pull: float) -> Scatter:
        """What the dyno's records say: the scatter from set to set as a fit to so many degrees of freedom would have found it."""
        if self.history is None:
            return Scatter(pull)
        told = self.sets * float(np.sqrt(rng.chisquare(self.history) / self.history))
        return Scatter(pull, 40.0, told, float(self.history), origin="made up")


@dataclass
class Found:
    """Counts over sessions: band of the curve that held, all three band intervals that held, verdicts of the middle band,
    gains and losses in any band of any session."""

    sessions: int = 0
    curve: int = 0
    family: int = 0
    verdicts: Counter[str] = field(default_factory=Counter)

    def add(self, other: Found) -> Found:
        """Both together."""
        return Found(
            self.sessions + other.sessions,
            self.curve + other.curve,
            self.family + other.family,
            self.verdicts + other.verdicts,
        )

    def share(self, verdict: str) -> float:
        """Share of sessions whose middle band got that verdict."""
        return self.verdicts[verdict] / self.sessions

    def line(self, name: str) -> str:
        """A row of the table in the method note."""
        said = ", ".join(f"{v} {100 * n / self.sessions:.0f} %" for v, n in self.verdicts.most_common())
        return f"| {name} | {100 * self.curve / self.sessions:.1f} | {100 * self.family / self.sessions:.1f} | {said} |"


def at_least(hits: int, sessions: int, share: float) -> bool:
    """Whether a true share of at least `share` is not refused: the upper 99.5 % confidence limit reaches it (binomial, exact)."""
    return bool(stats.beta.ppf(0.995, hits + 1, max(sessions - hits, 0.5)) >= share)


def at_most(hits: int, sessions: int, share: float) -> bool:
    """Whether a true share of at most `share` is not refused, as `at_least`."""
    return at_least(sessions - hits, sessions, 1.0 - share)


def quickly(study: Study, sessions: int, seed: int = 1, known: float = 0.9) -> Found:
    """The same with the quantile over the curve from fewer draws."""
    with few_draws():
        return run(study, sessions, seed, known)


def run(study: Study, sessions: int, seed: int = 1, known: float = 0.9) -> Found:
    """Weigh that many sessions."""
    rng, found, truth = np.random.default_rng(seed), Found(), study.effect * LEVEL
    for _ in range(sessions):
        comparison = compare.compare_pulls(study.session(rng), GRID, scatter=study.known(rng, known))
        weighing = bands.weigh(comparison, BANDS)
        found.sessions += 1
        found.curve += bool(np.all(np.abs(comparison.difference - truth) <= comparison.half_width))
        found.family += all(item.effect.low <= truth <= item.effect.high for item in weighing.bands)
        middle = weighing.bands[1]
        found.verdicts["stated gain" if middle.verdict == compare.GAIN and not middle.is_small else middle.verdict] += 1
    return found


def spread_out(study: Study, sessions: int, workers: int = 2) -> Found:
    """The same over processes."""
    each = -(-sessions // (4 * workers))
    with ProcessPoolExecutor(workers, get_context("spawn")) as pool:
        parts = list(pool.map(run, [study] * 4 * workers, [each] * 4 * workers, range(4 * workers)))
    total = Found()
    for part in parts:
        total = total.add(part)
    return total
