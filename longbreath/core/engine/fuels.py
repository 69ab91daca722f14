"""The fuels that engines of the trade burn: heating value, air to fuel at λ = 1, density."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Fuel:
    """One fuel: lower heating value [J/kg], air to fuel by mass at λ = 1 [1], density at 15 °C [kg/m3]."""

    heating: float
    stoichiometric: float
    density: float


def blend(one: Fuel, other: Fuel, share: float) -> Fuel:
    """A fuel that is `share` [1] of its volume `one` and the rest `other`: volumes add, heat and air go by mass.

    Source: first principles; the small shrinkage on mixing is left out.
    """
    density = share * one.density + (1.0 - share) * other.density
    mass = share * one.density / density
    return Fuel(
        mass * one.heating + (1.0 - mass) * other.heating,
        mass * one.stoichiometric + (1.0 - mass) * other.stoichiometric,
        density,
    )


PETROL = Fuel(43.0e6, 14.7, 745.0)
ETHANOL = Fuel(26.8e6, 9.0, 789.0)
FUELS = {
    "petrol": PETROL,
    "diesel": Fuel(42.5e6, 14.5, 835.0),
    "E85": blend(ETHANOL, PETROL, 0.85),
    "ethanol": ETHANOL,
    "methanol": Fuel(19.9e6, 6.4, 792.0),
}
"""By name. Round handbook figures, from memory; E85 is made of 85 parts of ethanol and 15 of petrol by volume."""


def fuel_named(name: str) -> Fuel:
    """The fuel of that name; petrol where it is none of the table's."""
    return FUELS.get(name, PETROL)
