"""The last verdict of each application, kept so that the coverage page need not weigh everything again."""

from __future__ import annotations

from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from longbreath.store.base import Base


class Verdict(Base):
    """Derived from the newest dyno session's valid pulls; made anew whenever they change."""

    __tablename__ = "verdict"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), unique=True)
    evidence_key: Mapped[str] = mapped_column(comment="identifies the pulls and judgements it was made from")
    headline: Mapped[str]
    bands: Mapped[list[Any]] = mapped_column(comment="name, verdict, value, half_width, kind of each band; SI")
