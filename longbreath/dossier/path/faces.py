"""Port faces of a dossier: taken, laid over each other, kept."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.bench.traverse import Outline, traced_face
from longbreath.core.path import calliper, faces
from longbreath.dossier.commands import put
from longbreath.store.models import Application, Attachment, Face, FaceLay
from longbreath.store.unit_of_work import UnitOfWork


def faces_of(db: Session, application_id: int) -> list[Face]:
    """The faces of an application in the order they were taken."""
    return list(db.scalars(select(Face).where(Face.application_id == application_id).order_by(Face.id)))


def lays_of(db: Session, application_id: int) -> list[FaceLay]:
    """What was laid over each other before, newest first."""
    return list(db.scalars(select(FaceLay).where(FaceLay.application_id == application_id).order_by(FaceLay.id.desc())))


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


def laid(upstream: Face, downstream: Face, place: faces.FacePlace) -> faces.FaceMatch:
    """Two faces over each other. Raises InputError if they share nothing."""
    rows = tuple(
        f"{f.name}: {f.tool or 'nominal'}{f', {f.came_from}' if f.came_from else ''}" for f in (upstream, downstream)
    )
    return faces.lay_over(upstream.points, downstream.points, place, precision_of(upstream, downstream), rows)


def match_figures(match: faces.FaceMatch) -> dict[str, Figure]:
    """The figures of a match by key."""
    return {f.name: f for f in (match.overlap, match.share, match.blocked, match.opened)}


@dataclass(frozen=True)
class FaceCard:
    """The face of one port: its sizes and walls [m], how it was taken, how good [m]."""

    name: str
    shape: str
    wall_limit: float
    belongs_to: str = "both"
    sizes: dict[str, float] = field(default_factory=dict)
    came_from: str = ""
    wall: float | None = None
    tool: str = ""
    precision: float | None = None
    provenance: str = "measured"


def save_face(work: UnitOfWork, application: Application, face: Face | None, outline: Outline, card: FaceCard) -> Face:
    """Add or change a face; outline [m]. Raises InputError if a measured one does not say with what."""
    if card.provenance == "measured" and not card.tool.strip():
        raise InputError("Say what it was taken with, or mark it nominal.", "tool")
    found = face or Face(application_id=application.id)
    put(found, card)
    found.outline = [list(point) for point in outline]
    work.add(found)
    work.flush()
    return found


def traced_on_photo(rim: list[tuple[float, float]], scale: list[tuple[float, float]], distance: float) -> Outline:
    """The outline [m] of points picked in a picture (y down). Raises InputError for a rim that crosses itself."""
    size = faces.traced_scale(scale[0], scale[1], distance)
    try:
        return traced_face([(x * size, -y * size) for x, y in rim])
    except InputError as error:
        raise InputError(error.message, "name") from None


def keep_lay(
    work: UnitOfWork, application: Application, upstream: Face, downstream: Face, place: faces.FacePlace, note: str
) -> FaceLay:
    """Keep how two faces lie over each other, with the judgement of the moment."""
    found = faces.lay_over(upstream.points, downstream.points, place)
    judgement = faces.judge_match(found, downstream.wall, downstream.wall_limit)
    lay = FaceLay(
        application_id=application.id,
        upstream_id=upstream.id,
        downstream_id=downstream.id,
        right=place.right,
        up=place.up,
        turn=place.turn,
        overlap=found.overlap.value,
        worst=found.worst,
        judgement=judgement.verdict,
        note=note,
        taken_by_id=work.actor.id,
    )
    lay.upstream, lay.downstream, lay.taken_by = upstream, downstream, work.actor
    work.add(lay)
    work.flush()
    return lay
