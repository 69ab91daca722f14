"""Reckonings of sections, volumes and faces."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantities import SMALLEST, choice, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.basis.working import Given
from longbreath.core.bench import traverse
from longbreath.core.path import calliper, sections, volumes
from longbreath.core.path import faces as port_faces

GROUP = "Path and faces"
_WIDE = quantity("length", "Width", "50 mm")
_HIGH = quantity("length", "Height", "32 mm")
_READING = quantity("length", "Reading", "38.17 mm")
_BY_GEOMETRY = sections.FIRST_PRINCIPLES
FACE_WALL_LIMIT = 0.003
"""Wall that must stay [m] where nothing else is said (common practice, no source)."""


@reckoning("Inside of a tube", GROUP, _BY_GEOMETRY)
def tube_inside(
    outside_diameter: Annotated[float, quantity("length", "Outside diameter", "2-1/2 in", 0.0, 5.0)],
    wall: Annotated[float, quantity("length", "Wall", "0.065 in", 0.0, 5.0)],
) -> Reckoned:
    """What is left inside this tube?"""
    return answered(*sections.tube_figures(outside_diameter, wall))


@reckoning("Area of a squashed tube", GROUP, _BY_GEOMETRY)
def tube_flattened(
    outside_diameter: Annotated[float, quantity("length", "Outside diameter before", "63.5 mm", 0.0, 5.0)],
    wall: Annotated[float, quantity("length", "Wall", "1.6 mm", 0.0, 5.0)],
    minor_outside: Annotated[float, quantity("length", "Outside height after squashing", "45 mm", 0.0, 5.0)],
) -> Reckoned:
    """What did squashing this tube cost?"""
    return answered(*sections.flattened_figures(outside_diameter, wall, minor_outside))


@reckoning("Oval section", GROUP, _BY_GEOMETRY)
def section_oval(width: Annotated[float, _WIDE], height: Annotated[float, _HIGH]) -> Reckoned:
    """How large is this oval inside?"""
    sizes = sections.wide_and_high(width, height)
    return answered(*sections.section_figures(sections.oval(width, height), "oval", sizes))


@reckoning("D section", GROUP, _BY_GEOMETRY)
def section_d(
    width: Annotated[float, quantity("length", "Width of the floor", "34 mm")],
    height: Annotated[float, quantity("length", "Height over all", "40 mm")],
) -> Reckoned:
    """How large is this D inside?"""
    sizes = sections.wide_and_high(width, height)
    return answered(*sections.section_figures(sections.d_section(width, height), "d", sizes))


@reckoning("Rounded rectangle", GROUP, _BY_GEOMETRY)
def section_rectangle(
    width: Annotated[float, _WIDE],
    height: Annotated[float, _HIGH],
    corner_radius: Annotated[float, quantity("length", "Corner radius", "8 mm", 0.0)],
) -> Reckoned:
    """How large is this port inside?"""
    section = sections.rounded_rectangle(width, height, corner_radius)
    sizes = (*sections.wide_and_high(width, height), Given("r", "corner radius", corner_radius, "length"))
    return answered(*sections.section_figures(section, "rounded_rectangle", sizes))


@reckoning("Mean and ovality", GROUP, calliper.SOURCE)
def callipers(
    reading_1: Annotated[float, quantity("length", "Reading", "38.31 mm")],
    precision: Annotated[float, quantity("length", "The tool is good to ±", "0.05 mm", 0.0)],
    reading_2: Annotated[float | None, quantity("length", "Reading", "38.12 mm")] = None,
    reading_3: Annotated[float | None, _READING] = None,
    reading_4: Annotated[float | None, quantity("length", "Reading")] = None,
) -> Reckoned:
    """How large is it, and how far out of round?"""
    taken = [r for r in (reading_1, reading_2, reading_3, reading_4) if r is not None]
    found = calliper.read(taken, precision)
    return answered(found.mean, found.ovality, found.out_of_round)


@reckoning("Cone: angle, ratio, volume", GROUP, _BY_GEOMETRY)
def cone(
    entry: Annotated[float, quantity("length", "Diameter at entry", "38 mm")],
    exit: Annotated[float, quantity("length", "Diameter at exit", "51 mm")],
    length: Annotated[float, quantity("length", "Length", "250 mm")],
) -> Reckoned:
    """How steep is this cone, and what does it hold?"""
    return answered(*volumes.cone_figures(entry, exit, length))


@reckoning("Length of a cone for an angle", GROUP, _BY_GEOMETRY)
def cone_length(
    entry: Annotated[float, quantity("length", "Diameter at entry", "50.8 mm")],
    exit: Annotated[float, quantity("length", "Diameter at exit", "63.5 mm")],
    angle: Annotated[float, quantity("angle", "Included angle", "7 °", 0.001)],
) -> Reckoned:
    """How long must this cone be?"""
    return answered(volumes.cone_length_figure(entry, exit, angle))


@reckoning("Net plenum volume", GROUP, _BY_GEOMETRY)
def plenum_volume(
    gross: Annotated[float, quantity("plenum", "Measured without what sticks in", "3.5 L")],
    stacks: Annotated[int, whole("Runners that stick in", "4", 0, 24)],
    stack_outside: Annotated[float, quantity("length", "Outside diameter of one", "50 mm", 0.0)],
    stack_height: Annotated[float, quantity("length", "They stick in by", "14 mm", 0.0)],
    spacer_area: Annotated[float, quantity("area", "Inside area of the spacer", "29500 mm2", 0.0)],
    spacer_height: Annotated[float, quantity("length", "Spacer", "12 mm", 0.0)],
) -> Reckoned:
    """What is left of the plenum?"""
    return answered(
        volumes.stacked_plenum_figure(gross, stacks, stack_outside, stack_height, spacer_area, spacer_height)
    )


@reckoning("First guess of response", GROUP, _BY_GEOMETRY)
def pipe_response(
    volume: Annotated[float, quantity("plenum", "Volume to fill", "5 L")],
    flow: Annotated[float, quantity("flow", "Flow that fills it", "110 L/s")],
    gain: Annotated[float, quantity("pressure", "Pressure wanted above the room", "1 bar", SMALLEST)],
    pressure: Annotated[float, quantity("barometer", "Room pressure", "1013 hPa", 5e4)],
) -> Reckoned:
    """How long does the air need to fill this pipe?"""
    return answered(volumes.response_figure(volume, flow, gain, pressure))


@reckoning("Crankcase of a two-stroke", GROUP, _BY_GEOMETRY)
def crankcase(
    bore: Annotated[float, quantity("length", "Bore", "62 mm")],
    stroke: Annotated[float, quantity("length", "Stroke", "57 mm")],
    case: Annotated[float, quantity("volume", "Case volume, piston down", "520 cc")],
) -> Reckoned:
    """How hard does the crankcase pump?"""
    return answered(*volumes.crankcase_figures(bore, stroke, case))


@reckoning("Two faces over each other", GROUP, port_faces.SOURCE)
def faces(
    width_1: Annotated[float, quantity("length", "Upstream: width", "50 mm")],
    height_1: Annotated[float, quantity("length", "height", "32 mm")],
    radius_1: Annotated[float, quantity("length", "corner radius", "8 mm", 0.0)],
    width_2: Annotated[float, quantity("length", "Downstream: width", "52 mm")],
    height_2: Annotated[float, quantity("length", "height", "34 mm")],
    radius_2: Annotated[float, quantity("length", "corner radius", "10 mm", 0.0)],
    right: Annotated[float, quantity("length", "Shifted right", "1.5 mm", -0.2)],
    up: Annotated[float, quantity("length", "and up", "1 mm", -0.2)],
    wall: Annotated[float | None, quantity("length", "Wall around the downstream one", "4.5 mm")] = None,
) -> Reckoned:
    """Do these two ports meet?"""
    try:
        a = traverse.rectangle_face(width_1, height_1, radius_1)
        b = traverse.rectangle_face(width_2, height_2, radius_2)
    except InputError as error:
        raise InputError(error.message, "radius_1") from None
    match = port_faces.lay_over(a, b, port_faces.FacePlace(right, up))
    judged = port_faces.judge_match(match, wall, FACE_WALL_LIMIT)
    return answered(
        match.overlap,
        match.share,
        match.blocked,
        match.opened,
        port_faces.edge_figure(match),
        judgement=judged.sentence,
    )


@reckoning("What a spacer shifts", GROUP, port_faces.SOURCE)
def spacer_shift(
    thickness: Annotated[float, quantity("length", "Plates together", "12 mm")],
    layout: Annotated[str, choice("Layout", "v", port_faces.LAYOUTS)],
    angle: Annotated[
        float,
        quantity(
            "angle",
            "Angle",
            "40 °",
            0.0,
            help="in line: port axis above the horizontal; V: the face’s normal from the vertical",
        ),
    ],
) -> Reckoned:
    """Where do the ports go with this spacer?"""
    return answered(*port_faces.stack_shift(layout, [thickness], angle))
