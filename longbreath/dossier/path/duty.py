"""What flows through a path: the duty that is asked for, made of a speed, a flow or a power."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.engine import demand
from longbreath.core.path import walk
from longbreath.core.path.walk import Duty
from longbreath.dossier.conditions import engine_of
from longbreath.store.models import Vehicle

ROOM = 101325.0


@dataclass(frozen=True)
class Assumed:
    """What flows, as asked on the page: at what (text), and the assumptions [SI]."""

    at: str
    filling: float
    air_fuel_ratio: float
    consumption: float
    temperature: float
    exhaust_temperature: float
    heat_transfer: float


def usual(vehicle: Vehicle) -> Assumed:
    """The assumptions a vehicle starts with."""
    diesel, boosted = vehicle.fuel == "diesel", vehicle.induction != "naturally aspirated"
    speed = round(vehicle.band_end / (2 * pi / 60) / 100) * 100
    return Assumed(
        f"{speed} rpm", 1.55 if boosted else 0.95, 22.0 if diesel else 12.8,
        units.from_unit(220 if diesel else 280, "consumption", "g/kWh"), 293.15, 850.0 if diesel else 1050.0, 30.0,
    )  # fmt: skip


@dataclass(frozen=True)
class Flowing:
    """A duty with the engine speed it stands for [rad/s], and in words."""

    duty: Duty
    speed: float
    words: str


def read_at(text: str, system: str) -> tuple[str, float]:
    """What “at” was read as: a kind (speed, flow, power, mass_flow) and its SI value. A bare number is an engine speed."""
    for kind in ("speed", "flow", "power", "mass_flow"):
        try:
            return kind, units.parse(text, kind, system).value
        except InputError:
            continue
    raise InputError("Write an engine speed, a flow or a power: 6500 rpm, 250 cfm, 160 kW.", "at")


def flowing(vehicle: Vehicle, assumed: Assumed, system: str) -> Flowing:
    """The duty that the assumptions make. Raises InputError beside the field it is about."""
    kind, value = read_at(assumed.at, system)
    if value <= 0:
        raise InputError("This must be more than nought.", "at")
    motor = engine_of(vehicle)
    rho = walk.AIR.density(ROOM, assumed.temperature)
    per_speed = demand.air_demand(motor, 1.0, assumed.filling).value * rho
    mass = {
        "speed": lambda: value * per_speed,
        "flow": lambda: value * rho,
        "power": lambda: value * assumed.consumption * assumed.air_fuel_ratio,
        "mass_flow": lambda: value,
    }[kind]()
    duty = Duty(mass, assumed.air_fuel_ratio, ROOM, assumed.temperature, assumed.exhaust_temperature, assumed.heat_transfer,
                vehicle.cylinders, vehicle.strokes)  # fmt: skip
    speed = value if kind == "speed" else mass / per_speed
    words = units.show(value, kind, system)
    if kind != "speed":
        words += f" (as at {units.show(speed, 'speed', system)})"
    return Flowing(duty, speed, words)
