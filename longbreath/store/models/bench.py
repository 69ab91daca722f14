"""Flow benches with their plate checks, sessions, fixtures, traces and readings. Readings are append-only."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.path import Element
from longbreath.store.models.people import User


class Bench(Audited, Versioned, Base):
    """A flow bench: what its meter is, what its instruments resolve, how well it repeats, where its device answers."""

    __tablename__ = "bench"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("meter in ('range', 'orifice', 'direct')", name="meter"),
        CheckConstraint("temperature_rule in ('none', 'temperature', 'state', 'volume')", name="temperature_rule"),
        CheckConstraint("repeatability >= 0 and check_days > 0 and leak_limit > 0", name="card"),
    )
    audit_noun = "bench"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    meter: Mapped[str] = mapped_column(default="range", comment="range, orifice or direct")
    percent_step: Mapped[float] = mapped_column(comment="smallest step of the percentage, share of one")
    pressure_step: Mapped[float] = mapped_column(comment="Pa, smallest step of the test pressure")
    flow_step: Mapped[float] = mapped_column(default=0.0, comment="m3/s, smallest step of a direct flow")
    drop_step: Mapped[float] = mapped_column(default=0.0, comment="Pa, smallest step of the drop across a plate")
    pipe_diameter: Mapped[float | None] = mapped_column(comment="m, inside, of an orifice meter")
    taps: Mapped[str] = mapped_column(default="corner")
    temperature_rule: Mapped[str] = mapped_column(default="none")
    repeatability: Mapped[float] = mapped_column(default=0.0, comment="standard deviation, share of the flow")
    repeatability_source: Mapped[str] = mapped_column(default="")
    leak_limit: Mapped[float] = mapped_column(default=0.0010, comment="m3/s at the test pressure")
    check_days: Mapped[int] = mapped_column(default=30, comment="days from one plate check to the next")
    device_url: Mapped[str] = mapped_column(default="", comment="serial port or socket:// of the live bench")
    ranges: Mapped[list[BenchRange]] = relationship(back_populates="bench", order_by="BenchRange.full_scale")
    calibrations: Mapped[list[Calibration]] = relationship(back_populates="bench", order_by="Calibration.held_on")


class BenchRange(Audited, Base):
    """One range of a bench with its full-scale flow; of an orifice meter, one plate."""

    __tablename__ = "bench_range"
    __table_args__ = (
        UniqueConstraint("bench_id", "label"),
        CheckConstraint("full_scale > 0", name="full_scale"),
        CheckConstraint("plate_diameter is null or plate_diameter > 0", name="plate_diameter"),
    )
    audit_noun = "range"
    audit_shared = True

    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"))
    label: Mapped[str]
    full_scale: Mapped[float] = mapped_column(comment="m3/s")
    plate_diameter: Mapped[float | None] = mapped_column(comment="m, bore of an orifice plate")
    bench: Mapped[Bench] = relationship(back_populates="ranges")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.label


class Calibration(Audited, Base):
    """A check of a bench against a plate of known flow. Append-only."""

    __tablename__ = "calibration"
    __table_args__ = (
        CheckConstraint("plate_flow > 0 and read_flow > 0 and plate_uncertainty >= 0", name="positive"),
        CheckConstraint("length(trim(plate)) > 0", name="plate"),
    )
    audit_noun = "plate check"
    audit_shared = True

    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"), index=True)
    held_on: Mapped[date]
    plate: Mapped[str] = mapped_column(comment="which plate")
    plate_flow: Mapped[float] = mapped_column(comment="m3/s, known, at the test pressure")
    plate_uncertainty: Mapped[float] = mapped_column(comment="expanded, share of the flow")
    read_flow: Mapped[float] = mapped_column(comment="m3/s, read here at that pressure")
    made_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    bench: Mapped[Bench] = relationship(back_populates="calibrations")
    made_by: Mapped[User] = relationship(lazy="joined")

    @property
    def deviation(self) -> float:
        """Read over known, less one."""
        return self.read_flow / self.plate_flow - 1.0

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"with {self.plate}"


class BenchSession(Audited, Versioned, Base):
    """One set-up of a day: test pressure, air, and the leak reading that goes with it."""

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
    meter_temperature: Mapped[float | None] = mapped_column(comment="K, air before the meter")
    leak_range_id: Mapped[int | None] = mapped_column(ForeignKey("bench_range.id"))
    leak_percent: Mapped[float | None] = mapped_column(comment="share of one")
    leak_flow: Mapped[float | None] = mapped_column(comment="m3/s, where it was read as a flow")
    leak_pressure: Mapped[float | None] = mapped_column(comment="Pa")

    bench: Mapped[Bench] = relationship(lazy="joined")
    leak_range: Mapped[BenchRange | None] = relationship(lazy="joined")
    traces: Mapped[list[Trace]] = relationship(back_populates="session", order_by="Trace.id")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.held_on:%d %b %Y}"


class Fixture(Audited, Versioned, Base):
    """What parts sat on: adapter, mouth, outlet, valve gear, port, direction. It decides what may be compared."""

    __tablename__ = "fixture"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("direction in ('intake', 'exhaust')", name="direction"),
        CheckConstraint("valves is null or valves > 0", name="valves"),
    )
    audit_noun = "fixture"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    direction: Mapped[str] = mapped_column(default="intake")
    port: Mapped[str] = mapped_column(comment="which port or runner")
    mouth: Mapped[str] = mapped_column(comment="radius plate, clay, bellmouth, nothing …")
    outlet: Mapped[str] = mapped_column(default="", comment="pipe stub … or nothing")
    bore: Mapped[float | None] = mapped_column(comment="m, bore adapter")
    valves: Mapped[int | None]
    valve_diameter: Mapped[float | None] = mapped_column(comment="m, head")
    throat_diameter: Mapped[float | None] = mapped_column(comment="m")
    stem_diameter: Mapped[float | None] = mapped_column(comment="m")
    note: Mapped[str] = mapped_column(default="")

    @property
    def _valve_words(self) -> str:
        if not self.valves or not self.valve_diameter:
            return ""
        return f"{self.valves} valve{'s' if self.valves > 1 else ''} of {self.valve_diameter * 1000:.1f} mm"

    @property
    def words(self) -> str:
        """The fixture in one line, in millimetres."""
        parts = [
            f"{self.bore * 1000:.1f} mm bore adapter" if self.bore else "",
            f"{self.mouth} at the mouth" if self.mouth else "",
            f"{self.outlet} at the outlet" if self.outlet else "",
            self._valve_words,
            self.port,
            self.note,
        ]
        return ", ".join(part for part in parts if part)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.words


class Trace(Audited, Versioned, Base):
    """One part swept over lift, or read once as a fixed part: A (stock), B (the product), or neither (the head alone)."""

    __tablename__ = "trace"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (CheckConstraint("kind in ('sweep', 'fixed')", name="kind"),)
    audit_noun = "trace"

    session_id: Mapped[int] = mapped_column(ForeignKey("bench_session.id"), index=True)
    label: Mapped[str]
    title: Mapped[str]
    kind: Mapped[str] = mapped_column(default="sweep", comment="sweep over lift, or a fixed part read once")
    runner: Mapped[str] = mapped_column(default="", comment="which runner of a fixed part")
    stack: Mapped[str] = mapped_column(default="", comment="pieces in flow order, joined by +")
    ladder: Mapped[list[Any]] = mapped_column(default=list, comment="planned lifts, m")
    fixture_id: Mapped[int] = mapped_column(ForeignKey("fixture.id"))
    section_id: Mapped[int | None] = mapped_column(ForeignKey("element.id"))
    session: Mapped[BenchSession] = relationship(back_populates="traces")
    fixture: Mapped[Fixture] = relationship(lazy="joined")
    section: Mapped[Element | None] = relationship(lazy="joined")
    readings: Mapped[list[Reading]] = relationship(back_populates="trace", order_by="Reading.id")

    @property
    def pieces(self) -> tuple[str, ...]:
        """What was bolted together, in flow order from the head."""
        return tuple(part.strip() for part in self.stack.split("+") if part.strip())

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.label} {self.title}".strip()


class BenchSheet(Audited, Base):
    """A file of bench readings, kept as received. Append-only."""

    __tablename__ = "bench_sheet"
    audit_noun = "bench sheet"
    audit_silent = ("content",)

    session_id: Mapped[int] = mapped_column(ForeignKey("bench_session.id"), index=True)
    filename: Mapped[str]
    content: Mapped[bytes]
    sha256: Mapped[str]
    received_at: Mapped[datetime] = mapped_column(default=now)
    received_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    session: Mapped[BenchSession] = relationship(lazy="joined")
    readings: Mapped[list[Reading]] = relationship(back_populates="sheet", order_by="Reading.id")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.filename


class Reading(Audited, Base):
    """One captured point, as read. Append-only: a wrong one is taken back or excluded by a mark; repeats are averaged."""

    __tablename__ = "reading"
    __table_args__ = (
        CheckConstraint("lift >= 0 and pressure > 0", name="positive"),
        CheckConstraint("percent is null or (percent >= 0 and percent <= 1)", name="percent"),
        CheckConstraint("direct_flow is null or direct_flow >= 0", name="direct_flow"),
        CheckConstraint("meter_drop is null or meter_drop >= 0", name="meter_drop"),
        CheckConstraint("num_nonnulls(percent, direct_flow, meter_drop) = 1", name="one_way"),
        CheckConstraint("direct_flow is not null or range_id is not null", name="range"),
        CheckConstraint("source in ('hand', 'bench', 'sheet')", name="source"),
    )
    audit_noun = "reading"

    trace_id: Mapped[int] = mapped_column(ForeignKey("trace.id"), index=True)
    lift: Mapped[float] = mapped_column(comment="m; 0 for a fixed part")
    range_id: Mapped[int | None] = mapped_column(ForeignKey("bench_range.id"))
    percent: Mapped[float | None] = mapped_column(comment="share of one")
    direct_flow: Mapped[float | None] = mapped_column(comment="m3/s")
    meter_drop: Mapped[float | None] = mapped_column(comment="Pa, across an orifice plate")
    pressure: Mapped[float] = mapped_column(comment="Pa, when it was read")
    inlet_temperature: Mapped[float | None] = mapped_column(comment="K, where the bench sends it")
    meter_temperature: Mapped[float | None] = mapped_column(comment="K, where the bench sends it")
    spread: Mapped[float] = mapped_column(default=0.0, comment="standard deviation in the settle window, share")
    samples: Mapped[int] = mapped_column(default=1)
    flags: Mapped[list[Any]] = mapped_column(default=list, comment="what spoke against it when it was taken")
    source: Mapped[str] = mapped_column(default="hand", comment="hand, bench or sheet")
    sheet_id: Mapped[int | None] = mapped_column(ForeignKey("bench_sheet.id"))
    capture_key: Mapped[str | None] = mapped_column(unique=True, comment="so that one press is one reading")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))

    trace: Mapped[Trace] = relationship(back_populates="readings")
    range: Mapped[BenchRange | None] = relationship(lazy="joined")
    sheet: Mapped[BenchSheet | None] = relationship(back_populates="readings")
    taken_by: Mapped[User] = relationship(lazy="joined")
    marks: Mapped[list[ReadingMark]] = relationship(foreign_keys="ReadingMark.reading_id", lazy="selectin")

    @property
    def version(self) -> int:
        """How many marks it has: two people who exclude at once are told."""
        return len(self.marks)

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
