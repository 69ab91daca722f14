"""Reads of ports: maps with what follows from them, jobs with their outlook."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup
from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.air.moist import Weather
from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.bench import porting, traverse
from longbreath.core.bench.reduction import is_off_pressure
from longbreath.dossier.bench import reduce_trace, sessions_of
from longbreath.drawing import faces
from longbreath.store.models import PortingJob, Traverse, TraversePoint


def maps_of(db: Session, application_id: int) -> list[Traverse]:
    """Velocity maps, newest first."""
    query = (
        select(Traverse).where(Traverse.application_id == application_id).options(selectinload(Traverse.points))
    )
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
        return next((place for place in self.places if _key(place) not in self.read), None)


def _key(place: tuple[float, float]) -> tuple[float, float]:
    return round(place[0], 6), round(place[1], 6)


def walked(record: Traverse) -> Walked:
    """A face with its newest readings, mapped."""
    outline = tuple((float(x), float(y)) for x, y in record.outline)
    places = traverse.grid(outline, record.columns, record.rows)
    read = {_key((point.x, point.y)): point for point in record.points}
    static = traverse.static_air(Weather(record.temperature, record.pressure, 0.0), record.test_pressure)
    spots = [
        traverse.Spot(p.x, p.y, traverse.pitot_velocity(p.velocity_pressure, static, record.temperature))
        for p in read.values()
    ]
    return Walked(record, places, read, _map(outline, spots, read))


def bounds_of(found: Sequence[Walked], system: str) -> tuple[float, ...]:
    """One scale of tones for all maps shown together: bounds [m/s] at round figures of the viewer's unit."""
    velocities = [cell.spot.velocity for w in found if w.map is not None for cell in w.map.cells]
    return traverse.steps_of(velocities, units.scale("velocity", system)) if velocities else (0.0, 1.0)


def picture(found: Walked, bounds: Sequence[float], system: str, side: str) -> Markup:
    """The face as a picture: tones and figures where it is mapped, numbered places where it is still to read."""
    outline = tuple((float(x), float(y)) for x, y in found.record.outline)
    tones: list[faces.Tone] = []
    if found.map is not None:
        texts = [units.show_number(cell.spot.velocity, "velocity", system, decimals=0) for cell in found.map.cells]
        tones = faces.tones(found.map.cells, bounds, texts)
    left = [(x, y, str(n)) for n, (x, y) in enumerate(found.places, start=1) if _key((x, y)) not in found.read]
    return faces.face(outline, tones, left, side, f"Velocity over the face of {found.record.title}")


def _map(
    outline: traverse.Outline, spots: list[traverse.Spot], read: dict[tuple[float, float], TraversePoint]
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


def legend(bounds: Sequence[float], system: str) -> list[tuple[str, float]]:
    """The tones of a scale: words of each step, and how strong it is."""
    symbol = units.kind_named("velocity").symbol(system)
    texts = [units.show_number(bound, "velocity", system, decimals=0) for bound in bounds]
    steps = len(bounds) - 1
    return [(f"{texts[i]} to {texts[i + 1]} {symbol}", (i + 0.5) / steps) for i in range(steps)]


def jobs_of(db: Session, application_id: int) -> list[PortingJob]:
    """Porting jobs with their bouts, newest first."""
    query = (
        select(PortingJob)
        .where(PortingJob.application_id == application_id)
        .options(selectinload(PortingJob.bouts))
    )
    return list(db.scalars(query.order_by(PortingJob.id.desc())))


def outlook_of(job: PortingJob) -> porting.Outlook | None:
    """Where a job stands, or None before its first bout."""
    if not job.bouts:
        return None
    core = porting.Job(job.start_flow, job.target_flow, job.hours_allowed, job.wall_limit, job.flow_uncertainty)
    bouts = [porting.Bout(b.hours, b.flow, job.flow_uncertainty, b.least_wall) for b in job.bouts]
    rows = tuple(f"bout of {b.held_on:%d %b %Y}, {b.taken_by.name}: {b.done}" for b in job.bouts)
    return porting.outlook(core, bouts, rows)


def outlook_figures(found: porting.Outlook | None, prefix: str = "") -> dict[str, Figure]:
    """The figures of an outlook by key, with a prefix."""
    if found is None:
        return {}
    figures = (found.spent, found.last_rate, found.whole_rate, found.shortfall, found.expected)
    return {f"{prefix}{f.name}": f for f in figures if f is not None}


Flows = dict[int, tuple[str, float]]


def flows_at(db: Session, job: PortingJob) -> Flows:
    """Flows that were read at the job's lift and test pressure, by trace: name and flow [m3/s]."""
    found = {}
    for session in sessions_of(db, job.application_id):
        if is_off_pressure(session.test_pressure, job.test_pressure):
            continue
        for trace in session.traces:
            row = reduce_trace(trace).get(round(job.lift, 7))
            if row is not None:
                found[trace.id] = (f"{trace.audit_title}, {session.held_on:%d %b %Y}", row.flow.value)
    return found
