"""Reckonings of the engine and its air. Each is one function: its annotated arguments are the fields that people fill in."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.air import correction
from longbreath.core.air.moist import Weather, density
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.quantities import CYLINDERS, SPEED, STROKES, choice, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.basis.units import from_unit
from longbreath.core.engine import demand, tuning

GROUP = "Engine and air"
_BORE = quantity("length", "Bore", "84.6 mm", high=5.0)
_STROKE = quantity("length", "Stroke", "88.8 mm", high=5.0)
_STATION = quantity("barometer", "Station pressure", "1013 hPa", help="as read here, not reduced to sea level")
_TUNED = quantity("speed", "Speed to tune for", "4000 rpm")
_RUNNER_AIR = quantity("temperature", "Gas temperature in the runner", "40 C")
_DURATION = quantity("angle", "Intake duration", "248 °", from_unit(150, "angle", "°"), from_unit(360, "angle", "°"))


@reckoning("Air demand of an engine", GROUP, demand.FIRST_PRINCIPLES)
def air_demand(
    bore: Annotated[float, _BORE],
    stroke: Annotated[float, _STROKE],
    cylinders: Annotated[int, CYLINDERS],
    strokes: Annotated[int, STROKES],
    speed: Annotated[float, SPEED],
    filling: Annotated[float, quantity("percent", "Volumetric efficiency", "95 %", 0.05, 3.0)],
) -> Reckoned:
    """How much air does it want?"""
    return answered(demand.air_demand(demand.EngineGeometry(bore, stroke, cylinders, strokes), speed, filling))


@reckoning(
    "Gas velocity and Mach index in a section",
    GROUP,
    "Piston-area rule, first principles; Mach index in Taylor's form, from memory.",
)
def mach_index(
    bore: Annotated[float, _BORE],
    stroke: Annotated[float, _STROKE],
    cylinders: Annotated[int, CYLINDERS],
    strokes: Annotated[int, STROKES],
    speed: Annotated[float, SPEED],
    area: Annotated[float, quantity("area", "Area of the section", "1450 mm2")],
    temperature: Annotated[float, quantity("temperature", "Gas temperature", "40 C")],
) -> Reckoned:
    """Is this section too small at speed?"""
    engine = demand.EngineGeometry(bore, stroke, cylinders, strokes)
    return answered(demand.gas_velocity(engine, speed, area), demand.mach_index(engine, speed, area, temperature))


@reckoning(
    "Section wanted for a power",
    GROUP,
    "First principles; the velocity wanted is a school's choice (common practice, no source).",
)
def section_for_power(
    power: Annotated[float, quantity("power", "Target power", "160 kW")],
    speed: Annotated[float, quantity("speed", "At engine speed", "6500 rpm")],
    cylinders: Annotated[int, CYLINDERS],
    strokes: Annotated[int, STROKES],
    velocity: Annotated[
        float,
        quantity(
            "velocity", "Mean velocity wanted", "80 m/s", help="a school's choice: 70 to 90 m/s is common practice"
        ),
    ],
    consumption: Annotated[float, quantity("consumption", "Brake specific fuel consumption", "280 g/kWh")],
    air_fuel_ratio: Annotated[float, quantity("ratio", "Air to fuel, by mass", "12.8", 5.0, 40.0)],
    temperature: Annotated[float, quantity("temperature", "Intake air temperature", "20 C")],
    pressure: Annotated[float, quantity("barometer", "Intake air pressure", "1013 hPa")],
) -> Reckoned:
    """How large should the runner be for this power?"""
    air = density(Weather(temperature, pressure, 0.0))
    return answered(
        demand.section_for_power(power, speed, cylinders, velocity, consumption, air_fuel_ratio, air, strokes)
    )


@reckoning("Runner length, reflected wave", GROUP, "Reflected-wave rule, from memory.")
def runner_reflected(
    speed: Annotated[float, _TUNED],
    duration: Annotated[float, _DURATION],
    temperature: Annotated[float, _RUNNER_AIR],
    reflection: Annotated[int, whole("Reflection counted", "3", 1, 6)],
    diameter: Annotated[float, quantity("length", "Runner diameter", "43 mm")],
) -> Reckoned:
    """How long should the runner be, by the returning wave?"""
    return answered(tuning.reflected_wave_length(speed, duration, temperature, reflection, diameter))


@reckoning(
    "Runner length, Helmholtz", GROUP, "Helmholtz resonance (Engelman's form, from memory; constant re-derived)."
)
def runner_helmholtz(
    speed: Annotated[float, _TUNED],
    area: Annotated[float, quantity("area", "Section of the runner", "1450 mm2")],
    cylinder_volume: Annotated[float, quantity("volume", "Displacement of one cylinder", "499 cc")],
    compression_ratio: Annotated[float, quantity("ratio", "Compression ratio", "11.2", 1.01, 30.0)],
    temperature: Annotated[float, _RUNNER_AIR],
    ratio: Annotated[float, quantity("ratio", "Frequency ratio K", "2.1", 1.0, 4.0, "2.1 to 2.5 are in use")],
) -> Reckoned:
    """How long should the runner be, by resonance with the cylinder?"""
    return answered(tuning.helmholtz_length(speed, area, cylinder_volume, compression_ratio, temperature, ratio))


@reckoning("Correction factor", GROUP, correction.SOURCE)
def correction_factor(
    temperature: Annotated[float, quantity("temperature", "Air temperature", "20 C")],
    pressure: Annotated[float, _STATION],
    humidity: Annotated[float, quantity("percent", "Relative humidity", "50 %")],
    standard: Annotated[str, choice("Standard", "sae_j1349", ((s.key, s.name) for s in correction.STANDARDS.values()))],
) -> Reckoned:
    """What carries today's power to a standard's air?"""
    air = Weather(temperature, pressure, humidity)
    found = correction.correction(air, standard)
    words = " ".join((*correction.outside(air, standard), *correction.far_from_one(found.value)))
    return answered(found, judgement=words)


@reckoning("Power from torque and speed", GROUP, "Definition (hp = lb-ft·rpm/5252).")
def power_from_torque(
    torque: Annotated[float, quantity("torque", "Torque", "300 lb-ft")],
    speed: Annotated[float, quantity("speed", "Engine speed", "5252 rpm", 10 * RPM)],
) -> Reckoned:
    """What power is this torque at this speed?"""
    return answered(demand.power_from_torque(torque, speed))
