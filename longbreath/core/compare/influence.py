"""What one pull does to a difference, and a difference that one bad pull cannot move much."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy import optimize

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare.compare import Comparison, Effect, effect
from longbreath.core.compare.design import Design, make_design
from longbreath.core.compare.levels import Levels, levels_of

Array = npt.NDArray[np.float64]
TUNING = 1.345
"""Huber's constant: 95 % as good as least squares where noise is normal."""


@dataclass(frozen=True)
class Influence:
    """Of one band: the pull without which B − A moves most, how the difference stands without it, and a robust estimate [N m].

    without is None where no pull can be spared.
    """

    row: str
    without: Effect | None
    robust: float

    def sentence(self, found: Effect) -> str:
        """In words, beside the effect `found` of all pulls."""
        robust = f"A robust fit (Huber), which one bad pull moves little, gives {_us(self.robust, found)}."
        if self.without is None:
            return robust
        half = units.show(self.without.half_width, "torque", "us", self.without.half_width / 10)
        return f"Most depends on {self.row}: without it the difference would be {_us(self.without.value, found)} ± {half}. {robust}"

    def short(self, found: Effect, system: str = "us") -> str:
        """The same in few words, in display units: what is left without that pull, and what a robust fit gives."""
        robust = units.show(self.robust, "torque", system, found.half_width, True)
        if self.without is None:
            return f"no pull can be spared; a robust fit (Huber) gives {robust}."
        left = units.show(self.without.value, "torque", system, self.without.half_width, True)
        half = units.show(self.without.half_width, "torque", system, self.without.half_width)
        return f"without {self.row}: {left} ± {half}; a robust fit (Huber) gives {robust}."

    def matters(self, found: Effect) -> bool:
        """Whether that pull stands out: without it the difference moves by three standard errors of what is left."""
        return self.without is not None and abs(self.without.value - found.value) > 3.0 * self.without.standard_error


def _us(value: float, found: Effect) -> str:
    return units.show(value, "torque", "us", max(found.half_width / 10, 1e-6), True)


@dataclass(frozen=True)
class _Spared:
    """A comparison with one pull left out: which, which pulls stay, their design and levels."""

    place: int
    kept: npt.NDArray[np.bool_]
    design: Design
    levels: Levels


def influences_of(comparison: Comparison, spans: Mapping[str, tuple[float, float]]) -> dict[str, Influence]:
    """The influence of each pull on B − A over bands of speeds [rad/s], by name: each is left out in turn, drift refitted.

    Which pull moves the difference most is told from the residuals of the whole fit, by the leverage of each; only that one is
    refitted. Source: Cook and Weisberg 1982, deletion formula of least squares.
    """
    spared: dict[int, _Spared | None] = {}
    return {name: _influence(comparison, spared, low, high) for name, (low, high) in spans.items()}


def _without(comparison: Comparison, k: int) -> _Spared | None:
    """The comparison without one pull; None where it cannot be spared."""
    runs = comparison.runs
    rest = [run for place, run in enumerate(runs) if place != k]
    labels, orders, days = ([getattr(run, name) for run in rest] for name in ("label", "order", "day"))
    try:
        design = make_design(labels, orders, comparison.design.curved, days)
    except (EvidenceError, np.linalg.LinAlgError):
        return None
    if design.drift != comparison.design.drift:
        return None
    levels = levels_of(design, [run.fitting for run in rest], scatter=comparison.levels.scatter)
    return _Spared(k, np.arange(len(runs)) != k, design, levels)


def _moves(values: Array, design: Design) -> Array:
    """By how much B − A moves when each pull is left out (n,) [as values]; nought for one that the fit cannot do without."""
    residuals = values - design.matrix @ (design.inverse @ (design.matrix.T @ values))
    left = 1.0 - np.sum((design.matrix @ design.inverse) * design.matrix, axis=1)
    return np.where(left > 1e-9, -design.weights * residuals / np.maximum(left, 1e-9), 0.0)


def _influence(comparison: Comparison, spared: dict[int, _Spared | None], low: float, high: float) -> Influence:
    values = comparison.torques[:, comparison.inside(low, high)].mean(axis=1)
    robust = huber(values, comparison.design.matrix)
    for place in np.argsort(-np.abs(_moves(values, comparison.design)), kind="stable").tolist():
        if place not in spared:
            spared[place] = _without(comparison, place)
        found = spared[place]
        if found is not None:
            without = effect(
                values[found.kept], found.design, comparison.confidence, known=comparison.known, levels=found.levels
            )
            return Influence(comparison.runs[place].row, without, robust)
    return Influence("", None, robust)


def huber(values: Array, matrix: Array) -> float:
    """B − A by Huber's M-estimate [unit of values]: values (n,), design (n, p); scale by the middle absolute residual.

    Source: Huber 1964.
    """
    start = np.linalg.lstsq(matrix, values, rcond=None)[0]
    # the middle absolute residual of a fit by least absolute values, which one bad pull does not stretch
    off, slope = (lambda c: matrix @ c - values), (lambda c: matrix)
    rough = optimize.least_squares(off, start, slope, loss="soft_l1", f_scale=1e-3 * _scale(values))
    scale = 1.483 * float(np.median(np.abs(matrix @ rough.x - values)))
    if scale <= 1e-9 * _scale(values):
        return float(rough.x[1])
    fitted = optimize.least_squares(off, rough.x, slope, loss="huber", f_scale=TUNING * scale)
    return float(fitted.x[1])


def _scale(values: Array) -> float:
    return max(float(np.ptp(values)), 1e-6)
