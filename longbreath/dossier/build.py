"""Build sheets of an application, and two of them compared."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.build import sheet
from longbreath.store.models import BuildSheet


def sheets_of(db: Session, application_id: int) -> list[BuildSheet]:
    """All versions of all sheets of an application, newest first."""
    return list(
        db.scalars(
            select(BuildSheet).where(BuildSheet.application_id == application_id).order_by(BuildSheet.id.desc())
        )
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


def compared(a: BuildSheet, b: BuildSheet, sheets: list[BuildSheet]) -> sheet.Comparison:
    """Two sheets compared, a part under two names counted as one."""
    return sheet.compare(a.values, b.values, aliases_of(sheets))


def comparison(db: Session, application_id: int) -> sheet.Comparison | None:
    """The newest sheets of A and B compared; None while there are no two."""
    sheets = sheets_of(db, application_id)
    pair = usual_pair(sheets)
    return compared(*pair, sheets) if pair is not None else None
