"""What ports do to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import porting, traverse
from longbreath.store.models import Application, PortingBout, PortingJob, Traverse, TraversePoint, User


def add_map(db: Session, application: Application, outline: traverse.Outline, **values: Any) -> Traverse:
    """Add a face to walk over. Raises InputError if no place of the grid lies in it."""
    if len(traverse.grid(outline, values["columns"], values["rows"])) < 3:
        raise InputError("Fewer than three places of this grid lie in the face: choose a finer one.", "columns")
    found = Traverse(application_id=application.id, outline=[list(p) for p in outline], **values)
    db.add(found)
    db.flush()
    return found


def add_point(
    db: Session, found: Traverse, actor: User, x: float, y: float, velocity_pressure: float
) -> TraversePoint:
    """Record a pitot reading; an earlier one at the place stays, the newest counts. Raises InputError outside the face."""
    places = traverse.grid(tuple((a, b) for a, b in found.outline), found.columns, found.rows)
    if not any(abs(x - a) < 1e-6 and abs(y - b) < 1e-6 for a, b in places):
        raise InputError("Choose a place of the grid first.", "velocity_pressure")
    point = TraversePoint(
        traverse_id=found.id, x=x, y=y, velocity_pressure=velocity_pressure, taken_by_id=actor.id
    )
    db.add(point)
    point.traverse, point.taken_by = found, actor
    db.flush()
    return point


def save_job(db: Session, application: Application, found: PortingJob | None, **values: Any) -> PortingJob:
    """Add or change a porting job. Raises InputError for a target that is none."""
    porting.Job(values["start_flow"], values["target_flow"], values["hours_allowed"], values["wall_limit"])
    job = found or PortingJob(application_id=application.id)
    for name, value in values.items():
        setattr(job, name, value)
    db.add(job)
    db.flush()
    return job


def add_bout(db: Session, job: PortingJob, actor: User, **values: Any) -> PortingBout:
    """Record a bout of porting."""
    bout = PortingBout(job_id=job.id, taken_by_id=actor.id, **values)
    db.add(bout)
    bout.job, bout.taken_by = job, actor
    db.flush()
    return bout
