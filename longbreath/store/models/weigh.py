"""What weighing needs beside pulls: weights of use, what a kit holds and costs, trials and readings that are no pulls. All
append-only."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User


class UseWeights(Audited, Base):
    """What each band of use counts in a ranking, declared with its reason; the newest holds, and a ranking names the one it used."""

    __tablename__ = "use_weights"
    audit_noun = "weights of use"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    shares: Mapped[dict[str, Any]] = mapped_column(comment="share of each band [1], by its name")
    origin: Mapped[str] = mapped_column(comment="where they come from, in words")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.origin


class KitSheet(Audited, Base):
    """A part as a buyer meets it: prices on one day, what is in the box, what must be added, fitting, availability. A change makes the
    next version."""

    __tablename__ = "kit_sheet"
    __table_args__ = (UniqueConstraint("application_id", "number"),)
    audit_noun = "kit sheet"
    audit_silent = ("values",)

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    number: Mapped[int] = mapped_column(default=1, comment="version, from 1")
    priced_on: Mapped[date | None]
    values: Mapped[dict[str, Any]] = mapped_column(
        comment="prices in the money of the house, items, minutes, words, by name"
    )
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"version {self.number}"


class Trial(Audited, Base):
    """Readings that are no pulls: a fuel trial, temperatures, noise, mass, runs on a track; with tool and conditions. A correction
    takes the place of an earlier one, with its reason."""

    __tablename__ = "trial"
    __table_args__ = (
        CheckConstraint("kind in ('fuel', 'temperature', 'noise', 'mass', 'track')", name="kind"),
        CheckConstraint("step >= 0", name="step"),
        CheckConstraint("origin in ('own', 'supplier', 'published', 'hearsay')", name="origin"),
    )
    audit_noun = "trial"
    audit_silent = ("rows", "conditions")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    kind: Mapped[str]
    title: Mapped[str]
    held_on: Mapped[date]
    tool: Mapped[str] = mapped_column(comment="what it was read with")
    origin: Mapped[str] = mapped_column(default="own", comment="own test, or somebody else's: that backs nothing")
    step: Mapped[float] = mapped_column(default=0.0, comment="SI, the tool's own step")
    conditions: Mapped[dict[str, Any]] = mapped_column(default=dict, comment="words or SI figures by name")
    rows: Mapped[list[Any]] = mapped_column(comment="readings, SI, as the kind wants them")
    replaces_id: Mapped[int | None] = mapped_column(ForeignKey("trial.id"), unique=True)
    why: Mapped[str] = mapped_column(default="", comment="why it takes the place of the earlier one")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.title}, {self.held_on:%d %b %Y}"
