"""Measured elements of the air path."""

from __future__ import annotations

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from longbreath.store.base import Audited, Base, Versioned


class Element(Audited, Versioned, Base):
    """One element of the path, from mouth to tail: what it is, its sizes, and how they were measured."""

    __tablename__ = "element"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("side in ('intake', 'engine', 'exhaust')", name="side"),
        CheckConstraint("belongs_to in ('A', 'B', 'both')", name="belongs_to"),
        CheckConstraint("shape in ('round', 'rounded_rectangle')", name="shape"),
        CheckConstraint("length > 0", name="length"),
        CheckConstraint("provenance in ('measured', 'nominal')", name="provenance"),
    )
    audit_noun = "element"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    position: Mapped[int] = mapped_column(comment="order from the mouth")
    belongs_to: Mapped[str] = mapped_column(default="both", comment="A, B or both")
    side: Mapped[str]
    kind: Mapped[str] = mapped_column(comment="filter, tube, plenum, runner, primary …")
    name: Mapped[str]
    length: Mapped[float] = mapped_column(comment="m, along the flow")
    shape: Mapped[str] = mapped_column(default="round")
    diameter: Mapped[float | None] = mapped_column(comment="m, inside, at entry")
    width: Mapped[float | None] = mapped_column(comment="m, inside")
    height: Mapped[float | None] = mapped_column(comment="m, inside")
    corner_radius: Mapped[float | None] = mapped_column(comment="m")
    volume: Mapped[float | None] = mapped_column(comment="m3, for plenums and boxes")
    tool: Mapped[str] = mapped_column(default="")
    precision: Mapped[float | None] = mapped_column(comment="m, ± of the tool")
    volume_precision: Mapped[float | None] = mapped_column(comment="m3, ± of the volume")
    provenance: Mapped[str] = mapped_column(default="measured")
