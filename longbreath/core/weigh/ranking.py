"""Ranking by use: weights of the bands proposed from gearing and use, and how stable an order is under scatter and other weights."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError
from longbreath.core.compare.bands import Band
from longbreath.core.weigh.several import Ranked, Several

Array = npt.NDArray[np.float64]
BY_USE = {
    "road": (0.45, 0.40, 0.15),
    "towing": (0.60, 0.30, 0.10),
    "delivery": (0.60, 0.30, 0.10),
    "closed course": (0.05, 0.35, 0.60),
    "kart": (0.10, 0.45, 0.45),
}
"""Share of the time under load in the low, middle and top band, by use. Common practice, no source."""
DRAWS = 4000
OTHER_WEIGHTS = 12.0
"""How tightly other weightings lie about the declared one (concentration of a Dirichlet): about ± 14 percentage points. Ours."""


@dataclass(frozen=True)
class Weights:
    """What each band counts [1], summing to 1, by name of band; and where that comes from, in words."""

    shares: Mapping[str, float]
    origin: str

    @property
    def words(self) -> str:
        """As it stands beside a ranking."""
        return ", ".join(f"{name} {share:.0%}" for name, share in self.shares.items())


def weights_of_use(use: str, bands: Sequence[Band]) -> Weights:
    """Weights by what the vehicle is used for; those of the road where the use is not known."""
    name = next((n for n in BY_USE if n in use.casefold()), "road")
    shares = dict(zip((b.name for b in bands), BY_USE[name], strict=False))
    total = sum(shares.values())
    return Weights({k: v / total for k, v in shares.items()}, f"usual for {name}, common practice")


def weights_of_gears(ratios: Sequence[float], shift: float, bands: Sequence[Band]) -> Weights:
    """Weights by the time that full-throttle acceleration through the gears spends in each band.

    ratios: of the gears, first to last; shift: speed of the shift [rad/s]. Each gear but the first is entered at the shift speed times
    the step; in a gear the engine's speed rises in proportion to its ratio squared at about even torque, so time goes as Δω/ratio².
    Source: first principles (even torque, no drag). Raises InputError for fewer than two gears, or ratios that do not fall.
    """
    if len(ratios) < 2 or any(b >= a for a, b in pairwise(ratios)) or min(ratios) <= 0:
        raise InputError("Two ratios or more, each smaller than the one before.", "gears")
    times = dict.fromkeys((b.name for b in bands), 0.0)
    for lower, ratio in pairwise(ratios):
        begin = shift * ratio / lower
        for band in bands:
            inside = min(shift, band.high) - max(begin, band.low)
            times[band.name] += max(inside, 0.0) / ratio**2
    total = sum(times.values())
    if total <= 0.0:
        raise InputError("Between these gears the engine never runs in a band of use.", "gears")
    told = " / ".join(f"{r:g}" for r in ratios)
    return Weights({k: v / total for k, v in times.items()}, f"time under full throttle through gears {told}")


def checked(shares: Mapping[str, float], origin: str) -> Weights:
    """Declared weights, made to sum to 1. Raises InputError for a negative one, or none at all."""
    for name, share in shares.items():
        if share < 0:
            raise InputError("A weight is nought or more.", f"weight_{name}")
    total = sum(shares.values())
    if total <= 0:
        raise InputError("Give at least one band a weight.", f"weight_{next(iter(shares))}")
    return Weights({name: share / total for name, share in shares.items()}, origin)


@dataclass(frozen=True)
class Stability:
    """How often each variant comes first [1]: under the scatter of the pulls, and under other weights."""

    under_scatter: tuple[tuple[str, float], ...]
    under_weights: tuple[tuple[str, float], ...]

    @property
    def sentence(self) -> str:
        """In one sentence."""
        first, chance = self.under_scatter[0]
        other, share = self.under_weights[0]
        kept = f"{first} is first in {chance:.0%} of what the scatter allows"
        if other == first:
            return f"{kept}, and in {share:.0%} of weightings near the declared one."
        return f"{kept}; under weightings near the declared one {other} is first most often ({share:.0%})."


def stability(several: Several, ranked: Ranked, weights: Weights, seed: int = 1) -> Stability:
    """Draw the means from what the pulls allow (multivariate t), and the weights from about the declared ones (Dirichlet)."""
    letters = several.letters
    rng = np.random.default_rng(seed)
    means = np.array([dict(ranked.means)[letter] for letter in letters])
    cov = several.model.cov
    typical = np.median(
        [ranked.errors[i, j] ** 2 / (cov[i, i] + cov[j, j] - 2 * cov[i, j]) for i, j in _pairs(len(letters))]
    )
    root = np.linalg.cholesky(cov + 1e-12 * np.eye(len(letters))) * float(np.sqrt(typical))
    scale = np.sqrt(ranked.df / rng.chisquare(ranked.df, (DRAWS, 1))) if np.isfinite(ranked.df) else 1.0
    drawn = means + (rng.standard_normal((DRAWS, len(letters))) @ root.T) * scale
    by_band = np.array([[dict(r.means)[letter] for letter in letters] for _, r in several.bands])
    shares = np.array([weights.shares.get(band.name, 0.0) for band, _ in several.bands])
    others = rng.dirichlet(np.maximum(shares * OTHER_WEIGHTS, 0.05), DRAWS)
    return Stability(_firsts(letters, drawn), _firsts(letters, others @ by_band))


def _pairs(k: int) -> list[tuple[int, int]]:
    return [(i, j) for i in range(k) for j in range(i + 1, k)]


def _firsts(letters: Sequence[str], drawn: Array) -> tuple[tuple[str, float], ...]:
    counts = np.bincount(np.argmax(drawn, axis=1), minlength=len(letters)) / len(drawn)
    return tuple(sorted(zip(letters, (float(c) for c in counts), strict=True), key=lambda pair: -pair[1]))
