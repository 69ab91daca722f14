"""Road use and what a sheet says of a part besides: certificates, vehicles it is offered for, notes. All append-only."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User


class Certificate(Audited, Base):
    """A certificate for emissions or noise: part and vehicle by its application, model years, market. A newer one of the same kind,
    number and market takes its place."""

    __tablename__ = "certificate"
    __table_args__ = (
        CheckConstraint("kind in ('emissions', 'noise')", name="kind"),
        CheckConstraint("first_year <= last_year", name="years"),
    )
    audit_noun = "certificate"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    kind: Mapped[str]
    number: Mapped[str]
    market: Mapped[str]
    first_year: Mapped[int]
    last_year: Mapped[int]
    until: Mapped[date | None] = mapped_column(comment="last day it holds")
    scope: Mapped[str] = mapped_column(default="")
    forbids: Mapped[str] = mapped_column(default="", comment="what it forbids")
    document: Mapped[str] = mapped_column(default="", comment="where the document is")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.number}, {self.market}"


class CoveredVehicle(Audited, Base):
    """A vehicle that a part is offered for, and whether the evidence of its application covers it; the newest of make, model and
    engine holds."""

    __tablename__ = "covered_vehicle"
    __table_args__ = (
        CheckConstraint("covers in ('direct', 'reasoned', 'not covered')", name="covers"),
        CheckConstraint("first_year <= last_year", name="years"),
    )
    audit_noun = "vehicle offered for"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    make: Mapped[str]
    model: Mapped[str]
    first_year: Mapped[int]
    last_year: Mapped[int]
    engine_code: Mapped[str]
    covers: Mapped[str]
    reason: Mapped[str] = mapped_column(default="")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.make} {self.model}, {self.engine_code}: {self.covers}"


class SheetNote(Audited, Base):
    """What a sheet says of a part beside the facts: series rules, idle, noise, life, what is sold, the tester's relation to the
    seller, whether it removes an emission device. The newest of what it is about holds."""

    __tablename__ = "sheet_note"
    audit_noun = "note for the sheet:"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    about: Mapped[str]
    words: Mapped[str]
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.about}: {self.words}"
