"""How the columns of a source are read, remembered by the fingerprint of its header."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.store.models import SourceMapping


def remember(
    db: Session, fingerprint: str, name: str, columns: dict[str, Any], told: dict[str, Any] | None = None
) -> None:
    """Remember a mapping for all files with this header; `name` is the file it was made on; told: what the source was asked once."""
    kept = db.scalar(select(SourceMapping).where(SourceMapping.fingerprint == fingerprint))
    if kept is None:
        db.add(SourceMapping(fingerprint=fingerprint, name=name, columns=columns, told=told or {}))
        db.flush()
        return
    if kept.columns != columns:
        kept.columns = columns
    if told is not None and kept.told != told:
        kept.told = told
    db.flush()


def remembered(db: Session, fingerprint: str) -> dict[str, Any] | None:
    """The columns remembered for a header, or None."""
    return db.scalar(select(SourceMapping.columns).where(SourceMapping.fingerprint == fingerprint))


def told_once(db: Session, fingerprint: str) -> dict[str, Any]:
    """What a source was asked once; empty where it never was."""
    return db.scalar(select(SourceMapping.told).where(SourceMapping.fingerprint == fingerprint)) or {}
