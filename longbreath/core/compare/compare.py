"""A against B over the whole curve: repeats, drift, simultaneous band, verdicts. See longbreath/method/comparison.md."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import sqrt

import numpy as np
import numpy.typing as npt
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.quantiles import chi2_at, t_at
from longbreath.core.compare import noise
from longbreath.core.compare.design import Design, choose_design, make_design
from longbreath.core.compare.levels import KNOWN, SEEN, Levels, Spread, levels_of
from longbreath.core.compare.scatter import Scatter

Array = npt.NDArray[np.float64]

CONFIDENCE = 0.95
MARGIN_SHARE = 0.01
"""A difference under 1 % of A is no meaningful difference. Common practice, no source."""
TOGETHER = 0.5
"""How much of what a set is off by is one shift of the whole curve [1]; the rest is as rough over speed as pulls are. Ours,
cautious."""
IMPLAUSIBLE = 0.01
"""Pulls that agree so well as one session in a hundred would, by the dyno's known scatter, are given that scatter."""

GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN = "gain", "loss", "no meaningful difference", "not proven"
GAIN_OR_DRIFT, LOSS_OR_DRIFT = "gain, or drift", "loss, or drift"


@dataclass(frozen=True)
class PullCurve:
    """One valid pull: label "A" or "B", its place in the order of the session, corrected torque (m,) on the grid [N m].

    fitting, day: number of its set (the part goes on anew with each) and of its visit.
    """

    label: str
    order: int
    torque: Array
    row: str = ""
    fitting: int = 0
    day: int = 0


@dataclass(frozen=True)
class Effect:
    """Least-squares estimate of B − A of one quantity: value, standard error, 95 % half width, residual sd, df, drift per pull."""

    value: float
    standard_error: float
    half_width: float
    residual_sd: float
    df: float
    drift: float

    @property
    def low(self) -> float:
        """Lower end of the interval."""
        return self.value - self.half_width

    @property
    def high(self) -> float:
        """Upper end of the interval."""
        return self.value + self.half_width


def effect(
    values: Array,
    design: Design,
    confidence: float = CONFIDENCE,
    family: int = 1,
    known: float = 0.0,
    levels: Levels = Levels(),  # noqa: B008
) -> Effect:
    """B − A of one number per pull (n,), with drift taken out.

    `family` intervals that are read together share the error by Bonferroni. known: the dyno's known scatter from pull to pull
    [as values]; no standard error is taken for less than it gives. levels: what sets and days add. Source: ordinary least squares;
    Satterthwaite's degrees of freedom where A and B scatter differently or sets add to the variance.
    """
    observed = values[:, None]
    coefficients, alone = design.solve(observed)
    pulls, df = alone**2 * design.leverage, float(design.df)
    if design.unequal:
        a, b = noise.by_label(observed - design.matrix @ coefficients, design)
        pulls, df = noise.welch(design, a, b)
        df = min(df, design.df_apart)
    found = levels.spread(
        observed, np.maximum(pulls, known**2 * design.leverage), df, apart=design.unequal or known > 0.0
    )
    error = sqrt(float(found.variance[0]))
    critical = t_at(1 - (1 - confidence) / (2 * family), found.df)
    drift = float(coefficients[2, 0]) if design.drift else 0.0
    return Effect(float(coefficients[1, 0]), error, critical * error, float(alone[0]), found.df, drift)


def verdict(
    found: Effect, margin: float, after_looking: bool = False, returned: bool = True, confidence: float = CONFIDENCE
) -> str:
    """One of the verdicts: direction first, then size.

    Gain or loss: the interval lies clear of nought, on one side, whatever its size (less noise can then only make a true
    difference more certain, never turn it into none). No meaningful difference: nought is not excluded, and two one-sided
    tests at 1 − confidence place the difference inside ± margin; after_looking: its whole interval. returned: without a return nothing
    is told from drift, and the verdict says so.
    """
    if found.low > 0:
        return GAIN if returned else GAIN_OR_DRIFT
    if found.high < 0:
        return LOSS if returned else LOSS_OR_DRIFT
    one_sided = t_at(confidence, found.df) * found.standard_error
    half = max(one_sided, found.half_width) if after_looking else one_sided
    return NO_DIFFERENCE if returned and abs(found.value) + half < margin else NOT_PROVEN


@dataclass(frozen=True)
class Comparison:
    """A against B on a grid of speeds [rad/s], (m,); torques [N m].

    a and b are the drift-free means at the middle of the session, difference = b − a with the half width of its
    simultaneous band, standard_error per speed, critical the max-|t| quantile, residual_sd per speed. known: the dyno's scatter
    that was taken as the least [N m], 0 where the pulls speak for themselves; scatter_ratio: B's over A's [1] with its p value;
    curve_p: p value of a straight drift; levels: what the interval counts beside pulls; share: part of the variance that sets and
    days have [0..1]; as_ratios: the sessions are of different dynos, and differences are ratios put on the newest one's A.
    margin_share: below this share of A a difference does not matter [1], as it was chosen before the test. confidence: of every
    interval [1], what earlier looks leave of it. either_way: what was found each way, where it holds for several.
    """

    grid: Array
    a: Array
    b: Array
    difference: Array
    standard_error: Array
    half_width: Array
    residual_sd: Array
    drift: Array
    critical: float
    design: Design
    runs: tuple[PullCurve, ...]
    known: float = 0.0
    scatter_ratio: float = 1.0
    scatter_p: float = 1.0
    curve_p: float | None = None
    levels: Levels = field(default_factory=Levels)
    share: float = 0.0
    as_ratios: bool = False
    margin_share: float = MARGIN_SHARE
    confidence: float = CONFIDENCE
    either_way: tuple[str, ...] = ()

    @cached_property
    def torques(self) -> Array:
        """All curves, (n, m)."""
        return np.array([run.torque for run in self.runs])

    def count(self, label: str) -> int:
        """How many pulls of A or B take part."""
        return sum(run.label == label for run in self.runs)

    def inside(self, low: float, high: float) -> npt.NDArray[np.bool_]:
        """Which grid speeds lie in low..high [rad/s]. Raises EvidenceError if none does."""
        mask = (self.grid >= low - 1e-9) & (self.grid <= high + 1e-9)
        if not mask.any():
            raise EvidenceError(f"No speed between {low / RPM:.0f} and {high / RPM:.0f} rpm is covered by every pull.")
        return mask

    def band_effect(self, low: float, high: float, family: int = 1) -> Effect:
        """B − A of the mean torque over a band of speeds [rad/s]."""
        return effect(
            self.torques[:, self.inside(low, high)].mean(axis=1),
            self.design,
            self.confidence,
            family,
            self.known,
            self.levels,
        )

    def independent(self, low: float, high: float, family: int = 1) -> Effect:
        """The same as if every pull were independent of the others: what the interval would be without sets and days."""
        values = self.torques[:, self.inside(low, high)].mean(axis=1)
        return effect(values, self.design, self.confidence, family, self.known)

    def peak_effect(self, of_power: bool, family: int = 1) -> Effect:
        """B − A of each pull's own peak, of torque [N m] or of power [W], wherever it lies."""
        curves = self.torques * self.grid if of_power else self.torques
        factor = float(self.grid[int(np.argmax(self.a * self.grid))]) if of_power else 1.0
        levels = self.levels.scaled(factor)
        return effect(curves.max(axis=1), self.design, self.confidence, family, self.known * factor, levels)

    def peak_place(self) -> Effect:
        """How far the speed of peak power moved [rad/s], from each pull's own peak, drift taken out; never surer than a grid step."""
        peaks = self.grid[np.argmax(self.torques * self.grid, axis=1)]
        return effect(peaks, self.design, self.confidence, known=float(self.grid[1] - self.grid[0]))

    def mean_of_a(self, low: float, high: float) -> float:
        """Mean torque of A over a band [N m]."""
        return float(self.a[self.inside(low, high)].mean())

    def largest_local(self, low: float, high: float) -> int:
        """Index of the grid speed in the band with the largest |difference|."""
        return int(np.argmax(np.where(self.inside(low, high), np.abs(self.difference), -1.0)))

    @property
    def days(self) -> list[int]:
        """The visit of each pull."""
        return [run.day for run in self.runs]

    @property
    def first(self) -> str:
        """The label that was pulled first, and to which the test returns."""
        return min(self.runs, key=lambda run: run.order).label

    def return_to_first(self) -> tuple[float, int, int] | None:
        """Mean of the first label's pulls after the other less mean of those before (whole curve) [N m], with their numbers.

        None if it was not returned to, or over several days. In A-B-A that is the last A less the first A.
        """
        if not self.design.drift or self.design.days > 1:
            return None
        means = self.torques.mean(axis=1)
        turn = min(run.order for run in self.runs if run.label != self.first)
        before, after = (
            [
                m
                for m, run in zip(means, self.runs, strict=True)
                if run.label == self.first and (run.order < turn) is early
            ]
            for early in (True, False)
        )
        return float(np.mean(after) - np.mean(before)), len(before), len(after)

    def drift_harm(self, low: float, high: float) -> tuple[float, float]:
        """What B − A of a band [rad/s] moves by when drift is drawn as a curve instead of a straight line, and the standard
        error of that [N m]: the harm that straight drift may have done, as far as these pulls can show it.

        (0, infinite) where they cannot show it: fewer than three degrees of freedom.
        """
        labels, orders = [run.label for run in self.runs], [run.order for run in self.runs]
        straight = make_design(labels, orders, days=self.days)
        if not straight.drift or straight.df < 3 or straight.days > 1:
            return 0.0, float("inf")
        curved = make_design(labels, orders, curved=True)
        values = self.torques[:, self.inside(low, high)].mean(axis=1)
        shift = float((curved.weights - straight.weights) @ values)
        _, spread = curved.solve(values[:, None])
        error = max(float(spread[0]), self.known) * float(np.linalg.norm(curved.weights - straight.weights))
        return shift, error


def agrees_too_well(found: float, df: int, known: float) -> bool:
    """Whether pulls repeat within `found` that a dyno's known scatter [same unit] would show once in a hundred sessions.

    Source: χ² of a normal sample's variance.
    """
    return known > 0.0 and df * (found / known) ** 2 < chi2_at(IMPLAUSIBLE, df)


def compare_pulls(
    runs: list[PullCurve],
    grid: Array,
    confidence: float = CONFIDENCE,
    seed: int = 1,
    scatter: Scatter | None = None,
    as_ratios: bool = False,
    margin_share: float = MARGIN_SHARE,
) -> Comparison:
    """Weigh valid pulls of A and B on a common grid [rad/s]; speeds that a pull does not cover fall out.

    scatter: the dyno's known scatter [N m]; from pull to pull it is the least that is taken where the pulls agree too well to be
    true, from set to set and day to day it joins what the pulls show. as_ratios: the runs were put on one dyno's level by ratios.
    Raises EvidenceError if the pulls are too few, share no speeds, or no day holds both.
    """
    stack = np.array([run.torque for run in runs])
    labels, orders, days = [r.label for r in runs], [r.order for r in runs], [r.day for r in runs]
    make_design(labels, orders, days=days)
    covered = np.isfinite(stack).all(axis=0)
    if covered.sum() < 3:
        raise EvidenceError("The pulls share fewer than three speeds: they cannot be laid over each other.")
    grid, stack = grid[covered], stack[:, covered]
    design, curve_p = choose_design(labels, orders, stack.mean(axis=1), days)
    coefficients, alone = design.solve(stack)
    residuals = stack - design.matrix @ coefficients
    correlation = noise.residual_correlation(residuals)
    ratio, ratio_p = noise.scatter_differs(residuals, design, correlation)
    shared = noise.pooling(grid.size)
    spread = np.sqrt(shared @ alone**2)
    pulls, df = spread**2 * design.leverage, float(design.df)
    if ratio_p < noise.UNEQUAL_ALPHA:
        a, b = noise.by_label(residuals, design)
        pulls, df = noise.welch(design, shared @ a, shared @ b)
        design = replace(design, unequal=True, df_apart=df)
    least = scatter.pull if scatter is not None else 0.0
    known = least if agrees_too_well(float(spread.mean()), design.df, least) else 0.0
    levels = levels_of(design, [run.fitting for run in runs], days, scatter)
    if levels.mode != SEEN:  # where these pulls show their sets, days that disagree are among them
        levels = replace(levels, widened=_by_days(stack.mean(axis=1), runs, scatter))
    floored = np.maximum(pulls, known**2 * design.leverage)
    found = levels.spread(stack, floored, df, shared, apart=design.unequal or known > 0.0)
    critical = critical_of(correlation, found, df, levels, confidence, seed)
    error = np.sqrt(found.variance)
    kept = tuple(replace(run, torque=row) for run, row in zip(runs, stack, strict=True))
    return Comparison(
        grid=grid,
        a=coefficients[0],
        b=coefficients[0] + coefficients[1],
        difference=coefficients[1],
        standard_error=error,
        half_width=critical * error,
        residual_sd=spread,
        drift=coefficients[2] if design.drift else np.zeros(grid.size),
        critical=critical,
        design=design,
        runs=kept,
        known=known,
        scatter_ratio=ratio,
        scatter_p=ratio_p,
        curve_p=curve_p,
        levels=levels,
        share=found.share,
        as_ratios=as_ratios,
        margin_share=margin_share,
        confidence=confidence,
    )


def critical_of(
    correlation: Array, found: Spread, df: float, levels: Levels, confidence: float = CONFIDENCE, seed: int = 1
) -> float:
    """The quantile of the largest |t| over a curve [1]: pulls pooled over speeds, sets shifting them all at once.

    correlation (m, m) [1] of the noise; found: the variance and what it is made of; df: degrees of freedom of pulls alone.
    """
    if not found.share:
        return noise.max_t_quantile(correlation, found.df, confidence, seed=seed)
    of_pulls = float(levels.within_df) if levels.within_df else df
    if levels.mode == KNOWN:
        of_sets = TOGETHER + (1.0 - TOGETHER) * correlation
        correlation = (1.0 - found.share) * correlation + found.share * of_sets
    return noise.max_t_quantile(
        correlation, of_pulls, confidence, seed=seed, share=found.share, share_df=found.share_df, joined=found.df
    )


def _by_days(level: Array, runs: Sequence[PullCurve], scatter: Scatter | None) -> float:
    """By how much the standard error is widened because days disagree on B − A [1]; 1 where they do not, or only one compares.

    Source: the ratio of Birge 1932, √(χ²/(k − 1)), where χ² of the days' differences is refused at 5 %.
    """
    found = by_day(level, runs, scatter)
    if len(found) < 2:
        return 1.0
    values, errors = np.array(found).T
    weights = 1.0 / np.maximum(errors, 1e-12) ** 2
    chi2 = float(np.sum(weights * (values - np.average(values, weights=weights)) ** 2))
    return sqrt(max(chi2 / (len(found) - 1), 1.0)) if stats.chi2.sf(chi2, len(found) - 1) < 0.05 else 1.0


def by_day(level: Array, runs: Sequence[PullCurve], scatter: Scatter | None = None) -> list[tuple[float, float]]:
    """B − A of each day that holds both, with its standard error, from one number per pull (n,)."""
    found = []
    days = np.array([run.day for run in runs])
    for day in dict.fromkeys(days.tolist()):
        mine = np.flatnonzero(days == day).tolist()
        try:
            design = make_design([runs[k].label for k in mine], [runs[k].order for k in mine])
        except EvidenceError:
            continue
        levels = levels_of(design, [runs[k].fitting for k in mine], scatter=scatter)
        one = effect(level[mine], design, levels=levels)
        found.append((one.value, one.standard_error))
    return found
