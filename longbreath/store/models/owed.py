"""Things owed, with dates and what waits for them; and the keys by which a person's calendar is read."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, UniqueConstraint, text
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.library import Application
from longbreath.store.models.people import User
from longbreath.store.models.shop import Cell

KINDS = (
    "measurement",
    "figure",
    "part",
    "sample",
    "slot",
    "tune",
    "certificate",
    "person",
    "retest",
    "bench",
    "swap",
    "dyno",
    "reason",
    "weighing",
    "approval",
    "publishing",
    "other",
)


class Owed(Audited, Versioned, Base):
    """A thing promised, missing or waited for: who, by when, what waits for it, and where it came from."""

    __tablename__ = "owed"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint(f"kind in {KINDS}", name="kind"),
        CheckConstraint("hours >= 0 and cost >= 0", name="amounts"),
        Index("ix_owed_raised", "raised_by", unique=True, postgresql_where=text("raised_by <> ''")),
        Index("ix_owed_open", "application_id", postgresql_where=text("closed_at is null")),
    )
    audit_noun = "owed"

    application_id: Mapped[int | None] = mapped_column(ForeignKey("application.id"), comment="None: of the house")
    card_id: Mapped[int | None] = mapped_column(ForeignKey("test_card.id"))
    kind: Mapped[str]
    what: Mapped[str]
    who_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    outside: Mapped[str] = mapped_column(default="", comment="who owes it outside the house")
    due_on: Mapped[date | None]
    not_before: Mapped[date | None] = mapped_column(comment="a part's day of arrival, say")
    hours: Mapped[float] = mapped_column(default=0.0, comment="h of work")
    cost: Mapped[float] = mapped_column(default=0.0, comment="money of the house, beside hours and cell")
    cell_id: Mapped[int | None] = mapped_column(ForeignKey("cell.id"))
    slot: Mapped[datetime | None] = mapped_column(comment="booked beginning")
    blocks: Mapped[str] = mapped_column(default="", comment="what waits for it, in words")
    raised_by: Mapped[str] = mapped_column(
        default="", comment="what the software raised it for; empty: written by hand"
    )
    raised_at: Mapped[datetime] = mapped_column(default=now)
    raised_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    closed_at: Mapped[datetime | None]
    closed_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    closed_with: Mapped[str] = mapped_column(default="", comment="what closed it")
    application: Mapped[Application | None] = relationship(lazy="joined")
    who: Mapped[User | None] = relationship(foreign_keys=who_id, lazy="joined")
    cell: Mapped[Cell | None] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.what


class OwedLink(Base):
    """One owed thing waits for another."""

    __tablename__ = "owed_link"
    __table_args__ = (UniqueConstraint("before_id", "after_id"), CheckConstraint("before_id <> after_id", name="two"))

    before_id: Mapped[int] = mapped_column(ForeignKey("owed.id"), index=True)
    after_id: Mapped[int] = mapped_column(ForeignKey("owed.id"), index=True)


class CalendarKey(Audited, Base):
    """A private address under which a person's calendar is read, until it is revoked."""

    __tablename__ = "calendar_key"
    audit_noun = "calendar address"
    audit_shared = True
    audit_silent = ("digest",)

    user_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"), index=True)
    digest: Mapped[str] = mapped_column(unique=True, comment="SHA-256 of the key in the address")
    made_at: Mapped[datetime] = mapped_column(default=now)
    revoked_at: Mapped[datetime | None]
    user: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.user.name}"


class DynoScatter(Audited, Base):
    """A dyno's scatter from pull to pull, set to set and day to day, as its records showed it on a day. Append-only.

    Promise and verdict of sessions from that day on take it.
    """

    __tablename__ = "dyno_scatter"
    audit_noun = "scatter of a dyno"
    audit_shared = True
    audit_silent = ("working",)

    dyno_id: Mapped[int] = mapped_column(ForeignKey("dyno.id"), index=True)
    from_day: Mapped[date]
    key: Mapped[str] = mapped_column(comment="hash of the pulls it was fitted to")
    pull: Mapped[float] = mapped_column(comment="N m, standard deviation from pull to pull")
    pull_df: Mapped[float]
    fitting: Mapped[float | None] = mapped_column(
        comment="N m, from set to set (part off and on again); None: not known"
    )
    fitting_df: Mapped[float]
    day: Mapped[float | None] = mapped_column(comment="N m, from day to day; None: not known")
    day_df: Mapped[float]
    working: Mapped[dict[str, Any]] = mapped_column(comment="what it was fitted to")
    made_at: Mapped[datetime] = mapped_column(default=now)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"from {self.from_day:%d %b %Y}"


class WorkTask(Base):
    """Background work: what was asked for, how far it is, what came of it. One row for equal work, so nothing runs twice."""

    __tablename__ = "work_task"
    __table_args__ = (
        UniqueConstraint("kind", "key"),
        CheckConstraint("state in ('waiting', 'running', 'done', 'failed', 'cancelled')", name="state"),
    )

    kind: Mapped[str]
    key: Mapped[str] = mapped_column(comment="hash of everything that goes in")
    inputs: Mapped[dict[str, Any]]
    title: Mapped[str]
    application_id: Mapped[int | None] = mapped_column(ForeignKey("application.id"), index=True)
    state: Mapped[str] = mapped_column(default="waiting")
    share: Mapped[float] = mapped_column(default=0.0, comment="how much is done, 0 to 1")
    told: Mapped[str] = mapped_column(default="", comment="what it does just now, or why it failed")
    stop_asked: Mapped[bool] = mapped_column(default=False)
    tries: Mapped[int] = mapped_column(default=0)
    result: Mapped[dict[str, Any] | None]
    asked_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    asked_at: Mapped[datetime] = mapped_column(default=now)
    begun_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]
