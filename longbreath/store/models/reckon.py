"""Predictions: what a calculation said before the test, and their seals. Both append-only."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.people import User


class Prediction(Audited, Base):
    """Inputs, figures with working, and the reason. Sealed when the first pull of the test is recorded."""

    __tablename__ = "prediction"
    audit_noun = "prediction"
    audit_silent = ("figures", "inputs")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    inputs: Mapped[dict[str, Any]] = mapped_column(comment="SI values by name")
    figures: Mapped[list[Any]] = mapped_column(comment="figures with their working")
    expects: Mapped[str] = mapped_column(comment="what is expected, in words")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    after_test: Mapped[bool] = mapped_column(default=False, comment="made after pulls were already recorded")
    made_by: Mapped[User] = relationship(lazy="joined")
    seal: Mapped[PredictionSeal | None] = relationship(back_populates="prediction", lazy="joined")

    @property
    def sealed_at(self) -> datetime | None:
        """When the first pull sealed it, or None."""
        return self.seal.sealed_at if self.seal is not None else None

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"“{self.expects[:60]}”"


class PredictionSeal(Audited, Base):
    """Says that a prediction stood before the first pull."""

    __tablename__ = "prediction_seal"
    audit_noun = "seal"

    prediction_id: Mapped[int] = mapped_column(ForeignKey("prediction.id"), unique=True)
    sealed_at: Mapped[datetime] = mapped_column(default=now)
    prediction: Mapped[Prediction] = relationship(back_populates="seal")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of prediction {self.prediction_id}"
