"""What flows through a path: the duty that is asked for, made of a speed, a flow or a power."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.air.gases import AIR
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.engine import demand
from longbreath.core.engine.assumptions import HEAT_TRANSFER, ROOM_PRESSURE, ROOM_TEMPERATURE
from longbreath.core.path.walk import Duty
from longbreath.dossier.conditions import assumptions_of, engine_of
from longbreath.store.models import Vehicle

ASKED_AS = ("speed", "flow", "power", "mass_flow")
"""Kinds of quantity by which a duty may be asked for, tried in this order."""


@dataclass(frozen=True)
class DutyAsked:
    """What flows, as asked on the page: at what (text), and the assumptions [SI]."""

    at: str
    filling: float
    air_fuel_ratio: float
    consumption: float
    temperature: float
    exhaust_temperature: float
    heat_transfer: float


def usual_duty(vehicle: Vehicle) -> DutyAsked:
    """The duty a page begins with: the end of the band of use, with what is assumed of the engine."""
    found = assumptions_of(vehicle)
    speed = round(vehicle.band_end / RPM / 100) * 100
    return DutyAsked(
        f"{speed} rpm",
        found.filling,
        found.air_fuel_ratio,
        found.consumption,
        ROOM_TEMPERATURE,
        found.exhaust_temperature,
        HEAT_TRANSFER,
    )


@dataclass(frozen=True)
class Flowing:
    """A duty with the engine speed it stands for [rad/s], and in words."""

    duty: Duty
    speed: float
    words: str

    @property
    def volume_flow(self) -> float:
        """Flow of air at the room's density [m3/s]."""
        return self.duty.air_mass_flow / AIR.density(self.duty.pressure, self.duty.temperature)


def read_at(text: str, system: str) -> tuple[str, float]:
    """What “at” was read as: a kind (speed, flow, power, mass_flow) and its SI value. A bare number is an engine speed."""
    for kind in ASKED_AS:
        try:
            return kind, units.parse(text, kind, system).value
        except InputError:
            continue
    raise InputError("Write an engine speed, a flow or a power: 6500 rpm, 250 cfm, 160 kW.", "at")


def flowing(vehicle: Vehicle, asked: DutyAsked, system: str) -> Flowing:
    """The duty that was asked for. Raises InputError beside the field it is about."""
    kind, value = read_at(asked.at, system)
    if value <= 0:
        raise InputError("This must be more than nought.", "at")
    density = AIR.density(ROOM_PRESSURE, asked.temperature)
    per_speed = demand.air_demand(engine_of(vehicle), 1.0, asked.filling).value * density
    mass = {
        "speed": value * per_speed,
        "flow": value * density,
        "power": value * asked.consumption * asked.air_fuel_ratio,
        "mass_flow": value,
    }[kind]
    duty = Duty(
        mass,
        asked.air_fuel_ratio,
        ROOM_PRESSURE,
        asked.temperature,
        asked.exhaust_temperature,
        asked.heat_transfer,
        vehicle.cylinders,
        vehicle.strokes,
    )
    speed = value if kind == "speed" else mass / per_speed
    words = units.show(value, kind, system)
    if kind != "speed":
        words += f" (as at {units.show(speed, 'speed', system)})"
    return Flowing(duty, speed, words)
