"""Claims with the evidence they were approved on."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.library import Application
from longbreath.store.models.people import User


class Claim(Audited, Versioned, Base):
    """One statement with its trade-offs. `snapshot` is frozen at publication: the sheet is drawn from it alone."""

    __tablename__ = "claim"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("state in ('draft', 'submitted', 'published', 'withdrawn')", name="state"),
        CheckConstraint("approved_by_id is null or approved_by_id <> drafted_by_id", name="second_person"),
    )
    audit_noun = "claim"
    audit_silent = ("version", "snapshot", "evidence_key")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    slug: Mapped[str] = mapped_column(unique=True, comment="stable public address")
    state: Mapped[str] = mapped_column(default="draft")
    kind: Mapped[str] = mapped_column(default="torque")
    statement: Mapped[str]
    trade_off: Mapped[str]
    session_ids: Mapped[list[Any]] = mapped_column(comment="dyno sessions it rests on")
    snapshot: Mapped[dict[str, Any] | None] = mapped_column(deferred=True, comment="all that the sheet shows")
    evidence_key: Mapped[str] = mapped_column(default="", comment="identifies the evidence it was published on")
    drafted_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    drafted_at: Mapped[datetime] = mapped_column(default=now)
    approved_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    published_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]
    withdrawn_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    withdrawal_reason: Mapped[str] = mapped_column(default="")

    application: Mapped[Application] = relationship()
    drafted_by: Mapped[User] = relationship(foreign_keys=drafted_by_id, lazy="joined")
    approved_by: Mapped[User | None] = relationship(foreign_keys=approved_by_id, lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"({self.state})"
