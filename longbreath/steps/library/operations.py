"""What changes the library."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.errors import InputError
from longbreath.store.base import Base
from longbreath.store.models import Bench, BenchRange, Dyno, Product, Revision, Vehicle

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


def add_bench(db: Session, label: str, full_scale: float, **values: Any) -> Bench:
    """Add a flow bench with its first range."""
    bench = Bench(**values)
    _add(db, bench, "name", "There is a bench of this name already.")
    add_range(db, bench, label, full_scale)
    return bench


def add_range(db: Session, bench: Bench, label: str, full_scale: float) -> BenchRange:
    """Add a range to a bench."""
    bench_range = BenchRange(bench_id=bench.id, label=label, full_scale=full_scale)
    _add(db, bench_range, "label", "This bench has a range of that name already.")
    return bench_range


def add_dyno(db: Session, **values: Any) -> Dyno:
    """Add a dyno."""
    dyno = Dyno(**values)
    _add(db, dyno, "name", "There is a dyno of this name already.")
    return dyno
