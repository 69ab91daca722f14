"""Build sheets of a dossier: versions, two compared, and the headroom of sensors and actuators."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, EvidenceError, InputError, NotAllowed
from longbreath.core.build import sheet
from longbreath.dossier.attachments import attached
from longbreath.dossier.commands import put
from longbreath.dossier.events import BuildWritten, say
from longbreath.store.models import Application, BuildSheet, SheetConfirmed
from longbreath.store.unit_of_work import UnitOfWork


def sheets_of(db: Session, application_id: int) -> list[BuildSheet]:
    """All versions of all sheets of an application, newest first."""
    return list(
        db.scalars(select(BuildSheet).where(BuildSheet.application_id == application_id).order_by(BuildSheet.id.desc()))
    )


def usual_pair(sheets: list[BuildSheet]) -> tuple[BuildSheet, BuildSheet] | None:
    """The two sheets to compare first: the newest of A and of B, or the two newest."""
    a, b = (next((s for s in sheets if s.label == label), None) for label in ("A", "B"))
    if a is not None and b is not None:
        return a, b
    return (sheets[1], sheets[0]) if len(sheets) > 1 else None


def aliases_of(sheets: list[BuildSheet]) -> dict[str, str]:
    """Every “also known as” of the application's sheets."""
    return sheet.as_alias_map(
        {s.values["part"]: s.values["aliases"] for s in sheets if s.values.get("part") and s.values.get("aliases")}
    )


def compared(a: BuildSheet, b: BuildSheet, sheets: list[BuildSheet]) -> sheet.SheetComparison:
    """Two sheets compared, a part under two names counted as one."""
    return sheet.compare_sheets(a.values, b.values, aliases_of(sheets))


@dataclass(frozen=True)
class BuildCard:
    """One version of a build sheet: words by line, which label it is of, the day, and what changed since the one before."""

    values: dict[str, str]
    held_on: date
    title: str = ""
    label: str = ""
    why: str = ""


def add_sheet(
    work: UnitOfWork, application: Application, card: BuildCard, before: BuildSheet | None = None
) -> BuildSheet:
    """Record a build sheet, or the next version of one. Raises InputError for an empty sheet, or a next one without a reason."""
    if not card.values:
        raise InputError("Fill in at least one line.", "line_part")
    if before is not None and not card.why:
        raise InputError("Say what changed.", "why")
    title = before.title if before is not None else card.title.strip()
    newest = work.scalar(
        select(func.max(BuildSheet.number)).where(
            BuildSheet.application_id == application.id, BuildSheet.title == title
        )
    )
    if before is None and newest:
        words = "A sheet of this name is kept already: make its next version, or choose another name."
        raise InputError(words, "title")
    found = BuildSheet(application_id=application.id, number=(newest or 0) + 1, taken_by_id=work.actor.id)
    put(found, card, title=title)
    found.taken_by = work.actor
    work.add(found)
    work.flush()
    say(work, BuildWritten(application))
    return found


def confirm(work: UnitOfWork, application: Application, record: BuildSheet) -> SheetConfirmed:
    """Confirm a version of a build sheet by the newest file that hangs on it: it then stands for days that were pulled before it was
    written. Raises NotAllowed for whoever wrote it, EvidenceError without a file, Conflict where somebody did so already."""
    if record.taken_by_id == work.actor.id:
        raise NotAllowed("You wrote this version: somebody else confirms it.")
    items = attached(work, record).items
    if not items:
        raise EvidenceError(
            "Hang the photo or the delivery note on this sheet first: it is confirmed by what shows it."
        )
    work.lock_row(application)
    if record.confirmed is not None:
        raise Conflict("Somebody confirmed this version already.")
    row = SheetConfirmed(build_sheet_id=record.id, attachment_id=items[-1].id, made_by_id=work.actor.id)
    row.sheet, row.attachment, row.made_by = record, items[-1], work.actor
    work.add(row)
    work.flush()
    say(work, BuildWritten(application))
    return row
