"""Where the pulls lie in a log: ramps of speed, steady points and idle, by the course of speed and load."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.ndimage import maximum_filter1d, median_filter, minimum_filter1d, uniform_filter1d

from longbreath.core.basis.constants import RPM
from longbreath.core.pull.pulls import MINIMUM_ROWS, Array

SWEEP, STEADY, IDLE = "sweep", "steady", "idle"
TURN_SHARE, TURN_LEAST = 0.07, 150.0 * RPM
"""Speed turns where it comes back by this share of its greatest, and at least by so much [rad/s]: less is a lifted pedal."""
RISE_SHARE, RISE_LEAST = 0.3, 700.0 * RPM
"""A ramp rises by this share of the greatest speed of the log, and at least by so much [rad/s]."""
LOAD_SHARE, THROTTLE_SHARE = 0.35, 0.7
"""A ramp is a pull if it ran under this share of the greatest load of any ramp, or throttle: less is a blip or a roll-on."""
WHOLE = 0.9
"""A single ramp that takes this share of the rows is the whole file: nothing is cut off it."""
STEADY_SECONDS, STEADY_SHARE = 5.0, 0.012
"""A point is steady if speed stays within this share for so long [s]. Common practice, no source."""
IDLE_SPEED = 1_400.0 * RPM
"""Steady below this speed [rad/s] and without load is idle. Common practice, no source."""


@dataclass(frozen=True)
class Stretch:
    """One condition in a log: sweep, steady or idle; first and last row; lowest and highest speed [rad/s]."""

    kind: str
    first: int
    last: int
    low: float
    high: float

    @property
    def rows(self) -> slice:
        """The rows of the log."""
        return slice(self.first, self.last + 1)


def find_stretches(
    speed: Array, time: Array | None = None, load: Array | None = None, throttle: Array | None = None
) -> tuple[Stretch, ...]:
    """The pulls, steady points and idle stretches of a log, in order.

    speed [rad/s], (n,); time [s], without which only ramps are found; load: torque [N m] or power [W]; throttle [1]. NaN where a
    row has none.
    """
    if np.isfinite(speed).sum() < MINIMUM_ROWS:
        return ()
    whole = _filled(speed)
    smooth = median_filter(whole, 5, mode="nearest")
    ramps = _loaded(_ramps(smooth), load, throttle)
    if len(ramps) == 1 and ramps[0][1] - ramps[0][0] + 1 >= WHOLE * speed.size:
        ramps = [(0, speed.size - 1)]
    found = [_stretch(SWEEP, whole, a, b) for a, b in ramps]
    if time is not None and np.isfinite(time).all():
        found += _steady(smooth, time, load, ramps)
    return tuple(sorted(found, key=lambda s: s.first))


def _filled(values: Array) -> Array:
    rows, good = np.arange(values.size), np.isfinite(values)
    return np.interp(rows, rows[good], values[good])


def _stretch(kind: str, speed: Array, first: int, last: int) -> Stretch:
    part = speed[first : last + 1]
    return Stretch(kind, first, last, float(part.min()), float(part.max()))


def _turns(speed: Array, back: float) -> list[int]:
    """Rows at which speed turns, from low to high and back: a turn counts once speed came back by `back`."""
    turns, low, high, rising = [0], 0, 0, None
    for row, value in enumerate(speed.tolist()):
        if value > speed[high]:
            high = row
        if value < speed[low]:
            low = row
        if rising is not False and speed[high] - value > back:
            turns.append(high)
            rising, low = False, row
            high = row
        elif rising is not True and value - speed[low] > back:
            turns.append(low)
            rising, high = True, row
            low = row
    turns.append(high if rising else low)
    return turns


def _ramps(speed: Array) -> list[tuple[int, int]]:
    top = float(speed.max())
    turns = _turns(speed, max(TURN_SHARE * top, TURN_LEAST))
    least = max(RISE_SHARE * top, RISE_LEAST)
    found = []
    for start, end in pairwise(turns):
        if speed[end] - speed[start] < least or end - start + 1 < MINIMUM_ROWS:
            continue
        found.append(_trimmed(speed, start, end))
    return [(a, b) for a, b in found if b - a + 1 >= MINIMUM_ROWS]


def _trimmed(speed: Array, start: int, end: int) -> tuple[int, int]:
    """A rise without what waits before and after it: from the last time that speed lingers in its lower half, to its height.

    It lingers where it moves at less than a quarter of its usual rate for a tenth of its upper half; a short lift does not.
    """
    rise = speed[end] - speed[start]
    part = speed[start : end + 1]
    high = int(np.flatnonzero(part >= speed[end] - 0.003 * rise)[0])
    middle = int(np.argmax(part >= speed[start] + 0.5 * rise))
    window = max(4, (high - middle + 1) // 10)  # of the rise itself: however long it idled before
    rate = uniform_filter1d(np.gradient(part), max(2, window // 2), mode="nearest")
    usual = float(np.median(rate[middle : high + 1]))
    calm = (np.abs(rate) < usual / 4.0).astype(np.int8)
    lingers = np.flatnonzero(minimum_filter1d(calm, window, mode="nearest")[:middle])
    first = int(lingers[-1]) if lingers.size else 0
    if lingers.size:
        held = float(np.median(part[max(0, first - 2 * window) : first + 1]))
        below = np.flatnonzero(part[: first + 2 * window] <= held + 0.002 * rise)
        first = int(below[-1]) if below.size else first
    low = np.flatnonzero(part[:middle] <= speed[start] + 0.02 * rise)
    first = max(first, int(low[-1]) if low.size else 0)
    return start + min(first, middle), start + high


def _loaded(ramps: list[tuple[int, int]], load: Array | None, throttle: Array | None) -> list[tuple[int, int]]:
    """The ramps that ran under load; all of them where neither load nor throttle tells."""
    for values, share in ((throttle, THROTTLE_SHARE), (load, LOAD_SHARE)):
        if values is None or len(ramps) < 1:
            continue
        means = [
            float(np.nanmedian(values[a : b + 1])) if np.isfinite(values[a : b + 1]).any() else 0.0 for a, b in ramps
        ]
        if max(means) > 0:
            ramps = [ramp for ramp, mean in zip(ramps, means, strict=True) if mean >= share * max(means)]
    return ramps


def _steady(speed: Array, time: Array, load: Array | None, ramps: list[tuple[int, int]]) -> list[Stretch]:
    """Stretches outside the ramps over which speed stays where it is for long enough."""
    step = float(np.median(np.diff(time)))
    window = max(MINIMUM_ROWS, int(STEADY_SECONDS / step)) if step > 0 else 0
    if not window or window >= speed.size:
        return []
    spread = maximum_filter1d(speed, window) - minimum_filter1d(speed, window)
    calm = spread <= 2.0 * STEADY_SHARE * np.maximum(speed, 1.0)
    calm = maximum_filter1d(calm.astype(np.int8), window) > 0  # each row of a calm window, not its middle alone
    at_once = maximum_filter1d(speed, 5) - minimum_filter1d(speed, 5)
    calm &= at_once <= 2.0 * STEADY_SHARE * np.maximum(speed, 1.0)  # two points without a ramp between them are two
    for a, b in ramps:
        calm[a : b + 1] = False
    edges = np.flatnonzero(np.diff(np.concatenate([[0], calm.astype(np.int8), [0]])))
    heaviest = float(np.nanmax(load)) if load is not None and np.isfinite(load).any() else 0.0
    found = []
    for first, after in zip(edges[::2], edges[1::2], strict=True):
        if after - first < 0.95 * window:
            continue
        part = load[first:after] if load is not None else None
        mean = float(np.nanmean(part)) if part is not None and np.isfinite(part).any() else 0.0
        idles = float(np.median(speed[first:after])) < IDLE_SPEED and (not heaviest or mean < 0.15 * heaviest)
        found.append(_stretch(IDLE if idles else STEADY, speed, int(first), int(after) - 1))
    return found
