"""A made pull in SI, under the names of its channels: what a logger's file would be read as."""

from __future__ import annotations

from longbreath.core.basis.constants import RPM
from longbreath.core.pull import channels as ch
from longbreath.devices.made_engine import Array, Channels

TO_SI = {
    "time": (ch.TIME, 1.0, 0.0),
    "rpm": (ch.SPEED, RPM, 0.0),
    "torque": (ch.TORQUE, 1.0, 0.0),
    "power": (ch.POWER, 1e3, 0.0),
    "mixture": (ch.MIXTURE, 1.0, 0.0),
    "roller": (ch.ROLLER, RPM, 0.0),
    "map": (ch.ABSOLUTE, 1e3, 0.0),
    "duty": (ch.DUTY, 0.01, 0.0),
    "throttle": (ch.THROTTLE, 0.01, 0.0),
    "intake": (ch.INTAKE, 1.0, 273.15),
    "charge": (ch.CHARGE, 1.0, 273.15),
    "coolant": (ch.COOLANT, 1.0, 273.15),
    "oil": (ch.OIL, 1.0, 273.15),
    "exhaust": (ch.EXHAUST, 1.0, 273.15),
    "turbine": (ch.TURBINE, 1e3, 0.0),
    "knock": (ch.KNOCK, 1.0, 0.0),
    "injector": (ch.INJECTOR_TIME, 1e-3, 0.0),
    "fuel_pressure": (ch.FUEL_PRESSURE, 1e3, 0.0),
    "battery": (ch.BATTERY, 1.0, 0.0),
    "fuel_flow": (ch.FUEL_FLOW, 1e-3, 0.0),
    "air_flow": (ch.AIR_FLOW, 1e-3, 0.0),
}
"""Channel, factor to SI and what is added, of each made channel."""


def in_si(made: Channels) -> dict[str, Array]:
    """The channels of a made pull in SI under their names."""
    return {TO_SI[name][0]: values * TO_SI[name][1] + TO_SI[name][2] for name, values in made.items()}
