"""Boosted comparisons by both schools: as set (the part keeps the boost it finds), and at equal pressure by the engine's own sweep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.quantiles import t_at, t_beyond
from longbreath.core.compare import noise
from longbreath.core.compare.compare import CONFIDENCE, Effect, critical_of
from longbreath.core.compare.levels import Levels, levels_for
from longbreath.core.compare.scatter import Scatter

Array = npt.NDArray[np.float64]
SWEPT = 0.04
"""Pressures of one build must differ by this share of the absolute pressure before a sweep says how torque follows them. Ours."""
BEYOND = 0.01
"""By this share of the absolute pressure a comparison may lie outside what was swept; farther is refused. Ours."""
STRAY = 3.5
"""A pull this many standard deviations off its sweep breaks the order over the boost levels. Common practice, no source."""
EQUAL = 0.01
"""Pressures that lie within this share of each other count as equal boost. Common practice, no source."""
OWN, LAW = "own sweep", "pressure-ratio law"


@dataclass(frozen=True)
class BoostedPull:
    """One valid pull: its letter, the build it was of (the letter without the controller's setting), its place; torque (m,) [N m] and
    absolute manifold pressure (m,) [Pa] on a grid of speeds; charge temperature (m,) [K] where it was logged."""

    label: str
    build: str
    order: int
    torque: Array
    pressure: Array
    charge: Array | None = None
    row: str = ""
    day: int = 0
    fitting: int = 0


@dataclass(frozen=True)
class EqualBoost:
    """B − A at one absolute pressure per speed, (m,) [N m]: difference and half width of its simultaneous band, NaN where it is
    refused.

    method: OWN or LAW; pressure (m,) [Pa]: what A ran at and both are brought to; pressure_b: what B ran at; slope (m,) [N m/Pa]:
    torque
    by pressure; as_set (m,): B − A as the pulls were; levels: how many pulls the sweep rests on. curved: whether torque follows
    pressure in a curve. strays: rows of pulls that break the order. confidence: of its intervals [1].
    """

    method: str
    grid: Array
    difference: Array
    half_width: Array
    standard_error: Array
    as_set: Array
    pressure: Array
    pressure_b: Array
    slope: Array
    df: float
    swept: tuple[float, float]
    pulls: int
    curved: bool = False
    strays: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    confidence: float = CONFIDENCE

    @property
    def covered(self) -> npt.NDArray[np.bool_]:
        """Speeds at which nothing is refused."""
        return np.isfinite(self.difference)

    def band(self, low: float, high: float) -> Effect | None:
        """B − A of the mean over a band [rad/s]; None where less than half of it is covered.

        Errors at neighbouring speeds are taken to go together, which is the cautious choice.
        """
        inside = (self.grid >= low - 1e-9) & (self.grid <= high + 1e-9)
        both = inside & self.covered
        if not both.any() or both.sum() < 0.5 * inside.sum():
            return None
        error = float(self.standard_error[both].mean())
        half = t_at(1 - (1 - self.confidence) / 6, self.df) * error
        return Effect(float(self.difference[both].mean()), error, half, error, self.df, 0.0)

    def share_of_boost(self, low: float, high: float) -> float | None:
        """How much of the difference as set goes with the boost [1], over a band; None where it is not told from nought."""
        found = self.band(low, high)
        both = (self.grid >= low - 1e-9) & (self.grid <= high + 1e-9) & self.covered
        if found is None:
            return None
        as_set = float(self.as_set[both].mean())
        return (as_set - found.value) / as_set if abs(as_set) > found.half_width else None

    @property
    def ratio(self) -> Array:
        """B's absolute pressure over A's (m,) [1]."""
        return np.asarray(self.pressure_b / self.pressure)

    @property
    def is_matched(self) -> bool:
        """Whether boost was equal along the whole curve already, not only at its peak."""
        return bool(np.all(np.abs(self.ratio - 1.0) <= EQUAL))

    def matching(self) -> str:
        """How well boost was matched along the curve, in a sentence."""
        off = self.ratio - 1.0
        at = int(np.argmax(np.abs(off)))
        if self.is_matched:
            return f"Boost was equal along the curve: at no speed more than {abs(off[at]):.1%} of the absolute pressure apart."
        peak = off[int(np.argmax(self.pressure))]
        words = f"B ran at {_signed(off[at])} of A’s absolute pressure at {self.grid[at] / RPM:,.0f} rpm".replace(
            ",", "\u202f"
        )
        return (
            f"{words}; at the highest boost {_signed(peak)}. Matching the peak alone would not make it equal."
            if (abs(peak) <= EQUAL)
            else f"{words}, {_signed(peak)} at the highest boost."
        )


def _signed(share: float) -> str:
    return f"{100 * share:+.1f} %".replace("-", "−")


def _pair(pulls: Sequence[BoostedPull]) -> tuple[list[BoostedPull], list[BoostedPull]]:
    a, b = ([p for p in pulls if p.label == label] for label in "AB")
    if len(a) < 2 or len(b) < 2:
        raise EvidenceError("At least two valid pulls of A and two of B with their manifold pressure are needed.")
    return a, b


def _mean(pulls: Sequence[BoostedPull], name: str) -> Array:
    return np.asarray(np.mean([getattr(p, name) for p in pulls], axis=0))


def by_own_sweep(
    pulls: Sequence[BoostedPull],
    grid: Array,
    seed: int = 1,
    scatter: Scatter | None = None,
    confidence: float = CONFIDENCE,
) -> EqualBoost:
    """B − A at A's pressure, from this engine's own sweep: at each speed torque = build + β·(p − p̄) [+ γ·(p − p̄)²], all builds
    alike in β.

    pulls: those of A and B, and every other of the same visits that shows how torque follows pressure; grid [rad/s]. Refused (NaN)
    where the pressures that the two builds were swept over do not overlap. Raises EvidenceError where no build was swept. Source:
    analysis of covariance."""
    a, b = _pair(pulls)
    torque, pressure = np.array([p.torque for p in pulls]), np.array([p.pressure for p in pulls])
    if not (np.isfinite(torque).all() and np.isfinite(pressure).all()):
        raise EvidenceError("The pulls do not share all speeds with their manifold pressure.")
    builds = list(dict.fromkeys(p.build for p in pulls))
    _check_swept(pulls, pressure)
    columns = np.array([[float(p.build == build) for build in builds] for p in pulls])
    day = np.array([[float(p.day == d) for d in sorted({p.day for p in pulls})[1:]] for p in pulls])
    fixed = _spanning(np.hstack([columns, day.reshape(len(pulls), -1)]))
    places = [builds.index(a[0].build), builds.index(b[0].build)]
    curved = _is_curved(torque, pressure, fixed)
    df = len(pulls) - fixed.shape[1] - 1 - curved
    if df < 2:
        raise EvidenceError("Too few pulls for a sweep: pull once more at another setting.")
    at_a, at_b = _mean(a, "pressure"), _mean(b, "pressure")
    value, factor, slope, residuals = _by_speed(torque, pressure, fixed, curved, places, at_a)
    if _rise(torque, pressure, fixed) <= 0.0:
        raise EvidenceError(
            "Torque does not rise with this pressure in the sweep: look at the sensor, or at what else was changed."
        )
    value, factor = _refuse(value, factor, pulls, a, b)
    shared = noise.pooling(grid.size)
    variance = factor**2 * (shared @ (np.sum(residuals**2, axis=0) / df))
    levels = _levels(fixed, pressure, curved, places, pulls, scatter)
    spread = levels.spread(residuals, np.nan_to_num(variance, nan=1.0), float(df), shared)
    critical = critical_of(noise.residual_correlation(residuals), spread, float(df), levels, confidence, seed)
    error = np.where(np.isfinite(factor), np.sqrt(spread.variance), np.nan)
    return EqualBoost(
        OWN,
        grid,
        value,
        critical * error,
        error,
        _mean(b, "torque") - _mean(a, "torque"),
        at_a,
        at_b,
        slope,
        spread.df,
        (float(pressure.min()), float(pressure.max())),
        len(pulls),
        curved,
        _strays(pulls, residuals, df),
        ("Torque is taken to follow pressure alike in every build.",),
        confidence,
    )


def _check_swept(pulls: Sequence[BoostedPull], pressure: Array) -> None:
    """Raise EvidenceError unless one build was pulled at pressures that differ enough."""
    builds = dict.fromkeys(p.build for p in pulls)
    spans = [np.ptp(np.array([p.pressure for p in pulls if p.build == build]), axis=0) for build in builds]
    if max(float(np.median(span / pressure.mean(axis=0))) for span in spans) < SWEPT:
        raise EvidenceError(
            "No build was pulled at boosts that differ: this engine has no sweep of its own. Pull one build at two settings or "
            "more, each setting as a variant that is like the other but for the controller."
        )


def _rise(torque: Array, pressure: Array, fixed: Array) -> float:
    """Torque by pressure [N m/Pa] on the means over speeds, as a straight line common to all builds."""
    x = np.column_stack([fixed, pressure.mean(axis=1) - pressure.mean()])
    return float((np.linalg.pinv(x) @ torque.mean(axis=1))[-1])


def _by_speed(
    torque: Array, pressure: Array, fixed: Array, curved: bool, places: Sequence[int], at: Array
) -> tuple[Array, Array, Array, Array]:
    """Speed by speed: the contrast of two builds, its standard error over the residual one, the slope at a pressure, residuals."""
    m, middle = torque.shape[1], pressure.mean(axis=0)
    value, factor, slope, residuals = np.empty(m), np.empty(m), np.empty(m), np.empty_like(torque)
    for j in range(m):
        off = pressure[:, j] - middle[j]
        x = np.column_stack([fixed, off, *([off**2] if curved else [])])
        inverse = np.linalg.pinv(x.T @ x)
        found = inverse @ (x.T @ torque[:, j])
        contrast = np.zeros(x.shape[1])
        if places[0] != places[1]:
            contrast[places[0]], contrast[places[1]] = -1.0, 1.0
        value[j], factor[j] = float(contrast @ found), sqrt(max(float(contrast @ inverse @ contrast), 0.0))
        residuals[:, j] = torque[:, j] - x @ found
        slope[j] = found[fixed.shape[1]] + (2.0 * found[-1] * (at[j] - middle[j]) if curved else 0.0)
    return value, factor, slope, residuals


def _levels(
    fixed: Array,
    pressure: Array,
    curved: bool,
    places: Sequence[int],
    pulls: Sequence[BoostedPull],
    scatter: Scatter | None,
) -> Levels:
    """What sets and days add to the contrast of two builds, by the design at the mean pressure of each pull."""
    off = pressure.mean(axis=1) - pressure.mean()
    x = np.column_stack([fixed, off, *([off**2] if curved else [])])
    weights = np.linalg.pinv(x.T @ x) @ x.T
    return levels_for(
        x, weights[places[1]] - weights[places[0]], [p.fitting for p in pulls], [p.day for p in pulls], scatter
    )


def _spanning(matrix: Array) -> Array:
    kept: list[int] = []
    for j in range(matrix.shape[1]):
        if np.linalg.matrix_rank(matrix[:, [*kept, j]]) > len(kept):
            kept.append(j)
    return np.asarray(matrix[:, kept])


def _is_curved(torque: Array, pressure: Array, fixed: Array) -> bool:
    """Whether the square of pressure is told from nought at 1 % on the mean over speeds; from four levels on."""
    y, p = torque.mean(axis=1), pressure.mean(axis=1) - pressure.mean()
    if len(y) - fixed.shape[1] < 5:
        return False
    x = np.column_stack([fixed, p, p**2])
    if np.linalg.matrix_rank(x) < x.shape[1]:
        return False
    inverse = np.linalg.inv(x.T @ x)
    found = inverse @ (x.T @ y)
    df = len(y) - x.shape[1]
    error = sqrt(float(np.sum((y - x @ found) ** 2)) / df * float(inverse[-1, -1]))
    return bool(error > 0 and 2 * t_beyond(abs(found[-1]) / error, df) < 0.01)


def _refuse(
    value: Array, factor: Array, pulls: Sequence[BoostedPull], a: Sequence[BoostedPull], b: Sequence[BoostedPull]
) -> tuple[Array, Array]:
    """NaN where one build would have to be carried beyond the pressures it was swept over."""
    of_a = np.array([p.pressure for p in pulls if p.build == a[0].build])
    of_b = np.array([p.pressure for p in pulls if p.build == b[0].build])
    slack = BEYOND * _mean(a, "pressure")
    low = np.maximum(of_a.min(axis=0), of_b.min(axis=0)) - slack
    high = np.minimum(of_a.max(axis=0), of_b.max(axis=0)) + slack
    inside = low <= high
    return np.where(inside, value, np.nan), np.where(inside, factor, np.nan)


def _strays(pulls: Sequence[BoostedPull], residuals: Array, df: int) -> tuple[str, ...]:
    """Pulls whose mean lies far off the sweep that all others make (studentised residuals)."""
    mean = residuals.mean(axis=1)
    found = []
    for k, pull in enumerate(pulls):
        others = np.delete(mean, k)
        spread = sqrt(float(np.sum(others**2)) / max(df - 1, 1))
        if spread > 0 and abs(mean[k]) > STRAY * spread:
            found.append(pull.row or f"pull {pull.order}")
    return tuple(found)


def by_ratio_law(
    pulls: Sequence[BoostedPull], grid: Array, seed: int = 1, confidence: float = CONFIDENCE
) -> EqualBoost:
    """B − A [N m] with every pull brought to A's mean pressure by the pressure-ratio law, with charge temperature where all pulls
    logged it.

    T·(p_0/p)·(T_charge/T_charge,0) [N m]: torque in proportion to charge density. The weaker way: it takes back pressure, mixture
    and timing to stay as they are. Source: common practice.
    """
    a, b = _pair(pulls)
    both = [*a, *b]
    at, warm = _mean(a, "pressure"), all(p.charge is not None for p in both)
    base = _mean(a, "charge") if warm else None
    scaled = []
    for pull in both:
        factor = at / pull.pressure
        if base is not None and pull.charge is not None:
            factor = factor * pull.charge / base
        scaled.append(pull.torque * factor)
    stack = np.array(scaled)
    is_b = np.array([p.label == "B" for p in both])
    mean_a, mean_b = stack[~is_b].mean(axis=0), stack[is_b].mean(axis=0)
    residuals = stack - np.where(is_b[:, None], mean_b, mean_a)
    df = len(both) - 2
    spread = np.sqrt(noise.pooling(grid.size) @ (np.sum(residuals**2, axis=0) / df))
    error = spread * sqrt(1 / len(a) + 1 / len(b))
    critical = noise.max_t_quantile(noise.residual_correlation(residuals), float(df), confidence, seed=seed)
    at_b = _mean(b, "pressure")
    pressures = np.array([p.pressure for p in both])
    told = "with charge temperature" if warm else "without charge temperature, which was not logged by all"
    return EqualBoost(
        LAW,
        grid,
        mean_b - mean_a,
        critical * error,
        error,
        _mean(b, "torque") - _mean(a, "torque"),
        at,
        at_b,
        _mean(a, "torque") / at,
        float(df),
        (float(pressures.min()), float(pressures.max())),
        len(both),
        notes=(
            f"The weaker way, {told}: torque in proportion to charge density. Its interval knows the scatter of the pulls, "
            "not by how much "
            "the law is wrong. A sweep of this engine is the better one.",
        ),
        confidence=confidence,
    )


def words_of(found: EqualBoost, control_mode: str) -> tuple[str, ...]:
    """Which words each way may back, in sentences."""
    rise = float(np.mean(found.ratio)) - 1.0
    moved = f"boost {'rose' if rise > 0 else 'fell'} by {abs(rise):.1%} of its absolute pressure"
    as_set = "“at the same controller setting”" if control_mode == "boost free" else "“as tested”"
    return (
        f"As set may back {as_set}, with the words that {moved}; never “at equal boost”.",
        f"At equal boost may back “at equal boost”, with the pressure named, from {found.method}; not what a buyer gets who leaves "
        "the controller alone." + (" By the ratio law alone it backs no statement." if found.method == LAW else ""),
    )
