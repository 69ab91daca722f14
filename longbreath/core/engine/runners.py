"""Turned round: at which speeds a runner of one length tunes, by every school and every usable return."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi

from longbreath.core.air.moist import speed_of_sound
from longbreath.core.basis.errors import positive
from longbreath.core.basis.sentence import rpm
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.engine import tuning

RETURNS = range(1, 7)
"""Returns of the wave that are counted: a later one is too weak to matter (common practice, no source)."""
EVEN_RETURNS = range(2, 13, 2)
"""Of single round trips only every second return helps: an open end turns a pressure wave over."""
RULE, ONE_TRIP, PHASE, HELMHOLTZ = "reflected wave", "one round trip", "quarter wave in phase", "Helmholtz"
SCHOOLS = (RULE, ONE_TRIP, PHASE, HELMHOLTZ)
_BY_NAME = {"rule": RULE, "trip": ONE_TRIP, "phase": PHASE, "helmholtz": HELMHOLTZ}


def school_of(name: str) -> tuple[str, str]:
    """School and return [count, empty for none] that a figure of `tuned_speeds` stands for, by the figure's name."""
    school, _, count = name.partition("-")
    return _BY_NAME[school], count


@dataclass(frozen=True)
class Runner:
    """What a runner is tuned by: length, diameter [m], area [m2], intake duration [rad of crank] or None, gas temperature [K],
    displacement of one cylinder [m3], compression ratio [1]."""

    length: float
    diameter: float
    area: float
    duration: float | None
    temperature: float
    cylinder_volume: float
    compression_ratio: float

    @property
    def givens(self) -> tuple[Given, ...]:
        """The inputs that all schools share."""
        found = (
            Given("L", "runner and port, valve to plenum", self.length, "length"),
            Given("T", "gas temperature in the runner", self.temperature, "temperature"),
        )
        return found if self.duration is None else (*found, Given("θ", "intake duration", self.duration, "angle"))


@dataclass(frozen=True)
class Tuned:
    """One speed at which a runner tunes: school, which return (0: the school counts none) and the figure [rad/s]."""

    school: str
    count: int
    figure: Figure

    @property
    def speed(self) -> float:
        """The tuned speed [rad/s]."""
        return self.figure.value


def _figure(
    name: str, school: str, count: int, runner: Runner, steps: tuple[Step, ...], source: str, note: str
) -> Tuned:
    label = f"{school}, return {count}" if count else school
    return Tuned(school, count, reckoned(name, label, runner.givens, steps, source, (note,)))


def tuned_speeds(runner: Runner, schools: Sequence[str] = SCHOOLS) -> tuple[Tuned, ...]:
    """Every speed [rad/s] at which a runner tunes, school by school, from the first return on.

    Without an intake duration only Helmholtz answers. Raises InputError for sizes of nought or less, or a duration that no
    valve has. Source: each school's own rule, solved for speed.
    """
    positive(length=runner.length, diameter=runner.diameter, area=runner.area, temperature=runner.temperature)
    positive(cylinder_volume=runner.cylinder_volume)
    found: list[Tuned] = []
    if runner.duration is not None:
        for school, make, counts in (
            (RULE, _by_rule, RETURNS),
            (ONE_TRIP, _by_trip, EVEN_RETURNS),
            (PHASE, _by_phase, RETURNS),
        ):
            if school in schools:
                found += [make(runner, count) for count in counts]
    if HELMHOLTZ in schools:
        found.append(_by_helmholtz(runner))
    return tuple(found)


def _by_rule(runner: Runner, count: int) -> Tuned:
    sound = Step("a", "√(1.4·287.05·T)", speed_of_sound(runner.temperature), "velocity")
    speed = tuning.reflected_wave_speed(
        runner.length, runner.duration or 0.0, runner.temperature, count, runner.diameter
    )
    return _figure(
        f"rule-{count}",
        RULE,
        count,
        runner,
        (sound, Step("N", f"a·(720° − θ − 30°)/(4·{count}·(L + D/2))", speed, "speed")),
        "Reflected-wave rule, from memory.",
        "Two round trips a return; half the diameter counts as length.",
    )


def _by_trip(runner: Runner, count: int) -> Tuned:
    sound = speed_of_sound(runner.temperature)
    closed = tuning.closed_period(runner.duration or 0.0)
    speed = sound * closed / (2.0 * count * runner.length)
    return _figure(
        f"trip-{count}",
        ONE_TRIP,
        count,
        runner,
        (
            Step("a", "√(1.4·287.05·T)", sound, "velocity"),
            Step("N", f"a·(720° − θ − 30°)/(2·{count}·L)", speed, "speed"),
        ),
        "First principles: one way out and back a return, no end correction.",
        "An open end turns a pressure wave over: an odd return comes back as suction, so only even ones help.",
    )


def _by_phase(runner: Runner, count: int) -> Tuned:
    sound = speed_of_sound(runner.temperature)
    closed = 4.0 * pi - (runner.duration or 0.0)
    speed = sound * closed / (4.0 * count * runner.length)
    order = 4.0 * pi * count / closed
    return _figure(
        f"phase-{count}",
        PHASE,
        count,
        runner,
        (
            Step("a", "√(1.4·287.05·T)", sound, "velocity"),
            Step("q", f"{count}·720°/(720° − θ), pipe periods a cycle", order, "ratio"),
            Step("N", "a/(4·L)·(2 cycles of crank)/q", speed, "speed"),
        ),
        "First principles: a quarter-wave pipe, its residual wave in phase when the valve opens.",
        "The rule is this with 30° less closed time and half a diameter more length.",
    )


def _by_helmholtz(runner: Runner) -> Tuned:
    speed = tuning.helmholtz_speed(
        runner.length, runner.area, runner.cylinder_volume, runner.compression_ratio, runner.temperature
    )
    steps = (
        Step(
            "V",
            "V_c·(R + 1)/(2·(R − 1))",
            tuning.effective_volume(runner.cylinder_volume, runner.compression_ratio),
            "volume",
        ),
        Step("N", f"a·√(A/(L·V))/{tuning.HELMHOLTZ_RATIO}", speed, "speed"),
    )
    return _figure(
        "helmholtz",
        HELMHOLTZ,
        0,
        runner,
        steps,
        "Helmholtz resonance (Engelman's form, from memory; constant re-derived).",
        "A plug of gas on half a cylinder: good for long runners; with a wide short one the exact neck tunes a fifth lower.",
    )


def say_usable(found: Sequence[Tuned], low: float, high: float) -> str:
    """Which of the tuned speeds lie in the band of use, low to high [rad/s], in a sentence."""
    inside = [t for t in found if low <= t.speed <= high]
    if not inside:
        return "By no school does this runner tune within the band of use."
    parts = []
    for school in dict.fromkeys(t.school for t in inside):
        speeds = sorted(t.speed for t in inside if t.school == school)
        parts.append(f"{school} at {', '.join(rpm(s) for s in speeds)} rpm")
    return "Within the band of use: " + "; ".join(parts) + "."
