"""Porting jobs: bouts with the grinder, and where a job stands."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.working import Figure
from longbreath.core.bench import porting
from longbreath.core.bench.reduction import is_off_pressure
from longbreath.dossier.bench.traces import reduce_trace, sessions_of
from longbreath.dossier.commands import put
from longbreath.store.models import Application, PortingBout, PortingJob
from longbreath.store.unit_of_work import UnitOfWork


def jobs_of(db: Session, application_id: int) -> list[PortingJob]:
    """Porting jobs with their bouts, newest first."""
    query = (
        select(PortingJob).where(PortingJob.application_id == application_id).options(selectinload(PortingJob.bouts))
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


@dataclass(frozen=True)
class JobCard:
    """A porting job: lift [m], test pressure [Pa], flows and their uncertainty [m3/s], hours allowed [s], wall [m]."""

    name: str
    lift: float
    test_pressure: float
    start_flow: float
    target_flow: float
    flow_uncertainty: float
    hours_allowed: float
    wall_limit: float


@dataclass(frozen=True)
class BoutCard:
    """One bout with the grinder: time spent [s], flow after it [m3/s], wall left at named points [m], what was cut."""

    held_on: date
    hours: float
    flow: float
    done: str
    walls: tuple[tuple[str, float], ...] = ()


def save_job(work: UnitOfWork, application: Application, found: PortingJob | None, card: JobCard) -> PortingJob:
    """Add or change a porting job. Raises InputError for a target that is none."""
    porting.Job(card.start_flow, card.target_flow, card.hours_allowed, card.wall_limit)
    job = found or PortingJob(application_id=application.id)
    put(job, card)
    work.add(job)
    work.flush()
    return job


def add_bout(work: UnitOfWork, job: PortingJob, card: BoutCard) -> PortingBout:
    """Record a bout of porting."""
    bout = PortingBout(job_id=job.id, taken_by_id=work.actor.id)
    put(bout, card, walls=[[name, thickness] for name, thickness in card.walls])
    work.add(bout)
    bout.job, bout.taken_by = job, work.actor
    work.flush()
    return bout
