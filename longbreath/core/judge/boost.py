"""Boost: held to what was asked, without creep and without a cut, by a controller that is not at its stop."""

from __future__ import annotations

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import (
    REPEAT,
    STOP,
    WAIT,
    Check,
    OtherPulls,
    PullFacts,
    PullRules,
    at_rpm,
    gauge_of,
    used,
)
from longbreath.core.pull.channels import ABSOLUTE, DUTY, GAUGE
from longbreath.core.pull.pulls import Array, Sweep

HELD_SHARE, HELD_LEAST = 0.07, 6e3
"""Boost counts as held within this share of what was asked, and never closer than so much [Pa]. Common practice, no source."""
CREEP_SHARE, CREEP_LEAST = 0.08, 6e3
"""Boost creeps if it still rises by this share, and so much [Pa], over the last third of the band. Common practice, no source."""
CUT_SHARE = 0.25
STOP_SHARE = 0.15
"""Share of the band over which a controller may sit at either end of its travel."""
FULL, SHUT = 0.98, 0.02
ALIKE = 8e3
"""Pulls of one letter have boost alike within this [Pa]. Common practice, no source."""


def _steps(sweep: Sweep, gauge: Array, rules: PullRules) -> tuple[Array, Array]:
    """Boost averaged in steps of 150 rpm of the band: speeds [rad/s] and pressures [Pa]."""
    inside = used(sweep, rules) & np.isfinite(gauge)
    bins = np.floor(sweep.speed[inside] / (150.0 * RPM)).astype(int)
    values = gauge[inside]
    found = [(b, float(np.mean(values[bins == b]))) for b in np.unique(bins)]
    return (np.array([b for b, _ in found]) + 0.5) * 150.0 * RPM, np.array([v for _, v in found])


def _channel(sweep: Sweep) -> str:
    return GAUGE if sweep.seen(GAUGE) is not None else ABSOLUTE


def _is_boosted(pressures: Array) -> bool:
    return pressures.size >= 6 and float(pressures.max()) > 15e3


def check_cut(sweep: Sweep, rules: PullRules) -> Check:
    """Boost does not fall away inside the band."""
    name, gauge = "boost is not cut", gauge_of(sweep, rules)
    if gauge is None:
        return Check("boost_cut", name, None, "No boost was logged.")
    at, pressures = _steps(sweep, gauge, rules)
    if not _is_boosted(pressures):
        return Check("boost_cut", name, None, "The engine ran without boost.")
    fall = (pressures[:-2] - pressures[2:]) / float(pressures.max())
    if fall.max() > CUT_SHARE:
        where = float(at[int(np.argmax(fall)) + 1])
        words = f"Boost falls away by {fall.max():.0%} at {at_rpm(where)}: a cut, a hose off, or a lifted pedal."
        return Check(
            "boost_cut",
            name,
            False,
            words,
            "Look for the cut in the controller and for a hose off.",
            STOP,
            _channel(sweep),
            where,
            rules.high,
        )
    return Check("boost_cut", name, True, "Boost does not fall away.")


def check_creep(sweep: Sweep, rules: PullRules) -> Check:
    """Boost does not go on rising over the last third of the band."""
    name, gauge = "boost does not creep", gauge_of(sweep, rules)
    if gauge is None:
        return Check("creep", name, None, "No boost was logged.")
    at, pressures = _steps(sweep, gauge, rules)
    if not _is_boosted(pressures):
        return Check("creep", name, None, "The engine ran without boost.")
    begin = rules.low + 0.6 * (rules.high - rules.low)
    last = at >= begin
    if last.sum() < 4 or last.all():
        return Check("creep", name, None, "Too few rows near the end to tell.")
    earlier = (at < begin) & (at >= rules.low + 0.4 * (rules.high - rules.low))
    middle = float(np.median(pressures[earlier if earlier.sum() > 2 else at < begin]))
    slope, level = np.polyfit(at[last] - at[last][0], pressures[last], 1)
    rise = float(slope * (at[last][-1] - at[last][0]))
    over = float(level + slope * (at[last][-1] - at[last][0])) - middle
    if min(rise, over) > max(CREEP_SHARE * max(middle, 0.0), CREEP_LEAST):
        words = f"Boost creeps up by {rise / 1e3:.0f} kPa from {at_rpm(begin)} on: the gate no longer holds it."
        return Check(
            "creep",
            name,
            False,
            words,
            "Stop short of the limit; look at gate, port and spring.",
            STOP,
            _channel(sweep),
            begin,
            rules.high,
        )
    return Check("creep", name, True, "Boost does not creep.")


def check_target(sweep: Sweep, rules: PullRules, facts: PullFacts, beside: OtherPulls) -> Check:
    """Boost is what was asked for; where nothing was asked, what it was in the other pulls of the letter."""
    name = "boost as asked"
    if facts.boost is None:
        return Check("target", name, None, "No boost was logged.")
    if rules.boost is not None:
        slack = max(HELD_SHARE * rules.boost, HELD_LEAST)
        words = f"Boost was {facts.boost / 1e3:.0f} kPa in the upper half where {rules.boost / 1e3:.0f} was asked for."
        if abs(facts.boost - rules.boost) > slack:
            return Check("target", name, False, words, "Set the controller and repeat.", WAIT, _channel(sweep))
        return Check("target", name, True, words)
    others = [o.facts.boost for o in beside.alike if o.facts.boost is not None]
    if not others:
        return Check("target", name, None, "No boost was asked for, and no other pull of the letter to compare with.")
    usual = float(np.median(others))
    words = f"Boost was {facts.boost / 1e3:.0f} kPa in the upper half; the other pulls of {beside.label} had {usual / 1e3:.0f}."
    if abs(facts.boost - usual) > max(ALIKE, HELD_SHARE * abs(usual)):
        return Check("target", name, False, words, "Find why boost moved, then repeat.", REPEAT, _channel(sweep))
    return Check("target", name, True, words)


def check_controller(sweep: Sweep, rules: PullRules) -> Check:
    """The controller is not at the end of its travel: there it holds nothing any more."""
    name, duty = "controller in its travel", sweep.seen(DUTY)
    if duty is None:
        return Check("controller", name, None, "No controller duty was logged.")
    inside = used(sweep, rules) & np.isfinite(duty)
    upper = inside & (sweep.speed > 0.5 * (rules.low + rules.high))
    if upper.sum() < 5 or np.ptp(duty[inside]) < 0.005:
        return Check("controller", name, None, "Its duty was constant: it was set by hand.")
    at_end = float(np.mean(duty[upper] >= FULL)), float(np.mean(duty[upper] <= SHUT))
    if max(at_end) > STOP_SHARE:
        which = "wide open" if at_end[0] > at_end[1] else "shut"
        words = f"The controller is {which} over {max(at_end):.0%} of the upper half: boost is what the spring or turbine makes of it."
        return Check(
            "controller", name, False, words, "Lower the target, or change the spring; then repeat.", WAIT, DUTY
        )
    return Check("controller", name, True, "The controller stays off its stops.")
