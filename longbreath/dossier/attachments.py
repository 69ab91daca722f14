"""Photos, documents and videos that hang on a record."""

from __future__ import annotations

import hashlib
import io
from dataclasses import dataclass
from typing import IO, Any

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.dossier import blobs
from longbreath.formats import media
from longbreath.formats.filename import clean_name
from longbreath.store.models import Application, Attachment, AttachmentMark
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Attached:
    """The attachments of one record that are not put away."""

    kind: str
    record_id: int
    items: list[Attachment]


def _on(application_id: int, kind: str, record_id: int) -> Select[Attachment]:
    query = select(Attachment).where(Attachment.application_id == application_id)
    return query.where(Attachment.record_kind == kind, Attachment.record_id == record_id)


def attached(db: Session, record: Any) -> Attached:
    """What hangs on a record that belongs to an application."""
    query = _on(record.application_id, record.__tablename__, record.id).order_by(Attachment.id)
    return Attached(record.__tablename__, record.id, [a for a in db.scalars(query) if not a.marks])


@dataclass(frozen=True)
class NewAttachment:
    """A file to hang on a record: the record's kind (its table) and number, the file, its caption."""

    record_kind: str
    record_id: int
    filename: str
    data: bytes | IO[bytes]
    caption: str = ""


def hang(work: UnitOfWork, application: Application, new: NewAttachment) -> Attachment:
    """Hang a file on a record; a video is streamed. Raises InputError for what is no photo, PDF or video, or hangs there already."""
    stream = io.BytesIO(new.data) if isinstance(new.data, bytes) else new.data
    kind = media.video_type(stream.read(media.HEAD))
    stream.seek(0)
    blob = blobs.keep(work, stream, media.MOST_VIDEO) if kind else None
    data = stream.read(media.MOST + 1) if blob is None else None
    found = media.check(data) if data is not None else media.Media(kind)
    digest = blob.sha256 if blob is not None else hashlib.sha256(data or b"").hexdigest()
    same = _on(application.id, new.record_kind, new.record_id).where(Attachment.sha256 == digest)
    if any(not a.marks for a in work.scalars(same)):
        raise InputError("This very file hangs here already.", "file")
    attachment = Attachment(
        application_id=application.id,
        record_kind=new.record_kind,
        record_id=new.record_id,
        filename=clean_name(new.filename),
        media_type=found.media_type,
        size=blob.size if blob is not None else len(data or b""),
        sha256=digest,
        caption=new.caption.strip()[:120],
        width=found.width,
        height=found.height,
        data=data,
        blob_id=blob.id if blob is not None else None,
        thumbnail=found.thumbnail,
        taken_by_id=work.actor.id,
    )
    work.add(attachment)
    work.flush()
    return attachment


def put_away(work: UnitOfWork, attachment: Attachment, reason: str) -> None:
    """Take an attachment out of sight, with the reason; it stays kept."""
    work.add(AttachmentMark(attachment_id=attachment.id, reason=reason, taken_by_id=work.actor.id))
    work.flush()
