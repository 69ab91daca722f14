"""Bytes as received: kept once however often they come, packed, in parts of bounded size. Append-only."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import BigInteger, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from longbreath.store.base import Base, now


class Blob(Base):
    """The bytes of a file by their hash."""

    __tablename__ = "blob"

    sha256: Mapped[str] = mapped_column(unique=True)
    size: Mapped[int] = mapped_column(BigInteger, comment="bytes, unpacked")
    kept_at: Mapped[datetime] = mapped_column(default=now)


class BlobPart(Base):
    """One part of a blob, packed by itself, so that any stretch can be read without the rest."""

    __tablename__ = "blob_part"
    __table_args__ = (UniqueConstraint("blob_id", "number"),)

    blob_id: Mapped[int] = mapped_column(ForeignKey("blob.id"))
    number: Mapped[int] = mapped_column(comment="place in the blob, from 0")
    size: Mapped[int] = mapped_column(comment="bytes, unpacked")
    data: Mapped[bytes] = mapped_column(deferred=True)
