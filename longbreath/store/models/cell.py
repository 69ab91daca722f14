"""A session that is pulled live: the run that the gateway follows, the lines it holds until a pull is recorded; closing; practice."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, Double, ForeignKey, Index, LargeBinary, UniqueConstraint, text
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.dyno import DynoSession
from longbreath.store.models.people import User
from longbreath.store.models.shop import FuelBatch

IDLE, PULLING, JUDGING = "idle", "pulling", "judging"


class CellRun(Audited, Base):
    """A session while it is pulled live: what is fitted, what is armed, how far the lines are dealt with."""

    __tablename__ = "cell_run"
    __table_args__ = (
        Index("ix_cell_run_open", "dyno_id", unique=True, postgresql_where=text("closed_at is null")),
        CheckConstraint("phase in ('idle', 'pulling', 'judging')", name="phase"),
    )
    audit_noun = "live run"
    audit_silent = (
        "phase",
        "turn",
        "words",
        "recorded_to",
        "armed_place",
        "armed_at",
        "armed_label",
        "armed_by_id",
        "clocks",
    )

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    dyno_id: Mapped[int] = mapped_column(ForeignKey("dyno.id"))
    opened_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    opened_at: Mapped[datetime] = mapped_column(default=now)
    closed_at: Mapped[datetime | None]
    fitted: Mapped[str] = mapped_column(default="", comment="letter of the variant that somebody said is on")
    armed_place: Mapped[int | None] = mapped_column(comment="place that the next pull takes; none: it is not recorded")
    armed_at: Mapped[float] = mapped_column(Double, default=0.0, comment="s since 1970")
    armed_label: Mapped[str] = mapped_column(default="")
    armed_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"), comment="who takes the pull")
    phase: Mapped[str] = mapped_column(default=IDLE)
    turn: Mapped[int] = mapped_column(default=0, comment="counts whatever a screen should show anew")
    words: Mapped[str] = mapped_column(default="", comment="what the gateway last said")
    recorded_to: Mapped[float] = mapped_column(
        Double, default=0.0, comment="s since 1970 up to which the lines are dealt with"
    )
    clocks: Mapped[dict[str, Any]] = mapped_column(default=dict, comment="share by which each device's clock runs off")
    session: Mapped[DynoSession] = relationship(lazy="joined")
    opened_by: Mapped[User] = relationship(lazy="joined", foreign_keys=[opened_by_id])

    @property
    def application_id(self) -> int:
        """The dossier it belongs to."""
        return self.session.application_id

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of the session of {self.session.held_on:%d %b %Y}" + (f", {self.fitted} on" if self.fitted else "")


class CellBlock(Base):
    """What an instrument said over a moment of a live run, kept until the pull it belongs to is recorded."""

    __tablename__ = "cell_block"
    __table_args__ = (Index("ix_cell_block_run_at", "run_id", "last_at"),)

    run_id: Mapped[int] = mapped_column(ForeignKey("cell_run.id"))
    role: Mapped[str] = mapped_column(comment="dyno, logger or weather")
    last_at: Mapped[float] = mapped_column(Double, comment="s since 1970 of its last line")
    lines: Mapped[bytes] = mapped_column(LargeBinary, comment="JSON, packed: moment and values [SI] of each line")


class TuningRound(Audited, Base):
    """One round of tuning on the dyno: what was changed on a variant, and what the mixture should become of it. Append-only."""

    __tablename__ = "tuning_round"
    __table_args__ = (UniqueConstraint("session_id", "label", "number"),)
    audit_noun = "tuning round"

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    label: Mapped[str]
    number: Mapped[int] = mapped_column(comment="of this letter, from 1")
    kind: Mapped[str] = mapped_column(comment="jet, fuel, injection, ignition, map, back to the start")
    before: Mapped[str] = mapped_column(default="")
    after: Mapped[str] = mapped_column(default="")
    words: Mapped[str] = mapped_column(default="")
    factor: Mapped[float | None] = mapped_column(comment="what lambda should be multiplied by; none: not foretold")
    fuel_id: Mapped[int | None] = mapped_column(ForeignKey("fuel_batch.id"))
    after_place: Mapped[int] = mapped_column(default=0, comment="place of the last pull before it")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")
    fuel: Mapped[FuelBatch | None] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.number} of {self.label}: {self.kind} {self.before} → {self.after}"


class SessionClosing(Audited, Base):
    """A session was closed, with what was missing and why, or opened again. Append-only; the newest holds."""

    __tablename__ = "session_closing"
    audit_noun = "closing of a dyno session"
    audit_silent = ("gaps",)

    session_id: Mapped[int] = mapped_column(ForeignKey("dyno_session.id"), index=True)
    is_closed: Mapped[bool] = mapped_column(default=True)
    gaps: Mapped[list[Any]] = mapped_column(comment="key, what is missing, reason, number of the owed thing")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"with {len(self.gaps)} missing" if self.is_closed else "taken back"


class PracticeRound(Base):
    """One round of practice: a made fault, what the learner said, what the software found. Nothing of it is evidence. Append-only."""

    __tablename__ = "practice_round"

    user_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"), index=True)
    desk: Mapped[str] = mapped_column(comment="cell or bench")
    seed: Mapped[int]
    fault: Mapped[str] = mapped_column(comment="what was made wrong; none where nothing was")
    said: Mapped[str] = mapped_column(comment="what the learner said it was")
    found: Mapped[str] = mapped_column(comment="key of the check that the software named first")
    points: Mapped[int] = mapped_column(comment="0 missed, 1 seen that it is out, 2 named")
    made_at: Mapped[datetime] = mapped_column(default=now)
