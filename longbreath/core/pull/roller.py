"""A roller dyno from first principles, where only speeds are logged: inertia times acceleration, coast-down losses, smoothing as a
stated choice."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.pull.pulls import Array

FIRST_PRINCIPLES = "First principles: torque is inertia times angular acceleration."
SMOOTHINGS = (0.1, 0.2, 0.4, 0.8)
"""Widths of smoothing that are offered [s]."""
USUAL = 0.4


@dataclass(frozen=True)
class Roller:
    """Inertia of rollers and what turns with them [kg m²], radius [m], losses a + b·ω + c·ω² of roller and driveline [N m]."""

    inertia: float
    radius: float = 0.0
    losses: tuple[float, float, float] = (0.0, 0.0, 0.0)

    def __post_init__(self) -> None:
        positive(inertia=self.inertia)

    def loss(self, speed: Array) -> Array:
        """Torque lost at roller speeds [rad/s], at the roller [N m], (n,)."""
        a, b, c = self.losses
        return a + b * speed + c * speed**2


def acceleration(time: Array, speed: Array, width: float) -> Array:
    """Rise of speed [rad/s²], (n,): slope of a straight line through the points within ± width/2 [s] of each one.

    time [s], rising; speed [rad/s]. Raises InputError for a width that holds fewer than three points. Source: least squares.
    """
    step = float(np.median(np.diff(time)))
    if not width >= 2.0 * step > 0:
        raise InputError(f"A smoothing of {width:g} s holds fewer than three points of this log.", "smoothing")
    first, last = np.searchsorted(time, time - width / 2 - 1e-9), np.searchsorted(time, time + width / 2 + 1e-9)
    origin = time - time[0]
    sums = [
        np.concatenate([[0.0], np.cumsum(v)]) for v in (np.ones_like(origin), origin, origin**2, speed, origin * speed)
    ]
    n, t, tt, v, tv = (s[last] - s[first] for s in sums)
    bend = n * tt - t**2
    with np.errstate(divide="ignore", invalid="ignore"):
        slope = (n * tv - t * v) / bend
    return np.where(n >= 3, slope, np.nan)


def torque_of_force(force: float, radius: float, roller_speed: float, engine_speed: float) -> float:
    """Torque at the engine's speed [N m] of a force at the roller's surface: power at the roller over engine speed.

    force [N], radius of the roller [m], speeds [rad/s]. Source: first principles; tyre and gears keep what they take.
    """
    return force * radius * roller_speed / engine_speed


def engine_torque(time: Array, roller_speed: Array, engine_speed: Array, roller: Roller, width: float) -> Array:
    """Torque at the engine's speed [N m], (n,): (inertia × acceleration + losses of the coast-down) × roller over engine speed.

    All arrays (n,): time [s], speeds [rad/s]. Without losses it is the torque that reaches the roller. Source: first principles.
    """
    at_roller = roller.inertia * acceleration(time, roller_speed, width) + roller.loss(roller_speed)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(engine_speed > 0, at_roller * roller_speed / engine_speed, np.nan)


@dataclass(frozen=True)
class Smoothed:
    """What a width of smoothing [s] makes of a pull: greatest power [W], the speed there [rad/s], how far speed runs in it [rad/s]."""

    width: float
    peak: float
    at: float
    spread: float


def smoothing_effects(
    time: Array, roller_speed: Array, engine_speed: Array, roller: Roller, widths: tuple[float, ...] = SMOOTHINGS
) -> tuple[Smoothed, ...]:
    """What the choice of smoothing does to the peak, widest last. Widths [s] that hold fewer than three points are left out."""
    found = []
    for width in widths:
        try:
            torque = engine_torque(time, roller_speed, engine_speed, roller, width)
        except InputError:
            continue
        power = np.where(np.isfinite(torque), torque * engine_speed, -np.inf)
        top = int(np.argmax(power))
        rise = float(np.median(np.gradient(engine_speed, time)))
        found.append(Smoothed(width, float(power[top]), float(engine_speed[top]), rise * width))
    return tuple(found)


def effect_words(effects: tuple[Smoothed, ...], chosen: float) -> str:
    """The effect of the chosen width [s] in a sentence; empty where nothing can be compared."""
    own = next((e for e in effects if e.width == chosen), None)
    if own is None or len(effects) < 2:
        return ""
    peaks = [e.peak for e in effects]
    return (
        f"Smoothed over {chosen:g} s, which is {own.spread / RPM:.0f} rpm: nothing narrower shows. From "
        f"{effects[0].width:g} to {effects[-1].width:g} s the peak would read {min(peaks) / own.peak - 1:+.1%} to "
        f"{max(peaks) / own.peak - 1:+.1%}."
    )
