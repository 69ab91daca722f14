"""The ledger of a comparison: what differs beside the part is measured, bounded or unknown; from the observed to the net.

A measured effect is taken off as a curve with its own uncertainty; a bounded one moves both ends of the interval by its whole range.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import sqrt

import numpy as np
import numpy.typing as npt

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantiles import t_at
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Band, Judged, Weighing, locals_of
from longbreath.core.compare.compare import Comparison, Effect

Array = npt.NDArray[np.float64]
MEASURED, BOUNDED, UNKNOWN = "measured", "bounded", "unknown"
KINDS = (MEASURED, BOUNDED, UNKNOWN)
ACTS_ON = {
    "fuel": "mixture and timing",
    "tune": "mixture and timing",
    "injectors": "mixture and timing",
    "mixture": "mixture and timing",
    "bonnet": "the air it breathes",
    "intake_air": "the air it breathes",
    "intake": "the air it breathes",
    "adapters": "the way in",
    "gaskets": "the way in",
    "runner_valves": "the way in",
    "heads": "the way in",
    "porting": "the way in",
    "cam": "the way in",
    "exhaust": "the way out",
    "pan": "friction",
    "accessories": "friction",
    "tyres": "friction",
    "health": "the engine itself",
    "compression": "the engine itself",
}
"""What a line of the build sheets acts on. Two that act on one thing may not simply add up. Common practice, no source."""
LARGEST_BOUND = 0.25
"""A bound beyond this share of torque says nothing [1]."""


@dataclass(frozen=True)
class LedgerLine:
    """One difference beside the part, as it enters B − A: its line, label and kind, and why in words.

    value, error (m,): effect on torque [N m] on the comparison's grid with its standard error, of a measured one, known to df degrees
    of freedom; low, high (m,): ends of the range of a bounded one [N m]. shares_pulls: its test has pulls in common with this one.
    """

    line: str
    label: str
    kind: str
    words: str = ""
    value: Array | None = None
    error: Array | None = None
    df: float = float("inf")
    low: Array | None = None
    high: Array | None = None
    shares_pulls: bool = False
    of_band: tuple[tuple[str, Effect], ...] = ()
    """A measured effect on the mean of each band, which knows more than speed by speed."""


def bounded(comparison: Comparison, low: float, high: float) -> tuple[Array, Array]:
    """The range of a bounded effect as curves [N m], from shares of A's torque [1]. Raises InputError for a range turned round, or one
    so wide that it says nothing."""
    if not low <= high:
        raise InputError("The range ends before it begins.", "high")
    if max(abs(low), abs(high)) > LARGEST_BOUND:
        raise InputError(
            f"A bound of more than {LARGEST_BOUND:.0%} of the torque says nothing: leave it unknown.", "high"
        )
    return low * comparison.a, high * comparison.a


def measured(
    comparison: Comparison, own: Comparison, bands: Sequence[Band]
) -> tuple[Array, Array, float, tuple[tuple[str, Effect], ...]]:
    """Effect and standard error (m,) of a change measured alone, on the grid of another comparison [N m], its degrees of freedom, and
    its effect on each band. Raises InputError where its speeds do not cover those of the comparison."""
    if own.grid[0] > comparison.grid[0] + 1e-6 or own.grid[-1] < comparison.grid[-1] - 1e-6:
        raise InputError("That test does not cover all speeds of this one.", "session")
    value = np.interp(comparison.grid, own.grid, own.difference)
    error = np.interp(comparison.grid, own.grid, own.standard_error)
    effects = tuple((band.name, own.band_effect(band.low, band.high)) for band in bands)
    return value, error, float(effects[0][1].df if effects else own.design.df), effects


@dataclass(frozen=True)
class Stage:
    """One stage on the way from observed to net in a band: what it is, by how much it moves the difference [N m], and its half
    width."""

    label: str
    kind: str
    value: float
    half_width: float


@dataclass(frozen=True)
class Net:
    """From observed to net: the stages of each band, the judged net of each, and the net curve with its half width (m,) [N m].

    unknown: labels of the lines nobody knows; warnings: changes that act on one thing.
    """

    lines: tuple[LedgerLine, ...]
    bands: tuple[Judged, ...]
    stages: tuple[tuple[Stage, ...], ...]
    difference: Array
    half_width: Array
    unknown: tuple[str, ...]
    warnings: tuple[str, ...]

    @property
    def is_closed(self) -> bool:
        """Whether every line is known: the net is then that of the part."""
        return not self.unknown

    @property
    def moves(self) -> bool:
        """Whether anything is taken off or widens the interval."""
        return any(line.kind in (MEASURED, BOUNDED) for line in self.lines)


def net_of(weighing: Weighing, lines: Sequence[LedgerLine]) -> Net:
    """Take every measured line off and let every bounded one widen the interval, band by band and speed by speed.

    Standard errors of tests that are apart are combined by their squares, of tests that share pulls by their sum; Satterthwaite's
    degrees of freedom.
    """
    comparison = weighing.comparison
    judged, stages = [], []
    for item in weighing.bands:
        assert item.band is not None
        effect, steps = _net_band(item, lines, comparison, len(weighing.bands))
        widened = any(line.kind == BOUNDED for line in lines)
        verdict = compare.verdict(effect, item.margin, widened, comparison.design.drift, comparison.confidence)
        judged.append(Judged(item.name, "torque", effect, verdict, item.reference, item.margin, item.band))
        stages.append(steps)
    difference, half = _net_curve(comparison, lines)
    unknown = tuple(line.label for line in lines if line.kind == UNKNOWN)
    return Net(tuple(lines), tuple(judged), tuple(stages), difference, half, unknown, interactions(lines))


def applied(weighing: Weighing, net: Net | None) -> Weighing:
    """The weighing that a statement is made of: the net where the ledger is closed and takes something off, else what was observed."""
    if net is None or not (net.is_closed and net.moves):
        return weighing
    curve = replace(weighing.comparison, difference=net.difference, half_width=net.half_width)
    local = locals_of(curve, [item.band for item in net.bands if item.band is not None])
    return replace(weighing, comparison=curve, bands=net.bands, locals=local)


def _net_band(
    item: Judged, lines: Sequence[LedgerLine], comparison: Comparison, family: int
) -> tuple[Effect, tuple[Stage, ...]]:
    band, observed = item.band, item.effect
    assert band is not None
    mask = comparison.inside(band.low, band.high)
    steps = [Stage("observed", "observed", observed.value, observed.half_width)]
    value, apart, together, below = observed.value, observed.standard_error**2, observed.standard_error, 0.0
    below = observed.standard_error**4 / observed.df
    slack = 0.0
    for line in lines:
        if line.kind == MEASURED and line.value is not None and line.error is not None:
            own = dict(line.of_band).get(item.name)
            off = own.value if own is not None else float(line.value[mask].mean())
            error = own.standard_error if own is not None else float(line.error[mask].mean())
            df = own.df if own is not None else line.df
            value -= off
            if line.shares_pulls:
                together += error
            else:
                apart += error**2
                below += error**4 / df
            steps.append(Stage(line.label, MEASURED, -off, t_at(0.975, df) * error))
        if line.kind == BOUNDED and line.low is not None and line.high is not None:
            low, high = float(line.low[mask].mean()), float(line.high[mask].mean())
            value -= (low + high) / 2.0
            slack += (high - low) / 2.0
            steps.append(Stage(line.label, BOUNDED, -(low + high) / 2.0, (high - low) / 2.0))
    error = sqrt(apart) + (together - observed.standard_error)
    df = apart**2 / below if below > 0.0 else observed.df
    critical = t_at(1.0 - (1.0 - comparison.confidence) / (2 * family), df)
    critical = max(critical, observed.half_width / observed.standard_error if observed.standard_error else 0.0)
    net = Effect(value, error, critical * error + slack, observed.residual_sd, df, observed.drift)
    return net, (*steps, Stage("net", "net", net.value, net.half_width))


def _net_curve(comparison: Comparison, lines: Sequence[LedgerLine]) -> tuple[Array, Array]:
    value, apart = comparison.difference.copy(), comparison.standard_error**2
    together, slack = np.zeros_like(value), np.zeros_like(value)
    for line in lines:
        if line.kind == MEASURED and line.value is not None and line.error is not None:
            value = value - line.value
            if line.shares_pulls:
                together = together + line.error
            else:
                apart = apart + line.error**2
        if line.kind == BOUNDED and line.low is not None and line.high is not None:
            value = value - (line.low + line.high) / 2.0
            slack = slack + (line.high - line.low) / 2.0
    return value, comparison.critical * (np.sqrt(apart) + together) + slack


def interactions(lines: Sequence[LedgerLine]) -> tuple[str, ...]:
    """Warnings where two changes act on the same thing: their effects measured alone may not simply add up."""
    changed = [line for line in lines if line.kind in (MEASURED, BOUNDED)]
    found = []
    for one, other in combinations(changed, 2):
        on = ACTS_ON.get(one.line, "")
        if on and on == ACTS_ON.get(other.line, ""):
            found.append(
                f"{one.label} and {other.label.lower()} both act on {on}: measured alone, their effects may not simply add up."
            )
    return tuple(found)


@dataclass(frozen=True)
class Stacked:
    """Tests one after the other against the whole: sum of the steps, the whole, by how much they miss each other, all [N m]."""

    total: float
    whole: float
    miss: float
    half_width: float
    df: float

    @property
    def is_consistent(self) -> bool:
        """Whether the miss is inside the noise."""
        return abs(self.miss) <= self.half_width

    @property
    def share(self) -> float:
        """The miss as a share of the whole [1]."""
        return self.miss / self.whole if self.whole else float("inf")


def stack(steps: Sequence[Effect], whole: Effect) -> Stacked:
    """Check A→B, B→C … against A→C. Their errors are combined as of tests apart; where they share pulls the check is kinder than
    it looks. Source: propagation of uncertainty, Satterthwaite. Raises InputError for fewer than two steps."""
    if len(steps) < 2:
        raise InputError("A stack has two steps or more.", "steps")
    parts = [*steps, whole]
    variance = sum(p.standard_error**2 for p in parts)
    below = sum(p.standard_error**4 / p.df for p in parts)
    df = variance**2 / below if below > 0.0 else float("inf")
    total = sum(step.value for step in steps)
    half = t_at(0.975, df) * sqrt(variance)
    return Stacked(total, whole.value, whole.value - total, half, df)


def knowledge(line: LedgerLine, comparison: Comparison) -> str:
    """What is known of a line, in words, for a sheet."""
    if line.kind == MEASURED:
        parts = [f"{name} {units.show(e.value, 'torque', 'us', e.half_width / 10, True)}" for name, e in line.of_band]
        return f"measured alone ({', '.join(parts)}) and taken off"
    if line.kind == BOUNDED and line.low is not None and line.high is not None:
        share = [100.0 * float((edge / comparison.a).mean()) for edge in (line.low, line.high)]
        return f"bounded, {share[0]:+.1f} to {share[1]:+.1f} % of A, counted in the interval".replace("-", "−")
    return "its effect is not known"
