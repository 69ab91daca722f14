"""Vehicles, products with their revisions, and applications (one product on one vehicle)."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.core.engine.demand import STROKES
from longbreath.store.base import Audited, Base, Versioned, now


class Vehicle(Audited, Versioned, Base):
    """One engine in one chassis. Bands of use: low, middle and top begin at band_low, band_middle, band_top."""

    __tablename__ = "vehicle"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("cycle in ('four-stroke', 'two-stroke', 'rotary')", name="cycle"),
        CheckConstraint(
            "cylinders > 0 and case when cycle = 'rotary' then chamber_volume > 0 and bore is null and stroke is null"
            " else bore > 0 and stroke > 0 and chamber_volume is null end",
            name="geometry",
        ),
        CheckConstraint("band_low < band_middle and band_middle < band_top and band_top < band_end", name="bands"),
    )
    audit_noun = "vehicle"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    years: Mapped[str] = mapped_column(default="")
    cycle: Mapped[str] = mapped_column(default="four-stroke", comment="four-stroke, two-stroke or rotary")
    bore: Mapped[float | None] = mapped_column(comment="m; none of a rotary")
    stroke: Mapped[float | None] = mapped_column(comment="m; none of a rotary")
    chamber_volume: Mapped[float | None] = mapped_column(comment="m3, displacement of one chamber of a rotary")
    rod: Mapped[float | None] = mapped_column(comment="m, between centres")
    case_volume: Mapped[float | None] = mapped_column(comment="m3, of a two-stroke crankcase, piston down")
    cylinders: Mapped[int]
    compression_ratio: Mapped[float]
    intake_duration: Mapped[float | None] = mapped_column(comment="rad of crank; none until it is measured")
    induction: Mapped[str] = mapped_column(default="naturally aspirated")
    fuel: Mapped[str] = mapped_column(default="petrol")
    use: Mapped[str] = mapped_column(default="road")
    market: Mapped[str] = mapped_column(default="")
    redline: Mapped[float] = mapped_column(comment="rad/s")
    band_low: Mapped[float] = mapped_column(comment="rad/s")
    band_middle: Mapped[float] = mapped_column(comment="rad/s")
    band_top: Mapped[float] = mapped_column(comment="rad/s")
    band_end: Mapped[float] = mapped_column(comment="rad/s")

    @property
    def strokes(self) -> int:
        """Strokes a cycle; a rotor's chamber draws once a turn of the shaft, as a two-stroke does."""
        return STROKES[self.cycle]


class Product(Audited, Versioned, Base):
    """A part number; a stock part is a product as well."""

    __tablename__ = "product"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("side in ('intake', 'exhaust')", name="side"),
        CheckConstraint("shelf in ('', 'shelf', 'order', 'wanted')", name="shelf"),
        CheckConstraint("price >= 0", name="price"),
    )
    audit_noun = "product"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    family: Mapped[str]
    side: Mapped[str]
    is_stock: Mapped[bool] = mapped_column(default=False)
    price: Mapped[float | None] = mapped_column(comment="retail, in the money of the house")
    price_on: Mapped[date | None] = mapped_column(comment="day of the price")
    shelf: Mapped[str] = mapped_column(default="", comment="shelf, order, wanted (not owned yet), or not known")
    revisions: Mapped[list[Revision]] = relationship(back_populates="product", order_by="Revision.id")


class Revision(Audited, Base):
    """A prototype or production version of a product, and the state it was tested in."""

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("product_id", "name"),)
    audit_noun = "revision"
    audit_shared = True

    product_id: Mapped[int] = mapped_column(ForeignKey("product.id"))
    name: Mapped[str]
    state: Mapped[str] = mapped_column(default="", comment="as cast, hand-finished, machined, coated …")
    product: Mapped[Product] = relationship(back_populates="revisions", lazy="joined", innerjoin=True)

    @property
    def called(self) -> str:
        """Its name, told to be one: "rev C" as it is, "1" as "revision 1"."""
        return self.name if any(c.isalpha() for c in self.name) and len(self.name) > 1 else f"revision {self.name}"

    @property
    def title(self) -> str:
        """Product and revision in one text."""
        return self.product.name if self.product.is_stock else f"{self.product.name} {self.called}"


class Application(Audited, Versioned, Base):
    """One product revision on one vehicle, measured against a stock revision: the dossier everything hangs on."""

    __tablename__ = "application"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        UniqueConstraint("vehicle_id", "revision_id"),
        CheckConstraint("approval in ('unknown', 'closed_course', 'approved', 'not_required')", name="approval"),
    )
    audit_noun = "application"

    vehicle_id: Mapped[int] = mapped_column(ForeignKey("vehicle.id"))
    revision_id: Mapped[int] = mapped_column(ForeignKey("revision.id"))
    stock_revision_id: Mapped[int] = mapped_column(ForeignKey("revision.id"))
    approval: Mapped[str] = mapped_column(default="unknown", comment="status for road use")
    approval_note: Mapped[str] = mapped_column(default="", comment="certificate or market")
    approval_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"), comment="who stated it")
    created_at: Mapped[datetime] = mapped_column(default=now)

    vehicle: Mapped[Vehicle] = relationship(lazy="joined")
    revision: Mapped[Revision] = relationship(foreign_keys=revision_id, lazy="joined")
    stock_revision: Mapped[Revision] = relationship(foreign_keys=stock_revision_id, lazy="joined")

    @property
    def product(self) -> Product:
        """The product under test."""
        return self.revision.product

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"{self.revision.title} on {self.vehicle.name}"
