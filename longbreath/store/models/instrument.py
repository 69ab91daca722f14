"""Instruments: the addresses an admin has listed, and what the gateway says of their lines for everybody to read."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import Double, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column

from longbreath.store.base import Audited, Base, now


class InstrumentAddress(Audited, Base):
    """A serial device or host that live instruments may be looked for at."""

    __tablename__ = "instrument_address"
    audit_noun = "instrument address"
    audit_shared = True

    address: Mapped[str] = mapped_column(unique=True, comment="/dev/ttyUSB0, COM3 or socket://host:port")
    what: Mapped[str] = mapped_column(default="", comment="what stands there, in the shop's words")
    kind: Mapped[str] = mapped_column(default="", comment="bench, dyno, logger, weather or tool; empty: not said")
    is_listed: Mapped[bool] = mapped_column(default=True)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.address


class InstrumentLine(Base):
    """The line to one address as the gateway has it. Derived: the gateway writes it anew while somebody wants it."""

    __tablename__ = "instrument_line"

    address: Mapped[str] = mapped_column(unique=True)
    kind: Mapped[str] = mapped_column(default="bench", comment="what kind of device answers there")
    wanted_at: Mapped[datetime] = mapped_column(default=now, comment="when somebody last looked")
    began_at: Mapped[datetime] = mapped_column(default=now, comment="when somebody began to look")
    told_at: Mapped[datetime | None] = mapped_column(comment="when the gateway last wrote")
    state: Mapped[str] = mapped_column(default="connecting")
    words: Mapped[str] = mapped_column(default="")
    device: Mapped[str] = mapped_column(default="", comment="what the device calls itself")
    refused: Mapped[int] = mapped_column(default=0, comment="lines that were no readings")


class InstrumentSample(Base):
    """One reading of a line, kept for seconds."""

    __tablename__ = "instrument_sample"
    __table_args__ = (Index("ix_instrument_sample_line_at", "line_id", "at"), {"prefixes": ["UNLOGGED"]})

    line_id: Mapped[int] = mapped_column(ForeignKey("instrument_line.id"))
    at: Mapped[float] = mapped_column(Double, comment="s since 1970 by the clock of the database")
    spoken: Mapped[dict[str, Any]] = mapped_column(comment="what the device said; SI")
