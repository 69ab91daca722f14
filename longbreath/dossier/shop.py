"""What the shop keeps beside parts and vehicles: reads, and the verbs that write it."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import date

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.dossier.commands import put
from longbreath.dossier.instruments import check_listed
from longbreath.store.models import (
    Application,
    Cell,
    Dyno,
    DynoSession,
    EngineStay,
    Pull,
    Sample,
    TestEngine,
    User,
    Variant,
    VariantPart,
    Vehicle,
)
from longbreath.store.unit_of_work import UnitOfWork


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
