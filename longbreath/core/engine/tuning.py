"""Intake runner length by two schools, each with its assumptions."""

from __future__ import annotations

from math import pi, radians, sqrt

from longbreath.core.air.moist import speed_of_sound
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, Working

OVERLAP_ALLOWANCE = radians(30.0)
"""Crank angle [rad] taken off the closed period in the reflected-wave rule (20 or 30° are seen; from memory)."""

HELMHOLTZ_RATIO = 2.1
"""Ratio of the resonator's frequency to the engine's in the Helmholtz rule (2.1 to 2.5 are seen; from memory)."""


def closed_period(duration: float) -> float:
    """Closed period that the reflected-wave rule counts [rad of crank]. Raises InputError for a duration no valve has."""
    if not radians(150.0) <= duration <= radians(360.0):
        raise InputError("Intake duration must lie between 150 and 360 ° of crank.", "duration")
    return 4.0 * pi - duration - OVERLAP_ALLOWANCE


def reflected_wave_length(
    speed: float, duration: float, temperature: float, reflection: int, diameter: float
) -> Figure:
    """Runner length from valve to plenum [m] that the reflected-wave rule gives.

    L = a·t/(4·k) − D/2, t = (720 − duration − 30°) / (crank speed). speed [rad/s], duration = intake duration
    [rad of crank], temperature of the gas in the runner [K], reflection = which return k [1..6],
    diameter [m]. Raises InputError outside those bounds. Source: rule from memory; first principles with one
    round trip per return would give twice the first term.
    """
    if speed <= 0:
        raise InputError("Engine speed must be more than nought.", "speed")
    if not 1 <= reflection <= 6:
        raise InputError("The reflection counted is a whole number from 1 to 6.", "reflection")
    closed = closed_period(duration)
    sound = speed_of_sound(temperature)
    time = closed / speed
    length = sound * time / (4.0 * reflection) - diameter / 2.0
    if length <= 0:
        raise InputError(
            "At this speed the wave has no way to go: tune for a lower speed, or an earlier return.", "speed"
        )
    working = Working(
        "Runner length, reflected wave",
        (
            Given("N", "tuned speed", speed, "speed"),
            Given("θ", "intake duration", duration, "angle"),
            Given("T", "gas temperature in the runner", temperature, "temperature"),
            Given("k", "reflection counted", float(reflection), "count"),
            Given("D", "runner diameter", diameter, "length"),
        ),
        (
            Step("a", "√(1.4·287.05·T)", sound, "velocity"),
            Step("t", "(720° − θ − 30°)/N", time, "time"),
            Step("L", "a·t/(4·k) − D/2", length, "length"),
        ),
        "Reflected-wave rule, from memory.",
        (
            "Assumes the suction wave comes back to the valve after k returns, each of two round trips.",
            f"With one round trip per return the same time gives {sound * time / (2 * reflection) * 1000:.0f} mm: "
            "the schools of this rule differ by a factor of two.",
        ),
    )
    return Figure("reflected_wave", "Reflected wave", length, "length", working, significant=3)


def effective_volume(cylinder_volume: float, compression_ratio: float) -> float:
    """Volume [m3] that a runner resonates with: half the displacement of one cylinder [m3] and its chamber."""
    return cylinder_volume * (compression_ratio + 1.0) / (2.0 * (compression_ratio - 1.0))


def helmholtz_length(
    speed: float,
    area: float,
    cylinder_volume: float,
    compression_ratio: float,
    temperature: float,
    ratio: float = HELMHOLTZ_RATIO,
) -> Figure:
    """Runner length [m] at which the runner and the half-open cylinder resonate at `ratio` times the engine.

    f = a/(2π)·√(A/(L·V)), V = V_c·(R + 1)/(2·(R − 1)), tuned when f = ratio·N: solved for L.
    speed [rad/s], area [m2], cylinder_volume = displacement of one cylinder [m3], compression_ratio [1],
    temperature [K]. Raises InputError for values that cannot be. Source: Engelman's form, from memory; the
    constant re-derived from first principles.
    """
    if compression_ratio <= 1:
        raise InputError("A compression ratio is more than 1.", "compression_ratio")
    positive(speed=speed, area=area, cylinder_volume=cylinder_volume, ratio=ratio)
    sound = speed_of_sound(temperature)
    effective = effective_volume(cylinder_volume, compression_ratio)
    frequency = ratio * speed / (2.0 * pi)
    length = area / effective * (sound / (2.0 * pi * frequency)) ** 2
    working = Working(
        "Runner length, Helmholtz",
        (
            Given("N", "tuned speed", speed, "speed"),
            Given("A", "section of the runner", area, "area"),
            Given("V_c", "displacement of one cylinder", cylinder_volume, "volume"),
            Given("R", "compression ratio", compression_ratio, "ratio"),
            Given("T", "gas temperature in the runner", temperature, "temperature"),
            Given("K", "frequency ratio", ratio, "ratio"),
        ),
        (
            Step("a", "√(1.4·287.05·T)", sound, "velocity"),
            Step("V", "V_c·(R + 1)/(2·(R − 1))", effective, "volume"),
            Step("f", "K·N", frequency, "frequency"),
            Step("L", "A/V·(a/(2π·f))²", length, "length"),
        ),
        "Helmholtz resonance (Engelman's form, from memory; constant re-derived).",
        (
            "Assumes a lumped volume and a plug of gas; the length counts port and runner together.",
            "K between 2.1 and 2.5 is in use: the length changes with 1/K².",
        ),
    )
    return Figure("helmholtz", "Helmholtz", length, "length", working, significant=3)


def helmholtz_speed(
    length: float, area: float, cylinder_volume: float, compression_ratio: float, temperature: float
) -> float:
    """Tuned speed [rad/s] of a runner of `length` [m]: the inverse of `helmholtz_length`."""
    if compression_ratio <= 1:
        raise InputError("A compression ratio is more than 1.", "compression_ratio")
    effective = effective_volume(cylinder_volume, compression_ratio)
    return speed_of_sound(temperature) * sqrt(area / (length * effective)) / HELMHOLTZ_RATIO


def reflected_wave_speed(length: float, duration: float, temperature: float, reflection: int, diameter: float) -> float:
    """Tuned speed [rad/s] of a runner of `length` [m]: the inverse of `reflected_wave_length`."""
    sound = speed_of_sound(temperature)
    return sound * closed_period(duration) / (4.0 * reflection * (length + diameter / 2.0))
