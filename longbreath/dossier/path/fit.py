"""The fit register of a dossier: places looked at, what fitting takes, the judgement."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.path import mounting
from longbreath.store.models import Application, Fit, FitSpot, User


def spots_of(db: Session, application: Application) -> list[FitSpot]:
    """The newest look at each place, in the order the places were first looked at."""
    found: dict[str, FitSpot] = {}
    for spot in db.scalars(select(FitSpot).where(FitSpot.application_id == application.id).order_by(FitSpot.id)):
        found[spot.place.casefold()] = spot
    return list(found.values())


def fitting(found: Fit | None, spots: list[FitSpot]) -> mounting.Fitting:
    """The judgement of a fit."""
    looked = [mounting.Spot(s.place, s.gap, s.state) for s in spots]
    if found is None:
        return mounting.judge(looked, None, None, ())
    return mounting.judge(looked, found.wall, found.wall_limit, found.done)


def fit_of(db: Session, application: Application) -> Fit | None:
    """The fit record of an application."""
    return db.scalar(select(Fit).where(Fit.application_id == application.id))


def save_fit(db: Session, application: Application, found: Fit | None, **values: Any) -> Fit:
    """Write down what fitting takes."""
    fit = found or Fit(application_id=application.id)
    for name, value in values.items():
        setattr(fit, name, value)
    db.add(fit)
    db.flush()
    return fit


def add_spot(db: Session, application: Application, actor: User, **values: Any) -> FitSpot:
    """Write down a look at a place; the newest look at a place counts."""
    spot = FitSpot(application_id=application.id, taken_by_id=actor.id, **values)
    spot.taken_by = actor
    db.add(spot)
    db.flush()
    return spot
