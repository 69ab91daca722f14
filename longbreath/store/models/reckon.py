"""Reckon: predictions with their seals and scores, kept answers, candidates, and the target they are held against."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.library import Revision
from longbreath.store.models.people import User


class Prediction(Audited, Base):
    """What was said before the test: a difference curve with a band, or words alone. Append-only.

    Sealed when the first pull of its card (of airflow: the first reading of the part) is recorded. Said anew while it is open,
    the new one takes the place of the old, which stays.
    """

    __tablename__ = "prediction"
    __table_args__ = (
        CheckConstraint("quantity in ('', 'torque', 'power', 'peak_speed', 'airflow')", name="quantity"),
        CheckConstraint("source in ('words', 'hand', 'school', 'simulation')", name="source"),
        CheckConstraint("(quantity = '') = (source = 'words')", name="curve"),
    )
    audit_noun = "prediction"
    audit_silent = ("figures", "inputs", "points")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    card_id: Mapped[int | None] = mapped_column(
        ForeignKey("test_card.id"), comment="the card that stood when it was made"
    )
    quantity: Mapped[str] = mapped_column(default="", comment="torque, power, peak_speed, airflow; empty: words alone")
    source: Mapped[str] = mapped_column(default="words", comment="words, hand, school or simulation")
    source_name: Mapped[str] = mapped_column(default="", comment="which school or which simulation")
    points: Mapped[list[Any]] = mapped_column(default=list, comment="rows of place, least, expected, most; SI")
    inputs: Mapped[dict[str, Any]] = mapped_column(comment="SI values by name")
    figures: Mapped[list[Any]] = mapped_column(comment="figures with their working")
    expects: Mapped[str] = mapped_column(comment="what is expected, and what that rests on, in words")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    after_test: Mapped[bool] = mapped_column(default=False, comment="made after pulls were already recorded")
    supersedes_id: Mapped[int | None] = mapped_column(ForeignKey("prediction.id"), unique=True)
    made_by: Mapped[User] = relationship(lazy="joined")
    seal: Mapped[PredictionSeal | None] = relationship(back_populates="prediction", lazy="joined")
    score: Mapped[PredictionScore | None] = relationship(back_populates="prediction")

    @property
    def sealed_at(self) -> datetime | None:
        """When the first pull sealed it, or None."""
        return self.seal.sealed_at if self.seal is not None else None

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"“{self.expects[:60]}”"


class PredictionSeal(Audited, Base):
    """Says that a prediction stood before the first pull, and of which card: on that card's pulls it is scored."""

    __tablename__ = "prediction_seal"
    audit_noun = "seal"

    prediction_id: Mapped[int] = mapped_column(ForeignKey("prediction.id"), unique=True)
    card_id: Mapped[int | None] = mapped_column(ForeignKey("test_card.id"), comment="the card whose pull sealed it")
    sealed_at: Mapped[datetime] = mapped_column(default=now)
    prediction: Mapped[Prediction] = relationship(back_populates="seal")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of prediction {self.prediction_id}"


class PredictionScore(Base):
    """How a sealed prediction did: derived from the evidence that counts, made anew whenever that changes."""

    __tablename__ = "prediction_score"

    prediction_id: Mapped[int] = mapped_column(ForeignKey("prediction.id"), unique=True)
    evidence_key: Mapped[str] = mapped_column(comment="identifies the evidence it was made from")
    bands: Mapped[list[Any]] = mapped_column(comment="name, said, found, half_width, reference, chance, outcome; SI")
    prediction: Mapped[Prediction] = relationship(back_populates="score")


class KeptAnswer(Audited, Base):
    """An answer of Reckon as it was kept: the question, what went in, the figures, and why. Append-only."""

    __tablename__ = "kept_answer"
    __table_args__ = (Index("ix_kept_answer_application_question", "application_id", "question"),)
    audit_noun = "answer"
    audit_silent = ("figures", "inputs")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"))
    question: Mapped[str] = mapped_column(comment="key of the question")
    asked: Mapped[str] = mapped_column(comment="the question in words")
    inputs: Mapped[dict[str, Any]] = mapped_column(comment="name → {value: SI or words, rests, where}")
    figures: Mapped[list[Any]] = mapped_column(comment="figures with their working")
    judgement: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(default="")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"to “{self.asked}”"


class Target(Audited, Versioned, Base):
    """What an application is reckoned for: power, speed, and what a candidate must keep to."""

    __tablename__ = "target"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "target"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), unique=True)
    limits: Mapped[dict[str, Any]] = mapped_column(comment="SI values by name")
    why: Mapped[str] = mapped_column(default="", comment="for whom, and why these")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.why[:60]


class CandidatePart(Audited, Versioned, Base):
    """A part or a step that is weighed up for a target: a revision of the library, or what is known of one not owned yet."""

    __tablename__ = "candidate_part"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "candidate"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    position: Mapped[int]
    name: Mapped[str] = mapped_column(comment="what it is called where it is no revision of the library")
    family: Mapped[str] = mapped_column(comment="which columns it has")
    revision_id: Mapped[int | None] = mapped_column(ForeignKey("revision.id"))
    values: Mapped[dict[str, Any]] = mapped_column(comment="column → {value: SI or words, rests, where}")
    out_reason: Mapped[str] = mapped_column(default="", comment="why it is no candidate any more; empty: it is one")
    revision: Mapped[Revision | None] = relationship(lazy="joined")

    @property
    def title(self) -> str:
        """Its name: the revision's, or its own."""
        return self.revision.title if self.revision is not None else self.name

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.title
