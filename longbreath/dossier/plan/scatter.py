"""A dyno's scatter: what its card says, until its own records say more; from the day they do, promise and verdict take that."""

from __future__ import annotations

import hashlib
from datetime import date
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare import components
from longbreath.core.compare.scatter import set_numbers
from longbreath.core.pull import pulls
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.records.sessions import factor_of, load_pulls, sweeps
from longbreath.store.models import Application, Dyno, DynoScatter, DynoSession, TestCard
from longbreath.store.unit_of_work import UnitOfWork


def _sessions(db: Session, dyno: Dyno, day: date) -> list[DynoSession]:
    query = (
        select(DynoSession)
        .join(TestCard, TestCard.id == DynoSession.card_id)
        .where(TestCard.dyno_id == dyno.id, DynoSession.held_on <= day)
        .order_by(DynoSession.held_on, DynoSession.id)
    )
    found = list(db.scalars(query))
    load_pulls(db, found)
    return found


def repeats_of(
    db: Session, dyno: Dyno, day: date, low: float = 0.0, high: float = float("inf")
) -> list[components.Repeat]:
    """Every valid pull on a dyno up to a day, as its mean torque over the band of use (or the part of it between speeds [rad/s])."""
    found = []
    for session in _sessions(db, dyno, day):
        application = db.get_one(Application, session.application_id)
        bands = bands_of(application.vehicle)
        grid = pulls.speed_grid(max(bands[0].low, low), min(bands[-1].high, high))
        curves, factor = sweeps(db, session.full_pulls), factor_of(session)
        numbers = set_numbers([p.label for p in session.full_pulls])
        for pull, number in zip(session.full_pulls, numbers, strict=True):
            if not pull.is_valid or not grid.size:
                continue
            curve = pulls.on_grid(curves[pull.id], grid)
            if np.isfinite(curve).mean() < 0.9:
                continue
            what = f"{application.id}/{pull.label}"
            mean = float(np.nanmean(curve)) * factor
            found.append(components.Repeat(mean, what, session.id, number, pull.sequence, application.id))
    return found


def key_of(db: Session, dyno: Dyno, day: date) -> str:
    """What identifies the records a scatter would be fitted to."""
    rows = [f"{p.id}{p.is_valid}" for s in _sessions(db, dyno, day) for p in s.full_pulls]
    return hashlib.sha256(f"{dyno.id}:{day}:{','.join(rows)}".encode()).hexdigest()


def fit_scatter(work: UnitOfWork, dyno: Dyno, day: date) -> DynoScatter:
    """Fit a dyno's scatter to its records and let it hold from a day on. Raises EvidenceError where they are too few.

    It is kept beside the earlier ones: verdicts of sessions before that day stay as they are.
    """
    fitted = components.fit(repeats_of(work, dyno, day))
    found = DynoScatter(dyno_id=dyno.id, from_day=day, key=key_of(work, dyno, day))
    scatter = fitted.scatter
    found.pull, found.pull_df = scatter.pull, scatter.pull_df
    found.fitting, found.fitting_df = scatter.fitting, scatter.fitting_df
    found.day, found.day_df = scatter.day, scatter.day_df
    counts = {"pulls": fitted.pulls, "sets": fitted.sets, "visits": fitted.visits, "notes": list(fitted.notes)}
    found.working = {**counts, "bands": _by_band(work, dyno, day)}
    work.add(found)
    work.flush()
    return found


def _by_band(work: UnitOfWork, dyno: Dyno, day: date) -> dict[str, Any]:
    """Pull-to-pull scatter in each band, where every vehicle on the dyno has its bands at the same speeds."""
    vehicles = {
        work.get_one(Application, s.application_id).vehicle_id for s in _sessions(work, dyno, day) if s.full_pulls
    }
    if len(vehicles) != 1:
        return {}
    session = next(s for s in _sessions(work, dyno, day) if s.full_pulls)
    found = {}
    for band in bands_of(work.get_one(Application, session.application_id).vehicle):
        try:
            fitted = components.fit(repeats_of(work, dyno, day, band.low - RPM, band.high + RPM))
        except EvidenceError:
            continue
        found[band.name] = fitted.scatter.pull
    return found
