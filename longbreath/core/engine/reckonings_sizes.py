"""Reckonings of valves, throttles, plenum, filter and air box, and of the speeds at which a runner tunes."""

from __future__ import annotations

from math import pi, sqrt
from typing import Annotated

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantities import CYLINDERS, SPEED, STROKES, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.basis.units import from_unit
from longbreath.core.engine import runners, sizes
from longbreath.core.engine.demand import EngineGeometry
from longbreath.core.path import volumes

GROUP = "Engine and air"
_BORE = quantity("length", "Bore", "84.6 mm", high=5.0)
_FLOW = quantity("flow", "Air of the whole engine", "220 cfm")
_DISPLACEMENT = quantity("plenum", "Displacement it feeds", "2 L")
_DURATION = quantity("angle", "Intake duration", "248 °", from_unit(150, "angle", "°"), from_unit(360, "angle", "°"))


@reckoning(
    "Inlet valve for an engine", GROUP, "Taylor, form from memory; shares of the bore: common practice, no source."
)
def valve_size(
    bore: Annotated[float, _BORE],
    stroke: Annotated[float, quantity("length", "Stroke", "88.8 mm", high=5.0)],
    speed: Annotated[float, SPEED],
    valves: Annotated[int, whole("Inlet valves a cylinder", "2", 1, 3)],
    temperature: Annotated[float, quantity("temperature", "Gas temperature", "40 C")],
    index: Annotated[float, quantity("ratio", "Mach index allowed", "0.6", 0.1, 1.0, "filling falls above about 0.6")],
    coefficient: Annotated[float, quantity("ratio", "Mean flow coefficient", "0.35", 0.1, 1.0, "0.3 to 0.4 are found")],
) -> Reckoned:
    """How large should the inlet valves be?"""
    by_index = sizes.valve_for_index(EngineGeometry(bore, stroke, 1), speed, valves, temperature, index, coefficient)
    least, most = sizes.valve_of_bore(bore, valves)
    words = ""
    if by_index.value > most.value:
        words = "The speed asks for more valve than the chamber holds: expect filling to fall before it."
    return answered(by_index, least, most, judgement=words)


@reckoning("Throttle for a flow", GROUP, "Continuity; the velocity wanted is common practice, no source.")
def throttle_size(
    flow: Annotated[float, _FLOW],
    velocity: Annotated[
        float, quantity("velocity", "Mean velocity wanted, wide open", "60 m/s", help="50 to 90 m/s are in use")
    ],
    throttles: Annotated[int, whole("Throttles", "1", 1, 24)],
    cylinders: Annotated[int, CYLINDERS],
    strokes: Annotated[int, STROKES],
) -> Reckoned:
    """How large should the throttle be?"""
    return answered(sizes.throttle_bore(flow, velocity, throttles, cylinders, strokes))


@reckoning("Plenum against displacement", GROUP, sizes.COMMON)
def plenum_size(
    volume: Annotated[float, quantity("plenum", "Plenum, net", "1.8 L", help="with its spacer, less what sticks in")],
    displacement: Annotated[float, _DISPLACEMENT],
) -> Reckoned:
    """Is the plenum large enough?"""
    share = volumes.ratio_figure(volumes.plenum_figure(volume, 0, 0.0, 0.0, 0.0, 0.0, None), displacement)
    return answered(share, *sizes.plenum_wanted(displacement), judgement=sizes.say_plenum(share))


@reckoning("Filter and air box", GROUP, sizes.COMMON)
def filter_size(
    flow: Annotated[float, _FLOW],
    velocity: Annotated[
        float, quantity("velocity", "Face velocity wanted", "4.41 m/s", 0.5, 30.0, "6 cfm an in² is usual")
    ],
    displacement: Annotated[float, _DISPLACEMENT],
) -> Reckoned:
    """How large should filter and air box be?"""
    return answered(sizes.filter_area(flow, velocity), *sizes.air_box(displacement))


@reckoning(
    "Speeds at which a runner tunes",
    GROUP,
    "Reflected wave, from memory; quarter wave and Helmholtz, first principles.",
)
def runner_speeds(
    length: Annotated[float, quantity("length", "Runner length, valve to plenum", "371 mm")],
    area: Annotated[float, quantity("area", "Section of the runner", "1450 mm2")],
    duration: Annotated[float, _DURATION],
    temperature: Annotated[float, quantity("temperature", "Gas temperature in the runner", "40 C")],
    cylinder_volume: Annotated[float, quantity("volume", "Displacement of one cylinder", "499 cc")],
    compression_ratio: Annotated[float, quantity("ratio", "Compression ratio", "11.2", 1.01, 30.0)],
    band_from: Annotated[float, quantity("speed", "Band of use from", "2000 rpm", 100 * RPM)],
    band_to: Annotated[float, quantity("speed", "to", "7000 rpm", 100 * RPM)],
) -> Reckoned:
    """At which speeds does this runner tune?"""
    if band_to <= band_from:
        raise InputError("The band of use ends above where it begins.", "band_to")
    runner = runners.Runner(
        length, sqrt(4.0 * area / pi), area, duration, temperature, cylinder_volume, compression_ratio
    )
    found = runners.tuned_speeds(runner)
    return answered(*(t.figure for t in found), judgement=runners.say_usable(found, band_from, band_to))
