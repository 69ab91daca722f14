"""Two files of one pull on one clock: their lag by engine speed, and figures brought onto another time base without inventing any."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.signal import fftconvolve

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.pulls import MINIMUM_ROWS, Array

OVERLAP = 0.6
"""Share of the shorter file that must lie on the other."""
DOUBT = 0.03
"""Speeds that still differ by this share of the greatest, at the best lag, are not of one pull. Common practice, no source."""
MOST_POINTS = 200_000


@dataclass(frozen=True)
class Alignment:
    """The second file's clock is `lag` [s] behind the first's: t₁ = t₂ + lag. off: what the speeds still differ by [rad/s], as a root
    mean square; correlation of both speeds [1]; overlap [s]."""

    lag: float
    off: float
    correlation: float
    overlap: float


def step_of(time: Array) -> float:
    """The usual step of a clock [s]. Raises InputError for a clock that does not run."""
    steps = np.diff(time[np.isfinite(time)])
    if steps.size < MINIMUM_ROWS or not (steps > 0).any() or np.median(steps) <= 0:
        raise InputError("Its time does not run forward.", "time")
    return float(np.median(steps))


def align(time: Array, speed: Array, other_time: Array, other_speed: Array) -> Alignment:
    """The lag at which two logs of one engine speed lie on each other best, by least squares over all lags, then refined.

    time [s] and speed [rad/s], (n,), of either file; the clocks may begin anywhere. Raises InputError where the speeds do not run
    together anywhere, or where either stands still.
    """
    one, other = _clean(time, speed), _clean(other_time, other_speed)
    step = max(step_of(one[0]), step_of(other[0]), max(np.ptp(one[0]), np.ptp(other[0])) / MOST_POINTS)
    a, b = (_even(t, v, step) for t, v in (one, other))
    if min(a.size, b.size) < MINIMUM_ROWS:
        raise InputError("Too short to be laid on another file.", "file")
    if min(np.ptp(a), np.ptp(b)) < 0.05 * max(a.max(), b.max()):
        raise InputError("The speed of one file hardly changes: nothing shows how they lie on each other.", "file")
    shift = _best(a, b)
    start = one[0][0] - other[0][0] + shift * step
    lag = _refined(one, other, start, step)
    off, correlation, overlap = _match(one, other, lag)
    if off > DOUBT * float(one[1].max()):
        words = f"Their speeds do not run together: at the best lag they still differ by {off / one[1].max():.0%}."
        raise InputError(words, "file")
    return Alignment(float(lag), off, correlation, overlap)


def _clean(time: Array, speed: Array) -> tuple[Array, Array]:
    good = np.isfinite(time) & np.isfinite(speed)
    t, v = time[good], speed[good]
    forward = np.concatenate([[True], np.diff(t) > 0]) if t.size else np.zeros(0, dtype=bool)
    return t[forward], v[forward]


def _even(time: Array, speed: Array, step: float) -> Array:
    return np.interp(np.arange(time[0], time[-1] + step / 2, step), time, speed)


def _best(a: Array, b: Array) -> int:
    """Steps by which b is shifted to lie on a with the least mean square difference, over lags with enough overlap."""
    ones_a, ones_b = np.ones_like(a), np.ones_like(b)
    back = b[::-1]
    count = np.rint(fftconvolve(ones_a, ones_b))
    square = fftconvolve(a**2, ones_b) + fftconvolve(ones_a, back**2) - 2.0 * fftconvolve(a, back)
    enough = count >= OVERLAP * min(a.size, b.size)
    mean = np.where(enough, np.maximum(square, 0.0) / np.maximum(count, 1.0), np.inf)
    return int(np.argmin(mean)) - (b.size - 1)


def _refined(one: tuple[Array, Array], other: tuple[Array, Array], start: float, step: float) -> float:
    """The lag [s] within a step of `start` at which the speeds differ least: three rounds of a parabola through three lags."""
    lag, width = start, step
    for _ in range(4):
        squares = [_match(one, other, lag + side * width)[0] ** 2 for side in (-1.0, 0.0, 1.0)]
        bend = squares[0] - 2.0 * squares[1] + squares[2]
        if bend > 0:
            lag += width * float(np.clip(0.5 * (squares[0] - squares[2]) / bend, -1.0, 1.0))
        width /= 2.5
    return lag


def _match(one: tuple[Array, Array], other: tuple[Array, Array], lag: float) -> tuple[float, float, float]:
    """Root mean square difference [rad/s], correlation and overlap [s] at a lag."""
    shifted = other[0] + lag
    low, high = max(one[0][0], shifted[0]), min(one[0][-1], shifted[-1])
    inside = (one[0] >= low) & (one[0] <= high)
    if inside.sum() < MINIMUM_ROWS:
        return float("inf"), 0.0, 0.0
    there = np.interp(one[0][inside], shifted, other[1])
    here = one[1][inside]
    spread = float(np.std(here) * np.std(there))
    correlation = float(np.mean((here - here.mean()) * (there - there.mean())) / spread) if spread > 0 else 0.0
    return float(np.sqrt(np.mean((here - there) ** 2))), correlation, float(high - low)


def onto(wanted: Array, time: Array, values: Array) -> Array:
    """Figures of one clock on another: means over each wanted step where the source is finer, straight lines between its own
    points where it is coarser, nothing (NaN) across gaps of more than three of its steps and outside of it.

    wanted, time [s]; values (n,). No detail finer than the source's own step comes of it.
    """
    good = np.isfinite(time) & np.isfinite(values)
    if good.sum() < 2:
        return np.full(wanted.shape, np.nan)
    t, v = time[good], values[good]
    order = np.argsort(t, kind="stable")
    t, v = t[order], v[order]
    own = float(np.median(np.diff(t)))
    step = float(np.median(np.diff(wanted))) if wanted.size > 1 else own
    if step > 1.5 * own > 0:
        sums = np.concatenate([[0.0], np.cumsum(v)])
        first, last = np.searchsorted(t, wanted - step / 2), np.searchsorted(t, wanted + step / 2)
        with np.errstate(divide="ignore", invalid="ignore"):
            found = np.where(last > first, (sums[last] - sums[first]) / (last - first), np.nan)
    else:
        found = np.interp(wanted, t, v)
        after = np.clip(np.searchsorted(t, wanted), 1, t.size - 1)
        found[(t[after] - t[after - 1]) > 3.0 * max(own, step)] = np.nan
    return np.where((wanted < t[0] - own / 2) | (wanted > t[-1] + own / 2), np.nan, found)
