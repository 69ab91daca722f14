"""Velocity maps of port faces, and porting jobs with their bouts. Points and bouts are append-only."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.people import User


class Traverse(Audited, Versioned, Base):
    """One face walked over with a pitot: its outline, grid, and the air and pressure it was read at."""

    __tablename__ = "traverse"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("shape in ('round', 'rounded_rectangle', 'outline')", name="shape"),
        CheckConstraint("columns between 1 and 15 and rows between 1 and 15", name="grid"),
    )
    audit_noun = "velocity map"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    title: Mapped[str]
    held_on: Mapped[date]
    lift: Mapped[float] = mapped_column(default=0.0, comment="m")
    test_pressure: Mapped[float] = mapped_column(comment="Pa")
    temperature: Mapped[float] = mapped_column(comment="K")
    pressure: Mapped[float] = mapped_column(comment="Pa, station")
    shape: Mapped[str]
    outline: Mapped[list[Any]] = mapped_column(comment="m, pairs of x and y, centred on nought")
    columns: Mapped[int]
    rows: Mapped[int]
    points: Mapped[list[TraversePoint]] = relationship(back_populates="traverse", order_by="TraversePoint.id")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.title


class TraversePoint(Audited, Base):
    """One pitot reading. Append-only: the newest at a place counts."""

    __tablename__ = "traverse_point"
    __table_args__ = (CheckConstraint("velocity_pressure >= 0", name="velocity_pressure"),)
    audit_noun = "pitot reading"

    traverse_id: Mapped[int] = mapped_column(ForeignKey("traverse.id"), index=True)
    x: Mapped[float] = mapped_column(comment="m, from the middle, to the right")
    y: Mapped[float] = mapped_column(comment="m, from the middle, up")
    velocity_pressure: Mapped[float] = mapped_column(comment="Pa")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    traverse: Mapped[Traverse] = relationship(back_populates="points")
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"at {self.x * 1000:.1f} / {self.y * 1000:.1f} mm"


class PortingJob(Audited, Versioned, Base):
    """A port that is worked on by hand, towards a target at one lift."""

    __tablename__ = "porting_job"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("target_flow > start_flow and start_flow > 0", name="target"),
        CheckConstraint("hours_allowed > 0 and wall_limit >= 0", name="limits"),
    )
    audit_noun = "porting job"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    name: Mapped[str]
    lift: Mapped[float] = mapped_column(default=0.0, comment="m, at which flow is judged")
    test_pressure: Mapped[float] = mapped_column(comment="Pa")
    start_flow: Mapped[float] = mapped_column(comment="m3/s, before the first bout")
    target_flow: Mapped[float] = mapped_column(comment="m3/s")
    flow_uncertainty: Mapped[float] = mapped_column(default=0.0, comment="m3/s, expanded, of one flow here")
    hours_allowed: Mapped[float] = mapped_column(comment="s")
    wall_limit: Mapped[float] = mapped_column(comment="m, wall that must stay")
    bouts: Mapped[list[PortingBout]] = relationship(back_populates="job", order_by="PortingBout.id")


class PortingBout(Audited, Base):
    """One bout with the grinder: hours, flow after it, wall left at named points. Append-only."""

    __tablename__ = "porting_bout"
    __table_args__ = (CheckConstraint("hours > 0 and flow > 0", name="positive"),)
    audit_noun = "porting bout"
    audit_silent = ("walls",)

    job_id: Mapped[int] = mapped_column(ForeignKey("porting_job.id"), index=True)
    held_on: Mapped[date]
    hours: Mapped[float] = mapped_column(comment="s")
    flow: Mapped[float] = mapped_column(comment="m3/s at the test pressure")
    walls: Mapped[list[Any]] = mapped_column(comment="pairs of point and thickness in m")
    done: Mapped[str] = mapped_column(comment="what was cut")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    job: Mapped[PortingJob] = relationship(back_populates="bouts")
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def least_wall(self) -> float | None:
        """The thinnest wall measured after it [m]."""
        return min((float(thickness) for _, thickness in self.walls), default=None)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.done
