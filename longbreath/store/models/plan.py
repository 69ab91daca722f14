"""What a test compares: variants with their parts and states, the cards that compare them, what is ticked on a card."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.core.build.states import STATES
from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.library import Revision
from longbreath.store.models.people import User
from longbreath.store.models.shop import Sample, TuneFile


class Variant(Audited, Versioned, Base):
    """What is tested under one letter in a dossier: parts in their state, a build sheet, a tune, a control mode.

    It is like another letter of the dossier in all that it does not change; or it is written out whole.

    A is the stock part and B the product of the dossier; further letters are added as they are planned. Every record that says
    A or B names one of these by its letter.
    """

    __tablename__ = "variant"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        UniqueConstraint("application_id", "letter"),
        CheckConstraint("letter ~ '^[A-Z]{1,2}$'", name="letter"),
    )
    audit_noun = "variant"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    letter: Mapped[str]
    base: Mapped[str] = mapped_column(default="", comment="letter of the variant it is like but for what it changes")
    name: Mapped[str] = mapped_column(default="", comment="how it is called beside its parts")
    build_title: Mapped[str] = mapped_column(default="", comment="title of its build sheet")
    tune_id: Mapped[int | None] = mapped_column(ForeignKey("tune_file.id"))
    control_mode: Mapped[str] = mapped_column(default="", comment="setting of the boost controller, in words")
    rounds: Mapped[int] = mapped_column(default=0, comment="tuning rounds it was given")
    parts: Mapped[list[VariantPart]] = relationship(
        back_populates="variant", order_by="VariantPart.id", lazy="selectin"
    )
    tune: Mapped[TuneFile | None] = relationship(lazy="joined")

    @property
    def title(self) -> str:
        """Its parts with their states, or the name it was given where it has none."""
        told = " + ".join(part.title for part in self.parts)
        beside = ", ".join(filter(None, (self.name if told else "", self.control_mode)))
        return ", ".join(filter(None, (told or self.name, beside))) or f"variant {self.letter}"

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.letter}, {self.title}"


class VariantPart(Audited, Base):
    """One product revision of a variant, and its state: several attributes, so that coated and machined is seen as two."""

    __tablename__ = "variant_part"
    audit_noun = "part of a variant"

    variant_id: Mapped[int] = mapped_column(ForeignKey("variant.id"), index=True)
    revision_id: Mapped[int] = mapped_column(ForeignKey("revision.id"))
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"), comment="which piece was fitted")
    casting: Mapped[str] = mapped_column(default="")
    finish: Mapped[str] = mapped_column(default="")
    machining: Mapped[str] = mapped_column(default="")
    coating: Mapped[str] = mapped_column(default="")
    modified: Mapped[str] = mapped_column(default="", comment="epoxy, grinding, spacer, adapter, worn …")
    variant: Mapped[Variant] = relationship(back_populates="parts")
    revision: Mapped[Revision] = relationship(lazy="joined")
    sample: Mapped[Sample | None] = relationship(lazy="joined")

    @property
    def state(self) -> dict[str, str]:
        """What was done to it, by attribute."""
        return {name: getattr(self, name) for name in STATES if getattr(self, name)}

    @property
    def title(self) -> str:
        """Product, revision, state and piece."""
        told = ", ".join((*self.state.values(), *((f"no. {self.sample.serial}",) if self.sample else ())))
        return f"{self.revision.title} ({told})" if told else self.revision.title

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.title


class CardVariant(Base):
    """A variant on a card: under which letter, what it was when the card was written, and its place in a factorial."""

    __tablename__ = "card_variant"
    __table_args__ = (UniqueConstraint("card_id", "letter"),)

    card_id: Mapped[int] = mapped_column(ForeignKey("test_card.id"), index=True)
    variant_id: Mapped[int] = mapped_column(ForeignKey("variant.id"))
    letter: Mapped[str]
    called: Mapped[str] = mapped_column(comment="what it was, in words, when the card was written")
    levels: Mapped[list[Any]] = mapped_column(default=list, comment="its level of each factor, counted from 0")
    variant: Mapped[Variant] = relationship(lazy="joined")


class CardPair(Base):
    """An application that a card serves: which of its letters is the stock part and which the product."""

    __tablename__ = "card_pair"
    __table_args__ = (UniqueConstraint("card_id", "application_id"), CheckConstraint("a <> b", name="two"))

    card_id: Mapped[int] = mapped_column(ForeignKey("test_card.id"), index=True)
    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    a: Mapped[str] = mapped_column(comment="letter of the stock part")
    b: Mapped[str] = mapped_column(comment="letter of the product; empty: it is not compared")


class CardTick(Audited, Base):
    """A line of a card's checklist that somebody ticked. Append-only."""

    __tablename__ = "card_tick"
    __table_args__ = (UniqueConstraint("card_id", "line"),)
    audit_noun = "ticked line"

    card_id: Mapped[int] = mapped_column(ForeignKey("test_card.id"), index=True)
    line: Mapped[str]
    note: Mapped[str] = mapped_column(default="", comment="what was found")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.line
