"""The channels that a pull may carry: what each is called and what kind of quantity it holds."""

from __future__ import annotations

import re
from dataclasses import dataclass


@dataclass(frozen=True)
class ChannelKind:
    """One channel: its name, what people call it, its kind of quantity (values are SI), whether a pull must have it."""

    name: str
    label: str
    kind: str
    required: bool = False


SPEED, TORQUE, POWER, MIXTURE, TIME = "speed", "torque", "power", "mixture", "time"
ROLLER, ROAD = "roller_speed", "road_speed"
ABSOLUTE, GAUGE, TURBINE = "manifold_pressure", "boost", "turbine_pressure"
DUTY, THROTTLE, INJECTOR_TIME, INJECTOR_DUTY = "controller_duty", "throttle", "injector_time", "injector_duty"
INTAKE, CHARGE, COOLANT, OIL, EXHAUST = "intake_temperature", "charge_temperature", "coolant", "oil", "exhaust"
OIL_PRESSURE, FUEL_PRESSURE, AIR_FLOW, FUEL_FLOW = "oil_pressure", "fuel_pressure", "air_flow", "fuel_flow"
KNOCK, BATTERY, AMBIENT = "knock", "battery", "ambient_pressure"
CHANNELS = {
    channel.name: channel
    for channel in (
        ChannelKind(SPEED, "Engine speed", "speed", required=True),
        ChannelKind(TORQUE, "Torque", "torque"),
        ChannelKind(POWER, "Power", "power"),
        ChannelKind(MIXTURE, "Mixture", "ratio"),
        ChannelKind(TIME, "Time", "time"),
        ChannelKind(ROLLER, "Roller speed", "speed"),
        ChannelKind(ROAD, "Road speed", "velocity"),
        ChannelKind(ABSOLUTE, "Manifold pressure, absolute", "pressure"),
        ChannelKind(GAUGE, "Boost, gauge", "pressure"),
        ChannelKind(TURBINE, "Pressure before the turbine", "pressure"),
        ChannelKind(DUTY, "Controller duty", "percent"),
        ChannelKind(THROTTLE, "Throttle", "percent"),
        ChannelKind(INTAKE, "Intake air temperature", "temperature"),
        ChannelKind(CHARGE, "Charge temperature", "temperature"),
        ChannelKind(COOLANT, "Coolant temperature", "temperature"),
        ChannelKind(OIL, "Oil temperature", "temperature"),
        ChannelKind(EXHAUST, "Exhaust gas temperature", "temperature"),
        ChannelKind(OIL_PRESSURE, "Oil pressure", "pressure"),
        ChannelKind(FUEL_PRESSURE, "Fuel pressure", "pressure"),
        ChannelKind(AIR_FLOW, "Air flow", "mass_flow"),
        ChannelKind(FUEL_FLOW, "Fuel flow", "mass_flow"),
        ChannelKind(KNOCK, "Knock counts", "count"),
        ChannelKind(INJECTOR_TIME, "Injector time", "dead_time"),
        ChannelKind(INJECTOR_DUTY, "Injector duty", "percent"),
        ChannelKind(BATTERY, "Battery", "voltage"),
        ChannelKind(AMBIENT, "Air pressure in the cell", "barometer"),
    )
}
"""All channels by name. A further channel is one further line here, and words for it in `formats.sought`."""


def base_of(name: str) -> str:
    """The channel that a name stands for: a second one of a kind is called "exhaust 2"."""
    return re.sub(r" \d+$", "", name)


def label_of(name: str) -> str:
    """What people call a channel: of one that is no standard channel, its own name."""
    base = base_of(name)
    known = CHANNELS.get(base)
    return (known.label if known is not None else base.removeprefix("as logged: ")) + name[len(base) :]
