"""A pull as it happens: when it begins and is over in a stream of lines, and whether a device's clock runs as ours does.

Limits are common practice, no source; where the pull lies is found by `core.pull.ramps`, live as in a file.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.stats import theilslopes

from longbreath.core.basis.constants import RPM
from longbreath.core.pull.pulls import MINIMUM_ROWS, Array
from longbreath.core.pull.ramps import SWEEP, THROTTLE_SHARE, Stretch, find_stretches

NOTHING, RISING, OVER = "nothing", "rising", "over"
SHUT = 0.5
"""Below this throttle [1], or this share of the pull's usual torque, the pull is over."""
SHUT_ROWS = 3
RISES = 150.0 * RPM
"""Speed rises at least so fast [rad/s²] while a pull goes on."""
LOOKS_BACK = 0.4
"""Seconds over which it is seen whether speed rises."""
CLOCK_SECONDS = 15.0
"""A clock is compared with ours over so long [s] before anything is said of it."""


@dataclass(frozen=True)
class Stream:
    """What a dyno said lately, (n,) each: its clock [s], engine speed [rad/s], torque [N m], throttle [1] by the logger or None."""

    time: Array
    speed: Array
    torque: Array
    throttle: Array | None = None


@dataclass(frozen=True)
class Seen:
    """What is going on: nothing, rising or over; the rows of the pull once it is over."""

    state: str
    stretch: Stretch | None = None


def watch(stream: Stream, least: float) -> Seen:
    """What is going on in a stream: a pull that rises at its end, the first that is finished, or nothing.

    least: how far speed rises at least in a pull [rad/s]: less is a blip.
    """
    if stream.time.size < MINIMUM_ROWS:
        return Seen(NOTHING)
    rising = is_rising(stream)
    for found in find_stretches(stream.speed, None, stream.torque, stream.throttle):
        if found.kind == SWEEP and found.high - found.low >= least and _is_over(stream, found):
            return Seen(OVER, found)
    return Seen(RISING if rising else NOTHING)


def is_rising(stream: Stream) -> bool:
    """Whether speed rises under load at the end of the stream."""
    since = stream.time >= stream.time[-1] - LOOKS_BACK
    if since.sum() < 3 or stream.time[-1] - stream.time[since][0] <= 0:
        return False
    rate = float(np.polyfit(stream.time[since] - stream.time[-1], stream.speed[since], 1)[0])
    if stream.throttle is not None and np.isfinite(stream.throttle[since]).any():
        loaded = float(np.nanmedian(stream.throttle[since][-SHUT_ROWS:])) >= THROTTLE_SHARE
    else:
        loaded = float(np.median(stream.torque[since][-SHUT_ROWS:])) >= 0.35 * float(np.max(stream.torque))
    return rate > RISES and loaded


def _is_over(stream: Stream, stretch: Stretch) -> bool:
    """Whether the throttle was shut, or load went away, after a stretch."""
    after = slice(stretch.last + 1, None)
    if stream.throttle is not None and np.isfinite(stream.throttle[after]).sum() >= SHUT_ROWS:
        return int((stream.throttle[after] < SHUT).sum()) >= SHUT_ROWS
    usual = float(np.median(stream.torque[stretch.rows]))
    return int((stream.torque[after] < SHUT * usual).sum()) >= SHUT_ROWS


def clock_off(device: Array, arrived: Array) -> float | None:
    """The share by which a device's clock runs faster than ours; None before there is enough to tell.

    device: its own clock [s]; arrived: when its lines came [s], (n,). Lines arrive unevenly: a robust line (Theil 1950, Sen 1968).
    """
    if device.size < MINIMUM_ROWS or np.ptp(arrived) < CLOCK_SECONDS:
        return None
    thin = slice(None, None, max(1, device.size // 60))
    return float(theilslopes(device[thin], arrived[thin])[0]) - 1.0
