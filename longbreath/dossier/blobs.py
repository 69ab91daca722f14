"""Bytes as received, kept once however often they come: streamed in, packed in parts, read back whole or by stretches."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Iterator
from typing import IO

from isal import isal_zlib
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.store.base import now
from longbreath.store.models import Blob, BlobPart
from longbreath.store.unit_of_work import UnitOfWork

PART = 4 * 1024 * 1024
"""Bytes of a part before packing; a stretch is read without the other parts."""
PACKED = 1
"""How hard parts are packed: text shrinks to a third at once, harder takes longer and wins little."""


def keep(work: UnitOfWork, source: bytes | IO[bytes], most: int) -> Blob:
    """Keep bytes by their hash; what is there already is not kept again. A stream is read twice, never held whole.

    Raises InputError (field "file") for nothing at all, or for more than `most` bytes.
    """
    stream = io.BytesIO(source) if isinstance(source, bytes) else source
    digest, size = hashlib.sha256(), 0
    while part := stream.read(PART):
        digest.update(part)
        size += len(part)
        if size > most:
            raise InputError(f"This file is larger than {most // 1024 // 1024} MB.", "file")
    if not size:
        raise InputError("This file is empty.", "file")
    return _kept(work, stream, digest.hexdigest(), size)


def _kept(work: UnitOfWork, stream: IO[bytes], digest: str, size: int) -> Blob:
    made = insert(Blob).values(sha256=digest, size=size, kept_at=now()).on_conflict_do_nothing().returning(Blob)
    blob = work.scalar(made)  # whoever keeps the same bytes at the same moment waits here
    if blob is None:
        return work.scalars(select(Blob).where(Blob.sha256 == digest)).one()
    stream.seek(0)
    for place in range(-(-size // PART)):
        part = stream.read(PART)
        values = {"blob_id": blob.id, "number": place, "size": len(part), "data": isal_zlib.compress(part, PACKED)}
        work.execute(insert(BlobPart).values(**values))
    return blob


def content(db: Session, blob_id: int) -> bytes:
    """All bytes of a blob."""
    return b"".join(stretch(db, blob_id))


def stretch(db: Session, blob_id: int, first: int = 0, last: int | None = None) -> Iterator[bytes]:
    """The bytes of a blob from `first` to `last` (both counted), part by part."""
    query = select(BlobPart.number, BlobPart.size).where(BlobPart.blob_id == blob_id).order_by(BlobPart.number)
    start = 0
    for number, size in db.execute(query).all():
        end = start + size - 1
        if end >= first and (last is None or start <= last):
            one = select(BlobPart.data).where(BlobPart.blob_id == blob_id, BlobPart.number == number)
            part = isal_zlib.decompress(db.scalar(one) or b"")
            yield part[max(0, first - start) : size if last is None else min(size, last - start + 1)]
        start += size
