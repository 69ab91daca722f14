"""Ideal flow through an opening, and discharge coefficients on curtain and throat area."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt

from longbreath.core.air.moist import Weather, density
from longbreath.core.basis.constants import GAMMA_AIR
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

SOURCE = "Isentropic flow of an ideal gas from rest, γ = 1.4, first principles."


def flow_function(ratio: float, gamma: float = GAMMA_AIR) -> float:
    """Dimensionless mass flow m √(R T0)/(A p0) over the pressure ratio p/p0; held at its choked value below critical.

    ratio: static pressure after the opening over total pressure before it, 0..1 [-]. Raises InputError outside.
    Source: isentropic flow, first principles.
    """
    if not 0.0 <= ratio <= 1.0:
        raise InputError("The pressure after the opening lies between nought and the pressure before it.", "pressure")
    critical = (2.0 / (gamma + 1.0)) ** (gamma / (gamma - 1.0))
    r = max(ratio, critical)
    return sqrt(2.0 * gamma / (gamma - 1.0) * (r ** (2.0 / gamma) - r ** ((gamma + 1.0) / gamma)))


CRITICAL = (2.0 / (GAMMA_AIR + 1.0)) ** (GAMMA_AIR / (GAMMA_AIR - 1.0))
"""Pressure after over before an opening [1] below which it chokes."""


def is_choked(drop: float, weather: Weather) -> bool:
    """Whether an ideal opening passes sonic flow at `drop` [Pa]."""
    return bool(1.0 - drop / weather.pressure < CRITICAL)


def too_good(found: Sequence[Figure]) -> str:
    """What to look at when a coefficient comes out above 1; empty where none does."""
    if all(figure.value <= 1.0 for figure in found):
        return ""
    return "A coefficient above 1: no opening passes more than the ideal. Look at area, pressure, range and leak first."


def ideal_flow(area: float, drop: float, weather: Weather) -> float:
    """Volume flow at room density [m3/s] that an ideal opening of `area` [m2] passes at `drop` [Pa].

    Raises InputError for an area of nought or less, or a drop that is no part of the room's pressure.
    Source: isentropic flow, first principles.
    """
    if area <= 0:
        raise InputError("An area must be more than nought.", "area")
    if not 0 <= drop < weather.pressure:
        raise InputError("A test pressure lies between nought and the room's pressure.", "test_pressure")
    ratio = 1.0 - drop / weather.pressure
    return area * sqrt(weather.pressure / density(weather)) * flow_function(ratio)


def ideal_velocity(drop: float, weather: Weather) -> float:
    """Velocity [m/s] of an ideal jet at `drop` [Pa]: √(2·γ/(γ−1)·p0/ρ0·(1 − (p/p0)^((γ−1)/γ))), sonic from the critical ratio on.

    Raises InputError for a drop that is no part of the room's pressure. Source: first principles.
    """
    if not 0 <= drop < weather.pressure:
        raise InputError("A test pressure lies between nought and the room's pressure.", "test_pressure")
    ratio = max(1.0 - drop / weather.pressure, CRITICAL)
    root = sqrt(weather.pressure / density(weather))
    return root * sqrt(2.0 * GAMMA_AIR / (GAMMA_AIR - 1.0) * (1.0 - ratio ** ((GAMMA_AIR - 1.0) / GAMMA_AIR)))


@dataclass(frozen=True)
class ValveGear:
    """The valves of one port: how many, head, throat and stem diameter [m]."""

    valves: int
    head: float
    throat: float
    stem: float = 0.0

    def __post_init__(self) -> None:
        if self.valves < 1 or self.head <= 0:
            raise InputError("A port has at least one valve with a head diameter.", "valve_diameter")
        if not 0 <= self.stem < self.throat <= self.head:
            raise InputError("Stem, throat and head must follow one another in size.", "throat_diameter")

    def curtain(self, lift: float) -> float:
        """Curtain area of all valves [m2] at `lift` [m]: n·π·D·L (common practice)."""
        return self.valves * pi * self.head * lift

    @property
    def throat_area(self) -> float:
        """Throat less stem, of all valves [m2]."""
        return self.valves * pi / 4.0 * (self.throat**2 - self.stem**2)

    @property
    def switch_over(self) -> float:
        """Lift [m] at which the curtain is as large as the throat: (d_t² − d_s²)/(4·D)."""
        return (self.throat**2 - self.stem**2) / (4.0 * self.head)


def switch_over_figure(gear: ValveGear) -> Figure:
    """The lift at which the throat takes over from the curtain [m], with working."""
    working = Working(
        "Switch-over lift",
        _sizes(gear),
        (
            Step("L_s", "(d_t² − d_s²)/(4·D)", gear.switch_over, "length"),
            Step("L_s/D", "lift over diameter", gear.switch_over / gear.head, "ratio"),
        ),
        "Geometry: curtain n·π·D·L against throat less stem.",
        ("Below it seat and curtain decide, above it throat and port.",),
    )
    return Figure("switch_over", "Switch-over lift", gear.switch_over, "length", working, significant=3)


def _sizes(gear: ValveGear) -> tuple[Given, ...]:
    return (
        Given("n", "valves of the port", float(gear.valves), "count"),
        Given("D", "valve head", gear.head, "length"),
        Given("d_t", "throat", gear.throat, "length"),
        Given("d_s", "stem", gear.stem, "length"),
    )


def coefficient(
    flow: float,
    area: float,
    drop: float,
    weather: Weather,
    on: str,
    flow_uncertainty: float | None = None,
    rows: tuple[str, ...] = (),
) -> Figure:
    """Discharge coefficient of `flow` [m3/s at room density] on `area` [m2] at `drop` [Pa]: C_d = Q/Q_ideal.

    on: what the area is called. flow_uncertainty: expanded [m3/s]. Source: definition, isentropic ideal flow.
    """
    ideal = ideal_flow(area, drop, weather)
    working = Working(
        f"Discharge coefficient on the {on}",
        (
            Given("Q", "flow at the test pressure", flow, "flow"),
            Given("A", f"{on} area", area, "area"),
            Given("Δp", "test pressure", drop, "column"),
            Given("T_0", "room temperature", weather.temperature, "temperature"),
            Given("p_0", "room pressure", weather.pressure, "barometer"),
        ),
        (
            Step("Q_i", "A·√(R·T_0)·ψ(1 − Δp/p_0), isentropic, at room density", ideal, "flow"),
            Step("C_d", "Q/Q_i", flow / ideal, "ratio"),
        ),
        SOURCE,
        (
            f"Isentropic, on the {on}. An incompressible coefficient at 28 inH₂O is 4 % lower.",
            *(
                ("Above 1: no opening passes more than the ideal. Look at area, pressure, range and leak.",)
                if flow > ideal
                else ()
            ),
        ),
        rows,
    )
    spread = flow_uncertainty / ideal if flow_uncertainty else None
    return Figure("discharge_coefficient", f"C_d on the {on}", flow / ideal, "ratio", working, spread, significant=3)


def valve_coefficients(
    flow: float,
    lift: float,
    gear: ValveGear,
    drop: float,
    weather: Weather,
    flow_uncertainty: float | None = None,
    rows: tuple[str, ...] = (),
) -> dict[str, Figure]:
    """Keyed "curtain", "throat" and "share": C_d on each area, and the share of what the smaller of the two would
    ideally flow. flow [m3/s], lift [m], drop [Pa]. Raises InputError for a lift of nought."""
    if lift <= 0:
        raise InputError("A discharge coefficient needs a lift of more than nought.", "lift")
    curtain, throat = gear.curtain(lift), gear.throat_area
    found = {
        "curtain": coefficient(flow, curtain, drop, weather, "curtain", flow_uncertainty, rows),
        "throat": coefficient(flow, throat, drop, weather, "throat", flow_uncertainty, rows),
    }
    smaller = found["curtain"] if curtain <= throat else found["throat"]
    found["share"] = Figure(
        "share_of_ideal",
        "Share of the ideal flow",
        smaller.value,
        "percent",
        smaller.working,
        smaller.uncertainty,
        significant=3,
    )
    return found


def ideal_figures(area: float, drop: float, room: Weather) -> tuple[Figure, Figure]:
    """Ideal velocity [m/s] and flow at room density [m3/s] of an opening of `area` [m2] at a pressure `drop` [Pa]."""
    flow, velocity = ideal_flow(area, drop, room), ideal_velocity(drop, room)
    first = Step("v", "a·√(2/(γ−1)·(1 − (p/p_0)^((γ−1)/γ)))", velocity, "velocity")
    second = Step("Q_i", "A·√(R·T_0)·ψ(p/p_0), at room density", flow, "flow")
    given = Given("Δp", "test pressure", drop, "column")
    note = ("About 146 cfm per square inch at 28 inH₂O is the round figure in use; it is incompressible.",)
    opening = Given("A", "area of the opening", area, "area")
    fast = Working("Ideal velocity", (given,), (first,), SOURCE)
    much = Working("Ideal flow of an opening", (opening, given), (first, second), SOURCE, note)
    return (
        Figure("velocity", "Ideal velocity", velocity, "velocity", fast),
        Figure("flow", "Ideal flow", flow, "flow", much),
    )
