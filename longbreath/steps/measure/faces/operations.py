"""What faces and fit do to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.traverse import Outline, traced_face
from longbreath.core.path import faces
from longbreath.store.models import Application, Face, FaceLay, Fit, FitSpot, User


def save_face(db: Session, application: Application, face: Face | None, outline: Outline, **values: Any) -> Face:
    """Add or change a face. Raises InputError if a measured one does not say with what."""
    if values["provenance"] == "measured" and not values["tool"].strip():
        raise InputError("Say what it was taken with, or mark it nominal.", "tool")
    found = face or Face(application_id=application.id)
    for name, value in values.items():
        setattr(found, name, value)
    found.outline = [list(point) for point in outline]
    db.add(found)
    db.flush()
    return found


def traced_on_photo(rim: list[tuple[float, float]], scale: list[tuple[float, float]], distance: float) -> Outline:
    """The outline [m] of points picked in a picture (y down). Raises InputError for a rim that crosses itself."""
    size = faces.traced_scale(scale[0], scale[1], distance)
    try:
        return traced_face([(x * size, -y * size) for x, y in rim])
    except InputError as error:
        raise InputError(error.message, "name") from None


def keep_lay(
    db: Session, application: Application, actor: User, upstream: Face, downstream: Face, place: faces.Place, note: str
) -> FaceLay:  # fmt: skip
    """Keep how two faces lie over each other, with the judgement of the moment."""
    found = faces.lay_over(upstream.points, downstream.points, place)
    judgement = faces.judge(found, downstream.wall, downstream.wall_limit)
    lay = FaceLay(
        application_id=application.id, upstream_id=upstream.id, downstream_id=downstream.id, right=place.right, up=place.up,
        turn=place.turn, overlap=found.overlap.value, worst=found.worst, judgement=judgement.verdict, note=note, taken_by_id=actor.id,
    )  # fmt: skip
    lay.upstream, lay.downstream, lay.taken_by = upstream, downstream, actor
    db.add(lay)
    db.flush()
    return lay


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
