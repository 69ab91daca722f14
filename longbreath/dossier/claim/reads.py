"""Claims as they stand: the draft on its case, who wrote any of it, and what else could be drafted."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.case import state
from longbreath.core.case.case import Case, Context, facts_digest
from longbreath.core.claim.grammar import Composition, SheetLine
from longbreath.core.claim.road import Road
from longbreath.dossier.case.cases import case_of, context_of
from longbreath.dossier.claim.backing import Backing, backing_of
from longbreath.dossier.claim.beside import Beside, beside_of
from longbreath.dossier.records.house import notes_rows
from longbreath.store.base import now
from longbreath.store.models import Application, Claim


def of_application(db: Session, application_id: int) -> list[Claim]:
    """Claims, newest first."""
    return list(db.scalars(select(Claim).where(Claim.application_id == application_id).order_by(Claim.id.desc())))


def composition_of(claim: Claim) -> Composition:
    """What the writer of a claim chose."""
    return Composition(tuple(SheetLine(**line) for line in claim.lines), claim.joined)


def day_of(db: Session) -> date:
    """The day on which something is done or looked at: the unit of work's own, where it tells one."""
    clock = getattr(db, "clock", now)
    return date.fromisoformat(clock().date().isoformat())


@dataclass(frozen=True)
class Draft(state.Draft):
    """A claim on the evidence as it stands, with its rows: who wrote any of it, and what else its records hold."""

    claim: Claim
    backing: Backing
    beside: Beside
    noted_by: frozenset[int]

    @property
    def road(self) -> Road:
        """What is stated of road use, read on the day."""
        return self.case.context.road(self.day)

    @property
    def writers(self) -> frozenset[int]:
        """Who wrote, changed or submitted any part of what the sheet will say: its reasons, its notes and its road use among it."""
        stated = self.backing.application.approval_by_id
        more = {stated} if stated is not None else set()
        return self.claim.writers | self.backing.wrote | self.noted_by | more


def case_now(db: Session, application: Application, claim: Claim, day: date | None = None) -> Case:
    """The case of a claim as the records stand, whether or not it can be weighed. Raises EvidenceError if there is nothing of it."""
    context = _context(db, application, claim, beside_of(db, application), day or day_of(db))
    return case_of(db, application, claim.kind, claim.session_ids, claim.sources, context)


def _context(db: Session, application: Application, claim: Claim, beside: Beside, day: date) -> Context:
    return context_of(db, application, day, beside.costs(claim.kind), beside.cannot_be_weighed(claim.kind))


def draft_of(
    db: Session, application: Application, claim: Claim, pending: Composition | None = None, day: date | None = None
) -> Draft:
    """The claim on its own evidence, as it is kept or as a writer is composing it. day: today, where none is named.

    Raises EvidenceError if its evidence cannot be weighed any more.
    """
    day, beside = day or day_of(db), beside_of(db, application)
    found = backing_of(db, application, claim, _context(db, application, claim, beside, day))
    chosen_on = (
        claim.evidence_key if claim.sheet is None else facts_digest(found.case)
    )  # what is out is chosen for good
    choice = state.Choice(pending or composition_of(claim), claim.description, chosen_on)
    noted = frozenset(row.made_by_id for row in notes_rows(db, application.id).values())
    return Draft(found.case, found.statement, choice, day, claim, found, beside, noted)
