"""What one pull does to a difference, and a difference that one bad pull cannot move much."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy import optimize

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare.compare import Comparison, Effect, effect
from longbreath.core.compare.design import make_design
from longbreath.core.compare.levels import levels_of

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


def influence_of(comparison: Comparison, low: float, high: float) -> Influence:
    """The influence of each pull on B − A over a band of speeds [rad/s]: each is left out in turn, drift refitted."""
    values = comparison.torques[:, comparison.inside(low, high)].mean(axis=1)
    labels, orders = [run.label for run in comparison.runs], [run.order for run in comparison.runs]
    runs, scatter = comparison.runs, comparison.levels.scatter
    all_of_them = effect(values, comparison.design, known=comparison.known, levels=comparison.levels)
    best: tuple[float, int, Effect] | None = None
    for k in range(len(values)):
        kept = np.arange(len(values)) != k
        try:
            design = make_design(
                [x for x, keep in zip(labels, kept, strict=True) if keep],
                [x for x, keep in zip(orders, kept, strict=True) if keep],
                comparison.design.curved,
                [run.day for run, keep in zip(runs, kept, strict=True) if keep],
            )
        except (EvidenceError, np.linalg.LinAlgError):
            continue
        fittings = [run.fitting for run, keep in zip(runs, kept, strict=True) if keep]
        levels = levels_of(design, fittings, scatter=scatter)
        found = effect(values[kept], design, known=comparison.known, levels=levels)
        moved = abs(found.value - all_of_them.value)
        if design.drift == comparison.design.drift and (best is None or moved > best[0]):
            best = (moved, k, found)
    robust = huber(values, comparison.design.matrix)
    if best is None:
        return Influence("", None, robust)
    return Influence(comparison.runs[best[1]].row, best[2], robust)


def huber(values: Array, matrix: Array) -> float:
    """B − A by Huber's M-estimate [unit of values]: values (n,), design (n, p); scale by the middle absolute residual.

    Source: Huber 1964.
    """
    start = np.linalg.lstsq(matrix, values, rcond=None)[0]
    # the middle absolute residual of a fit by least absolute values, which one bad pull does not stretch
    rough = optimize.least_squares(lambda c: matrix @ c - values, start, loss="soft_l1", f_scale=1e-3 * _scale(values))
    scale = 1.483 * float(np.median(np.abs(matrix @ rough.x - values)))
    if scale <= 1e-9 * _scale(values):
        return float(rough.x[1])
    fitted = optimize.least_squares(lambda c: matrix @ c - values, rough.x, loss="huber", f_scale=TUNING * scale)
    return float(fitted.x[1])


def _scale(values: Array) -> float:
    return max(float(np.ptp(values)), 1e-6)
