"""Rules of the house for claims, and what a sheet says of a part beside the facts."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.case.changes import CAUSES
from longbreath.core.claim.gates.house import NOTES
from longbreath.core.claim.language import find_concealment, find_in_record
from longbreath.core.claim.road import TAMPERING
from longbreath.dossier.commands import put
from longbreath.store.models import Application, ClaimRules, SheetNote
from longbreath.store.unit_of_work import UnitOfWork

AT_ONCE = ("health", "certificate")
"""Causes that withdraw a claim at once, where the house has not chosen others."""


@dataclass(frozen=True)
class RulesCard:
    """How the house lets claims out and takes them back."""

    house: str = ""
    code_required: bool = False
    clock_days: int = 14
    at_once: tuple[str, ...] = AT_ONCE
    most_age: int = 730
    retest_days: int = 730
    raw_files: bool = True
    money: str = ""


def rules_of(db: Session) -> RulesCard:
    """The rules that hold."""
    row = db.scalar(select(ClaimRules).order_by(ClaimRules.id.desc()).limit(1))
    if row is None:
        return RulesCard()
    return RulesCard(
        row.house,
        row.code_required,
        row.clock_days,
        tuple(row.at_once),
        row.most_age,
        row.retest_days,
        row.raw_files,
        row.money,
    )


def set_rules(work: UnitOfWork, card: RulesCard) -> ClaimRules:
    """Write the rules of the house. Raises InputError for a cause that is none."""
    if wrong := [cause for cause in card.at_once if cause not in CAUSES]:
        raise InputError(f"There is no such cause: {wrong[0]}.", "at_once")
    row = ClaimRules()
    put(row, card)
    row.at_once, row.made_by_id = list(card.at_once), work.actor.id
    work.add(row)
    work.flush()
    return row


@dataclass(frozen=True)
class NotesCard:
    """What is written of a part beside the facts, by what it is about; tampering is keeps or removes."""

    words: dict[str, str] = field(default_factory=dict)
    tampering: str = ""


def notes_rows(db: Session, application_id: int) -> dict[str, SheetNote]:
    """The newest note of each thing."""
    query = select(SheetNote).where(SheetNote.application_id == application_id)
    newest = query.ext(distinct_on(SheetNote.about)).order_by(SheetNote.about, SheetNote.id.desc())
    return {row.about: row for row in db.scalars(newest)}


def notes_of(db: Session, application_id: int) -> dict[str, str]:
    """What is written of a part, by what it is about."""
    return {about: row.words for about, row in notes_rows(db, application_id).items()}


def write_notes(work: UnitOfWork, application: Application, card: NotesCard) -> int:
    """Write what a sheet says beside the facts; returns how many are new. Raises InputError beside the field for words that speak of a
    result, or advise to hide the part."""
    if card.tampering not in TAMPERING:
        raise InputError("Say whether it removes or disables an emission device.", "tampering")
    for about, words in card.words.items():
        if about not in NOTES:
            raise InputError("There is no such line on a sheet.", about)
        if refused := (find_in_record(words) or find_concealment(words)):
            raise InputError(refused.sentence, about)
    before = notes_of(work, application.id)
    added = 0
    for about, words in {**card.words, "tampering": card.tampering}.items():
        tidy = " ".join(words.split())
        if tidy and tidy != before.get(about, ""):
            work.add(SheetNote(application_id=application.id, about=about, words=tidy, made_by_id=work.actor.id))
            added += 1
    work.flush()
    return added
