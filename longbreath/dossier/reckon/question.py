"""A question of Reckon: which reckonings answer it, what of the records goes into them, and when it is asked."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from longbreath.core.path.kinds import INTAKE
from longbreath.dossier.reckon.records import Records

AIR, RUNNER, EXHAUST, BOOST, TWO_STROKE, HEAT = (
    "Air and sections",
    "The runner",
    "The exhaust",
    "Boost",
    "Pipe, disc and clutch",
    "Heat and quotes",
)


def always(records: Records) -> bool:
    """Any engine and part."""
    return True


def of_intake(records: Records) -> bool:
    """A part of the intake."""
    return records.application.product.side == INTAKE


def has_runner(records: Records) -> bool:
    """A part of the intake of a four-stroke."""
    return of_intake(records) and records.vehicle.cycle == "four-stroke"


def four_stroke(records: Records) -> bool:
    """A four-stroke."""
    return records.vehicle.cycle == "four-stroke"


def boosted(records: Records) -> bool:
    """An engine that is filled above the room’s pressure."""
    return records.is_boosted


def two_stroke(records: Records) -> bool:
    """A two-stroke."""
    return records.vehicle.cycle == "two-stroke"


@dataclass(frozen=True)
class Question:
    """One question: key, group, words, the reckonings that answer it (schools side by side), what fills each of their fields, the
    figures that sum it up, and when it is asked."""

    key: str
    group: str
    words: str
    reckonings: tuple[str, ...]
    fill: Mapping[str, str]
    headline: tuple[str, ...]
    when: Callable[[Records], bool] = always
    spread: tuple[str, ...] = field(default=())
    """Figures that say the same by different schools."""
    beside: tuple[str, str] = ("", "")
    """What the records have of the thing itself: a name of `FILL`, and its kind of quantity."""
    needs: str = ""
    """What is typed in by hand where no record has it, in words."""


ENGINE = {name: name for name in ("bore", "stroke", "cylinders", "strokes")}
MIXTURE = {name: name for name in ("consumption", "air_fuel_ratio")}
AIR_OF_ROOM = {"temperature": "room_temperature", "pressure": "room_pressure"}
ROOM = {"ambient": "room_pressure", "room": "room_temperature"}
"""What fields of several questions are filled with."""
