"""Flow benches, their sessions, traces and readings. Readings are append-only."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.path import Element
from longbreath.store.models.people import User


class Bench(Audited, Base):
    """A flow bench and what its instruments resolve."""

    __tablename__ = "bench"
    audit_noun = "bench"

    name: Mapped[str] = mapped_column(unique=True)
    percent_step: Mapped[float] = mapped_column(comment="smallest step of the percentage, share of one")
    pressure_step: Mapped[float] = mapped_column(comment="smallest step of the test pressure, Pa")
    ranges: Mapped[list[BenchRange]] = relationship(back_populates="bench", order_by="BenchRange.full_scale")


class BenchRange(Audited, Base):
    """One range of a bench with its full-scale flow."""

    __tablename__ = "bench_range"
    __table_args__ = (
        UniqueConstraint("bench_id", "label"),
        CheckConstraint("full_scale > 0", name="full_scale"),
    )
    audit_noun = "range"

    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"))
    label: Mapped[str]
    full_scale: Mapped[float] = mapped_column(comment="m3/s")
    bench: Mapped[Bench] = relationship(back_populates="ranges")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.label


class BenchSession(Audited, Versioned, Base):
    """One set-up of a day: test pressure, air, fixture and the leak reading that goes with it."""

    __tablename__ = "bench_session"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "bench session"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"))
    held_on: Mapped[date]
    test_pressure: Mapped[float] = mapped_column(comment="Pa")
    temperature: Mapped[float] = mapped_column(comment="K")
    pressure: Mapped[float] = mapped_column(comment="Pa, station")
    humidity: Mapped[float] = mapped_column(comment="share of one")
    fixture: Mapped[str]
    leak_range_id: Mapped[int | None] = mapped_column(ForeignKey("bench_range.id"))
    leak_percent: Mapped[float | None] = mapped_column(comment="share of one")
    leak_pressure: Mapped[float | None] = mapped_column(comment="Pa")

    bench: Mapped[Bench] = relationship(lazy="joined")
    leak_range: Mapped[BenchRange | None] = relationship(lazy="joined")
    traces: Mapped[list[Trace]] = relationship(back_populates="session", order_by="Trace.label")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.held_on:%d %b %Y}"


class Trace(Audited, Base):
    """One part swept over lift in a session: A (stock) or B (the product), with the section its velocity is taken in."""

    __tablename__ = "trace"
    __table_args__ = (
        UniqueConstraint("session_id", "label"),
        CheckConstraint("label in ('A', 'B')", name="label"),
    )
    audit_noun = "trace"

    session_id: Mapped[int] = mapped_column(ForeignKey("bench_session.id"), index=True)
    label: Mapped[str]
    title: Mapped[str]
    section_id: Mapped[int | None] = mapped_column(ForeignKey("element.id"))
    session: Mapped[BenchSession] = relationship(back_populates="traces")
    section: Mapped[Element | None] = relationship(lazy="joined")
    readings: Mapped[list[Reading]] = relationship(back_populates="trace", order_by="Reading.id")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.label} {self.title}"


class Reading(Audited, Base):
    """One captured point, as read. Append-only: a wrong one is superseded or excluded by a mark."""

    __tablename__ = "reading"
    __table_args__ = (
        CheckConstraint("lift >= 0 and pressure > 0", name="positive"),
        CheckConstraint("percent is null or (percent >= 0 and percent <= 1)", name="percent"),
        CheckConstraint("direct_flow is null or direct_flow >= 0", name="direct_flow"),
        CheckConstraint("(direct_flow is null) <> (percent is null or range_id is null)", name="one_way"),
    )
    audit_noun = "reading"

    trace_id: Mapped[int] = mapped_column(ForeignKey("trace.id"), index=True)
    lift: Mapped[float] = mapped_column(comment="m")
    range_id: Mapped[int | None] = mapped_column(ForeignKey("bench_range.id"))
    percent: Mapped[float | None] = mapped_column(comment="share of one")
    direct_flow: Mapped[float | None] = mapped_column(comment="m3/s")
    pressure: Mapped[float] = mapped_column(comment="Pa, when it was read")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))

    trace: Mapped[Trace] = relationship(back_populates="readings")
    range: Mapped[BenchRange | None] = relationship(lazy="joined")
    taken_by: Mapped[User] = relationship(lazy="joined")
    marks: Mapped[list[ReadingMark]] = relationship(foreign_keys="ReadingMark.reading_id", lazy="selectin")

    @property
    def counts(self) -> bool:
        """Whether no mark takes it out."""
        return not self.marks

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"at {self.lift * 1000:.2f} mm"


class ReadingMark(Audited, Base):
    """Takes a reading out, with the reason; superseding names the reading that stands in its place. Append-only."""

    __tablename__ = "reading_mark"
    __table_args__ = (CheckConstraint("length(trim(reason)) > 0", name="reason"),)
    audit_noun = "mark on a reading"

    reading_id: Mapped[int] = mapped_column(ForeignKey("reading.id"), index=True)
    replaced_by_id: Mapped[int | None] = mapped_column(ForeignKey("reading.id"))
    reason: Mapped[str]
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.reason
