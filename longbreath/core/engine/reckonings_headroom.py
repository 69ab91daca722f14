"""Reckonings of what a sensor, the injectors and a boost controller have left, each with the sentence that judges it."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.quantities import STROKES, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.engine import headroom

GROUP = "Timing and headroom"


@reckoning("Headroom of a pressure sensor", GROUP, "Definition; standard atmosphere from memory.")
def sensor_headroom(
    top: Annotated[float, quantity("pressure", "Sensor reads up to, absolute", "2 bar", 5e4)],
    altitude: Annotated[float, quantity("altitude", "Altitude", "0 m", -500.0, 9000.0)],
    boost: Annotated[float, quantity("pressure", "Boost wanted", "12 psi")],
) -> Reckoned:
    """How much boost can this sensor show here?"""
    ceiling, left = headroom.sensor_figures(top, headroom.pressure_at(altitude), boost)
    return answered(ceiling, left, judgement=headroom.say_sensor(left))


@reckoning("Injector duty", GROUP, headroom.INJECTOR_SOURCE)
def injector_duty(
    power: Annotated[float, quantity("power", "Power", "160 kW")],
    consumption: Annotated[float, quantity("consumption", "Specific fuel consumption", "280 g/kWh")],
    injectors: Annotated[int, whole("Injectors", "4", 1, 24)],
    rated: Annotated[float, quantity("injector_flow", "One flows", "280 cm³/min")],
    rated_drop: Annotated[float, quantity("pressure", "rated at", "3 bar", 1e4, 1e8)],
    drop: Annotated[float, quantity("pressure", "Rail less manifold", "3 bar", 1e4, 1e8)],
    fuel_density: Annotated[float, quantity("density", "Density of the fuel", "745 kg/m3", 400.0, 1200.0)],
    speed: Annotated[float, quantity("speed", "Engine speed", "6000 rpm")],
    dead_time: Annotated[float, quantity("dead_time", "Dead time", "1 ms")],
    strokes: Annotated[int, STROKES],
) -> Reckoned:
    """Are the injectors large enough?"""
    duty = headroom.injector_duty(
        power, consumption, injectors, rated, rated_drop, drop, fuel_density, speed, dead_time, strokes
    )
    return answered(duty, judgement=headroom.say_injectors(duty))


@reckoning("Headroom of a boost controller", GROUP, "Common practice, no source.")
def controller_headroom(
    duty: Annotated[float, quantity("percent", "Controller duty", "62 %")],
    boost: Annotated[float, quantity("pressure", "Boost held", "14 psi")],
    spring: Annotated[float, quantity("pressure", "Boost on the spring alone", "7 psi")],
) -> Reckoned:
    """What has the controller left?"""
    left, above = headroom.controller_figures(duty, boost, spring)
    return answered(left, above, judgement=headroom.say_controller(left))
