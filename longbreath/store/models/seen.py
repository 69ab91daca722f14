"""What is known of the content of files: by what each pull is known again, and which stretches are pulls that stand elsewhere."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import BigInteger, ForeignKey, Index, LargeBinary
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User
from longbreath.store.models.pulls import Pull, RawFile


class PullTrace(Base):
    """What one column of a pull is known by, whichever file it comes in again. Append-only."""

    __tablename__ = "pull_trace"
    __table_args__ = (Index("ix_pull_trace_marks", "marks", postgresql_using="gin"),)

    pull_id: Mapped[int] = mapped_column(ForeignKey("pull.id"), index=True)
    file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"))
    column_no: Mapped[int] = mapped_column(comment="number of the column in its table, from 0")
    by_speed: Mapped[bool] = mapped_column(comment="its rows in the order of engine speed")
    marks: Mapped[list[int]] = mapped_column(ARRAY(BigInteger))
    rough: Mapped[bytes] = mapped_column(LargeBinary, comment="roughness, a step a byte; empty where it is smooth")


class StretchKnown(Audited, Base):
    """A stretch of a file that holds a pull which stands already: it makes no second one. Append-only."""

    __tablename__ = "stretch_known"
    audit_noun = "pull again"

    file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"), index=True)
    table_no: Mapped[int]
    first: Mapped[int] = mapped_column(comment="row of the table")
    last: Mapped[int]
    pull_id: Mapped[int] = mapped_column(ForeignKey("pull.id"), index=True)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    seen_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    file: Mapped[RawFile] = relationship()
    pull: Mapped[Pull] = relationship()
    seen_by: Mapped[User] = relationship(lazy="joined")

    @property
    def application_id(self) -> int:
        """The dossier that the file was brought to."""
        return self.file.session.application_id

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.file.filename}: pull {self.pull.sequence} ({self.pull.label}) of {self.pull.session.held_on:%d %b %Y}"


class StretchLeft(Audited, Base):
    """A stretch of a file that somebody mapped and did not record: it was seen all the same. Append-only."""

    __tablename__ = "stretch_left"
    audit_noun = "stretch left"

    file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"), index=True)
    table_no: Mapped[int]
    first: Mapped[int] = mapped_column(comment="row of the table")
    last: Mapped[int]
    kind: Mapped[str] = mapped_column(comment="what it is: a full pull, a steady point, idle; of a logger nothing")
    left_at: Mapped[datetime] = mapped_column(default=now)
    left_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    file: Mapped[RawFile] = relationship()
    left_by: Mapped[User] = relationship(lazy="joined")

    @property
    def application_id(self) -> int:
        """The dossier that the file was brought to."""
        return self.file.session.application_id

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"in {self.file.filename}, rows {self.first} to {self.last}"
