"""Reckonings of timing and time-area."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.quantities import quantity, whole
from longbreath.core.basis.register import Field, Reckoned, answered, reckoning
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.timing import closing as closing_rules
from longbreath.core.timing import degrees, wheel
from longbreath.core.timing import time_area as areas

GROUP = "Timing and headroom"
_STROKE = quantity("length", "Stroke", "54 mm")
_ROD = quantity("length", "Rod", "105 mm")
_SPEED = quantity("speed", "Engine speed", "6000 rpm")
_CYLINDER = quantity("volume", "Displacement of one cylinder", "400 cc")
_RADIUS = quantity("length", "Radius there", "40 mm")


def _read(kind: str, name: str, example: str) -> Field:
    """The field of a reading of the wheel, called as the wheel calls it."""
    return quantity("angle", dict(wheel.READINGS[kind])[name], example)


@reckoning("Timing of poppet valves", GROUP, wheel.FIRST_PRINCIPLES)
def timing_poppet(
    intake_opens: Annotated[float, _read("poppet", "intake_opens", "12 °")],
    intake_closes: Annotated[float, _read("poppet", "intake_closes", "48 °")],
    exhaust_opens: Annotated[float, _read("poppet", "exhaust_opens", "54 °")],
    exhaust_closes: Annotated[float, _read("poppet", "exhaust_closes", "14 °")],
) -> Reckoned:
    """How long are the valves open, and how do they overlap?"""
    readings = {
        "intake_opens": intake_opens,
        "intake_closes": intake_closes,
        "exhaust_opens": exhaust_opens,
        "exhaust_closes": exhaust_closes,
    }
    return answered(*wheel.sheet_figures(wheel.Sheet("poppet", readings)))


@reckoning("Timing of a rotary valve or disc", GROUP, wheel.FIRST_PRINCIPLES)
def timing_disc(
    intake_opens: Annotated[float, _read("disc", "intake_opens", "145 °")],
    intake_closes: Annotated[float, _read("disc", "intake_closes", "65 °")],
    intake_total: Annotated[float | None, quantity("angle", "Noted total", "210 °", 0.1)] = None,
) -> Reckoned:
    """Do the parts add up to the noted total?"""
    totals = {} if intake_total is None else {"intake": intake_total}
    readings = {"intake_opens": intake_opens, "intake_closes": intake_closes}
    return answered(*wheel.sheet_figures(wheel.Sheet("disc", readings, totals=totals)))


@reckoning("Timing of rotary-engine ports", GROUP, wheel.FIRST_PRINCIPLES)
def timing_rotary(
    intake_opens: Annotated[float, _read("rotary", "intake_opens", "32 °")],
    intake_closes: Annotated[float, _read("rotary", "intake_closes", "40 °")],
    exhaust_opens: Annotated[float, _read("rotary", "exhaust_opens", "75 °")],
    exhaust_closes: Annotated[float, _read("rotary", "exhaust_closes", "38 °")],
) -> Reckoned:
    """How long are the ports open?"""
    readings = {
        "intake_opens": intake_opens,
        "intake_closes": intake_closes,
        "exhaust_opens": exhaust_opens,
        "exhaust_closes": exhaust_closes,
    }
    return answered(*wheel.sheet_figures(wheel.Sheet("rotary", readings)))


@reckoning("Dead centre by a stop", GROUP, wheel.FIRST_PRINCIPLES)
def dead_centre(
    stop_before: Annotated[float, quantity("angle", "Stop met before top", "28 °", 0.001)],
    stop_after: Annotated[float, quantity("angle", "and after", "34 °", 0.001)],
) -> Reckoned:
    """How false is the wheel’s dead centre?"""
    return answered(wheel.dead_centre_figure(stop_before, stop_after))


@reckoning("Degrees from an arc", GROUP, wheel.FIRST_PRINCIPLES)
def arc_degrees(
    arc: Annotated[float, quantity("length", "Along the rim", "32 mm")], radius: Annotated[float, _RADIUS]
) -> Reckoned:
    """How many degrees is this along the rim?"""
    return answered(wheel.arc_angle(arc, radius))


@reckoning("Arc from degrees", GROUP, wheel.FIRST_PRINCIPLES)
def degrees_arc(
    angle: Annotated[float, quantity("angle", "Angle", "5 °", 0.0001)], radius: Annotated[float, _RADIUS]
) -> Reckoned:
    """How far along the rim are these degrees?"""
    return answered(wheel.arc_length(angle, radius))


@reckoning("Port angle from its depth", GROUP, wheel.FIRST_PRINCIPLES)
def port_angle(
    depth: Annotated[float, quantity("length", "Edge below top dead centre", "29 mm")],
    stroke: Annotated[float, _STROKE],
    rod: Annotated[float, _ROD],
) -> Reckoned:
    """When does the piston open this port?"""
    return answered(wheel.port_angle(depth, stroke, rod))


@reckoning("Time-area of a window", GROUP, wheel.FIRST_PRINCIPLES)
def time_area(
    area: Annotated[float, quantity("area", "Area", "1200 mm2")],
    up: Annotated[float, quantity("angle", "Opens over", "40 °", 0.0)],
    dwell: Annotated[float, quantity("angle", "stays open for", "90 °", 0.0)],
    down: Annotated[float, quantity("angle", "closes over", "40 °", 0.0)],
    speed: Annotated[float, _SPEED],
    displacement: Annotated[float, _CYLINDER],
) -> Reckoned:
    """How much window for how long?"""
    return answered(*areas.trapezoid_figures(up, dwell, down, area, speed, displacement))


@reckoning("Time-area of a piston port", GROUP, wheel.FIRST_PRINCIPLES)
def time_area_piston(
    depth: Annotated[float, quantity("length", "Top of the window below top dead centre", "29 mm")],
    stroke: Annotated[float, _STROKE],
    rod: Annotated[float, _ROD],
    top_width: Annotated[float, quantity("length", "Width at the top", "38 mm")],
    speed: Annotated[float, _SPEED],
    displacement: Annotated[float, _CYLINDER],
    bottom_width: Annotated[float | None, quantity("length", "and at the bottom", "30 mm")] = None,
) -> Reckoned:
    """How much exhaust window for how long?"""
    widths = (top_width, bottom_width)
    return answered(*areas.piston_figures(depth, stroke, rod, widths, speed, displacement))


@reckoning("Time-area of poppet valves", GROUP, wheel.FIRST_PRINCIPLES)
def time_area_poppet(
    valves: Annotated[int, whole("Valves", "2", 1, 6)],
    valve_diameter: Annotated[float, quantity("length", "Valve head", "33 mm")],
    throat_diameter: Annotated[float, quantity("length", "Throat", "29 mm")],
    peak_lift: Annotated[float, quantity("length", "Peak lift", "10.2 mm")],
    duration: Annotated[float, quantity("angle", "Duration", "224 °", 0.1)],
    speed: Annotated[float, _SPEED],
    displacement: Annotated[float, _CYLINDER],
    stem_diameter: Annotated[float | None, quantity("length", "Stem", "5.5 mm")] = None,
) -> Reckoned:
    """How much valve opening for how long?"""
    gear = ValveGear(valves, valve_diameter, throat_diameter, stem_diameter or 0.0)
    return answered(*areas.poppet_figures(duration, peak_lift, gear, speed, displacement))


@reckoning("How late may a disc close?", GROUP, "Common practice, no published source.")
def closing_delay(
    closing: Annotated[float, quantity("angle", "Closes after top dead centre", "65 °", 0.0)],
    inlet_length: Annotated[float, quantity("length", "Inlet tract", "84 mm")],
    displacement: Annotated[float, _CYLINDER],
) -> Reckoned:
    """Is this closing too late for the inlet?"""
    found = closing_rules.judge_closing(closing, inlet_length, displacement)
    return answered(found.limit, judgement=found.sentence)


@reckoning("Degrees won at disc or case port", GROUP, degrees.SOURCE)
def degree_won(
    angle: Annotated[float, quantity("angle", "Degrees wanted", "4 °", -0.7, 0.7, "with a minus sign: given back")],
    radius: Annotated[float, quantity("length", "Radius at the middle of the window", "32 mm", high=1.0)],
    height: Annotated[float, quantity("length", "Height of the window", "26 mm", high=1.0)],
    thickness: Annotated[float, quantity("length", "Thickness of the disc", "0.5 mm", high=0.1)],
    density: Annotated[float, quantity("density", "Density of the disc", "7850 kg/m3", 500.0, 2e4)],
    depth: Annotated[float, quantity("length", "Depth of the port in the case", "12 mm", high=1.0)],
    wall: Annotated[float, quantity("length", "Wall beside the port now", "5 mm", 0.0, 1.0)],
    wall_limit: Annotated[float, quantity("length", "Wall that must stay", "3 mm", 0.0, 1.0)],
) -> Reckoned:
    """Is this degree won at the disc or at the case port?"""
    port = degrees.DiscPort(radius, height, thickness, density, depth, wall, wall_limit)
    found = degrees.won(port, angle)
    return answered(*found.figures, judgement=degrees.say_won(port, angle, found))
