"""Build sheets, why A and B differed, and what hangs on a record: photos and documents. All append-only."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User


class BuildSheet(Audited, Base):
    """The whole configuration of a vehicle or test engine at a moment. A change makes the next version."""

    __tablename__ = "build_sheet"
    __table_args__ = (UniqueConstraint("application_id", "title", "number"),)
    audit_noun = "build sheet"
    audit_silent = ("values",)

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    title: Mapped[str]
    number: Mapped[int] = mapped_column(default=1, comment="version of the sheet of this title")
    label: Mapped[str] = mapped_column(default="", comment="letter of a variant, or nothing")
    held_on: Mapped[date]
    values: Mapped[dict[str, Any]] = mapped_column(comment="line → words")
    why: Mapped[str] = mapped_column(default="", comment="what changed since the version before")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    taken_by: Mapped[User] = relationship(lazy="joined")
    confirmed: Mapped[SheetConfirmed | None] = relationship(back_populates="sheet", lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.title}, version {self.number}"


class SheetConfirmed(Audited, Base):
    """A second person confirms a version of a build sheet by a file that shows it. Append-only."""

    __tablename__ = "sheet_confirmed"
    audit_noun = "confirmed sheet"

    build_sheet_id: Mapped[int] = mapped_column(ForeignKey("build_sheet.id"), unique=True)
    attachment_id: Mapped[int] = mapped_column(ForeignKey("attachment.id"), comment="the photo or note that shows it")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    sheet: Mapped[BuildSheet] = relationship(back_populates="confirmed")
    attachment: Mapped[Attachment] = relationship(lazy="joined")
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def application_id(self) -> int:
        """The dossier it belongs to."""
        return self.sheet.application_id

    @property
    def words(self) -> str:
        """By whom, by what."""
        return f"confirmed by {self.made_by.name} by {self.attachment.filename}"

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.sheet.audit_title}, by {self.attachment.filename}"


class DifferenceReason(Audited, Base):
    """Why A and B differed in one thing beside the part, and what is known of its effect; the newest of the same difference holds."""

    __tablename__ = "difference_reason"
    __table_args__ = (
        CheckConstraint("length(trim(reason)) > 0", name="reason"),
        CheckConstraint("kind in ('', 'measured', 'bounded', 'none', 'unknown')", name="kind"),
    )
    audit_noun = "line of the ledger"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    line: Mapped[str] = mapped_column(comment="line of the build sheet, or “card”")
    a: Mapped[str] = mapped_column(comment="A's words")
    b: Mapped[str] = mapped_column(comment="B's words")
    reason: Mapped[str]
    kind: Mapped[str] = mapped_column(default="", comment="measured, bounded, none or unknown; empty: a reason alone")
    low: Mapped[float | None] = mapped_column(
        comment="least share of A's torque that it may move B − A by, of a bounded one"
    )
    high: Mapped[float | None] = mapped_column(comment="most, of a bounded one")
    session_id: Mapped[int | None] = mapped_column(
        ForeignKey("dyno_session.id"), comment="the session in which it was measured alone"
    )
    from_label: Mapped[str] = mapped_column(default="", comment="letter without the change there")
    to_label: Mapped[str] = mapped_column(default="", comment="letter with it")
    given_at: Mapped[datetime] = mapped_column(default=now)
    given_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    given_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"for {self.line}: {self.reason}"


class Attachment(Audited, Base):
    """A photo or document on a record: kept as received, hashed."""

    __tablename__ = "attachment"
    __table_args__ = (Index("ix_attachment_record", "application_id", "record_kind", "record_id"),)
    audit_noun = "attachment"
    audit_silent = ("data", "thumbnail")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"))
    record_kind: Mapped[str] = mapped_column(comment="table of the record it hangs on")
    record_id: Mapped[int]
    filename: Mapped[str]
    media_type: Mapped[str]
    size: Mapped[int] = mapped_column(comment="bytes")
    sha256: Mapped[str]
    caption: Mapped[str] = mapped_column(default="")
    width: Mapped[int | None] = mapped_column(comment="pixels, of a photo")
    height: Mapped[int | None] = mapped_column(comment="pixels")
    data: Mapped[bytes | None] = mapped_column(deferred=True)
    blob_id: Mapped[int | None] = mapped_column(
        ForeignKey("blob.id"), comment="where it is too large for a row: a video"
    )
    thumbnail: Mapped[bytes | None] = mapped_column(deferred=True)
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    taken_by: Mapped[User] = relationship(lazy="joined")
    marks: Mapped[list[AttachmentMark]] = relationship(back_populates="attachment", lazy="selectin")

    @property
    def version(self) -> int:
        """How many marks it has: two people who put it away at once are told."""
        return len(self.marks)

    @property
    def size_text(self) -> str:
        """Its size for people."""
        return f"{self.size / 1e6:.1f} MB" if self.size >= 1e6 else f"{max(1, self.size // 1000)} kB"

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.caption or self.filename


class AttachmentMark(Audited, Base):
    """Takes an attachment out of sight, with the reason; it stays kept. Append-only."""

    __tablename__ = "attachment_mark"
    audit_noun = "attachment put away"

    attachment_id: Mapped[int] = mapped_column(ForeignKey("attachment.id"), index=True)
    reason: Mapped[str]
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    attachment: Mapped[Attachment] = relationship(back_populates="marks")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.reason
