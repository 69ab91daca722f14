"""Reckonings of boost: the charge, power at another boost, the compressor's point, the turbine's pressures."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.quantities import quantity
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.engine import boost as boosting

GROUP = "Boost"
_AMBIENT = quantity("barometer", "Room pressure", "1013.25 hPa")
_ROOM = quantity("temperature", "Room temperature", "25 C")
_BOOST = quantity("pressure", "Boost", "10 psi")
_LOST_BEFORE = quantity("column", "Lost before the compressor", "0.001 kPa", 0.0)
_LOST_COOLER = quantity("column", "Lost in cooler and pipes", "0.001 kPa", 0.0)
_EFFICIENCY = quantity("percent", "Compressor efficiency", "70 %", 0.3)
_COOLER = quantity("percent", "Cooler effectiveness", "0 %", help="0 without a cooler; 60 to 80 % is usual")
_POWER = quantity("power", "Power now", "300 hp")
_CONSUMPTION = quantity("consumption", "Brake specific fuel consumption", "320 g/kWh")
_MIXTURE = quantity("ratio", "Air to fuel, by mass", "11.8", 5.0, 60.0)


@reckoning("Charge after compressor and cooler", GROUP, boosting.FIRST)
def boost_charge(
    ambient: Annotated[float, _AMBIENT],
    room: Annotated[float, _ROOM],
    boost: Annotated[float, _BOOST],
    depression: Annotated[float, _LOST_BEFORE],
    cooler_drop: Annotated[float, _LOST_COOLER],
    efficiency: Annotated[float, _EFFICIENCY],
    effectiveness: Annotated[float, _COOLER],
) -> Reckoned:
    """How warm and how dense is the charge?"""
    found = boosting.Charge(ambient, room, boost, depression, cooler_drop, efficiency, effectiveness)
    return answered(*boosting.charge_figures(found))


@reckoning("Power at another boost", GROUP, boosting.PRACTICE)
def boost_power(
    power: Annotated[float, _POWER],
    ambient: Annotated[float, _AMBIENT],
    room: Annotated[float, _ROOM],
    boost: Annotated[float, quantity("pressure", "Boost now", "8 psi")],
    other: Annotated[float, quantity("pressure", "Boost asked about", "12 psi")],
    efficiency: Annotated[float, _EFFICIENCY],
    effectiveness: Annotated[float, _COOLER],
) -> Reckoned:
    """What would it make at another boost?"""
    now = boosting.Charge(ambient, room, boost, 0.0, 0.0, efficiency, effectiveness)
    then = boosting.Charge(ambient, room, other, 0.0, 0.0, efficiency, effectiveness)
    return answered(
        boosting.power_at_boost(power, ambient, boost, other),
        *boosting.power_by_density(power, now, then),
        judgement="An index for planning: the engine’s own pulls at both boosts are worth more than any law.",
    )


@reckoning("Point on a compressor chart", GROUP, "First principles; standard atmosphere.")
def compressor_point(
    power: Annotated[float, _POWER],
    consumption: Annotated[float, _CONSUMPTION],
    air_fuel_ratio: Annotated[float, _MIXTURE],
    ambient: Annotated[float, _AMBIENT],
    room: Annotated[float, _ROOM],
    boost: Annotated[float, _BOOST],
    depression: Annotated[float, _LOST_BEFORE],
    cooler_drop: Annotated[float, _LOST_COOLER],
) -> Reckoned:
    """What must the compressor deliver?"""
    found = boosting.Charge(ambient, room, boost, depression, cooler_drop)
    return answered(*boosting.compressor_point(power, consumption, air_fuel_ratio, found))


@reckoning("Pressure before the turbine", GROUP, "First principles: the turbine gives what the compressor takes.")
def turbine_pressure(
    ambient: Annotated[float, _AMBIENT],
    room: Annotated[float, _ROOM],
    boost: Annotated[float, _BOOST],
    efficiency: Annotated[float, _EFFICIENCY],
    air_fuel_ratio: Annotated[float, _MIXTURE],
    hot: Annotated[float, quantity("temperature", "Gas before the turbine", "850 C", 400.0)],
    turbine_efficiency: Annotated[float, quantity("percent", "Turbine efficiency", "65 %", 0.3)],
    mechanical: Annotated[float, quantity("percent", "Mechanical efficiency", "97 %", 0.5)],
    after: Annotated[float, quantity("column", "Back pressure behind the turbine", "10 kPa", 0.0)],
) -> Reckoned:
    """What does the turbine cost?"""
    charge = boosting.Charge(ambient, room, boost, 0.0, 0.0, efficiency)
    found = boosting.turbine_expansion(charge, air_fuel_ratio, hot, turbine_efficiency, mechanical, after)
    shown = found if boost > 0 else found[:2]
    return answered(*shown, judgement=boosting.say_expansion(found[2]) if boost > 0 else "")
