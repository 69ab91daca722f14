"""Header, collector, cross-over and tail by the main schools, each with what it assumes."""

from __future__ import annotations

from math import pi, sqrt

from longbreath.core.air.gases import BURNED
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.units import from_unit
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.engine.demand import EngineGeometry

_FOOT, _INCH = from_unit(1.0, "length", "ft"), from_unit(1.0, "length", "in")
RULE_SOUND = 850.0 * _FOOT
"""Speed [m/s] that stands for the wave in the 850 rule."""
RULE_PORT = 3.0 * _INCH
"""Length [m] that the 850 rule takes for the port."""
MERGE_SHARE = 0.93
"""Share of the joined area's diameter that a merged pipe gets (from memory)."""
FROM_MEMORY = "Rule from memory."


def _opened(speed: float, opens: float) -> float:
    """Time [s] from exhaust opening `opens` [rad before bottom dead centre] to top dead centre at `speed` [rad/s]."""
    positive(speed=speed)
    if not 0 <= opens <= pi:
        raise InputError("An exhaust opens between 0 and 180 ° before bottom dead centre.", "opens")
    return (pi + opens) / speed


def primary_by_rule(speed: float, opens: float) -> Figure:
    """Primary length [m] from flange to collector: 850·(180 + EVO)/rpm − 3 in.

    speed tuned for [rad/s], opens: exhaust opening before bottom dead centre [rad]. Raises InputError where nothing is left.
    Source: rule from memory; the 3 in are taken for the port.
    """
    time = _opened(speed, opens)
    length = RULE_SOUND * time / 2.0 - RULE_PORT
    if length <= 0:
        raise InputError("At this speed no length is left: tune for a lower speed.", "speed")
    return reckoned(
        "rule",
        "Primary, by the 850 rule",
        (Given("N", "tuned speed", speed, "speed"), Given("θ", "exhaust opens before bottom", opens, "angle")),
        (Step("t", "(180° + θ)/N", time, "time"), Step("L", "850 ft/s·t/2 − 3 in", length, "length")),
        FROM_MEMORY,
        (
            "850 ft/s is half the speed of sound in hot gas: the rule counts two round trips up to top dead centre.",
            "Measured from the flange; the 3 in stand for the port.",
        ),
    )


def primary_by_wave(speed: float, opens: float, temperature: float, port: float, trips: int) -> Figure:
    """Primary length [m] by `trips` round trips between exhaust opening and top dead centre, less the `port` [m].

    speed [rad/s], opens [rad before bottom], temperature: mean of the gas in the pipe [K]. Raises InputError where nothing is
    left. Source: first principles, burned gas γ 1.33 and R 290.
    """
    positive(temperature=temperature, trips=trips)
    if port < 0:
        raise InputError("A port's length is nought or more.", "port")
    time, sound = _opened(speed, opens), BURNED.speed_of_sound(temperature)
    length = sound * time / (2.0 * trips) - port
    if length <= 0:
        raise InputError("At this speed the port alone is longer: tune for a lower speed.", "speed")
    return reckoned(
        f"wave-{trips}",
        f"Primary, {('one round trip', 'two round trips')[trips - 1] if trips < 3 else f'{trips} round trips'}",
        (
            Given("N", "tuned speed", speed, "speed"),
            Given("θ", "exhaust opens before bottom", opens, "angle"),
            Given("T", "mean gas temperature in the pipe", temperature, "temperature"),
            Given("l", "port in the head", port, "length"),
        ),
        (
            Step("a", "√(1.33·290·T)", sound, "velocity"),
            Step("t", "(180° + θ)/N", time, "time"),
            Step("L", f"a·t/(2·{trips}) − l", length, "length"),
        ),
        "First principles: suction comes back from the collector when the inlet opens.",
        ("Hot gas at the flange is faster than the mean: 4 % of length for 8 % of temperature.",),
    )


def primary_bore_by_length(cylinder_volume: float, length: float) -> Figure:
    """Primary inside diameter [m] from displacement of one cylinder [m3] and length [m]: 2.1·√(cc/(25·(L + 3 in))).

    Raises InputError for sizes of nought or less. Source: rule from memory, unsure of its factor.
    """
    positive(cylinder_volume=cylinder_volume, length=length)
    inches = 2.1 * sqrt(cylinder_volume * 1e6 / (25.0 * (length / _INCH + 3.0)))
    return reckoned(
        "bore-rule",
        "Bore, by length and displacement",
        (
            Given("V_c", "displacement of one cylinder", cylinder_volume, "volume"),
            Given("L", "primary length", length, "length"),
        ),
        (Step("D", "2.1·√(cc/(25·(L + 3 in))) in", inches * _INCH, "length"),),
        FROM_MEMORY,
        ("Inside diameter: outside less twice the wall.",),
    )


def primary_bore_by_velocity(engine: EngineGeometry, speed: float, velocity: float) -> Figure:
    """Primary inside diameter [m] in which the piston's mean stroke moves the gas at `velocity` [m/s] at `speed` [rad/s].

    Raises InputError for values of nought or less. Source: piston-area rule, first principles; the velocity is a school's.
    """
    positive(speed=speed, velocity=velocity)
    area = engine.mean_piston_speed(speed) * pi / 4.0 * engine.bore**2 / velocity
    return reckoned(
        "bore-velocity",
        "Bore, by velocity at the torque peak",
        (
            Given("B", "bore", engine.bore, "length"),
            Given("S", "stroke", engine.stroke, "length"),
            Given("N", "engine speed", speed, "speed"),
            Given("v", "mean velocity wanted", velocity, "velocity"),
        ),
        (Step("A", "2·S·N·π/4·B²/v", area, "area"), Step("D", "√(4·A/π)", sqrt(4.0 * area / pi), "length")),
        "First principles; 74.7 m/s is what in² = rpm·in³/88,200 comes to (from memory).",
        ("At the speed of peak torque, not of peak power.",),
    )


def merged_bore(bore: float, pipes: int) -> Figure:
    """Inside diameter [m] after `pipes` of one `bore` [m] have merged: 0.93·√n·D. Source: rule from memory."""
    positive(bore=bore)
    if pipes < 2:
        raise InputError("Two pipes or more merge.", "pipes")
    return reckoned(
        "merged",
        "Bore after the merge",
        (Given("D", "bore of one pipe", bore, "length"), Given("n", "pipes that merge", float(pipes), "count")),
        (Step("D_m", "0.93·√n·D", MERGE_SHARE * sqrt(pipes) * bore, "length"),),
        "Rule from memory (four into two into one).",
        ("For four straight into one, pulses come one by one: two pipes’ worth is nearer than four’s.",),
    )


def collector_length(speed: float, temperature: float, pipes: int, strokes: int) -> Figure:
    """Collector length [m] whose wave comes back by the next pulse of `pipes` evenly spaced cylinders.

    speed tuned for [rad/s], temperature [K], strokes per cycle. L = a·t/2, t = strokes·180°/(n·N). Source: first principles.
    """
    positive(speed=speed, temperature=temperature, pipes=pipes)
    sound, time = BURNED.speed_of_sound(temperature), strokes * pi / (pipes * speed)
    return reckoned(
        "collector",
        "Collector, up to its open end",
        (
            Given("N", "tuned speed", speed, "speed"),
            Given("n", "pipes that merge", float(pipes), "count"),
            Given("T", "mean gas temperature", temperature, "temperature"),
        ),
        (
            Step("a", "√(1.33·290·T)", sound, "velocity"),
            Step("t", f"{strokes}·180°/(n·N)", time, "time"),
            Step("L", "a·t/2", sound * time / 2.0, "length"),
        ),
        "First principles: one round trip between two pulses.",
        ("A shorter collector tunes higher; many are made half of this and tune its second harmonic.",),
    )


def firing_frequency(speed: float, cylinders: int, strokes: int) -> float:
    """Pulses a second [Hz] of evenly spaced cylinders at `speed` [rad/s]: n·N/(strokes/2)."""
    positive(speed=speed, cylinders=cylinders)
    return cylinders * speed / (2.0 * pi) / (strokes / 2.0)


def crossover_places(speed: float, cylinders: int, strokes: int, temperature: float) -> tuple[Figure, Figure]:
    """Where a cross-over finds most pressure of a bank's firing frequency, counted from the open end [m]: odd quarter waves.

    speed [rad/s], cylinders of one bank, temperature [K]. Source: first principles; end effects and mufflers left out.
    """
    positive(temperature=temperature)
    frequency, sound = firing_frequency(speed, cylinders, strokes), BURNED.speed_of_sound(temperature)
    givens = (
        Given("N", "engine speed", speed, "speed"),
        Given("n", "cylinders of one bank", float(cylinders), "count"),
        Given("T", "mean gas temperature", temperature, "temperature"),
    )
    first = (Step("f", "n·N/(strokes/2)", frequency, "frequency"), Step("a", "√(1.33·290·T)", sound, "velocity"))
    note = ("A muffler that opens into a large volume counts as the open end.",)
    source = "First principles: pressure is highest an odd number of quarter waves from an open end."
    quarter = sound / (4.0 * frequency)
    return (
        reckoned(
            "cross-1",
            "Cross-over before the open end",
            givens,
            (*first, Step("x", "a/(4·f)", quarter, "length")),
            source,
            note,
        ),
        reckoned(
            "cross-3",
            "or three quarter waves",
            givens,
            (*first, Step("x", "3·a/(4·f)", 3 * quarter, "length")),
            source,
            note,
        ),
    )


def drone_speed(length: float, cylinders: int, strokes: int, temperature: float) -> Figure:
    """Engine speed [rad/s] at which the firing frequency meets the half-wave resonance of a tail pipe of `length` [m].

    Both ends open (a muffler before it, the air behind it). Source: first principles.
    """
    positive(length=length, temperature=temperature, cylinders=cylinders)
    sound = BURNED.speed_of_sound(temperature)
    frequency = sound / (2.0 * length)
    speed = 2.0 * pi * frequency * (strokes / 2.0) / cylinders
    return reckoned(
        "drone",
        "This tail pipe drones at",
        (
            Given("L", "tail pipe, muffler to end", length, "length"),
            Given("n", "cylinders that feed it", float(cylinders), "count"),
            Given("T", "mean gas temperature", temperature, "temperature"),
        ),
        (
            Step("a", "√(1.33·290·T)", sound, "velocity"),
            Step("f", "a/(2·L)", frequency, "frequency"),
            Step("N", "f·(strokes/2)/n", speed, "speed"),
        ),
        "First principles: a pipe open at both ends; end correction left out.",
        ("Keep it away from the speed people drive at all day.",),
    )
