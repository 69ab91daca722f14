"""Reads of the library."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session, selectinload

from longbreath.store.base import Base
from longbreath.store.models import AuditEntry, Bench, Dyno, Product, Vehicle

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
