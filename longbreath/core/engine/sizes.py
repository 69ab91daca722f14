"""How large things should be for an engine: valves, throttles, plenum, filter and air box, by the schools in use."""

from __future__ import annotations

from math import pi, sqrt

from longbreath.core.air.moist import speed_of_sound
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.engine.demand import EngineGeometry

COMMON = "Common practice, no source."
MACH_LIMIT = 0.6
"""Inlet Mach index above which filling falls (Taylor, from memory)."""
MEAN_COEFFICIENT = 0.35
"""Mean flow coefficient of an inlet valve over its opening, on the head's area (0.3 to 0.4, from memory)."""
VALVE_SHARES = {1: (0.48, 0.54), 2: (0.36, 0.40), 3: (0.29, 0.32)}
"""Inlet valve over bore by the number of inlet valves: least and most in use (common practice, no source)."""
PLENUM_SHARES = (0.5, 1.5)
"""Plenum over displacement of the cylinders it feeds: least and most in use (common practice, no source)."""
FACE_VELOCITY = 4.41
"""Mean air velocity [m/s] at the face of a pleated filter: 6 cfm an in² (common practice, no source)."""
BOX_SHARES = (2.0, 4.0)
"""Air box over displacement: least and most in use (common practice, no source)."""


def valve_for_index(
    engine: EngineGeometry, speed: float, valves: int, temperature: float, index: float, coefficient: float
) -> Figure:
    """Head diameter [m] of each of `valves` inlet valves at which the inlet Mach index is `index` [1].

    speed [rad/s], temperature of the gas [K], coefficient: mean flow coefficient on the head's area [1].
    D = B·√(S_p/(n·C·a·Z)). Raises InputError for values of nought or less. Source: Taylor's form, from memory.
    """
    positive(speed=speed, valves=valves, temperature=temperature, index=index, coefficient=coefficient)
    piston, sound = engine.mean_piston_speed(speed), speed_of_sound(temperature)
    diameter = engine.bore * sqrt(piston / (valves * coefficient * sound * index))
    notes = ("Two valves cannot be wider than the chamber: look at the share of the bore as well.",)
    return reckoned(
        "valve",
        "Inlet valve, by the Mach index",
        (
            Given("B", "bore", engine.bore, "length"),
            Given("N", "engine speed", speed, "speed"),
            Given("n", "inlet valves a cylinder", float(valves), "count"),
            Given("C", "mean flow coefficient", coefficient, "ratio"),
            Given("Z", "Mach index allowed", index, "ratio"),
            Given("T", "gas temperature", temperature, "temperature"),
        ),
        (
            Step("S_p", "2·S·N", piston, "velocity"),
            Step("a", "√(1.4·287.05·T)", sound, "velocity"),
            Step("D", "B·√(S_p/(n·C·a·Z))", diameter, "length"),
        ),
        "Taylor, form from memory: filling falls when Z passes about 0.6.",
        notes,
    )


def valve_of_bore(bore: float, valves: int) -> tuple[Figure, Figure]:
    """Least and most head diameter [m] of an inlet valve by the share of the `bore` [m] that is in use.

    Raises InputError for more than three inlet valves. Source: common practice, no source.
    """
    if valves not in VALVE_SHARES:
        raise InputError("One to three inlet valves a cylinder are known here.", "valves")
    low, high = VALVE_SHARES[valves]
    givens = (Given("B", "bore", bore, "length"), Given("n", "inlet valves a cylinder", float(valves), "count"))
    return (
        reckoned("least", "Usual, from", givens, (Step("D", f"{low:.2f}·B", low * bore, "length"),), COMMON),
        reckoned("most", "Usual, to", givens, (Step("D", f"{high:.2f}·B", high * bore, "length"),), COMMON),
    )


def throttle_bore(flow: float, velocity: float, throttles: int, cylinders: int, strokes: int) -> Figure:
    """Bore [m] of each of `throttles` round throttles for a flow [m3/s] at a mean velocity [m/s] in the wide-open bore.

    A throttle that feeds fewer cylinders than a cycle has strokes flows in part of the cycle only: ṁ counts while it flows.
    Raises InputError for values of nought or less, or throttles that do not share out the cylinders. Source: continuity.
    """
    positive(flow=flow, velocity=velocity, throttles=throttles, cylinders=cylinders)
    if cylinders % throttles and throttles % cylinders:
        raise InputError("The throttles do not share out the cylinders: count again.", "throttles")
    pulse = max(1.0, strokes * throttles / cylinders)
    area = flow / throttles * pulse / velocity
    return reckoned(
        "throttle",
        "Throttle bore",
        (
            Given("Q", "air of the whole engine", flow, "flow"),
            Given("v", "mean velocity wanted", velocity, "velocity"),
            Given("n", "throttles", float(throttles), "count"),
        ),
        (
            Step("k", "strokes a cycle over cylinders it feeds, 1 at least", pulse, "ratio"),
            Step("A", "Q/n·k/v", area, "area"),
            Step("D", "√(4·A/π)", sqrt(4.0 * area / pi), "length"),
        ),
        "Continuity; the velocity wanted is a school's choice (common practice, no source).",
        ("Spindle and plate stand in the bore: wide open they cost some per cent of the area.",),
    )


def plenum_wanted(displacement: float) -> tuple[Figure, Figure]:
    """Least and most plenum volume [m3] in use for a displacement [m3]. Source: common practice, no source."""
    positive(displacement=displacement)
    low, high = PLENUM_SHARES
    givens = (Given("V_d", "displacement it feeds", displacement, "plenum"),)
    return (
        reckoned("least", "Usual, from", givens, (Step("V", f"{low:g}·V_d", low * displacement, "plenum"),), COMMON),
        reckoned("most", "Usual, to", givens, (Step("V", f"{high:g}·V_d", high * displacement, "plenum"),), COMMON),
    )


def say_plenum(share: Figure) -> str:
    """What a plenum's share of the displacement means, in a sentence."""
    low, high = PLENUM_SHARES
    if share.value < low:
        return "Smaller than is usual: runners take air from one another; a spacer under it gives volume back."
    if share.value > high:
        return "Larger than is usual: the pedal answers late, and the top gains little."
    return "Within what is usual."


def filter_area(flow: float, velocity: float) -> Figure:
    """Unfolded face area [m2] of a pleated filter for a flow [m3/s] at a mean face velocity [m/s]. Source: continuity."""
    positive(flow=flow, velocity=velocity)
    return reckoned(
        "filter",
        "Filter face",
        (Given("Q", "air of the whole engine", flow, "flow"), Given("v", "face velocity wanted", velocity, "velocity")),
        (Step("A", "Q/v", flow / velocity, "area"),),
        "Continuity; 6 cfm an in² (4.4 m/s) is common practice, no source.",
        ("The outer face that the air meets, not the unfolded paper.",),
    )


def air_box(displacement: float) -> tuple[Figure, Figure]:
    """Least and most air-box volume [m3] in use for a displacement [m3]. Source: common practice, no source."""
    positive(displacement=displacement)
    low, high = BOX_SHARES
    givens = (Given("V_d", "displacement", displacement, "plenum"),)
    return (
        reckoned(
            "box-least", "Air box, from", givens, (Step("V", f"{low:g}·V_d", low * displacement, "plenum"),), COMMON
        ),
        reckoned(
            "box-most", "Air box, to", givens, (Step("V", f"{high:g}·V_d", high * displacement, "plenum"),), COMMON
        ),
    )
