"""Faces laid over each other, the fit register, degree-wheel sheets and the port ladder."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.people import User


class Face(Audited, Versioned, Base):
    """The face of one port: its outline, the wall around it, and how it was taken."""

    __tablename__ = "face"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (CheckConstraint("provenance in ('measured', 'nominal')", name="provenance"),)
    audit_noun = "face"
    audit_silent = ("version", "outline")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    name: Mapped[str]
    belongs_to: Mapped[str] = mapped_column(default="both")
    shape: Mapped[str]
    sizes: Mapped[dict[str, Any]] = mapped_column(comment="m, sizes it was made from; empty for a traced outline")
    outline: Mapped[list[Any]] = mapped_column(comment="m, pairs of x and y, centred on nought, y up")
    came_from: Mapped[str] = mapped_column(default="", comment="file or photo it was taken from")
    wall: Mapped[float | None] = mapped_column(comment="m, least wall around it")
    wall_limit: Mapped[float] = mapped_column(default=0.003, comment="m, wall that must stay")
    tool: Mapped[str] = mapped_column(default="")
    precision: Mapped[float | None] = mapped_column(comment="m")
    provenance: Mapped[str] = mapped_column(default="measured")

    @property
    def points(self) -> tuple[tuple[float, float], ...]:
        """The outline as pairs [m]."""
        return tuple((float(x), float(y)) for x, y in self.outline)


class FaceLay(Audited, Base):
    """Two faces as they were laid over each other on a day, and what was judged. Append-only."""

    __tablename__ = "face_lay"
    audit_noun = "match"
    audit_silent = ("plates",)

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    upstream_id: Mapped[int] = mapped_column(ForeignKey("face.id"))
    downstream_id: Mapped[int] = mapped_column(ForeignKey("face.id"))
    right: Mapped[float] = mapped_column(default=0.0, comment="m")
    up: Mapped[float] = mapped_column(default=0.0, comment="m")
    turn: Mapped[float] = mapped_column(default=0.0, comment="rad")
    overlap: Mapped[float] = mapped_column(comment="m2, shared area as judged")
    worst: Mapped[float] = mapped_column(comment="m, largest lip against the flow as judged")
    judgement: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    upstream: Mapped[Face] = relationship(foreign_keys=upstream_id, lazy="joined")
    downstream: Mapped[Face] = relationship(foreign_keys=downstream_id, lazy="joined")
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.upstream.name} to {self.downstream.name}: {self.judgement}"


class Fit(Audited, Versioned, Base):
    """Fitting one application: minutes, what comes off and is drained, wall left, and the checklist."""

    __tablename__ = "fit"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (CheckConstraint("minutes is null or minutes > 0", name="minutes"),)
    audit_noun = "fit"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), unique=True)
    minutes: Mapped[float | None] = mapped_column(comment="s, service time to fit it")
    minutes_from: Mapped[str] = mapped_column(default="", comment="who timed it, on what")
    drained: Mapped[str] = mapped_column(default="")
    removed: Mapped[str] = mapped_column(default="")
    wall: Mapped[float | None] = mapped_column(comment="m, least wall left on the part")
    wall_limit: Mapped[float | None] = mapped_column(comment="m, wall that must stay")
    done: Mapped[list[Any]] = mapped_column(default=list, comment="keys of the checklist")
    note: Mapped[str] = mapped_column(default="")


class FitSpot(Audited, Base):
    """One place where the part might touch something. Append-only: the newest look at a place counts."""

    __tablename__ = "fit_spot"
    __table_args__ = (CheckConstraint("state in ('clear', 'close', 'touches')", name="state"),)
    audit_noun = "fit check"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    place: Mapped[str]
    gap: Mapped[float | None] = mapped_column(comment="m")
    state: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.place}: {self.state}"


class WheelSheet(Audited, Base):
    """Degree-wheel readings of a day. Append-only: reading again makes a new sheet that takes the place of the old."""

    __tablename__ = "wheel_sheet"
    __table_args__ = (CheckConstraint("kind in ('poppet', 'disc', 'piston', 'rotary')", name="kind"),)
    audit_noun = "timing"
    audit_silent = ("readings", "totals", "tares", "window")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    label: Mapped[str] = mapped_column(default="", comment="letter of a variant, or nothing")
    title: Mapped[str]
    kind: Mapped[str]
    held_on: Mapped[date]
    readings: Mapped[dict[str, Any]] = mapped_column(comment="rad, as named on the wheel")
    totals: Mapped[dict[str, Any]] = mapped_column(comment="rad, noted totals by port")
    tares: Mapped[dict[str, Any]] = mapped_column(comment="rad, taken off for a worked port")
    window: Mapped[dict[str, Any]] = mapped_column(comment="SI, sizes for the time-area")
    stop_before: Mapped[float | None] = mapped_column(comment="rad, piston stop met before dead centre")
    stop_after: Mapped[float | None] = mapped_column(comment="rad")
    checking_lift: Mapped[float | None] = mapped_column(comment="m")
    says: Mapped[str] = mapped_column(default="", comment="what the maker calls it, and what is meant")
    note: Mapped[str] = mapped_column(default="")
    supersedes_id: Mapped[int | None] = mapped_column(ForeignKey("wheel_sheet.id"))
    why: Mapped[str] = mapped_column(default="", comment="why it was read again")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.title


class LadderRung(Audited, Versioned, Base):
    """One step of porting for the engine of an application, each value with where it comes from."""

    __tablename__ = "ladder_rung"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "rung"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    position: Mapped[int]
    name: Mapped[str]
    values: Mapped[dict[str, Any]] = mapped_column(comment="column → {value: SI or words, grade}")
