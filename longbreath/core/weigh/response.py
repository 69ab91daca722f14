"""How fast boost comes: speed and time at half and nine tenths of it, torque before that, area under torque while the engine
speeds up."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import pi

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.compare.compare import CONFIDENCE, Comparison, Effect, PullCurve, effect, verdict
from longbreath.core.compare.design import make_design
from longbreath.core.compare.levels import levels_of

Array = npt.NDArray[np.float64]
PARTS = (0.5, 0.9)
LIMIT = (
    "A dyno that holds or slowly raises the speed flatters response: load, gear and the turbine’s heat differ on the road. "
    "It tells two parts apart under these conditions, not seconds at the wheel."
)


@dataclass(frozen=True)
class Rise:
    """How boost came in one pull: speed [rad/s] and time from the start of the pull [s] (None without a clock) at each part of the
    common target; None where it was never reached."""

    speeds: tuple[float | None, ...]
    times: tuple[float | None, ...]


def target_of(gauges: Sequence[Array]) -> float:
    """The boost that all pulls are measured against [Pa]: the smallest of their plateaus (90th percentile of each).

    One target for both, or the part with less boost would look quicker. Raises EvidenceError without any boost.
    """
    plateaus = [float(np.nanpercentile(g, 90)) for g in gauges if np.isfinite(g).any()]
    if not plateaus or min(plateaus) <= 5e3:
        raise EvidenceError("These pulls show no boost that could be waited for.")
    return min(plateaus)


def rise_of(speed: Array, gauge: Array, target: float, time: Array | None = None) -> Rise:
    """Where boost [Pa, gauge] first reaches each part of a target and stays above for the next three rows, by straight lines.

    speed [rad/s], gauge, time [s]: (n,) in the order logged.
    """
    start = float(time[0]) if time is not None and time.size else 0.0
    speeds: list[float | None] = []
    times: list[float | None] = []
    for part in PARTS:
        at = _crossing(gauge, part * target)
        if at is None:
            speeds.append(None)
            times.append(None)
            continue
        speeds.append(_between(speed, at))
        times.append(_between(time, at) - start if time is not None else None)
    return Rise(tuple(speeds), tuple(times))


def _crossing(values: Array, level: float) -> float | None:
    """Row, broken, at which values first rise through a level and stay there; 0 where they begin above it."""
    above = values >= level
    for k in range(values.size):
        if above[k : k + 3].all():
            if k == 0 or not np.isfinite(values[k - 1]) or values[k] == values[k - 1]:
                return float(k)
            return k - 1 + float((level - values[k - 1]) / (values[k] - values[k - 1]))
    return None


def _between(values: Array, at: float) -> float:
    low = int(at)
    high = min(low + 1, values.size - 1)
    return float(values[low] + (at - low) * (values[high] - values[low]))


def area_while_rising(grid: Array, torque: Array, low: float, high: float, rate: float) -> float:
    """∫ T dt from `low` to `high` [rad/s] while the speed rises at `rate` [rad/s²], [N m s]. Source: dt = dω/α.

    Raises InputError for a rate that is not positive or speeds out of the curve.
    """
    if rate <= 0:
        raise InputError("The rate at which the engine speeds up is more than nought.", "rate")
    inside = np.linspace(max(low, grid[0]), min(high, grid[-1]), 200)
    if high <= low or inside[-1] <= inside[0]:
        raise InputError("The speeds lie outside the curves.", "low")
    return float(np.trapezoid(np.interp(inside, grid, torque), inside)) / rate


@dataclass(frozen=True)
class ResponseJudged:
    """One quantity of response compared: name, kind of quantity, A's mean, B − A, and the verdict: sooner, later, or not proven."""

    name: str
    kind: str
    reference: float
    effect: Effect
    verdict: str
    confidence: float = CONFIDENCE


def judge(
    name: str,
    kind: str,
    values: Mapping[int, float],
    runs: Sequence[PullCurve],
    early: bool,
    confidence: float = CONFIDENCE,
) -> ResponseJudged | None:
    """B − A of one number per pull (by the pull's place). early: less is better, and the words say so; confidence: of
    the interval [1]. None where too few have it."""
    kept = [run for run in runs if run.order in values and np.isfinite(values[run.order])]
    labels, orders, days = [r.label for r in kept], [r.order for r in kept], [r.day for r in kept]
    try:
        design = make_design(labels, orders, days=days)
    except EvidenceError:
        return None
    y = np.array([values[run.order] for run in kept])
    levels = levels_of(design, [r.fitting for r in kept], days)
    found = effect(y, design, confidence, levels=levels)
    reference = float(np.mean([values[r.order] for r in kept if r.label == "A"]))
    said = verdict(found, 0.0, after_looking=True, returned=design.drift)
    words = {"gain": "later", "loss": "sooner"} if early else {"gain": "more", "loss": "less"}
    for plain, other in words.items():
        said = said.replace(plain, other)
    return ResponseJudged(name, kind, reference, found, said, confidence)


def volumes(rows: Sequence[tuple[str, float, float]]) -> float:
    """Volume between compressor and cylinders [m3] of pieces (name, inside diameter [m], length [m]). Source: geometry."""
    return sum(pi / 4.0 * d**2 * length for _, d, length in rows)


def torque_before(comparison: Comparison, speeds: Sequence[float]) -> list[tuple[float, float, float]]:
    """B − A at fixed speeds [rad/s] with the half width of the simultaneous band: (speed, difference, half width) [N m]."""
    found = []
    for speed in speeds:
        if comparison.grid[0] <= speed <= comparison.grid[-1]:
            at = int(np.argmin(np.abs(comparison.grid - speed)))
            found.append(
                (float(comparison.grid[at]), float(comparison.difference[at]), float(comparison.half_width[at]))
            )
    return found
