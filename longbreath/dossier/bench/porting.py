"""Porting jobs: bouts with the grinder, and where a job stands."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.working import Figure
from longbreath.core.bench import porting
from longbreath.core.bench.reduction import is_off_pressure
from longbreath.dossier.bench.traces import reduce_trace, sessions_of
from longbreath.store.models import Application, PortingBout, PortingJob, User


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
