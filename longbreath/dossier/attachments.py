"""Photos and documents that hang on a record: what a page needs to show them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.store.models import Attachment


@dataclass(frozen=True)
class Attached:
    """The attachments of one record that are not put away."""

    kind: str
    record_id: int
    items: list[Attachment]


def attached(db: Session, record: Any) -> Attached:
    """What hangs on a record that belongs to an application."""
    kind = record.__tablename__
    query = (
        select(Attachment)
        .where(
            Attachment.application_id == record.application_id,
            Attachment.record_kind == kind,
            Attachment.record_id == record.id,
        )
        .order_by(Attachment.id)
    )
    return Attached(kind, record.id, [a for a in db.scalars(query) if not a.marks])
