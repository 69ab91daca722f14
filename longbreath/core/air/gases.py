"""The two gases of an engine's path: fresh air and burned gas."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, pi, sqrt

from longbreath.core.air.moist import viscosity
from longbreath.core.basis.constants import GAMMA_AIR, GAS_CONSTANT_DRY_AIR
from longbreath.core.basis.working import Figure, Given, Step, Working


@dataclass(frozen=True)
class Gas:
    """A perfect gas: ratio of specific heats [1] and gas constant [J/(kg K)]."""

    name: str
    gamma: float
    constant: float

    @property
    def heat_capacity(self) -> float:
        """Specific heat at constant pressure [J/(kg K)]: γ·R/(γ − 1)."""
        return self.gamma * self.constant / (self.gamma - 1.0)

    def density(self, pressure: float, temperature: float) -> float:
        """p/(R·T) [kg/m3] at pressure [Pa] and temperature [K]."""
        return pressure / (self.constant * temperature)

    def speed_of_sound(self, temperature: float) -> float:
        """√(γ·R·T) [m/s] at temperature [K]."""
        return sqrt(self.gamma * self.constant * temperature)

    def viscosity(self, temperature: float) -> float:
        """Dynamic viscosity [Pa s] at temperature [K], of air in both cases (burned gas is within some per cent)."""
        return viscosity(temperature)


def cooled(
    temperature: float, ambient: float, heat_transfer: float, surface: float, mass_flow: float, gas: Gas
) -> float:
    """Temperature [K] of a gas after a duct of outer `surface` [m2]: T0 + (T − T0)·exp(−U·A/(ṁ·cp)).

    temperature, ambient [K], heat_transfer U [W/(m2 K)], mass_flow [kg/s]. Source: first principles.
    """
    return ambient + (temperature - ambient) * exp(-heat_transfer * surface / (mass_flow * gas.heat_capacity))


AIR = Gas("air", GAMMA_AIR, GAS_CONSTANT_DRY_AIR)
BURNED = Gas("burned gas", 1.33, 290.0)
"""The round figures in use (from memory); at λ 0.85 and 900 K γ 1.31 and R 301 would be nearer: 4 % of velocity."""


def cooling_figure(
    hot: float, room: float, heat_transfer: float, diameter: float, length: float, mass_flow: float
) -> Figure:
    """Temperature [K] of burned gas at the end of a round pipe of outer `diameter` and `length` [m].

    hot, room [K]; heat_transfer [W/(m2 K)]; mass_flow [kg/s]. Source: first principles, as `cooled`.
    """
    surface = pi * diameter * length
    after = cooled(hot, room, heat_transfer, surface, mass_flow, BURNED)
    givens = (
        Given("T_e", "gas at the beginning", hot, "temperature"),
        Given("T_0", "room", room, "temperature"),
        Given("U", "heat loss", heat_transfer, "heat_transfer"),
        Given("ṁ", "mass flow of the gas", mass_flow, "mass_flow"),
    )
    steps = (
        Step("A", "π·D·L", surface, "area"),
        Step("T", "T_0 + (T_e − T_0)·exp(−U·A/(ṁ·c_p))", after, "temperature"),
    )
    note = ("U of a bare pipe in moving air is some 20 to 60 W/m²K (from memory); wrapped, a third of it.",)
    source = "First principles; burned gas γ 1.33, R 290 (from memory)."
    working = Working("Gas at the end", givens, steps, source, note)
    return Figure("after", "Gas at the end", after, "temperature", working, significant=3)
