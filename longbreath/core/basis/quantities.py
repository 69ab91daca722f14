"""The inputs that reckonings ask for: one constructor, and the bounds of each kind of quantity in one place.

A field is written where the argument is: `bore: Annotated[float, quantity("length", "Bore", "84.6 mm")]`.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from math import pi
from typing import Final

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.register import WHOLE, Field
from longbreath.core.basis.units import from_unit

SMALLEST: Final = 1e-12
"""The least a quantity can be that must be more than nought."""
TURN: Final = 2.0 * pi
BOUNDS: Final[dict[str, tuple[float, float]]] = {
    "length": (SMALLEST, 20.0),
    "altitude": (-500.0, 9000.0),
    "area": (SMALLEST, 100.0),
    "volume": (1e-6, 100.0),
    "plenum": (SMALLEST, 100.0),
    "angle": (-TURN, 3.0 * TURN),
    "speed": (10.0 * RPM, 30000.0 * RPM),
    "flow": (1e-9, 1e3),
    "injector_flow": (SMALLEST, 1.0),
    "mass_flow": (1e-6, 1e3),
    "column": (1e-3, 1e8),
    "pressure": (0.0, 1e6),
    "barometer": (1e3, 1e6),
    "temperature": (100.0, 3000.0),
    "percent": (0.0, 1.0),
    "ratio": (-1e6, 1e6),
    "power": (100.0, 1e8),
    "torque": (0.0, 1e6),
    "velocity": (5.0, 300.0),
    "density": (1e-6, 1e5),
    "consumption": (from_unit(150, "consumption", "g/kWh"), from_unit(900, "consumption", "g/kWh")),
    "heat_transfer": (0.0, 500.0),
    "hours": (1.0, 3.6e7),
    "time": (0.0, 0.01),
    "dead_time": (0.0, 0.01),
    "mass": (1e-6, 1e4),
    "force": (0.01, 1e6),
    "money": (0.0, 1e9),
    "inertia": (1e-4, 1e5),
    "voltage": (0.0, 60.0),
    "mileage": (1e4, 1e9),
    "distance": (1.0, 1e10),
    "fuel_volume": (1e-6, 1e3),
}
"""Least and most of each kind [SI] where a field names no narrower ones: far beyond any part, near enough to reckon with."""


def quantity(
    kind: str, label: str, example: str = "", low: float | None = None, high: float | None = None, help: str = ""
) -> Field:
    """A field for a quantity, with the bounds of its kind unless `low` or `high` [SI] are narrower or wider."""
    usual = BOUNDS[kind]
    return Field(label, kind, example, usual[0] if low is None else low, usual[1] if high is None else high, help=help)


def whole(label: str, example: str, low: int, high: int) -> Field:
    """A field for a whole number from `low` to `high`."""
    return Field(label, WHOLE, example, float(low), float(high))


def choice(label: str, example: str, choices: Iterable[tuple[str, str]]) -> Field:
    """A field for one of several keys, each with its words."""
    return Field(label, "", example, choices=tuple(choices))


STROKES: Final = replace(whole("Strokes per cycle", "4", 2, 4), only=(2, 4))
CYLINDERS: Final = whole("Cylinders", "4", 1, 24)
SPEED: Final = quantity("speed", "Engine speed", "6500 rpm")
ROOM_TEMPERATURE: Final = quantity("temperature", "Room temperature", "20 C")
ROOM_PRESSURE: Final = quantity("barometer", "Room pressure", "1013.25 hPa")
HUMIDITY: Final = quantity("percent", "Relative humidity", "0 %")
