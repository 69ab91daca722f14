"""Velocity maps of port faces: places, points, and what follows from them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.air.moist import Weather
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.bench import traverse
from longbreath.dossier.commands import put
from longbreath.store.models import Application, Traverse, TraversePoint
from longbreath.store.unit_of_work import UnitOfWork


def maps_of(db: Session, application_id: int) -> list[Traverse]:
    """Velocity maps, newest first."""
    query = select(Traverse).where(Traverse.application_id == application_id).options(selectinload(Traverse.points))
    return list(db.scalars(query.order_by(Traverse.held_on.desc(), Traverse.id.desc())))


@dataclass(frozen=True)
class Walked:
    """A face as far as it is walked over: places still to read, the map (None below three readings), its picture."""

    record: Traverse
    places: tuple[tuple[float, float], ...]
    read: dict[tuple[float, float], TraversePoint]
    map: traverse.Map | None

    @property
    def next_place(self) -> tuple[float, float] | None:
        """The first place that is not read yet."""
        return next((place for place in self.places if place_key(place) not in self.read), None)


def place_key(place: tuple[float, float]) -> tuple[float, float]:
    """A place rounded so that two readings of it are known as one."""
    return round(place[0], 6), round(place[1], 6)


def walked(record: Traverse) -> Walked:
    """A face with its newest readings, mapped."""
    outline = tuple((float(x), float(y)) for x, y in record.outline)
    places = traverse.grid(outline, record.columns, record.rows)
    read = {place_key((point.x, point.y)): point for point in record.points}
    static = traverse.static_air(Weather(record.temperature, record.pressure, 0.0), record.test_pressure)
    spots = [
        traverse.TubeSpot(p.x, p.y, traverse.pitot_velocity(p.velocity_pressure, static, record.temperature))
        for p in read.values()
    ]
    return Walked(record, places, read, _map(outline, spots, read))


def _map(
    outline: traverse.Outline, spots: list[traverse.TubeSpot], read: dict[tuple[float, float], TraversePoint]
) -> traverse.Map | None:
    rows = tuple(f"pitot reading {p.id}, {p.taken_by.name}, {p.taken_at:%d %b %Y %H:%M}" for p in read.values())
    try:
        return traverse.make_map(outline, spots, rows)
    except InputError:
        return None


def map_figures(found: Walked, prefix: str = "") -> dict[str, Figure]:
    """The figures of a map by key, with a prefix."""
    if found.map is None:
        return {}
    m = found.map
    return {f"{prefix}{f.name}": f for f in (m.mean, m.peak_over_mean, m.working_area, m.flow)}


@dataclass(frozen=True)
class MapCard:
    """A face to walk over with the pitot: lift [m], test pressure and station pressure [Pa], temperature [K], the grid."""

    title: str
    held_on: date
    lift: float
    test_pressure: float
    temperature: float
    pressure: float
    shape: str
    columns: int
    rows: int


def add_map(work: UnitOfWork, application: Application, outline: traverse.Outline, card: MapCard) -> Traverse:
    """Add a face to walk over; outline [m]. Raises InputError if no three places of the grid lie in it."""
    if len(traverse.grid(outline, card.columns, card.rows)) < 3:
        raise InputError("Fewer than three places of this grid lie in the face: choose a finer one.", "columns")
    found = Traverse(application_id=application.id, outline=[list(point) for point in outline])
    put(found, card)
    work.add(found)
    work.flush()
    return found


def add_point(work: UnitOfWork, found: Traverse, x: float, y: float, velocity_pressure: float) -> TraversePoint:
    """Record a pitot reading [Pa] at a place [m]; an earlier one stays, the newest counts.

    Raises InputError where the place is none of the grid.
    """
    places = traverse.grid(tuple((a, b) for a, b in found.outline), found.columns, found.rows)
    if not any(abs(x - a) < 1e-6 and abs(y - b) < 1e-6 for a, b in places):
        raise InputError("Choose a place of the grid first.", "velocity_pressure")
    point = TraversePoint(
        traverse_id=found.id, x=x, y=y, velocity_pressure=velocity_pressure, taken_by_id=work.actor.id
    )
    work.add(point)
    point.traverse, point.taken_by = found, work.actor
    work.flush()
    return point
