"""The fit register of a dossier: places looked at, what fitting takes, the judgement."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.path import mounting
from longbreath.dossier.commands import put
from longbreath.store.models import Application, Fit, FitSpot
from longbreath.store.unit_of_work import UnitOfWork


def spots_of(db: Session, application: Application) -> list[FitSpot]:
    """The newest look at each place, in the order the places were first looked at."""
    found: dict[str, FitSpot] = {}
    for spot in db.scalars(select(FitSpot).where(FitSpot.application_id == application.id).order_by(FitSpot.id)):
        found[spot.place.casefold()] = spot
    return list(found.values())


def fitting(found: Fit | None, spots: list[FitSpot]) -> mounting.Fitting:
    """The judgement of a fit."""
    looked = [mounting.FitPlace(s.place, s.gap, s.state) for s in spots]
    if found is None:
        return mounting.judge_fit(looked, None, None, ())
    return mounting.judge_fit(looked, found.wall, found.wall_limit, found.done)


def fit_of(db: Session, application: Application) -> Fit | None:
    """The fit record of an application."""
    return db.scalar(select(Fit).where(Fit.application_id == application.id))


@dataclass(frozen=True)
class FitCard:
    """What fitting takes: service time [s], who timed it, what comes off, walls [m], what of the checklist is done."""

    minutes: float | None = None
    minutes_from: str = ""
    drained: str = ""
    removed: str = ""
    wall: float | None = None
    wall_limit: float | None = None
    done: tuple[str, ...] = ()
    note: str = ""


@dataclass(frozen=True)
class SpotCard:
    """One look at a place: the gap there [m] and its state."""

    place: str
    state: str
    gap: float | None = None
    note: str = ""


def save_fit(work: UnitOfWork, application: Application, found: Fit | None, card: FitCard) -> Fit:
    """Write down what fitting takes."""
    fit = found or Fit(application_id=application.id)
    put(fit, card)
    work.add(fit)
    work.flush()
    return fit


def add_spot(work: UnitOfWork, application: Application, card: SpotCard) -> FitSpot:
    """Write down a look at a place; the newest look at a place counts."""
    spot = FitSpot(application_id=application.id, taken_by_id=work.actor.id)
    put(spot, card)
    spot.taken_by = work.actor
    work.add(spot)
    work.flush()
    return spot
