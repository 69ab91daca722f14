"""What the shop keeps beside parts and vehicles: reads, and the verbs that write it."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.dossier.commands import put
from longbreath.dossier.instruments import check_listed
from longbreath.store.base import Base
from longbreath.store.models import (
    Application,
    Cell,
    Checklist,
    Dyno,
    DynoSession,
    EngineStay,
    FuelBatch,
    OutsideTable,
    Pull,
    Revision,
    Sample,
    Sensor,
    TestEngine,
    TuneFile,
    User,
    Variant,
    VariantPart,
    Vehicle,
)
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class CellCard:
    """A room with a dyno: opening hours [minutes after midnight], days of the week, money an hour."""

    name: str
    opens: int = 480
    closes: int = 1020
    days: str = "12345"
    rate: float = 0.0
    note: str = ""


@dataclass(frozen=True)
class EngineCard:
    """A test engine: serial number, what was done to it, torques that start it and keep it turning [N m]."""

    serial: str
    what: str = ""
    repairs: str = ""
    ring_gaps: str = ""
    gaskets: str = ""
    breakaway: float | None = None
    running: float | None = None
    note: str = ""


@dataclass(frozen=True)
class TuneCard:
    """A tune: identity, author, hash of its file, what it was made for, mixture under full load [lambda]."""

    name: str
    author: str
    sha256: str = ""
    sensors: str = ""
    injectors: str = ""
    runner_valves: str = ""
    mixture_target: float | None = None
    note: str = ""


@dataclass(frozen=True)
class FuelCard:
    """A delivery of fuel; density in kg/m3."""

    name: str
    grade: str
    delivered_on: date
    density: float | None = None
    note: str = ""


@dataclass(frozen=True)
class SensorCard:
    """A sensor with its range [SI] and the day its calibration lapses."""

    name: str
    measures: str
    low: float
    high: float
    kind: str = "pressure"
    is_absolute: bool = True
    due_on: date | None = None
    note: str = ""


@dataclass(frozen=True)
class SampleCard:
    """One piece of a revision."""

    revision_id: int
    serial: str
    place: str = ""
    state: str = ""
    note: str = ""


@dataclass(frozen=True)
class ChecklistCard:
    """The lines to tick for a family of part."""

    family: str
    lines: tuple[str, ...]


@dataclass(frozen=True)
class TableCard:
    """Somebody else's test: its curves' names and rows of speed [rad/s] and values [SI]."""

    name: str
    source: str
    grade: str
    test_bed: str
    interest: str
    columns: tuple[str, ...]
    rows: tuple[tuple[float, ...], ...] = field(default_factory=tuple)
    quantity: str = "torque"


@dataclass(frozen=True)
class DynoMore:
    """What a dyno is beside where it measures and how it repeats."""

    kind: str = ""
    channels: str | None = None
    calibrated_on: date | None = None
    calibration_due: date | None = None
    cell_id: int | None = None
    roller_inertia: float | None = None
    roller_radius: float | None = None
    device_url: str = ""
    logger_url: str = ""
    weather_url: str = ""
    fitting_repeatability: float | None = None
    fitting_freedom: int = 0


@dataclass(frozen=True)
class PersonMore:
    """What a person can do, and what an hour of their work costs."""

    skills: str | None = None
    rate: float | None = None


def change_dyno(work: UnitOfWork, dyno: Dyno, card: DynoMore) -> None:
    """Write what a dyno is. Raises InputError for a cell that is not there."""
    if card.cell_id and work.get(Cell, card.cell_id) is None:
        raise InputError("There is no such cell.", "cell_id")
    if card.fitting_repeatability is not None and not card.fitting_freedom:
        raise InputError("Say how many sets are behind it, less one.", "fitting_freedom")
    for name in ("device_url", "logger_url", "weather_url"):
        if getattr(card, name) != getattr(dyno, name):
            check_listed(work, getattr(card, name), name)
    told = [(name, getattr(card, name)) for name in ("device_url", "logger_url", "weather_url") if getattr(card, name)]
    for place, (name, address) in enumerate(told):
        if address in [earlier for _, earlier in told[:place]]:
            raise InputError("Another instrument of this dyno has this address.", name)
    freedom = card.fitting_freedom if card.fitting_repeatability is not None else 0
    put(dyno, card, channels=card.channels or "", cell_id=card.cell_id or None, fitting_freedom=freedom)
    work.flush()


def change_person(work: UnitOfWork, person: User, card: PersonMore) -> None:
    """Write what a person can do and costs."""
    put(person, card, skills=card.skills or "", rate=card.rate or 0.0)
    work.flush()


def vehicles(db: Session) -> list[Vehicle]:
    """All vehicles by name."""
    return list(db.scalars(select(Vehicle).order_by(Vehicle.name)))


def save_kept(work: UnitOfWork, record: Base, card: Any, name: str = "name", **changed: Any) -> Base:
    """Write a record of the shop. Raises InputError beside `name` where another bears that name."""
    put(record, card, **changed)
    try:
        with work.savepoint():
            work.add(record)
    except IntegrityError:
        raise InputError("This name is taken already.", name) from None
    return record


def save_sample(work: UnitOfWork, sample: Sample, card: SampleCard) -> Sample:
    """Write a piece of a part. Raises InputError for a part that is not there, or a number that is taken."""
    revision = work.get(Revision, card.revision_id)
    if revision is None:
        raise InputError("There is no such part.", "revision_id")
    sample.revision = revision
    save_kept(work, sample, card, "serial")
    return sample


def check_cell(card: CellCard) -> None:
    """Raise InputError for a cell that closes before it opens, or on no day."""
    if card.opens >= card.closes:
        raise InputError("The cell closes before it opens.", "closes")
    if not card.days or set(card.days) - set("1234567"):
        raise InputError("Name the days by their numbers, 1 for Monday to 7: 12345.", "days")


def check_sensor(card: SensorCard) -> None:
    """Raise InputError for a range that ends before it begins."""
    if card.low >= card.high:
        raise InputError("The range ends before it begins.", "high")


def move_engine(work: UnitOfWork, engine: TestEngine, vehicle_id: int | None, since: date) -> EngineStay:
    """Move a test engine into a vehicle, or onto the stand (None). Raises InputError for a day before its last move."""
    last = stays_of(work, engine)
    if last and since < last[0].since:
        raise InputError(f"It was moved on {last[0].since:%d %b %Y} already; this would be before that.", "since")
    if vehicle_id is not None and work.get(Vehicle, vehicle_id) is None:
        raise InputError("There is no such vehicle.", "vehicle_id")
    stay = EngineStay(engine_id=engine.id, vehicle_id=vehicle_id, since=since, taken_by_id=work.actor.id)
    stay.engine = engine
    stay.vehicle = work.get(Vehicle, vehicle_id) if vehicle_id else None
    work.add(stay)
    work.flush()
    return stay


def stays_of(db: Session, engine: TestEngine) -> list[EngineStay]:
    """Where an engine stood, the newest first."""
    query = select(EngineStay).where(EngineStay.engine_id == engine.id)
    return list(db.scalars(query.order_by(EngineStay.since.desc(), EngineStay.id.desc())))


def pulls_of(db: Session, engine: TestEngine) -> int:
    """Pulls that were taken with a test engine, in whichever vehicle it stood."""
    query = select(func.count(Pull.id)).join(DynoSession, DynoSession.id == Pull.session_id)
    return db.scalar(query.where(DynoSession.engine_id == engine.id)) or 0


def tested_in(db: Session, sample: Sample) -> list[Application]:
    """The applications in which a piece stands in a variant."""
    query = select(Application).where(
        Application.id.in_(
            select(Variant.application_id)
            .join(VariantPart, VariantPart.variant_id == Variant.id)
            .where(VariantPart.sample_id == sample.id)
        )
    )
    return list(db.scalars(query.order_by(Application.id)))


def digest_of(data: bytes) -> str:
    """The hash by which a tune's file is known again; the file itself is not kept."""
    return hashlib.sha256(data).hexdigest() if data else ""


def sensors(db: Session, kind: str = "") -> list[Sensor]:
    """All sensors, or those of a kind."""
    query = select(Sensor).order_by(Sensor.name)
    return list(db.scalars(query.where(Sensor.kind == kind) if kind else query))


def tunes(db: Session) -> list[TuneFile]:
    """All tunes."""
    return list(db.scalars(select(TuneFile).order_by(TuneFile.name)))


def samples(db: Session) -> list[Sample]:
    """All pieces, by part and number."""
    return list(
        db.scalars(select(Sample).join(Revision).order_by(Revision.product_id, Sample.revision_id, Sample.serial))
    )


def cells(db: Session) -> list[Cell]:
    """All cells."""
    return list(db.scalars(select(Cell).order_by(Cell.name)))


def engines(db: Session) -> list[TestEngine]:
    """All test engines."""
    return list(db.scalars(select(TestEngine).order_by(TestEngine.serial)))


def fuels(db: Session) -> list[FuelBatch]:
    """All fuel batches, the newest first."""
    return list(db.scalars(select(FuelBatch).order_by(FuelBatch.delivered_on.desc())))


def checklists(db: Session) -> list[Checklist]:
    """All checklists of the house."""
    return list(db.scalars(select(Checklist).order_by(Checklist.family)))


def outside_tables(db: Session) -> list[OutsideTable]:
    """All tables of others' tests."""
    return list(db.scalars(select(OutsideTable).order_by(OutsideTable.name)))


def read_rows(text: str, columns: Sequence[str], of_speed: Any, of_value: Any) -> tuple[tuple[float, ...], ...]:
    """Rows typed one a line, speed first, as numbers in SI. Raises InputError that names the line.

    of_speed, of_value: turn one typed text into SI.
    """
    found: list[tuple[float, ...]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        parts = (
            line.replace(";", "\t").replace(",", "\t").split("\t")
            if "\t" in line or ";" in line or "," in line
            else line.split()
        )
        parts = [p.strip() for p in parts if p.strip()]
        if len(parts) != len(columns) + 1:
            raise InputError(
                f"Line {number} holds {len(parts)} numbers; a speed and {len(columns)} values are wanted.", "rows"
            )
        try:
            row = (of_speed(parts[0]), *(of_value(p) for p in parts[1:]))
        except InputError as error:
            raise InputError(f"Line {number}: {error.message}", "rows") from None
        if found and row[0] <= found[-1][0]:
            raise InputError(f"Line {number}: the speeds must rise from line to line.", "rows")
        found.append(row)
    if len(found) < 2:
        raise InputError("A curve has two rows or more.", "rows")
    return tuple(found)
