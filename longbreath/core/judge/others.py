"""A pull beside the others of its session: its own set, what fades, boost levels, the neighbours in a factorial.

Limits are common practice, no source; none of them is narrower than the dyno repeats.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import LOOK, REPEAT, STOP, Check, Earlier, OtherPulls, PullFacts, PullRules, at_rpm
from longbreath.core.pull.channels import TORQUE
from longbreath.core.pull.pulls import Array, speed_grid

SET_SHARE, SET_SCATTERS = 0.025, 6.0
"""Mean torque may differ from the set's by this share, and never by less than so many times the dyno's scatter."""
PLACE_SHARE = 0.06
"""In no 500 rpm may torque differ from the set's by more than this share of the peak."""
FADE_SHARE, FADE_SCATTERS = 0.015, 4.0
"""Torque of one letter may fall by this share over its last three pulls."""
LEVEL_SHARE = 0.02
NEIGHBOUR_SHARE, NEIGHBOUR_RESIDUALS = 0.035, 5.0
"""A cell may be off what its neighbours say by this share, and never by less than so many times what they are off themselves."""


def _least(mean: float, share: float, scatters: float, rules: PullRules) -> float:
    return max(share * abs(mean), scatters * (rules.noise or 0.0))


SCALES = {
    1.3558: "N·m read as lb-ft, or kW as hp",
    0.7376: "lb-ft read as N·m, or hp as kW",
    2.0: "twice what it was",
    0.5: "half of what it was",
    9.8067: "N·m read as kgf·m",
    0.10197: "kgf·m read as N·m",
}
"""How many times torque comes out as large when a unit is read as another [1], in words. Source: definitions of the units."""
SCALE_OFF = 0.03
"""So near such a factor nothing else is likelier: no part gains a third. Common practice, no source."""


def check_scale(facts: PullFacts, rules: PullRules, beside: OtherPulls) -> Check:
    """Torque is no unit off what this engine showed, in any pull of the session or of a day before."""
    name = "in the unit of the others"
    known = [o.facts.mean for o in beside.others if o.counts] or list(beside.days_before)
    usual = float(np.median(known)) if known else 0.0
    if usual <= 0.0 or beside.levels:
        return Check("scale", name, None, "No other pull of this engine at one setting counts yet.")
    off = facts.mean / usual
    for factor, words in SCALES.items():
        if abs(off / factor - 1.0) <= SCALE_OFF:
            told = f"Mean torque is {off:.2f} times what this engine showed: {words}?"
            advice = "Correct the unit of its source, or let it count with a reason that a second person shares."
            return Check("scale", name, False, told, advice, LOOK, TORQUE, rules.low, rules.high)
    return Check("scale", name, True, f"Mean torque is {off:.2f} times what this engine showed.")


def check_set(facts: PullFacts, rules: PullRules, beside: OtherPulls) -> Check:
    """The pull lies beside the others of its letter, in its mean and everywhere in the band."""
    name, alike = "beside its own set", beside.alike
    if len(alike) < 2:
        return Check("set", name, None, f"Fewer than two other pulls of {beside.label} count so far.")
    usual = float(np.median([o.facts.mean for o in alike]))
    off = facts.mean - usual
    if abs(off) > _least(usual, SET_SHARE, SET_SCATTERS, rules):
        words = f"Mean torque is {off:+.1f} N·m off the other pulls of {beside.label} ({off / usual:+.1%})."
        return Check(
            "set", name, False, words, "Find what changed, then repeat.", REPEAT, TORQUE, rules.low, rules.high
        )
    others = np.vstack([o.facts.curve for o in alike])
    if others.shape[1] == facts.curve.size and facts.curve.size >= 5:
        place = _place(facts.curve, others, rules)
        if place is not None:
            at, share = place
            words = f"Near {at_rpm(at)} torque is off the other pulls of {beside.label} by {share:+.1%} of the peak."
            advice = "Find what changed there, then repeat."
            return Check("set", name, False, words, advice, REPEAT, TORQUE, at - 250 * RPM, at + 250 * RPM)
    return Check("set", name, True, f"Mean torque is {off:+.1f} N·m off the other pulls of {beside.label}.")


def _place(curve: Array, others: Array, rules: PullRules) -> tuple[float, float] | None:
    """Where five grid speeds together lie off the median of the others: speed [rad/s] and share of the peak."""
    seen = np.isfinite(curve) & np.isfinite(others).all(axis=0)
    if seen.sum() < 5:
        return None
    grid = speed_grid(rules.low, rules.high)[: curve.size][seen]
    usual = np.median(others[:, seen], axis=0)
    off = np.convolve(curve[seen] - usual, np.ones(5) / 5.0, mode="valid") / float(np.max(np.abs(usual)))
    worst = int(np.argmax(np.abs(off)))
    return (float(grid[worst + 2]), float(off[worst])) if abs(off[worst]) > PLACE_SHARE else None


def check_fading(facts: PullFacts, rules: PullRules, beside: OtherPulls) -> Check:
    """Torque of a letter does not fall pull after pull."""
    name = "no fading"
    before = [o for o in beside.before if o.label == beside.label][-2:]
    if len(before) < 2 or any(later.place - earlier.place > 1 for earlier, later in pairwise(before)):
        return Check("fading", name, None, "Fewer than two pulls of its letter right before it.")
    means = [o.facts.mean for o in before] + [facts.mean]
    fall = means[0] - means[-1]
    steps = -np.diff(means)
    if fall > _least(means[0], FADE_SHARE, FADE_SCATTERS, rules) and bool((steps > 0.2 * fall).all()):
        words = f"Torque falls pull after pull, by {fall:.1f} N·m ({fall / means[0]:.1%}) over three{_cause(before, facts)}."
        advice = (
            "Stop and inspect: a failing coil, heat, or an engine that gives up. The pulls before it are in doubt too."
        )
        return Check("fading", name, False, words, advice, STOP, TORQUE, rules.low, rules.high)
    return Check("fading", name, True, "Torque does not fall pull after pull.")


def _cause(before: list[Earlier], facts: PullFacts) -> str:
    first = before[0].facts
    if facts.air is not None and first.air is not None and facts.air - first.air > 4.0:
        return f", while intake air rose by {facts.air - first.air:.0f} K: heat"
    return ", without hotter air: a part that fades"


def check_levels(facts: PullFacts, rules: PullRules, beside: OtherPulls) -> Check:
    """More boost makes more torque, everything else being equal."""
    name, factor = "more boost, more torque", beside.boost_factor
    own = beside.levels.get(beside.label)
    if factor is None or own is None:
        return Check("levels", name, None, "The card has no series of boost settings.")
    here, looked = beside.boost_levels[own[factor]], False
    for other in beside.others:
        levels = beside.levels.get(other.label)
        if levels is None or not other.counts or not _alone(own, levels, factor):
            continue
        looked = True
        there = beside.boost_levels[levels[factor]]
        rise = (facts.mean - other.facts.mean) * (1.0 if here > there else -1.0)
        if rise < -_least(other.facts.mean, LEVEL_SHARE, SET_SCATTERS, rules):
            words = (
                f"At {here / 1e3:.0f} kPa it makes {facts.mean:.0f} N·m, pull {other.place} at {there / 1e3:.0f} kPa made "
                f"{other.facts.mean:.0f}: more boost made less torque."
            )
            advice = "Check the setting and the unit of this file, then repeat."
            return Check("levels", name, False, words, advice, LOOK, TORQUE, rules.low, rules.high)
    if not looked:
        return Check("levels", name, None, "No pull at another setting with the same parts counts yet.")
    return Check("levels", name, True, "Torque rises with the setting.")


def _alone(one: tuple[int, ...], other: tuple[int, ...], factor: int) -> bool:
    """Whether two cells differ in that factor alone."""
    return [n for n, (a, b) in enumerate(zip(one, other, strict=True)) if a != b] == [factor]


def check_neighbours(facts: PullFacts, rules: PullRules, beside: OtherPulls) -> Check:
    """In a factorial a cell is what its neighbours let expect: main effects fitted to the other pulls, by least squares.

    Said only where they leave three degrees of freedom and scatter little about their own fit.
    """
    name, own = "as its neighbours say", beside.levels.get(beside.label)
    others = [o for o in beside.others if o.counts and o.label in beside.levels]
    if own is None or len(own) < 2 or not others:
        return Check("neighbours", name, None, "The card is no factorial, or no neighbour counts yet.")
    rows = np.array([_dummies(beside.levels[o.label], beside) for o in others])
    means = np.array([o.facts.mean for o in others])
    here = _dummies(own, beside)
    rank = int(np.linalg.matrix_rank(rows))
    free = len(others) - rank
    if free < 3 or int(np.linalg.matrix_rank(np.vstack([rows, here]))) > rank:
        return Check("neighbours", name, None, "Too few neighbours count to say what was to be expected.")
    effects, *_ = np.linalg.lstsq(rows, means, rcond=None)
    spread = float(np.sqrt(np.sum((means - rows @ effects) ** 2) / free))
    expected = float(here @ effects)
    off = facts.mean - expected
    if abs(off) > max(_least(expected, NEIGHBOUR_SHARE, SET_SCATTERS, rules), NEIGHBOUR_RESIDUALS * spread):
        words = f"Mean torque is {facts.mean:.0f} N·m where its neighbours let expect {expected:.0f} ({off / expected:+.0%})."
        advice = "Check parts, setting and units of this file; was a figure misread?"
        return Check("neighbours", name, False, words, advice, LOOK, TORQUE, rules.low, rules.high)
    return Check("neighbours", name, True, f"Mean torque is {off:+.1f} N·m off what its neighbours let expect.")


def _dummies(levels: tuple[int, ...], beside: OtherPulls) -> Array:
    """One for the mean, and one for each level of each factor beyond its first."""
    counts = [max(cell[n] for cell in beside.levels.values()) for n in range(len(levels))]
    cells = [1.0 if levels[n] == level else 0.0 for n, most in enumerate(counts) for level in range(1, most + 1)]
    return np.array([1.0, *cells])
