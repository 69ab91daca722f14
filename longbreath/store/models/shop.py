"""What the shop keeps beside parts and vehicles: cells, test engines, tunes, fuel, sensors, samples, checklists, others' tables."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.library import Revision, Vehicle


class Cell(Audited, Versioned, Base):
    """A room with a dyno: which hours of which days it is open, and what an hour of it costs."""

    __tablename__ = "cell"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (CheckConstraint("opens < closes", name="hours"), CheckConstraint("rate >= 0", name="rate"))
    audit_noun = "cell"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    opens: Mapped[int] = mapped_column(default=480, comment="minutes after midnight, local")
    closes: Mapped[int] = mapped_column(default=1020, comment="minutes after midnight, local")
    days: Mapped[str] = mapped_column(default="1234567", comment="days of the week that it is open on, 1 Monday")
    rate: Mapped[float] = mapped_column(default=0.0, comment="money of the house an hour")
    note: Mapped[str] = mapped_column(default="")


class TestEngine(Audited, Versioned, Base):
    """A test engine as a record of its own: what it is made of and how it turns. It moves between vehicles."""

    __tablename__ = "test_engine"
    __test__ = False
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "test engine"
    audit_shared = True

    serial: Mapped[str] = mapped_column(unique=True)
    what: Mapped[str] = mapped_column(default="", comment="which engine it is")
    repairs: Mapped[str] = mapped_column(default="", comment="repairs of the block")
    ring_gaps: Mapped[str] = mapped_column(default="")
    gaskets: Mapped[str] = mapped_column(default="")
    breakaway: Mapped[float | None] = mapped_column(comment="N m, torque that starts it turning")
    running: Mapped[float | None] = mapped_column(comment="N m, torque that keeps it turning")
    note: Mapped[str] = mapped_column(default="")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.serial


class EngineStay(Audited, Base):
    """From which day a test engine stands in a vehicle; the next stay ends it. Append-only."""

    __tablename__ = "engine_stay"
    audit_noun = "move of a test engine"
    audit_shared = True

    engine_id: Mapped[int] = mapped_column(ForeignKey("test_engine.id"), index=True)
    vehicle_id: Mapped[int | None] = mapped_column(ForeignKey("vehicle.id"), comment="None: on the stand")
    since: Mapped[date]
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    engine: Mapped[TestEngine] = relationship(lazy="joined")
    vehicle: Mapped[Vehicle | None] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.engine.serial} to {self.vehicle.name if self.vehicle else 'the stand'}"


class TuneFile(Audited, Versioned, Base):
    """A tune: who wrote it, the hash of its file, and which sensor, injectors and runner valves it was made for."""

    __tablename__ = "tune_file"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "tune"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True, comment="its identity")
    author: Mapped[str]
    sha256: Mapped[str] = mapped_column(default="", comment="of the file; the file itself is not kept")
    sensors: Mapped[str] = mapped_column(default="", comment="pressure sensor it expects")
    injectors: Mapped[str] = mapped_column(default="", comment="injectors it expects")
    runner_valves: Mapped[str] = mapped_column(default="", comment="runner valves it drives")
    mixture_target: Mapped[float | None] = mapped_column(comment="lambda under full load")
    note: Mapped[str] = mapped_column(default="")


class FuelBatch(Audited, Versioned, Base):
    """A delivery of fuel."""

    __tablename__ = "fuel_batch"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "fuel batch"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    grade: Mapped[str]
    delivered_on: Mapped[date]
    density: Mapped[float | None] = mapped_column(comment="kg/m3")
    note: Mapped[str] = mapped_column(default="")


class Sensor(Audited, Versioned, Base):
    """A sensor with its range and the day its calibration lapses. A pressure range is absolute or against the air around."""

    __tablename__ = "sensor"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (CheckConstraint("low < high", name="range"),)
    audit_noun = "sensor"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    measures: Mapped[str] = mapped_column(comment="channel it feeds")
    kind: Mapped[str] = mapped_column(default="pressure", comment="kind of its range")
    low: Mapped[float] = mapped_column(comment="SI")
    high: Mapped[float] = mapped_column(comment="SI")
    is_absolute: Mapped[bool] = mapped_column(default=True)
    due_on: Mapped[date | None] = mapped_column(comment="day its calibration lapses")
    note: Mapped[str] = mapped_column(default="")


class Sample(Audited, Versioned, Base):
    """One piece of a revision with its serial number: which one was tested."""

    __tablename__ = "sample"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (UniqueConstraint("revision_id", "serial"),)
    audit_noun = "sample"
    audit_shared = True

    revision_id: Mapped[int] = mapped_column(ForeignKey("revision.id"))
    serial: Mapped[str]
    place: Mapped[str] = mapped_column(default="", comment="where it lies")
    state: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(default="")
    revision: Mapped[Revision] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.revision.title}, no. {self.serial}"


class Checklist(Audited, Versioned, Base):
    """What the house ticks off before a part of a family is tested: one line each."""

    __tablename__ = "checklist"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "checklist"
    audit_shared = True

    family: Mapped[str] = mapped_column(unique=True, comment="family of part, or “every”")
    lines: Mapped[list[Any]]

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.family}"


class OutsideTable(Audited, Versioned, Base):
    """Somebody else's test as a table: useful, charted, never evidence and never a variant of a card."""

    __tablename__ = "outside_table"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (CheckConstraint("grade in ('supplier', 'published', 'hearsay')", name="grade"),)
    audit_noun = "outside table"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    source: Mapped[str] = mapped_column(comment="where it stands")
    grade: Mapped[str] = mapped_column(comment="supplier's test with data, published table, hearsay")
    test_bed: Mapped[str] = mapped_column(comment="on what it was tested")
    interest: Mapped[str] = mapped_column(comment="what the source gains by it")
    quantity: Mapped[str] = mapped_column(default="torque", comment="kind of its columns")
    columns: Mapped[list[Any]] = mapped_column(comment="names of the curves")
    rows: Mapped[list[Any]] = mapped_column(comment="speed [rad/s] and one value [SI] a curve")
