"""The health log of test engines and vehicles. Append-only."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User


class HealthEntry(Audited, Base):
    """One look at an engine, or what was done to it: figures per cylinder, words, and whether it was found sound.

    An entry that was written wrong is followed by one that replaces it.
    """

    __tablename__ = "health_entry"
    __table_args__ = (
        CheckConstraint("(engine_id is null) <> (vehicle_id is null)", name="one_carrier"),
        CheckConstraint("state in ('sound', 'finding', 'done')", name="state"),
    )
    audit_noun = "health entry"
    audit_shared = True

    engine_id: Mapped[int | None] = mapped_column(ForeignKey("test_engine.id"), index=True)
    vehicle_id: Mapped[int | None] = mapped_column(ForeignKey("vehicle.id"), index=True)
    held_on: Mapped[date]
    kind: Mapped[str] = mapped_column(comment="compression, leak-down, oil …")
    figures: Mapped[list[Any]] = mapped_column(comment="one per cylinder or one alone, SI")
    words: Mapped[str] = mapped_column(default="")
    state: Mapped[str] = mapped_column(comment="sound, finding, or done: a repair or change")
    told: Mapped[str] = mapped_column(default="", comment="what the figures say")
    replaces_id: Mapped[int | None] = mapped_column(ForeignKey("health_entry.id"), unique=True)
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.kind} of {self.held_on:%d %b %Y}"
