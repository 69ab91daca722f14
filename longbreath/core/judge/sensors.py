"""Channels that stand still, jump, or are at the end of what their sensor can show. Limits are common practice, no source."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import median_filter

from longbreath.core.judge.check import LOOK, REPEAT, Check, PullRules, at_rpm
from longbreath.core.pull.channels import (
    ABSOLUTE,
    AIR_FLOW,
    EXHAUST,
    FUEL_FLOW,
    GAUGE,
    INJECTOR_TIME,
    MIXTURE,
    POWER,
    ROLLER,
    TIME,
    TORQUE,
    TURBINE,
    base_of,
    label_of,
)
from longbreath.core.pull.pulls import Array, Sweep

MOVING = (TORQUE, ROLLER, MIXTURE, ABSOLUTE, GAUGE, TURBINE, EXHAUST, INJECTOR_TIME, AIR_FLOW, FUEL_FLOW)
"""Channels that never stand still during a pull."""
STILL_SHARE = 0.3
"""Share of a pull over which one value that never changes is no measurement any more."""
FLAT_SHARE = 0.05
"""Share of a pull at one greatest value from which a sensor is taken to be at its end."""
JUMP_SCATTERS, JUMP_SHARE = 10.0, 0.15
"""A jump stands out of its neighbours by so many times their scatter, and by this share of what the channel spans."""
SMOOTH = (*MOVING[1:], "coolant", "oil", "charge_temperature", "intake_temperature", "battery", "throttle")


def _runs(values: Array) -> list[tuple[int, int]]:
    """First row and length of each run of one and the same value, longest first."""
    edges = np.flatnonzero(np.diff(values) != 0.0) + 1
    starts = np.concatenate([[0], edges])
    lengths = np.diff(np.concatenate([starts, [values.size]]))
    order = np.argsort(-lengths, kind="stable")[:3]
    return [(int(starts[i]), int(lengths[i])) for i in order]


def _dither(values: Array, without: slice) -> float:
    """How often the value changes from row to row outside a stretch, as a share of one."""
    steps = np.diff(values) != 0.0
    kept = np.ones(steps.size, dtype=bool)
    kept[without] = False
    return float(np.mean(steps[kept])) if kept.sum() >= 5 else 1.0


def _still(sweep: Sweep, rules: PullRules) -> list[tuple[str, int, int, bool]]:
    """Channels that stand still for a while although they move else: name, first and last row, whether at their greatest value."""
    found = []
    for name, values in sweep.channels.items():
        if base_of(name) not in MOVING or not np.isfinite(values).all():
            continue
        start, length = _runs(values)[0]
        stretch = slice(start, start + length)
        if length < max(8, FLAT_SHARE * values.size) or (
            _dither(values, stretch) < 0.5 and length < 0.98 * values.size
        ):
            continue
        is_top = bool(values[start] >= values.max()) and length < 0.9 * values.size and bool(np.ptp(values) > 0)
        if is_top or length >= STILL_SHARE * values.size:
            found.append((name, start, start + length - 1, is_top))
    return found


def check_frozen(sweep: Sweep, rules: PullRules) -> Check:
    """No channel that moves during a pull stands still for a third of it."""
    name = "channels move"
    for channel, first, last, is_top in _still(sweep, rules):
        if not is_top:
            low, high = float(sweep.speed[first]), float(sweep.speed[last])
            words = f"{label_of(channel)} stands still from {at_rpm(low)} to {at_rpm(high)}: it was not measured there."
            advice = "Look at the plug and the logger’s channel, then repeat."
            return Check("frozen", name, False, words, advice, LOOK, channel, low, high)
    return Check("frozen", name, True, "Every channel moves.")


def check_ceiling(sweep: Sweep, rules: PullRules) -> Check:
    """No sensor is at its end: flat at its greatest value while it dithers elsewhere, or at the end of the range that is known."""
    name = "sensors in their range"
    for channel, ceiling in rules.ceilings.items():
        values = sweep.seen(channel)
        if values is not None and np.mean(values >= 0.99 * ceiling) >= FLAT_SHARE / 2.0:
            at = sweep.speed[values >= 0.99 * ceiling]
            return _ceiling(name, channel, float(at.min()), float(at.max()))
    for channel, first, last, is_top in _still(sweep, rules):
        if is_top and channel not in (TORQUE, ROLLER):
            return _ceiling(name, channel, float(sweep.speed[first]), float(sweep.speed[last]))
    return Check("ceiling", name, True, "No sensor is at its end.")


def _ceiling(name: str, channel: str, low: float, high: float) -> Check:
    words = f"{label_of(channel)} is flat at its greatest value from {at_rpm(low)} to {at_rpm(high)}: the sensor is at its end."
    advice = "What lies beyond is not known. Fit a sensor of wider range before the next pull."
    return Check("ceiling", name, False, words, advice, LOOK, channel, low, high)


def check_jumps(sweep: Sweep, rules: PullRules) -> Check:
    """No channel beside torque jumps away from its neighbours and back."""
    name = "channels do not jump"
    for channel, values in sweep.channels.items():
        if base_of(channel) not in SMOOTH or channel in (TIME, POWER) or not np.isfinite(values).all():
            continue
        off = np.abs(values - median_filter(values, 7, mode="nearest"))
        span = float(np.ptp(values[np.argsort(off)[: int(0.97 * off.size)]]))
        usual = 1.4826 * float(np.median(off[off > 0])) if (off > 0).any() else 0.0
        worst = int(np.argmax(off))
        floor = max(JUMP_SCATTERS * usual, JUMP_SHARE * span, 0.01 * float(np.median(np.abs(values))))
        if usual > 0 and off[worst] > floor:
            at = float(sweep.speed[worst])
            words = f"{label_of(channel)} jumps at {at_rpm(at)} and comes back: a loose plug or electric noise."
            return Check(
                "jumps", name, False, words, "Look at the plug and its earth, then repeat.", REPEAT, channel, at, at
            )
    return Check("jumps", name, True, "No channel jumps.")


GAP_STEPS, GAP_LEAST = 6.0, 0.25
"""Rows are missing where time goes on by so many usual steps, and at least by so much [s]."""


def check_gaps(sweep: Sweep) -> Check:
    """Whether rows are missing within the pull."""
    name, time = "no rows missing", sweep.seen(TIME)
    if time is None:
        return Check("gaps", name, None, "No time was logged.")
    steps = np.diff(time)
    usual = float(np.median(steps[np.isfinite(steps)]))
    place = int(np.nanargmax(steps))
    gap = float(steps[place])
    if gap <= max(GAP_STEPS * usual, GAP_LEAST):
        return Check("gaps", name, True, f"Time goes on evenly, the longest step is {gap:.2f} s.")
    at, to = sweep.speed[place], sweep.speed[place + 1]
    return Check(
        "gaps",
        name,
        False,
        f"{gap:.1f} s are missing from {at_rpm(at)} on: a line was down, or what listens to it was.",
        "Look at the line, then repeat the pull.",
        REPEAT,
        TIME,
        float(at),
        float(max(at, to)),
    )


CLOCK_OFF = 0.01
"""Share by which a clock may be off before figures of two devices no longer belong to one moment."""


def check_clocks(rules: PullRules) -> Check:
    """Whether the clocks of the live devices run as ours does."""
    name = "clocks run together"
    if not rules.clocks:
        return Check("clocks", name, None, "Only pulls that are taken live are compared with a clock.")
    device, off = max(rules.clocks.items(), key=lambda pair: abs(pair[1]))
    if abs(off) <= CLOCK_OFF:
        return Check("clocks", name, True, f"All within {max(abs(off), 0.001):.1%} of ours.")
    side = "fast" if off > 0 else "slow"
    words = f"The clock of the {device} runs {abs(off):.1%} {side}: what it logs slides against the dyno."
    return Check("clocks", name, False, words, f"Look at the {device}; start it anew, then repeat the pull.", LOOK)
