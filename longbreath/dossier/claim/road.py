"""Road use: certificates, vehicles that a part is offered for, and what both say on a sheet."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from longbreath.core.basis.errors import InputError
from longbreath.core.claim import road as core
from longbreath.core.claim.language import find_concealment, find_in_record
from longbreath.core.claim.road import COVERS, DIRECT, REASONED
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
