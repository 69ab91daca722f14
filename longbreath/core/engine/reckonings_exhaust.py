"""Reckonings of header, collector, merge, cross-over and tail pipe by the main schools."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.quantities import CYLINDERS, STROKES, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.engine import headers
from longbreath.core.engine.demand import EngineGeometry

GROUP = "Exhaust"
_SPEED = quantity("speed", "Speed to tune for", "5000 rpm")
_HOT = quantity("temperature", "Mean gas temperature in the pipe", "600 C")
_OPENS = quantity("angle", "Exhaust opens before bottom dead centre", "54 °", 0.0, 2.0)


@reckoning("Primary length", GROUP, "850 rule, from memory; round trips, first principles.")
def primary_length(
    speed: Annotated[float, _SPEED],
    opens: Annotated[float, _OPENS],
    temperature: Annotated[float, _HOT],
    port: Annotated[float, quantity("length", "Port in the head", "75 mm", 0.0)],
) -> Reckoned:
    """How long should the primaries be?"""
    by_wave = (headers.primary_by_wave(speed, opens, temperature, port, trips) for trips in (2, 1))
    return answered(headers.primary_by_rule(speed, opens), *by_wave)


@reckoning("Primary bore and merge", GROUP, "Rules from memory; velocity by the piston-area rule, first principles.")
def primary_bore(
    bore: Annotated[float, quantity("length", "Bore", "84.6 mm", high=5.0)],
    stroke: Annotated[float, quantity("length", "Stroke", "88.8 mm", high=5.0)],
    speed: Annotated[float, quantity("speed", "Speed of peak torque", "4500 rpm")],
    length: Annotated[float, quantity("length", "Primary length", "800 mm")],
    velocity: Annotated[float, quantity("velocity", "Mean velocity wanted", "74.7 m/s")],
    pipes: Annotated[int, whole("Pipes that merge", "2", 2, 8)],
) -> Reckoned:
    """How wide should primaries and merge be?"""
    engine = EngineGeometry(bore, stroke, 1)
    by_length = headers.primary_bore_by_length(engine.displacement, length)
    by_velocity = headers.primary_bore_by_velocity(engine, speed, velocity)
    return answered(by_length, by_velocity, headers.merged_bore(by_velocity.value, pipes))


@reckoning("Collector length", GROUP, "First principles.")
def collector_length(
    speed: Annotated[float, _SPEED],
    temperature: Annotated[float, _HOT],
    pipes: Annotated[int, whole("Pipes that merge", "4", 2, 8)],
    strokes: Annotated[int, STROKES],
) -> Reckoned:
    """How long should the collector be?"""
    return answered(headers.collector_length(speed, temperature, pipes, strokes))


@reckoning("Cross-over and tail pipe", GROUP, "First principles: quarter and half waves of the firing frequency.")
def crossover_and_tail(
    speed: Annotated[float, _SPEED],
    cylinders: Annotated[int, CYLINDERS],
    strokes: Annotated[int, STROKES],
    temperature: Annotated[float, quantity("temperature", "Mean gas temperature there", "400 C")],
    tail: Annotated[float, quantity("length", "Tail pipe, muffler to end", "900 mm")],
) -> Reckoned:
    """Where does a cross-over help, and when does the tail drone?"""
    places = headers.crossover_places(speed, cylinders, strokes, temperature)
    return answered(*places, headers.drone_speed(tail, cylinders, strokes, temperature))
