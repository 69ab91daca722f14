"""Candidates of an application: filled from records where a part was measured on such a vehicle, and from what was typed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import InputError
from longbreath.core.reckon.assess import Assessed, assess
from longbreath.core.reckon.candidates import FAMILIES, SHELF, Candidate, Column, family_of
from longbreath.core.reckon.rests import NOMINAL, SUPPLIER, Known
from longbreath.dossier.commands import put
from longbreath.dossier.naming import day
from longbreath.dossier.reckon.measured import Measured, measured_on, of_revision, of_rung
from longbreath.dossier.reckon.records import Records
from longbreath.dossier.reckon.targets import limits_of, setting_of
from longbreath.store.models import Application, CandidatePart, Revision
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class CandidateRow:
    """One candidate of the table: its record, what is known of it with where that comes from, and how it stands."""

    record: CandidatePart
    assessed: Assessed

    @property
    def candidate(self) -> Candidate:
        """What is known of it."""
        return self.assessed.candidate


@dataclass(frozen=True)
class Sheet:
    """The candidates of one family beside each other, with the engine they are held against."""

    family: str
    columns: tuple[Column, ...]
    rows: tuple[CandidateRow, ...]


@dataclass(frozen=True)
class CandidateCard:
    """A candidate as it is typed: a revision of the library or a name, its family, values by column with what they rest on."""

    family: str
    position: int
    name: str = ""
    revision_id: int | None = None
    values: Mapping[str, dict[str, Any]] = field(default_factory=dict)


def candidates_of(db: Session, application_id: int) -> list[CandidatePart]:
    """The candidates of an application in order, without those that were taken out."""
    query = select(CandidatePart).where(CandidatePart.application_id == application_id, CandidatePart.out_reason == "")
    query = query.options(selectinload(CandidatePart.revision).joinedload(Revision.product))
    return list(db.scalars(query.order_by(CandidatePart.position, CandidatePart.id)))


def sheets_of(db: Session, records: Records) -> list[Sheet]:
    """The candidates, family by family, each held against the target."""
    found = candidates_of(db, records.application.id)
    kept = measured_on(db, records, {c.revision_id for c in found if c.revision_id is not None})
    limits, setting = limits_of(records), setting_of(records, kept.head)
    sheets = []
    for family in dict.fromkeys(c.family for c in found):
        rows = [CandidateRow(c, assess(_candidate(c, kept), limits, setting)) for c in found if c.family == family]
        used = tuple(c for c in FAMILIES[family] if c.made or any(c.key in r.candidate.values for r in rows))
        sheets.append(Sheet(family, used, tuple(rows)))
    return sheets


def _candidate(record: CandidatePart, kept: Measured) -> Candidate:
    """What is known: measured on this vehicle, then what was typed, then what the library says of the product."""
    values = {key: _typed(entry) for key, entry in record.values.items()}
    revision = record.revision
    if revision is not None:
        product = revision.product
        if product.price is not None and "price" not in values:
            on = f", {day(product.price_on)}" if product.price_on else ""
            values["price"] = Known(product.price, SUPPLIER, f"the library{on}")
        if product.shelf and "shelf" not in values:
            values["shelf"] = Known(dict(SHELF)[product.shelf], NOMINAL, "the library")
        values |= of_revision(record.revision_id or 0, record.family, kept)
    rung = kept.rungs.get(record.name) if record.family == "porting step" else None
    if rung is not None:
        values = {**of_rung(rung), **values}
    return Candidate(record.title, record.family, values)


def _typed(entry: Mapping[str, Any]) -> Known:
    value = entry["value"]
    return Known(value if isinstance(value, str) else float(value), entry["rests"], entry.get("where", ""))


def save_candidate(
    work: UnitOfWork, application: Application, found: CandidatePart | None, card: CandidateCard
) -> CandidatePart:
    """Add or change a candidate. Raises InputError where it has no name, or a value its family has no column for."""
    revision = _revision_of(work, card)
    _check_values(card)
    taken = select(CandidatePart.id).where(
        CandidatePart.application_id == application.id,
        CandidatePart.out_reason == "",
        CandidatePart.revision_id == revision.id if revision is not None else CandidatePart.name == card.name,
    )
    if any(number != (found.id if found else None) for number in work.scalars(taken)):
        raise InputError("It is a candidate here already.", "revision_id" if revision is not None else "name")
    part = found or CandidatePart(application_id=application.id)
    put(part, card, values=dict(card.values), revision_id=revision.id if revision is not None else None)
    part.revision = revision
    work.add(part)
    work.flush()
    return part


def _revision_of(work: UnitOfWork, card: CandidateCard) -> Revision | None:
    revision = work.get(Revision, card.revision_id) if card.revision_id else None
    if card.revision_id and revision is None:
        raise InputError("There is no such part in the library.", "revision_id")
    if revision is None and not card.name.strip():
        raise InputError("Choose a part of the library, or write what it is called.", "name")
    return revision


def _check_values(card: CandidateCard) -> None:
    columns = {c.key for c in FAMILIES.get(card.family, ()) if not c.made}
    if not columns:
        raise InputError("Choose its family.", "family")
    for key, entry in card.values.items():
        if key not in columns:
            raise InputError("This family has no such column.", f"value_{key}")
        try:
            _typed(entry)
        except InputError as error:
            raise InputError(error.message, f"rests_{key}") from None


def take_out(work: UnitOfWork, part: CandidatePart, reason: str) -> None:
    """Take a candidate out of the table, with the reason; it stays in the record. Raises InputError without one."""
    if not reason.strip():
        raise InputError("Say why it is no candidate any more.", "reason")
    part.out_reason = reason
    work.flush()


def own_revisions(db: Session, application: Application) -> list[Revision]:
    """The revisions of the library that may be candidates: of the same side, the application's family first."""
    query = select(Revision).options(selectinload(Revision.product)).order_by(Revision.id)
    family = family_of(application.product.family)
    found = [r for r in db.scalars(query) if r.product.side == application.product.side]
    return sorted(found, key=lambda r: (family_of(r.product.family) != family, r.product.name))
