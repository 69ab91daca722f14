"""Words written elsewhere, and ways of looking at the house."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User


class SellingText(Audited, Base):
    """A page of selling text as it was given, to be held against the evidence. Append-only; a newer one of its title takes its
    place."""

    __tablename__ = "selling_text"
    audit_noun = "selling text"
    audit_shared = True
    audit_silent = ("text",)

    title: Mapped[str]
    text: Mapped[str]
    application_id: Mapped[int | None] = mapped_column(ForeignKey("application.id"), comment="what all of it is about")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.title


class SavedView(Base):
    """A way of looking at coverage that somebody keeps: filters and order, by name."""

    __tablename__ = "saved_view"
    __table_args__ = (UniqueConstraint("user_id", "name"),)

    user_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    name: Mapped[str]
    query: Mapped[str] = mapped_column(comment="query of the address")
