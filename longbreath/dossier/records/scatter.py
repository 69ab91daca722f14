"""A dyno's scatter on a day: what its card says, until its own records say more."""

from __future__ import annotations

from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.compare.scatter import Scatter
from longbreath.store.models import Dyno, DynoScatter


def newest(db: Session, dyno: Dyno, day: date) -> DynoScatter | None:
    """The scatter from its records that holds for a day, or None."""
    query = select(DynoScatter).where(DynoScatter.dyno_id == dyno.id, DynoScatter.from_day <= day)
    return db.scalar(query.order_by(DynoScatter.from_day.desc(), DynoScatter.id.desc()).limit(1))


def scatter_of(db: Session, dyno: Dyno, day: date) -> Scatter:
    """The scatter of a dyno on a day: from its records if they were fitted by then, else what its card says, pull to pull alone."""
    found = newest(db, dyno, day)
    if found is None:
        origin, fitting = f"{dyno.name}: {dyno.repeatability_source}", dyno.fitting_repeatability
        return Scatter(dyno.repeatability, fitting=fitting, fitting_df=float(dyno.fitting_freedom), origin=origin)
    told = f"{found.working['pulls']} pulls in {found.working['sets']} sets on {found.working['visits']} days"
    origin = f"{dyno.name}: {told}, fitted for {found.from_day:%d %b %Y} on"
    bands = tuple((name, float(value)) for name, value in found.working.get("bands", {}).items())
    return Scatter(found.pull, found.pull_df, found.fitting, found.fitting_df, found.day, found.day_df, origin, bands)
