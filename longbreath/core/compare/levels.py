"""At which levels pulls scatter (pull to pull, set to set, day to day): which of them a design shows, which a dyno's history gives.

y = X·β + Z·u + e with u of each set and e of each pull. Least squares gives b = Σ w·y; its variance is
σ²·Σw² + σ_set²·Σ_sets (Σ w)², and both σ are taken from what the pulls show within and between sets, and from the dyno's records.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from scipy import stats

from longbreath.core.compare.design import Design
from longbreath.core.compare.scatter import Scatter, grouped

Array = npt.NDArray[np.float64]
PULLS, SINGLES, SEEN, KNOWN = "pulls", "singles", "seen", "known"
SEEN_FROM = 2
"""Degrees of freedom between sets from which a design's own sets are counted without a record of the dyno."""
WITHIN_FROM = 3
"""Degrees of freedom within sets from which these alone say how pulls scatter; below, the residuals of the whole design do."""
REFUSED = 0.01
"""Sets that scatter more than the dyno's records allow at this level are taken as they are."""


@dataclass(frozen=True)
class Spread:
    """Variance of b (m,) [unit²] and its degrees of freedom; which share of it comes from sets [0..1], known to share_df."""

    variance: Array
    df: float
    share: float = 0.0
    share_df: float = float("inf")


@dataclass(frozen=True)
class Levels:
    """What an interval counts beside pulls, and what it takes that from.

    mode: PULLS (sets are not counted), SINGLES (each pull is a set: residuals hold both), SEEN (these pulls show their sets),
    KNOWN (the dyno's records, and what these pulls add). whole, fixed: orthonormal columns of [X, Z] and of X, (n, ·); within_df,
    set_df: degrees of freedom within and between sets; pull_share, set_share, day_share: Σw², and of sets and days; trace: what σ_set²
    counts in the sum of squares between sets. scale: how many times the quantity is as large as the torque that scatter is of.
    widened: by how much days that disagree widen the standard error [1].
    """

    mode: str = PULLS
    whole: Array | None = None
    fixed: Array | None = None
    within_df: int = 0
    set_df: int = 0
    pull_share: float = 0.0
    set_share: float = 0.0
    day_share: float = 0.0
    trace: float = 0.0
    scatter: Scatter | None = None
    scale: float = 1.0
    widened: float = 1.0

    def scaled(self, factor: float) -> Levels:
        """The same for a quantity that is `factor` times as large as torque."""
        return replace(self, scale=self.scale * factor)

    @property
    def alone(self) -> Levels:
        """As if every pull were independent of the others."""
        return Levels()

    @property
    def counts_sets(self) -> bool:
        """Whether what a part scatters by coming off and on again is in the interval."""
        return self.mode != PULLS

    def squares(self, values: Array) -> tuple[Array, Array]:
        """Mean squares within sets and between sets, (m,), of observations (n, m)."""
        assert self.whole is not None
        assert self.fixed is not None
        off = values - self.fixed @ (self.fixed.T @ values)
        between = self.whole @ (self.whole.T @ off)
        within = np.sum((off - between) ** 2, axis=0) / max(self.within_df, 1)
        return within, np.sum(between**2, axis=0) / max(self.set_df, 1)

    def spread(
        self, values: Array, pulls: Array, pull_df: float, pool: Array | None = None, apart: bool = False
    ) -> Spread:
        """Variance of b from observations (n, m).

        pulls: its variance if every pull were independent (m,), with pull_df degrees of freedom; pool (m, m): weights that share
        variances among neighbouring speeds; apart: `pulls` already holds A's and B's own scatter and stays as it is.
        Source: analysis of variance of nested groups; Satterthwaite 1946.
        """
        if self.mode in (PULLS, SINGLES):
            return self._widened(Spread(pulls, pull_df))
        within, sets = self.squares(values)
        if pool is not None:
            within, sets = pool @ within, pool @ sets
        return self._widened(self.of_squares(within, sets, pulls, pull_df, apart))

    def of_squares(self, within: Array, sets: Array, pulls: Array, pull_df: float, apart: bool = False) -> Spread:
        """The same from mean squares within and between sets, (m,)."""
        if self.mode in (PULLS, SINGLES):
            return Spread(pulls, pull_df)
        if self.mode == SEEN:
            return self._seen(within, sets)
        if not apart and self.within_df >= WITHIN_FROM:
            pulls, pull_df = within * self.pull_share, float(self.within_df)
        return self._known(pulls, pull_df, within, sets)

    def _widened(self, found: Spread) -> Spread:
        return replace(found, variance=found.variance * self.widened**2) if self.widened != 1.0 else found

    def _seen(self, within: Array, sets: Array) -> Spread:
        """By these pulls alone: c_w·MS_within + c_s·MS_sets, with the coefficients that make it right on average."""
        of_sets = self.set_share * self.set_df / self.trace
        of_pulls = self.pull_share - of_sets
        variance = np.maximum(of_pulls * within + of_sets * sets, 0.1 * self.pull_share * within)
        a, b, total = of_pulls * float(within.mean()), of_sets * float(sets.mean()), float(variance.mean())
        below = a**2 / max(self.within_df, 1) + b**2 / self.set_df
        df = total**2 / below if below > 0.0 else float(self.set_df)
        share = min(b / total, 1.0) if total > 0.0 else 0.0
        return Spread(variance, float(np.clip(df, 1.0, self.within_df + self.set_df)), share, float(self.set_df))

    def _known(self, pulls: Array, pull_df: float, within: Array, sets: Array) -> Spread:
        """By the dyno's records, with what these pulls add to them."""
        fitting, df = self.set_variance(within, sets)
        day, day_df = 0.0, 1.0
        if self.scatter is not None and self.scatter.day:
            day, day_df = (self.scatter.day * self.scale) ** 2 * self.day_share, max(self.scatter.day_df, 1.0)
        beside = fitting * self.set_share + day
        total = pulls + beside
        a, s = float(pulls.mean()), float((fitting * self.set_share).mean())
        below = s**2 / df + day**2 / day_df
        beside_df = (s + day) ** 2 / below if below > 0.0 else float("inf")
        all_below = a**2 / pull_df + below
        joined = (a + s + day) ** 2 / all_below if all_below > 0.0 else pull_df
        share = (s + day) / (a + s + day) if a + s + day > 0.0 else 0.0
        return Spread(total, max(joined, 1.0), share, beside_df)

    def set_variance(self, within: Array, sets: Array) -> tuple[Array, float]:
        """σ_set² (m,) [unit²] from the dyno's records and these pulls, weighted by their degrees of freedom, and those of both."""
        assert self.scatter is not None
        told = ((self.scatter.fitting or 0.0) * self.scale) ** 2
        told_df = max(self.scatter.fitting_df, 1.0)
        if not self.set_df or self.trace <= 0.0 or not np.isfinite(told_df):
            return np.full(within.shape, told), told_df
        per = self.set_df / self.trace
        found, level = (sets - within) * per, float(within.mean())
        expected = level + told / per
        if float(sets.mean()) > expected * float(stats.f.isf(REFUSED, self.set_df, max(self.within_df, 1))):
            return np.maximum(found, told), float(self.set_df)
        noise = per**2 * (expected**2 / self.set_df + level**2 / max(self.within_df, 1))
        own_df = min(told**2 / noise, float(self.set_df)) if noise > 0.0 else 0.0
        joined = (told_df * told + own_df * found) / (told_df + own_df)
        return np.maximum(joined, 0.0), told_df + own_df


def _orthonormal(matrix: Array) -> Array:
    left, values, _ = np.linalg.svd(matrix, full_matrices=False)
    return np.asarray(left[:, values > 1e-9 * values[0]])


def dummies(groups: Sequence[int]) -> Array:
    """Indicator columns (n, g) of group numbers."""
    names = {key: k for k, key in enumerate(dict.fromkeys(groups))}
    found = np.zeros((len(groups), len(names)))
    found[np.arange(len(groups)), [names[key] for key in groups]] = 1.0
    return found


def levels_of(
    design: Design, fittings: Sequence[int], days: Sequence[int] = (), scatter: Scatter | None = None
) -> Levels:
    """What the interval of b counts. fittings: the set of each pull; days: its visit; scatter: what is known of the dyno."""
    return levels_for(design.matrix, design.weights, fittings, days, scatter)


def levels_for(
    matrix: Array, weights: Array, fittings: Sequence[int], days: Sequence[int] = (), scatter: Scatter | None = None
) -> Levels:
    """The same for any contrast: design matrix (n, p), what each pull counts in it (n,) [1]."""
    z = dummies(fittings)
    fixed, whole = _orthonormal(matrix), _orthonormal(np.hstack([matrix, z]))
    set_df, within_df = whole.shape[1] - fixed.shape[1], len(matrix) - whole.shape[1]
    trace = float(np.sum((whole.T @ z) ** 2) - np.sum((fixed.T @ z) ** 2))
    known = scatter is not None and scatter.fitting is not None
    if z.shape[1] == len(matrix):
        mode = SINGLES
    elif known:
        mode = KNOWN
    else:
        mode = SEEN if set_df >= SEEN_FROM and within_df >= 1 and trace > 1e-9 else PULLS
    return Levels(
        mode,
        whole,
        fixed,
        within_df,
        set_df,
        float(np.sum(weights**2)),
        grouped(weights, fittings),
        grouped(weights, days) if len(days) else 0.0,
        trace,
        scatter,
    )
