"""The last verdict of each application, kept so that the coverage page need not weigh everything again."""

from __future__ import annotations

from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from longbreath.store.base import Base


class Verdict(Base):
    """Derived from the evidence that counts; made anew whenever that changes."""

    __tablename__ = "verdict"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), unique=True)
    evidence_key: Mapped[str] = mapped_column(comment="identifies the evidence it was made from")
    session_ids: Mapped[list[Any]] = mapped_column(comment="the dyno sessions that count")
    headline: Mapped[str]
    bands: Mapped[list[Any]] = mapped_column(comment="name, verdict, value, half_width, kind of each band; SI")
