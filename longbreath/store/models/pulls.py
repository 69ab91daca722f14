"""Files as received, pulls with their readings and channels, judgements, typed pulls, conditions. Evidence is append-only."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, LargeBinary, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.arrays import Floats
from longbreath.store.base import Audited, Base, now
from longbreath.store.models.blob import Blob
from longbreath.store.models.dyno import DynoSession
from longbreath.store.models.people import User

SWEEP, STEADY, IDLE = "sweep", "steady", "idle"


class RawFile(Audited, Base):
    """A file as received, with its hash. Append-only."""

    __tablename__ = "raw_file"
    __table_args__ = (UniqueConstraint("session_id", "sha256"),)
    audit_noun = "file"

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    filename: Mapped[str]
    sha256: Mapped[str]
    size: Mapped[int]
    blob_id: Mapped[int] = mapped_column(ForeignKey("blob.id"))
    received_at: Mapped[datetime] = mapped_column(default=now)
    received_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    session: Mapped[DynoSession] = relationship(back_populates="files")
    blob: Mapped[Blob] = relationship()
    readings: Mapped[list[PullReading]] = relationship(
        back_populates="file", order_by="PullReading.id", foreign_keys="PullReading.file_id"
    )
    joined: Mapped[list[PullReading]] = relationship(
        order_by="PullReading.id", foreign_keys="PullReading.logger_file_id", viewonly=True
    )

    @property
    def is_used(self) -> bool:
        """Whether a pull was made from it, or it was joined to one."""
        return bool(self.readings or self.joined)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.filename


class LogRead(Base):
    """What a file was found to hold: its tables and a thinned copy of their figures. Derived; it can be made anew at any time."""

    __tablename__ = "log_read"

    file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"), unique=True)
    facts: Mapped[dict[str, Any]] = mapped_column(comment="tables with headers, units and rows, or why it was refused")
    thin: Mapped[bytes] = mapped_column(LargeBinary, deferred=True, comment="figures of the tables, packed float64")
    read_at: Mapped[datetime] = mapped_column(default=now)


class SourceMapping(Audited, Base):
    """How the columns of a source are read, remembered by the fingerprint of its header, and what the source was asked once."""

    __tablename__ = "source_mapping"
    audit_noun = "column mapping"
    audit_shared = True

    fingerprint: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str]
    columns: Mapped[dict[str, Any]]
    told: Mapped[dict[str, Any]] = mapped_column(default=dict, comment="scale of the mixture meter, smoothing …")


class Pull(Audited, Base):
    """One condition that was run, with its place in the session: a full pull, a steady point, or idle. Append-only.

    How its file was read stands in its readings, the newest of which holds; whether it counts in its judgements.
    """

    __tablename__ = "pull"
    __table_args__ = (
        UniqueConstraint("session_id", "sequence"),
        CheckConstraint("kind in ('sweep', 'steady', 'idle')", name="kind"),
    )
    audit_noun = "pull"

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    sequence: Mapped[int] = mapped_column(comment="place in the order of the session, from 1")
    label: Mapped[str] = mapped_column(comment="letter of the variant, as its card names it")
    kind: Mapped[str] = mapped_column(default=SWEEP, comment="sweep, steady or idle")
    session: Mapped[DynoSession] = relationship(back_populates="pulls")
    readings: Mapped[list[PullReading]] = relationship(
        back_populates="pull", order_by="PullReading.number", lazy="selectin"
    )
    judgements: Mapped[list[PullJudgement]] = relationship(
        back_populates="pull", order_by="PullJudgement.id", lazy="selectin"
    )

    @property
    def application_id(self) -> int:
        """The dossier it belongs to."""
        return self.session.application_id

    @property
    def version(self) -> int:
        """How many judgements and readings it has: two people who judge at once are told."""
        return len(self.judgements) + len(self.readings) - 1

    @property
    def read(self) -> PullReading:
        """The reading that holds."""
        return self.readings[-1]

    @property
    def file(self) -> RawFile:
        """The file it was read from."""
        return self.read.file

    @property
    def checks(self) -> list[Any]:
        """The outcome of each check."""
        return self.read.checks

    @property
    def is_valid(self) -> bool:
        """Whether its latest judgement lets it count."""
        return bool(self.judgements) and self.judgements[-1].valid

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.sequence} ({self.label})"


class PullReading(Audited, Base):
    """How a file was read into a pull: which part of it, by which columns, and what the checks said. Append-only: a unit that was
    found wrong makes the next reading."""

    __tablename__ = "pull_reading"
    __table_args__ = (UniqueConstraint("pull_id", "number"),)
    audit_noun = "reading of a pull"
    audit_silent = ("checks", "columns", "part", "told")

    pull_id: Mapped[int] = mapped_column(ForeignKey("pull.id"), index=True)
    number: Mapped[int] = mapped_column(default=1, comment="version, from 1")
    file_id: Mapped[int] = mapped_column(ForeignKey("raw_file.id"), index=True)
    part: Mapped[dict[str, Any]] = mapped_column(
        default=dict, comment="table of the file, first and last row; empty: all of it"
    )
    columns: Mapped[dict[str, Any]] = mapped_column(comment="the column mapping it was read with")
    told: Mapped[dict[str, Any]] = mapped_column(default=dict, comment="scale of the mixture meter, smoothing …")
    checks: Mapped[list[Any]] = mapped_column(comment="outcome of each check when it was read")
    logger_file_id: Mapped[int | None] = mapped_column(
        ForeignKey("raw_file.id"), index=True, comment="a second file of the same pull"
    )
    lag: Mapped[float | None] = mapped_column(comment="s, what the second file's clock is behind")
    why: Mapped[str] = mapped_column(default="", comment="why it was read anew")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    pull: Mapped[Pull] = relationship(back_populates="readings")
    file: Mapped[RawFile] = relationship(back_populates="readings", lazy="joined", foreign_keys=[file_id])
    logger_file: Mapped[RawFile | None] = relationship(lazy="joined", foreign_keys=[logger_file_id])
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.number} of pull {self.pull.sequence}" + (f": {self.why}" if self.why else "")


class Channel(Base):
    """One logged quantity of a reading, as an array in SI. Append-only."""

    __tablename__ = "channel"
    __table_args__ = (UniqueConstraint("reading_id", "name"),)

    reading_id: Mapped[int] = mapped_column(ForeignKey("pull_reading.id"))
    name: Mapped[str]
    label: Mapped[str] = mapped_column(default="", comment="what the source calls it")
    kind: Mapped[str] = mapped_column(comment="kind of quantity; values are SI")
    rate: Mapped[float | None] = mapped_column(comment="Hz at which the source wrote it; no detail is finer")
    values: Mapped[Any] = mapped_column(Floats)


class PullJudgement(Audited, Base):
    """Whether a pull counts, and why; the latest one holds. Append-only."""

    __tablename__ = "pull_judgement"
    __table_args__ = (CheckConstraint("length(trim(reason)) > 0", name="reason"),)
    audit_noun = "judgement"

    pull_id: Mapped[int] = mapped_column(ForeignKey("pull.id"), index=True)
    valid: Mapped[bool]
    reason: Mapped[str]
    automatic: Mapped[bool] = mapped_column(default=False)
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    pull: Mapped[Pull] = relationship(back_populates="judgements")
    made_by: Mapped[User] = relationship(lazy="joined")
    second: Mapped[SecondLook | None] = relationship(back_populates="judgement", lazy="joined")

    @property
    def agreed_by(self) -> str:
        """Who said the same without knowing what the pull shows; "" where nobody did."""
        return self.second.made_by.name if self.second is not None and self.second.valid == self.valid else ""

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"on pull {self.pull.sequence}: {'counts' if self.valid else 'out'}, {self.reason}"


class SecondLook(Audited, Base):
    """What a second person says of a pull that one let count or took out, without knowing letter, place and result. Append-only."""

    __tablename__ = "second_look"
    __table_args__ = (CheckConstraint("length(trim(reason)) > 0", name="reason"),)
    audit_noun = "second look"

    judgement_id: Mapped[int] = mapped_column(
        ForeignKey("pull_judgement.id"), unique=True, comment="what one person said against the checks"
    )
    valid: Mapped[bool]
    reason: Mapped[str]
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    judgement: Mapped[PullJudgement] = relationship(back_populates="second")
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def application_id(self) -> int:
        """The dossier it belongs to."""
        return self.judgement.pull.application_id

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"at pull {self.judgement.pull.sequence}: {'counts' if self.valid else 'out'}, {self.reason}"


class TypedPull(Audited, Base):
    """Figures of a pull from a sheet of paper or a photo: charted, never in a verdict or a claim. Append-only; a correction
    takes the place of an earlier one."""

    __tablename__ = "typed_pull"
    audit_noun = "typed pull"
    audit_silent = ("rows", "checks")

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    label: Mapped[str] = mapped_column(comment="letter of the variant")
    source: Mapped[str] = mapped_column(comment="the sheet or photo it stands on")
    rows: Mapped[list[Any]] = mapped_column(comment="speed [rad/s], torque [N m] or null, power [W] or null")
    checks: Mapped[list[Any]]
    replaces_id: Mapped[int | None] = mapped_column(ForeignKey("typed_pull.id"), unique=True)
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    session: Mapped[DynoSession] = relationship(back_populates="typed")
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def application_id(self) -> int:
        """The dossier it belongs to."""
        return self.session.application_id

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.label}, {self.source}"


class PullCondition(Audited, Base):
    """What nobody's log states of the pulls of a variant: smoothing of the source, operator, calibration … Append-only; the newest
    of a name holds, and no words mean that it was not recorded."""

    __tablename__ = "pull_condition"
    audit_noun = "condition of the pulls"

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    label: Mapped[str]
    name: Mapped[str]
    words: Mapped[str]
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.name} of {self.label}: {self.words or 'not recorded'}"
