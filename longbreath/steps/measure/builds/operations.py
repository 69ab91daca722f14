"""What build sheets do to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.store.models import Application, BuildSheet, User


def add_sheet(
    db: Session, application: Application, actor: User, values: dict[str, str], before: BuildSheet | None = None, **words: Any
) -> BuildSheet:  # fmt: skip
    """Record a build sheet, or the next version of one. Raises InputError for an empty sheet, or a next one without a reason."""
    if not values:
        raise InputError("Fill in at least one line.", "line_part")
    if before is not None and not words.get("why"):
        raise InputError("Say what changed.", "why")
    title = before.title if before is not None else words["title"].strip()
    newest = db.scalar(
        select(func.max(BuildSheet.number)).where(
            BuildSheet.application_id == application.id, BuildSheet.title == title
        )
    )
    if before is None and newest:
        raise InputError(
            "A sheet of this name is kept already: make its next version, or choose another name.", "title"
        )
    sheet = BuildSheet(application_id=application.id, values=values, number=(newest or 0) + 1, taken_by_id=actor.id,
                       **{**words, "title": title})  # fmt: skip
    sheet.taken_by = actor
    db.add(sheet)
    db.flush()
    return sheet
