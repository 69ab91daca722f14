"""Road use as it stands: certificates, vehicles that a part is offered for."""

from __future__ import annotations

from datetime import date

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from longbreath.core.claim import road as core
from longbreath.core.claim.road import Covered, Road
from longbreath.dossier.records.house import notes_of
from longbreath.store.models import Application, Certificate, CoveredVehicle


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
