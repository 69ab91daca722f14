"""Measured elements of the air path, and the readings of their sizes. Readings are append-only."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned, now
from longbreath.store.models.people import User


class Element(Audited, Versioned, Base):
    """One element of the path, from mouth to tail: what it is, its sizes, and how they were measured."""

    __tablename__ = "element"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("side in ('intake', 'engine', 'exhaust')", name="side"),
        CheckConstraint("shape in ('round', 'oval', 'squashed', 'rounded_rectangle', 'd', 'outline')", name="shape"),
        CheckConstraint("given_as in ('inside', 'outside')", name="given_as"),
        CheckConstraint("wall_surface in ('drawn', 'cast', 'smooth')", name="wall_surface"),
        CheckConstraint("length > 0 and branches > 0", name="length"),
        CheckConstraint("provenance in ('measured', 'nominal')", name="provenance"),
        CheckConstraint("(loss_drop is null) = (loss_flow is null)", name="loss"),
        CheckConstraint("open_share > 0 and open_share <= 1", name="open_share"),
    )
    audit_noun = "element"
    audit_silent = ("version", "outline")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    position: Mapped[int] = mapped_column(comment="order from the mouth")
    belongs_to: Mapped[str] = mapped_column(default="both", comment="letter of a variant, or both")
    side: Mapped[str]
    kind: Mapped[str] = mapped_column(comment="filter, tube, plenum, runner, primary …")
    name: Mapped[str]
    length: Mapped[float] = mapped_column(comment="m, along the flow")
    branches: Mapped[int] = mapped_column(default=1, comment="how many equal ones lie beside each other")
    shape: Mapped[str] = mapped_column(default="round")
    given_as: Mapped[str] = mapped_column(default="inside", comment="of a round tube: inside, or outside and wall")
    diameter: Mapped[float | None] = mapped_column(comment="m, inside, at entry")
    outside_diameter: Mapped[float | None] = mapped_column(comment="m, before squashing")
    wall: Mapped[float | None] = mapped_column(comment="m, thickness")
    minor_outside: Mapped[float | None] = mapped_column(comment="m, outside height after squashing")
    width: Mapped[float | None] = mapped_column(comment="m, inside")
    height: Mapped[float | None] = mapped_column(comment="m, inside")
    corner_radius: Mapped[float | None] = mapped_column(comment="m")
    outline: Mapped[list[Any] | None] = mapped_column(comment="m, pairs of x and y")
    exit_diameter: Mapped[float | None] = mapped_column(
        comment="m, equal-area inside diameter at exit, where it differs"
    )
    wall_surface: Mapped[str] = mapped_column(default="drawn", comment="drawn, cast or smooth")
    bend_angle: Mapped[float | None] = mapped_column(comment="rad")
    bend_radius: Mapped[float | None] = mapped_column(comment="m, of the centre line; none for a mitre")
    mouth_radius: Mapped[float | None] = mapped_column(comment="m, of the edge at entry")
    burr: Mapped[float | None] = mapped_column(comment="m, left standing inside at entry")
    proud: Mapped[float | None] = mapped_column(comment="m, gasket standing into the flow at entry")
    loss_drop: Mapped[float | None] = mapped_column(comment="Pa, measured across it")
    loss_flow: Mapped[float | None] = mapped_column(comment="m3/s, at which it was measured")
    open_share: Mapped[float | None] = mapped_column(comment="share of its section that a flap or plate leaves open")
    pressure_ratio: Mapped[float | None] = mapped_column(comment="of a compressor or turbine")
    outlet_temperature: Mapped[float | None] = mapped_column(comment="K, measured after it")
    volume: Mapped[float | None] = mapped_column(comment="m3, for plenums and boxes, without what sticks in")
    stack_height: Mapped[float | None] = mapped_column(comment="m, how far the runners stick into it")
    stack_outside: Mapped[float | None] = mapped_column(comment="m, outside diameter of what sticks in")
    spacer_area: Mapped[float | None] = mapped_column(comment="m2, inside area of a plenum spacer")
    spacer_height: Mapped[float | None] = mapped_column(comment="m")
    tool: Mapped[str] = mapped_column(default="")
    precision: Mapped[float | None] = mapped_column(comment="m, ± of the tool")
    volume_precision: Mapped[float | None] = mapped_column(comment="m3, ± of the volume")
    provenance: Mapped[str] = mapped_column(default="measured")
    nominal_sizes: Mapped[list[Any]] = mapped_column(
        default=list, comment="names of sizes that are nominal or remembered"
    )
    out_reason: Mapped[str] = mapped_column(default="", comment="why it is not part of the path any more; empty: it is")
    readings: Mapped[list[SizeReading]] = relationship(back_populates="element", order_by="SizeReading.id")


class SizeReading(Audited, Base):
    """One reading of one size with a tool. Append-only: a set of readings begins anew with each `batch`."""

    __tablename__ = "size_reading"
    __table_args__ = (CheckConstraint("value > 0 and precision >= 0", name="value"),)
    audit_noun = "reading"

    element_id: Mapped[int] = mapped_column(ForeignKey("element.id"), index=True)
    size: Mapped[str] = mapped_column(comment="which size of the element")
    batch: Mapped[int] = mapped_column(comment="readings taken together; the newest batch counts")
    value: Mapped[float] = mapped_column(comment="m")
    place: Mapped[str] = mapped_column(default="", comment="where it was taken, such as 60°")
    tool: Mapped[str]
    precision: Mapped[float] = mapped_column(comment="m, ± of the tool")
    taken_at: Mapped[datetime] = mapped_column(default=now)
    taken_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    element: Mapped[Element] = relationship(back_populates="readings")
    taken_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.size.replace('_', ' ')}, {self.value * 1000:.3f} mm"
