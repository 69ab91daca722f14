"""The library: vehicles, products with revisions, benches, dynos, and the log."""

from __future__ import annotations

import re
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.meter import Orifice
from longbreath.store.base import Base
from longbreath.store.models import (
    AuditEntry,
    Bench,
    BenchRange,
    Calibration,
    Dyno,
    Product,
    Revision,
    User,
    Vehicle,
)

LOG_PAGE = 40


LIST_LIMIT = 200


@dataclass(frozen=True)
class Shelf:
    """Everything in the library."""

    vehicles: list[Vehicle]
    products: list[Product]
    benches: list[Bench]
    dynos: list[Dyno]


def shelf(db: Session) -> Shelf:
    """Vehicles, products with revisions, benches with ranges, dynos, each by name."""
    return Shelf(
        list(db.scalars(select(Vehicle).order_by(Vehicle.name).limit(LIST_LIMIT))),
        list(
            db.scalars(
                select(Product).options(selectinload(Product.revisions)).order_by(Product.name).limit(LIST_LIMIT)
            )
        ),
        list(db.scalars(select(Bench).options(selectinload(Bench.ranges)).order_by(Bench.name))),
        list(db.scalars(select(Dyno).order_by(Dyno.name))),
    )


_UNITS = ("m", "m2", "m3", "m3/s", "Pa", "K", "rad/s", "rad", "N m")


def changes_in_words(entry: AuditEntry) -> str:
    """Old and new value of each changed column, with the unit it is stored in (SI, from the column's comment)."""
    columns = Base.metadata.tables[entry.entity].columns
    parts = []
    for key, (old, new) in entry.changes.items():
        comment = (columns[key].comment or "") if key in columns else ""
        unit = next(
            (u for u in sorted(_UNITS, key=len, reverse=True) if f"{comment} ".startswith((f"{u} ", f"{u},"))), ""
        )
        parts.append(f"{key.replace('_', ' ')}: {_plain(old)} → {_plain(new)} {unit}".strip())
    return "; ".join(parts)


def _plain(value: object) -> str:
    return "nothing" if value is None else f"{value:.6g}" if isinstance(value, float) else str(value)


def log_page(db: Session, page: int, application_id: int | None) -> tuple[list[AuditEntry], int]:
    """One page of the log, newest first, and how many pages there are."""
    query = select(AuditEntry)
    if application_id is not None:
        query = query.where(AuditEntry.application_id == application_id)
    total = db.scalar(select(func.count()).select_from(query.subquery())) or 0
    entries = db.scalars(query.order_by(AuditEntry.id.desc()).offset((page - 1) * LOG_PAGE).limit(LOG_PAGE))
    return list(entries), max(1, -(-total // LOG_PAGE))


BAND_ORDER = ("band_low", "band_middle", "band_top", "band_end")


def _add(db: Session, record: Base, field: str, sentence: str) -> None:
    """Add a record whose name must be new. Raises InputError beside `field` if it is taken."""
    try:
        with db.begin_nested():
            db.add(record)
            db.flush()
    except IntegrityError:
        raise InputError(sentence, field) from None


def check_bands(values: dict[str, Any]) -> None:
    """The bands of use must follow one another and end at or below the redline. Raises InputError."""
    for lower, upper in pairwise(BAND_ORDER):
        if values[lower] >= values[upper]:
            raise InputError("The bands must follow one another: each begins above the one before.", upper)
    if values["band_end"] > values["redline"] * 1.001:
        raise InputError("The top band cannot end above the redline.", "band_end")


def add_vehicle(db: Session, **values: Any) -> Vehicle:
    """Add a vehicle. Raises InputError for bands out of order or a name that is taken."""
    check_bands(values)
    vehicle = Vehicle(**values)
    _add(db, vehicle, "name", "There is a vehicle of this name already.")
    return vehicle


def change_vehicle(db: Session, vehicle: Vehicle, **values: Any) -> None:
    """Change a vehicle. Raises InputError for bands out of order."""
    check_bands(values)
    for name, value in values.items():
        setattr(vehicle, name, value)


def add_product(db: Session, revision: str, state: str, **values: Any) -> Revision:
    """Add a product with its first revision."""
    product = Product(**values)
    _add(db, product, "name", "There is a product of this name already.")
    return add_revision(db, product, revision, state)


def add_revision(db: Session, product: Product, name: str, state: str) -> Revision:
    """Add a revision of a product."""
    revision = Revision(product_id=product.id, name=name, state=state)
    _add(db, revision, "name", "This product has a revision of that name already.")
    return revision


def add_bench(
    db: Session, label: str, full_scale: float, plate_diameter: float | None = None, **values: Any
) -> Bench:
    """Add a flow bench with its first range. Raises InputError as `check_bench` and `add_range`."""
    check_bench(values)
    bench = Bench(**_card(values))
    _add(db, bench, "name", "There is a bench of this name already.")
    add_range(db, bench, label, full_scale, plate_diameter)
    return bench


def check_bench(values: dict[str, Any]) -> None:
    """The card of a bench must hold what its meter needs, and an address that can be one. Raises InputError."""
    if values.get("meter") == "orifice" and not values.get("pipe_diameter"):
        raise InputError("An orifice meter needs the inside diameter of its pipe.", "pipe_diameter")
    if values.get("repeatability") and not values.get("repeatability_source"):
        raise InputError("Say where the repeatability comes from.", "repeatability_source")
    url = values.get("device_url") or ""
    if url and not (url.startswith(("socket://", "/dev/")) or re.fullmatch(r"COM\d{1,3}", url)):
        raise InputError(
            "A live bench is a serial port such as /dev/ttyUSB0 or COM3, or socket://host:port.", "device_url"
        )


def _card(values: dict[str, Any]) -> dict[str, Any]:
    """The card with nought or nothing where a field was left empty."""
    numbers = ("flow_step", "drop_step", "repeatability")
    texts = ("repeatability_source", "device_url")
    return {k: (0.0 if k in numbers else "" if k in texts else v) if v is None else v for k, v in values.items()}


def change_bench(db: Session, bench: Bench, **values: Any) -> None:
    """Change a bench's card; figures of its sessions follow from it anew. Raises InputError as `check_bench`."""
    check_bench(values)
    taken = db.scalar(select(Bench.id).where(Bench.name == values["name"], Bench.id != bench.id))
    if taken is not None:
        raise InputError("There is a bench of this name already.", "name")
    for name, value in _card(values).items():
        setattr(bench, name, value)


def add_range(
    db: Session, bench: Bench, label: str, full_scale: float, plate_diameter: float | None = None
) -> BenchRange:
    """Add a range to a bench. Raises InputError for a plate that ISO 5167 does not hold for."""
    if bench.meter == "orifice":
        if plate_diameter is None:
            raise InputError("A range of an orifice meter needs the bore of its plate.", "plate_diameter")
        Orifice(plate_diameter, bench.pipe_diameter or 0.0, bench.taps)
    bench_range = BenchRange(bench_id=bench.id, label=label, full_scale=full_scale, plate_diameter=plate_diameter)
    _add(db, bench_range, "label", "This bench has a range of that name already.")
    return bench_range


def add_check(db: Session, bench: Bench, actor: User, **values: Any) -> Calibration:
    """Record a plate check. Raises InputError for one so far off that the plate or the reading is another's."""
    if not 0.5 < values["read_flow"] / values["plate_flow"] < 2.0:
        raise InputError(
            "This is off by half or more: another plate, another range, or another pressure?", "read_flow"
        )
    check = Calibration(bench_id=bench.id, made_by_id=actor.id, **values)
    db.add(check)
    check.bench, check.made_by = bench, actor
    db.flush()
    return check


def add_dyno(db: Session, **values: Any) -> Dyno:
    """Add a dyno."""
    dyno = Dyno(**values)
    _add(db, dyno, "name", "There is a dyno of this name already.")
    return dyno
