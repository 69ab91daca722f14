"""Reads of faces and fit."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.working import Figure
from longbreath.core.path import calliper, faces, mounting
from longbreath.drawing.overlay import overlay
from longbreath.store.models import Application, Attachment, Face, FaceLay, Fit, FitSpot


def faces_of(db: Session, application_id: int) -> list[Face]:
    """The faces of an application in the order they were taken."""
    return list(db.scalars(select(Face).where(Face.application_id == application_id).order_by(Face.id)))


def lays_of(db: Session, application_id: int) -> list[FaceLay]:
    """What was laid over each other before, newest first."""
    return list(
        db.scalars(select(FaceLay).where(FaceLay.application_id == application_id).order_by(FaceLay.id.desc()))
    )


def photos_of(db: Session, application_id: int) -> list[Attachment]:
    """Photos of an application on which a face can be traced."""
    query = select(Attachment).where(Attachment.application_id == application_id, Attachment.width.is_not(None))
    return [a for a in db.scalars(query.order_by(Attachment.id.desc())) if not a.marks]


def precision_of(upstream: Face, downstream: Face) -> float | None:
    """How well the two rims are known together [m]; a nominal face widens it."""
    found = []
    for face in (upstream, downstream):
        size = max(x for x, _ in face.points) - min(x for x, _ in face.points)
        own = calliper.widened(size, face.precision) if face.provenance == "nominal" else face.precision
        if own:
            found.append(own)
    return float(sum(p**2 for p in found) ** 0.5) if found else None


def laid(upstream: Face, downstream: Face, place: faces.Place) -> faces.Match:
    """Two faces over each other. Raises InputError if they share nothing."""
    rows = tuple(
        f"{f.name}: {f.tool or 'nominal'}{f', {f.came_from}' if f.came_from else ''}"
        for f in (upstream, downstream)
    )
    return faces.lay_over(upstream.points, downstream.points, place, precision_of(upstream, downstream), rows)


def match_figures(match: faces.Match) -> dict[str, Figure]:
    """The figures of a match by key."""
    return {f.name: f for f in (match.overlap, match.share, match.blocked, match.opened)}


def lip_words(lip: faces.Lip, system: str) -> str:
    """A lip with which way it faces, for the picture."""
    if lip.faces == "flush":
        return "flush"
    return f"{units.show(abs(lip.height), 'length', system, 0.0001)} {'opens' if lip.height > 0 else 'stands'}"


def picture(
    upstream: Face, downstream: Face, place: faces.Place, match: faces.Match, side: str, system: str
) -> str:
    """Both faces laid over each other."""
    bar = (0.01, "10 mm") if system == "metric" else (0.0127, "½ in")
    worst = match.worst_at if match.worst >= faces.LIP_SEEN else None
    return overlay(upstream.points, faces.laid(downstream.points, place), match.common, match.stands,
                   [(lip.side, lip_words(lip, system)) for lip in match.lips], worst, side,
                   (upstream.name, downstream.name), bar, (place.right, place.up))  # fmt: skip


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
