"""What is assumed of an engine until it is measured: one place for every page, command and simulation that needs it.

All values are common practice without a published source, and can be overwritten wherever they are used.
"""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis.units import from_unit
from longbreath.core.engine.fuels import PETROL, fuel_named

ROOM_PRESSURE = 101325.0
"""Pressure of the room [Pa]: the standard atmosphere."""
ROOM_TEMPERATURE = 293.15
"""Temperature of the room [K]."""
RUNNER_TEMPERATURE = 313.15
"""Temperature of the gas in an intake runner [K]: warmed by the port's wall."""
RUNNER_VELOCITY = 80.0
"""Mean velocity wanted in a runner [m/s]: 70 to 90 are in use."""
REFLECTION = 4
"""Return of the wave that is counted when a runner is tuned [count]."""
HEAT_TRANSFER = 30.0
"""Heat loss of a bare exhaust pipe to moving air [W/(m2 K)]."""
RATED_FUEL_DROP = 3e5
"""Pressure across an injector at which its flow is rated [Pa]."""
INJECTOR_DEAD_TIME = 0.001
"""Time an injector takes to open [s]."""
SPECIFIC_POWER = 75e6
"""Target power over displacement that a page begins with [W/m3]."""
BOOSTED = ("turbo", "centrifugal", "positive displacement")
"""Ways of induction that fill a cylinder above the room's pressure."""


@dataclass(frozen=True)
class Assumed:
    """What an engine of one kind is taken to do: volumetric efficiency [1], air to fuel by mass [1], brake specific fuel
    consumption [kg/J], gas temperature at the exhaust port [K]."""

    filling: float
    air_fuel_ratio: float
    consumption: float
    exhaust_temperature: float


def assumed_of(fuel: str, induction: str) -> Assumed:
    """What is assumed of an engine by its fuel and its way of induction: petrol and diesel by common practice, no source; of another
    fuel the same λ and the same heat for a unit of work as of petrol."""
    diesel, burned = fuel == "diesel", fuel_named(fuel)
    return Assumed(
        filling=1.55 if induction in BOOSTED else 0.95,
        air_fuel_ratio=22.0 if diesel else 12.8 * burned.stoichiometric / PETROL.stoichiometric,
        consumption=from_unit(220.0 if diesel else 280.0 * PETROL.heating / burned.heating, "consumption", "g/kWh"),
        exhaust_temperature=850.0 if diesel else 1050.0,
    )
