"""The registers of the shop: what is kept of each, described once; form, list, pasted table and command are made of it."""

from __future__ import annotations

import csv
import dataclasses
import io
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, TypeVar

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.dossier.asked import CLOCK, LINES, ROWS, SEMICOLONS, Ask, asked_of, clock, shown
from longbreath.dossier.commands import put
from longbreath.store.base import Base
from longbreath.store.models import (
    Cell,
    Checklist,
    FuelBatch,
    OutsideTable,
    Revision,
    Sample,
    Sensor,
    TestEngine,
    TuneFile,
)
from longbreath.store.unit_of_work import UnitOfWork

M = TypeVar("M", bound=Base)
NOTE = Ask("Note", needed=False)
GRADES = (("supplier", "a supplier’s test with data"), ("published", "a published table"), ("hearsay", "hearsay"))


@dataclass(frozen=True)
class CellCard:
    """A room with a dyno: opening hours [minutes after midnight], days of the week, money an hour."""

    name: Annotated[str, Ask("Name")]
    opens: Annotated[int, Ask("Opens at", way=CLOCK, help="08:00, local time")] = 480
    closes: Annotated[int, Ask("Closes at", way=CLOCK, help="17:00")] = 1020
    days: Annotated[str, Ask("Days", help="by number, 1 for Monday: 12345")] = "12345"
    rate: Annotated[float, Ask("Money an hour", "money", needed=False, low=0.0, high=1e6)] = 0.0
    note: Annotated[str, NOTE] = ""


@dataclass(frozen=True)
class EngineCard:
    """A test engine: serial number, what was done to it, torques that start it and keep it turning [N m]."""

    serial: Annotated[str, Ask("Serial number")]
    what: Annotated[str, Ask("Which engine it is", needed=False)] = ""
    repairs: Annotated[str, Ask("Repairs of the block", needed=False)] = ""
    ring_gaps: Annotated[str, Ask("Ring gaps", needed=False)] = ""
    gaskets: Annotated[str, Ask("Gaskets", needed=False)] = ""
    breakaway: Annotated[float | None, Ask("Torque that starts it turning", "torque", False, 0.0, 1e4)] = None
    running: Annotated[float | None, Ask("Torque that keeps it turning", "torque", False, 0.0, 1e4)] = None
    note: Annotated[str, NOTE] = ""


@dataclass(frozen=True)
class TuneCard:
    """A tune: identity, author, hash of its file, what it was made for, mixture under full load [lambda]."""

    name: Annotated[str, Ask("Identity")]
    author: Annotated[str, Ask("Author")]
    sha256: Annotated[str, Ask("Its file: hashed, not kept", "file", needed=False)] = ""
    sensors: Annotated[str, Ask("Pressure sensor it expects", needed=False, help="in the words of the build sheet")] = (
        ""
    )
    injectors: Annotated[str, Ask("Injectors it expects", needed=False)] = ""
    runner_valves: Annotated[str, Ask("Runner valves it drives", needed=False)] = ""
    mixture_target: Annotated[float | None, Ask("λ under full load", "ratio", False, 0.5, 1.6)] = None
    note: Annotated[str, NOTE] = ""


@dataclass(frozen=True)
class FuelCard:
    """A delivery of fuel; density in kg/m3."""

    name: Annotated[str, Ask("Batch")]
    grade: Annotated[str, Ask("Grade")]
    delivered_on: Annotated[date, Ask("Delivered", "day")]
    density: Annotated[float | None, Ask("Density", "density", False, 500.0, 1200.0)] = None
    note: Annotated[str, NOTE] = ""


@dataclass(frozen=True)
class SensorCard:
    """A sensor with its range [SI] and the day its calibration lapses."""

    name: Annotated[str, Ask("Name")]
    measures: Annotated[str, Ask("Measures", help="manifold pressure, back pressure")]
    low: Annotated[float, Ask("Range from", "pressure")]
    high: Annotated[float, Ask("to", "pressure")]
    kind: str = "pressure"
    is_absolute: Annotated[bool, Ask("Absolute: it reads the air around as well", "yes", needed=False)] = True
    due_on: Annotated[date | None, Ask("Calibration lapses", "day", needed=False)] = None
    note: Annotated[str, NOTE] = ""


@dataclass(frozen=True)
class SampleCard:
    """One piece of a revision."""

    revision_id: Annotated[int, Ask("Part", "part")]
    serial: Annotated[str, Ask("Number")]
    state: Annotated[str, Ask("State", needed=False)] = ""
    place: Annotated[str, Ask("Where it lies", needed=False)] = ""
    note: Annotated[str, NOTE] = ""


@dataclass(frozen=True)
class ChecklistCard:
    """The lines to tick for a family of part."""

    family: Annotated[str, Ask("Family of part", help="turbocharger, manifold …; “every” stands for all")]
    lines: Annotated[tuple[str, ...], Ask("Lines, one each", way=LINES)]


@dataclass(frozen=True)
class TableCard:
    """Somebody else's test: its curves' names and rows of speed [rad/s] and values [SI]."""

    name: Annotated[str, Ask("Name")]
    source: Annotated[str, Ask("Where it stands")]
    grade: Annotated[str, Ask("What it is", choices=GRADES)]
    test_bed: Annotated[str, Ask("On what it was tested")]
    interest: Annotated[str, Ask("What the source gains by it", help="sells the part; none known")]
    quantity: Annotated[str, Ask("Its values are", choices=(("torque", "torque"), ("power", "power")))] = "torque"
    columns: Annotated[
        tuple[str, ...], Ask("Names of the curves", way=SEMICOLONS, help="separated by semicolons: stock; part")
    ] = ()
    rows: Annotated[
        tuple[tuple[float, ...], ...], Ask("Rows", way=ROWS, help="one a line: speed, then a value for each curve")
    ] = ()


Told = Callable[[Any, str], str]


@dataclass(frozen=True)
class Register:
    """One register: its key in the address, title, what one of it is called, its model and command; columns of its list: a heading
    and a field, or words made of a record in a display system. named: the field that must be new; check: refuses a command beside a
    field; has_label: a label can be printed."""

    key: str
    title: str
    one: str
    model: type[Any]
    card: type[Any]
    columns: tuple[tuple[str, str | Told], ...]
    named: str = "name"
    check: Callable[[UnitOfWork, Any, Any], None] = lambda work, record, card: None
    has_label: bool = False
    order: str = ""

    def cells(self, record: Any, system: str) -> list[str]:
        """What a list shows of a record, column by column."""
        asked = asked_of(self.card)
        return [
            shown(asked[told], getattr(record, told), record, system) if isinstance(told, str) else told(record, system)
            for _, told in self.columns
        ]


def _check_cell(work: UnitOfWork, record: Any, card: CellCard) -> None:
    if card.opens >= card.closes:
        raise InputError("The cell closes before it opens.", "closes")
    if not card.days or set(card.days) - set("1234567"):
        raise InputError("Name the days by their numbers, 1 for Monday to 7: 12345.", "days")


def _check_sensor(work: UnitOfWork, record: Any, card: SensorCard) -> None:
    if card.low >= card.high:
        raise InputError("The range ends before it begins.", "high")


def _check_sample(work: UnitOfWork, record: Sample, card: SampleCard) -> None:
    revision = work.get(Revision, card.revision_id)
    if revision is None:
        raise InputError("There is no such part.", "revision_id")
    record.revision = revision


def _range(sensor: Sensor, system: str) -> str:
    low, high = (units.show(value, sensor.kind, system) for value in (sensor.low, sensor.high))
    return f"{low} to {high}" + (" absolute" if sensor.kind == "pressure" and sensor.is_absolute else "")


REGISTERS = {
    r.key: r
    for r in (
        Register(
            "cells",
            "Cells",
            "cell",
            Cell,
            CellCard,
            (
                ("Cell", "name"),
                ("Open", lambda c, system: f"{clock(c.opens)} to {clock(c.closes)}"),
                ("Days", "days"),
                ("An hour", "rate"),
            ),
            check=_check_cell,
        ),
        Register(
            "engines",
            "Test engines",
            "test engine",
            TestEngine,
            EngineCard,
            (("Serial", "serial"), ("What", "what"), ("Breaks away at", "breakaway"), ("Runs at", "running")),
            named="serial",
            has_label=True,
        ),
        Register(
            "tunes",
            "Tunes",
            "tune",
            TuneFile,
            TuneCard,
            (
                ("Tune", "name"),
                ("Author", "author"),
                ("Made for", lambda t, system: ", ".join(filter(None, (t.sensors, t.injectors, t.runner_valves)))),
                ("File", lambda t, system: t.sha256[:12]),
            ),
        ),
        Register(
            "fuels",
            "Fuel batches",
            "fuel batch",
            FuelBatch,
            FuelCard,
            (("Batch", "name"), ("Grade", "grade"), ("Delivered", "delivered_on")),
            order="delivered_on",
        ),
        Register(
            "sensors",
            "Sensors",
            "sensor",
            Sensor,
            SensorCard,
            (("Sensor", "name"), ("Measures", "measures"), ("Range", _range), ("Due", "due_on")),
            check=_check_sensor,
        ),
        Register(
            "samples",
            "Samples",
            "sample",
            Sample,
            SampleCard,
            (("Part", lambda s, system: s.revision.title), ("Number", "serial"), ("State", "state"), ("Lies", "place")),
            named="serial",
            check=_check_sample,
            has_label=True,
            order="revision_id",
        ),
        Register(
            "checklists",
            "Checklists",
            "checklist",
            Checklist,
            ChecklistCard,
            (("Family", "family"), ("Lines", lambda c, system: "; ".join(c.lines))),
            named="family",
        ),
        Register(
            "outside",
            "Others’ tables",
            "table",
            OutsideTable,
            TableCard,
            (("Table", "name"), ("Kind", "grade"), ("Test bed", "test_bed"), ("Interest of the source", "interest")),
        ),
    )
}
"""Whoever adds a field to a command has it in the form, in pasted tables and in the record; a column of its list is one more line."""
OF = {register.model: register for register in REGISTERS.values()}
OF_CARD = {register.card: register for register in REGISTERS.values()}


def kept(db: Session, model: type[M]) -> list[M]:
    """All that a register keeps, by name; of fuel the newest first."""
    register = OF[model]
    column = getattr(model, register.order or register.named)
    then = getattr(model, register.named)
    return list(db.scalars(select(model).order_by(column.desc() if model is FuelBatch else column, then)))


def save(work: UnitOfWork, card: Any, record: Any = None) -> Any:
    """Write a record of the shop, a new one where none is given. Raises InputError beside the field that is wrong, or whose name is
    taken."""
    register = OF_CARD[type(card)]
    found = record if record is not None else register.model()
    register.check(work, found, card)
    put(found, card)
    try:
        with work.savepoint():
            work.add(found)
    except IntegrityError:
        raise InputError("This name is taken already.", register.named) from None
    return found


def command(register: Register, values: dict[str, Any], system: str, before: Any = None) -> Any:
    """What was typed as the command of a register; what was left empty has its usual value. Raises InputError beside the field that
    cannot be read. before: the record that is changed, whose file stays where none is sent."""
    found: dict[str, Any] = {}
    for name, ask in asked_of(register.card).items():
        value = values.get(name)
        if ask.way is not None:
            try:
                value = ask.way.read(str(value or ""), found, system)
            except InputError as error:
                raise InputError(error.message, name) from None
        if ask.kind == "file" and not value:
            value = getattr(before, name, "")
        if value is not None and not (value == "" and ask.kind != "text"):
            found[name] = value
    own = {item.name for item in dataclasses.fields(register.card)} - set(asked_of(register.card))
    untold = {name: getattr(before, name) for name in own if before is not None}
    return register.card(**untold, **{n: v.strip() if isinstance(v, str) else v for n, v in found.items()})


HEADINGS_FIRST = "The first line holds the headings: paste the table with them."


def pasted(register: Register, text: str) -> list[tuple[int, dict[str, str]]]:
    """The rows of a table that was pasted from a spreadsheet, each with its line and its cells by field; headings are the labels of
    the form, in any order. Raises InputError (field "table") for a heading that is no field, a missing one, or no rows."""
    lines = [(k, row) for k, row in enumerate(_table(text), start=1) if any(cell.strip() for cell in row)]
    if len(lines) < 2:
        raise InputError(f"There are no rows here. {HEADINGS_FIRST}", "table")
    names = _named(pasteable(register), [cell.strip() for cell in lines[0][1]])
    if wide := [k for k, row in lines if any(cell.strip() for cell in row[len(names) :])]:
        raise InputError(f"Line {wide[0]} has more cells than there are headings.", "table")
    return [(k, dict(zip(names, (cell.strip() for cell in row), strict=False))) for k, row in lines[1:]]


def pasteable(register: Register) -> dict[str, Ask]:
    """What a pasted table may hold, by field: all but files."""
    return {name: ask for name, ask in asked_of(register.card).items() if ask.kind != "file"}


def _named(asked: Mapping[str, Ask], headings: Sequence[str]) -> list[str]:
    """The fields that headings name. Raises InputError (field "table")."""
    by_label = {_heading(ask.label): name for name, ask in asked.items()}
    for heading in headings:
        if _heading(heading) not in by_label:
            known = ", ".join(ask.label for ask in asked.values())
            raise InputError(f"“{heading}” is no heading of this table. It may hold: {known}.", "table")
    names = [by_label[_heading(heading)] for heading in headings]
    if len(set(names)) < len(names):
        raise InputError("A heading stands there twice.", "table")
    for name, ask in asked.items():
        if ask.needed and name not in names:
            raise InputError(f"A column “{ask.label}” is wanted. {HEADINGS_FIRST}", "table")
    return names


def _heading(text: str) -> str:
    return " ".join(text.casefold().split())


def _table(text: str) -> list[list[str]]:
    first = text.strip().splitlines()[0] if text.strip() else ""
    apart = next((sign for sign in ("\t", ";", ",") if sign in first), "\t")
    try:
        return list(csv.reader(io.StringIO(text.strip(), newline=None), delimiter=apart))
    except csv.Error as error:
        raise InputError(f"This cannot be read as a table: {error}.", "table") from None
