"""Road use: certificates, vehicles that a part is offered for, and what both say on a sheet."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.claim import road as core
from longbreath.core.claim.language import find_concealment, find_in_record
from longbreath.core.claim.road import COVERS, DIRECT, REASONED, Covered, Road
from longbreath.dossier.claim.house import notes_of
from longbreath.dossier.commands import put
from longbreath.store.models import Application, Certificate, CoveredVehicle
from longbreath.store.unit_of_work import UnitOfWork

YEARS = (1900, 2200)


@dataclass(frozen=True)
class CertificateCard:
    """One certificate as it is written down."""

    kind: str
    number: str
    market: str
    first_year: int
    last_year: int
    until: date | None = None
    scope: str = ""
    forbids: str = ""
    document: str = ""


@dataclass(frozen=True)
class VehicleCard:
    """One vehicle that a part is offered for."""

    make: str
    model: str
    first_year: int
    last_year: int
    engine_code: str
    covers: str
    reason: str = ""


def certificates_of(db: Session, application_id: int) -> list[Certificate]:
    """The certificates that stand: the newest of each kind, number and market."""
    parts = (Certificate.kind, Certificate.number, Certificate.market)
    query = select(Certificate).where(Certificate.application_id == application_id)
    newest = query.ext(distinct_on(*parts)).order_by(*parts, Certificate.id.desc())
    return sorted(db.scalars(newest), key=lambda c: (c.market, c.kind, c.number))


def vehicles_of(db: Session, application_id: int) -> list[CoveredVehicle]:
    """The vehicles that stand: the newest of each make, model and engine."""
    parts = (CoveredVehicle.make, CoveredVehicle.model, CoveredVehicle.engine_code)
    query = select(CoveredVehicle).where(CoveredVehicle.application_id == application_id)
    return list(db.scalars(query.ext(distinct_on(*parts)).order_by(*parts, CoveredVehicle.id.desc())))


def covered_of(db: Session, application_id: int) -> list[Covered]:
    """The same for the core."""
    return [
        Covered(f"{v.make} {v.model}", f"{v.first_year} to {v.last_year}", v.engine_code, v.covers, v.reason)
        for v in vehicles_of(db, application_id)
    ]


def certificate_for_core(row: Certificate) -> core.Certificate:
    """A certificate for the core."""
    years = (row.first_year, row.last_year)
    return core.Certificate(row.kind, row.number, row.market, years, row.until, row.scope, row.forbids)


def certificates_seen(db: Session, application_id: int) -> tuple[core.Certificate, ...]:
    """The certificates that stand, for the core."""
    return tuple(certificate_for_core(row) for row in certificates_of(db, application_id))


def road_of(db: Session, application: Application, day: date) -> Road:
    """What is stated of road use, read on a day."""
    held, tampering = certificates_seen(db, application.id), notes_of(db, application.id).get("tampering", "")
    return Road(application.approval, application.approval_note, tampering, held, day)


def add_certificate(work: UnitOfWork, application: Application, card: CertificateCard) -> Certificate:
    """Write down a certificate. Raises InputError beside the field."""
    _check_years(card.first_year, card.last_year)
    _check_words({"scope": card.scope, "forbids": card.forbids, "number": card.number, "market": card.market})
    if card.kind not in (core.EMISSIONS, core.NOISE):
        raise InputError("A certificate is of emissions or of noise.", "kind")
    for name in ("number", "market"):
        if not getattr(card, name).strip():
            raise InputError("A certificate has a number and a market.", name)
    row = Certificate(application_id=application.id, made_by_id=work.actor.id)
    put(row, card)
    row.made_by = work.actor
    work.add(row)
    work.flush()
    return row


def cover_vehicle(work: UnitOfWork, application: Application, card: VehicleCard) -> CoveredVehicle:
    """Say whether the evidence covers a vehicle. Raises InputError beside the field: what was not tested itself wants a reason."""
    _check_years(card.first_year, card.last_year)
    _check_words({"reason": card.reason, "make": card.make, "model": card.model, "engine_code": card.engine_code})
    if card.covers not in COVERS:
        raise InputError("Say whether the evidence covers it.", "covers")
    if card.covers == REASONED and len(card.reason.split()) < 3:
        raise InputError("Write why the evidence covers a vehicle that was not tested.", "reason")
    if card.covers == DIRECT and f"{card.make} {card.model}".casefold() not in application.vehicle.name.casefold():
        raise InputError(f"Tested was the {application.vehicle.name} alone: give a reason for any other.", "covers")
    for name in ("make", "model", "engine_code"):
        if not getattr(card, name).strip():
            raise InputError("Make, model and engine code name a vehicle.", name)
    row = CoveredVehicle(application_id=application.id, made_by_id=work.actor.id)
    put(row, card)
    row.made_by = work.actor
    work.add(row)
    work.flush()
    return row


def _check_years(first: int, last: int) -> None:
    if not YEARS[0] <= first <= YEARS[1]:
        raise InputError("A model year has four digits.", "first_year")
    if not first <= last <= YEARS[1]:
        raise InputError("The years end before they begin.", "last_year")


def _check_words(words: dict[str, str]) -> None:
    for name, text in words.items():
        if refused := (find_in_record(text) or find_concealment(text)):
            raise InputError(refused.sentence, name)


def register_of(db: Session) -> list[tuple[Application, Certificate]]:
    """All certificates that stand, with what they are of; those that run out first, then those without an end."""
    parts = (Certificate.application_id, Certificate.kind, Certificate.number, Certificate.market)
    newest = select(Certificate.id).ext(distinct_on(*parts)).order_by(*parts, Certificate.id.desc())
    query = (
        select(Application, Certificate)
        .join(Certificate, Certificate.application_id == Application.id)
        .where(Certificate.id.in_(newest))
        .order_by(Certificate.until.asc().nulls_last(), Certificate.market, Certificate.number)
    )
    return [(application, certificate) for application, certificate in db.execute(query)]
