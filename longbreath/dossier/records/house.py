"""Rules of the house for claims, and what a sheet says of a part beside the facts, as they stand."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from longbreath.store.models import ClaimRules, SheetNote

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


def notes_rows(db: Session, application_id: int) -> dict[str, SheetNote]:
    """The newest note of each thing."""
    query = select(SheetNote).where(SheetNote.application_id == application_id)
    newest = query.ext(distinct_on(SheetNote.about)).order_by(SheetNote.about, SheetNote.id.desc())
    return {row.about: row for row in db.scalars(newest)}


def notes_of(db: Session, application_id: int) -> dict[str, str]:
    """What is written of a part, by what it is about."""
    return {about: row.words for about, row in notes_rows(db, application_id).items()}
