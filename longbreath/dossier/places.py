"""What there is to measure of an application: the places of Measure in groups, only those that apply to its family."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from sqlalchemy import Select, exists, select
from sqlalchemy.orm import Session

from longbreath.store.models import Application, BenchSession, LadderRung, PortingJob, Trace, Traverse


@dataclass(frozen=True)
class Place:
    """One place of Measure: its key and name; whom it is for (everyone, if nothing is said), and what was kept there."""

    key: str
    name: str
    applies: Callable[[Application], bool] = lambda application: True
    kept: Callable[[int], Select[int]] | None = None


@dataclass(frozen=True)
class Group:
    """Places that measure one kind of thing."""

    name: str
    places: tuple[Place, ...]


def _has_lift(application: Application) -> bool:
    """Valves that lift: what is swept over lift, and stacked on a head."""
    return application.vehicle.cycle == "four-stroke"


def _has_port_faces(application: Application) -> bool:
    """Parts on the inlet side, and engines whose ports are cut: a face to walk, a port to work."""
    return application.product.side == "intake" or not _has_lift(application)


def _sweeps(application_id: int) -> Select[int]:
    swept = select(Trace.id).join(BenchSession, BenchSession.id == Trace.session_id)
    return swept.where(BenchSession.application_id == application_id, Trace.kind == "sweep")


GROUPS = (
    Group(
        "Airflow",
        (
            Place("bench", "Bench"),
            Place("curves", "Curves", _has_lift, _sweeps),
            Place("stacks", "Stacks", _has_lift, _sweeps),
            Place("parts", "Fixed parts"),
            Place("maps", "Maps", _has_port_faces, lambda i: select(Traverse.id).where(Traverse.application_id == i)),
            Place(
                "porting",
                "Porting",
                _has_port_faces,
                lambda i: select(PortingJob.id).where(PortingJob.application_id == i),
            ),
        ),
    ),
    Group("Shape", (Place("path", "Path"), Place("faces", "Faces"), Place("fit", "Fit"))),
    Group(
        "Timing",
        (
            Place("timing", "Wheel"),
            Place(
                "ladder",
                "Port ladder",
                lambda application: not _has_lift(application),
                lambda i: select(LadderRung.id).where(LadderRung.application_id == i),
            ),
        ),
    ),
    Group("Build", (Place("builds", "Build sheets"),)),
    Group("Beside", (Place("trials", "Trials"),)),
)


def measure_places(db: Session, application: Application, here: str = "") -> tuple[Group, ...]:
    """The groups with the places that apply; one that holds something, or where one stands, is shown whatever the family."""
    return tuple(
        Group(group.name, tuple(p for p in group.places if p.key == here or _shown(db, application, p)))
        for group in GROUPS
    )


def _shown(db: Session, application: Application, place: Place) -> bool:
    if place.applies(application):
        return True
    return place.kept is not None and bool(db.scalar(select(exists(place.kept(application.id)))))
