"""How the columns of a source are read, remembered by the fingerprint of its header."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.store.models import SourceMapping


def remember(db: Session, fingerprint: str, name: str, columns: dict[str, object]) -> None:
    """Remember a mapping for all files with this header; `name` is the file it was made on."""
    kept = db.scalar(select(SourceMapping).where(SourceMapping.fingerprint == fingerprint))
    if kept is None:
        db.add(SourceMapping(fingerprint=fingerprint, name=name, columns=columns))
    elif kept.columns != columns:
        kept.columns = columns
    db.flush()


def remembered(db: Session, fingerprint: str) -> dict[str, object] | None:
    """The columns remembered for a header, or None."""
    return db.scalar(select(SourceMapping.columns).where(SourceMapping.fingerprint == fingerprint))
