"""Reads of Plan."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.working import Figure
from longbreath.core.dyno import planning
from longbreath.store.models import Dyno

SET_SIZES = tuple(range(2, 9))


def in_all(set_size: int) -> int:
    """Pulls of a whole A-B-A card with that many in each set."""
    return 3 * set_size


def dynos(db: Session) -> list[Dyno]:
    """All dynos by name."""
    return list(db.scalars(select(Dyno).order_by(Dyno.name)))


def provable(dyno: Dyno) -> dict[str, Figure]:
    """Smallest provable gain for each size of set, keyed "provable-3"."""
    origin = f"{dyno.name}: {dyno.repeatability_source}"
    return {f"provable-{n}": planning.provable(dyno.repeatability, n, origin) for n in SET_SIZES}


def set_size_for(figures: dict[str, Figure], effect: float) -> int | None:
    """Smallest set that proves an effect [N m], or None if even the largest does not."""
    return next((n for n in SET_SIZES if figures[f"provable-{n}"].value <= effect), None)
