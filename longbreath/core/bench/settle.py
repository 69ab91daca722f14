"""Is the reading settled? Judges the last moments of a live bench before a capture, and says what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from longbreath.core.basis import units
from longbreath.core.bench.reduction import is_off_pressure
from longbreath.core.bench.repeats import spread_of

RANGE_END = 0.95
RANGE_LOW = 0.15
COVERED = 0.6
"""Share of the window that samples must span: a line may hold its breath for a moment."""
UNSETTLED, OFF_PRESSURE, NEAR_END, OFF_SCALE, LOW, NO_AIR, NO_FLOW = (
    "unsettled",
    "off pressure",
    "range near its end",
    "off scale",
    "low in the range",
    "no air",
    "no flow",
)
BLOCKING = (OFF_SCALE, NO_AIR, NO_FLOW)
NOUGHT = 0.003
"""Below this share of its full scale a meter shows nothing."""


@dataclass(frozen=True)
class SettleRules:
    """What a capture is held to: length of the settle window [s], samples it must hold, and twice the standard
    deviation allowed in it, as a share, for flow and for pressure."""

    window: float = 1.5
    samples: int = 6
    flow: float = 0.006
    pressure: float = 0.006


@dataclass(frozen=True)
class Moment:
    """One live sample: time [s], pressure [Pa], flow as shown [m3/s], the range's name and its full scale [m3/s]."""

    at: float
    pressure: float
    flow: float
    range_label: str
    full_scale: float | None


@dataclass(frozen=True)
class Problem:
    """One thing that speaks against a capture: a key that stays with the reading, the finding, and what to do."""

    key: str
    finding: str
    advice: str

    @property
    def blocks(self) -> bool:
        """Whether it cannot be taken even when asked for."""
        return self.key in BLOCKING


@dataclass(frozen=True)
class Settled:
    """The settle window: means [Pa, m3/s], standard deviation of the flow as a share, samples, and what speaks against it.

    `gathered` is how full the window is, 0 to 1; `unrest` is twice the standard deviation over what is allowed.
    """

    pressure: float
    flow: float
    spread: float
    samples: int
    gathered: float
    unrest: float
    problems: tuple[Problem, ...]

    @property
    def good(self) -> bool:
        """Whether it may be captured at once; a range that could be finer only leaves its flag."""
        return all(problem.key == LOW for problem in self.problems)


def judge_window(
    moments: Sequence[Moment], now: float, test_pressure: float, rules: SettleRules | None = None
) -> Settled:
    """Judge the moments of the last window before `now` [s] against the test pressure [Pa].

    Returns a Settled. Source: limits are common practice, no source.
    """
    rules = rules or SettleRules()
    recent = [m for m in moments if now - rules.window <= m.at <= now]
    if not recent:
        return Settled(
            0.0, 0.0, 0.0, 0, 0.0, 0.0, (Problem(NO_AIR, "No value from the bench.", "Capture by hand below."),)
        )
    pressure = sum(m.pressure for m in recent) / len(recent)
    flow = sum(m.flow for m in recent) / len(recent)
    spread = _share([m.flow for m in recent], flow)
    wander = _share([m.pressure for m in recent], pressure)
    covered = (recent[-1].at - recent[0].at) / (rules.window * COVERED)
    gathered = min(1.0, len(recent) / rules.samples, covered if covered > 0 else 0.0)
    unrest = max(2.0 * spread / rules.flow, 2.0 * wander / rules.pressure)
    problems = [
        *_no_flow(recent[-1], pressure, test_pressure),
        *_unsettled(recent, gathered, unrest, wander, spread, rules),
        *_column(pressure, test_pressure),
        *_range(recent[-1], flow),
    ]
    problems.sort(key=lambda problem: not problem.blocks)  # what cannot be taken at all comes first
    return Settled(pressure, flow, spread, len(recent), gathered, unrest, tuple(problems))


def _share(values: list[float], mean: float) -> float:
    return (spread_of(values) or 0.0) / mean if mean > 0 else 0.0


def _unsettled(
    recent: list[Moment], gathered: float, unrest: float, wander: float, spread: float, rules: SettleRules
) -> list[Problem]:
    if len({m.range_label for m in recent}) > 1:
        return [Problem(UNSETTLED, "The range was just changed.", "Wait for the window to fill.")]
    if gathered < 1.0:
        return [Problem(UNSETTLED, "The window is still filling.", "Wait a moment.")]
    if unrest > 1.0:
        what = "The column is moving" if wander / rules.pressure > spread / rules.flow else "The flow is moving"
        swing = min(0.99, 2.0 * max(wander, spread))
        return [Problem(UNSETTLED, f"{what}: ± {swing:.1%}.", "Wait until it rests.")]
    return []


def _no_flow(last: Moment, pressure: float, test_pressure: float) -> list[Problem]:
    if pressure > 0.1 * test_pressure and last.flow <= NOUGHT * (last.full_scale or 0.0):
        return [
            Problem(
                NO_FLOW,
                "The column stands, but the meter shows no flow.",
                "Look for a blocked or loose line to the meter.",
            )
        ]
    return []


def _column(pressure: float, test_pressure: float) -> list[Problem]:
    if pressure <= 0.02 * test_pressure:
        return [
            Problem(NO_AIR, "There is no pressure on the part.", "Start the motor; look for a blocked or open line.")
        ]
    if not is_off_pressure(pressure, test_pressure):
        return []
    drop = pressure < test_pressure
    here = {system: units.show(pressure, "column", system, test_pressure * 0.002) for system in units.SYSTEMS}
    finding = f"The column {'has dropped to' if drop else 'stands at'} {here['us']} ({here['metric']})."
    asked = f"{units.show(test_pressure, 'column', 'us')} ({units.show(test_pressure, 'column', 'metric')})"
    advice = f"Turn the motor {'up' if drop else 'down'} to {asked}, or take it as referred."
    return [Problem(OFF_PRESSURE, finding, advice)]


def _range(last: Moment, flow: float) -> list[Problem]:
    if not last.full_scale:
        return []
    share = flow / last.full_scale
    if share > 1.0:
        return [Problem(OFF_SCALE, f"Range {last.range_label} is off its scale.", "Go to the next larger range.")]
    if share > RANGE_END:
        return [
            Problem(
                NEAR_END, f"Range {last.range_label} is at {share:.0%}, near its end.", "Go to the next larger range."
            )
        ]
    if share < RANGE_LOW:
        return [Problem(LOW, f"Range {last.range_label} is at {share:.0%} only.", "A smaller range reads finer.")]
    return []


def standard_error(settled: Settled) -> float:
    """Standard error of the window's mean flow, share of the flow: s/√n."""
    return settled.spread / sqrt(max(settled.samples, 1))
