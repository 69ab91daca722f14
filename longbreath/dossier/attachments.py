"""Photos and documents that hang on a record."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.formats import media
from longbreath.store.models import Application, Attachment, AttachmentMark, User


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


def clean_name(filename: str) -> str:
    """A file's name without folders and odd signs, 80 signs at most."""
    bare = re.split(r"[\\/]", filename)[-1]
    return re.sub(r"[^\w.\- ]", "_", bare).strip(". ")[:80] or "file"


def add(
    db: Session, application: Application, actor: User, kind: str, record_id: int, filename: str, data: bytes, caption: str
) -> Attachment:  # fmt: skip
    """Hang a file on a record. Raises InputError for what is no photo or PDF, or hangs there already."""
    found = media.check(data)
    digest = hashlib.sha256(data).hexdigest()
    same = select(Attachment).where(Attachment.application_id == application.id, Attachment.record_kind == kind,
                                    Attachment.record_id == record_id, Attachment.sha256 == digest)  # fmt: skip
    if any(not a.marks for a in db.scalars(same)):
        raise InputError("This very file hangs here already.", "file")
    attachment = Attachment(
        application_id=application.id, record_kind=kind, record_id=record_id, filename=clean_name(filename),
        media_type=found.media_type, size=len(data), sha256=digest, caption=caption.strip()[:120], width=found.width,
        height=found.height, data=data, thumbnail=found.thumbnail, taken_by_id=actor.id,
    )  # fmt: skip
    db.add(attachment)
    db.flush()
    return attachment


def put_away(db: Session, attachment: Attachment, actor: User, reason: str) -> None:
    """Take an attachment out of sight, with the reason; it stays kept."""
    db.add(AttachmentMark(attachment_id=attachment.id, reason=reason, taken_by_id=actor.id))
    db.flush()
