"""Background work: asked for in the same transaction as everything else, kept by a hash of what goes in, so nothing runs twice.

The queue is PostgreSQL's (procrastinate); a worker on any machine that reaches the database takes from it. What a kind of work
does stands in `longbreath.jobs.tasks`.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict
from longbreath.store.base import now
from longbreath.store.models import WorkTask
from longbreath.store.unit_of_work import UnitOfWork

SHORT, LONG = "short", "long"
QUEUES = {
    "settle": SHORT,
    "scatter": SHORT,
    "log_read": SHORT,
    "pull_record": SHORT,
    "card_forecast": LONG,
    "claim_bundle": LONG,
}
"""Queue of each kind of work: what is short never waits behind what is long."""
WAITING, RUNNING, DONE, FAILED, CANCELLED = "waiting", "running", "done", "failed", "cancelled"

_QUEUE_UP = text("""
insert into jobs.procrastinate_jobs (queue_name, task_name, priority, lock, queueing_lock, args)
values (:queue, :task, 0, :lock, :once, cast(:args as jsonb))
on conflict (queueing_lock) where status = 'todo' do nothing
""")


def key_of(inputs: Mapping[str, Any]) -> str:
    """Hash of everything that goes into a piece of work."""
    return hashlib.sha256(json.dumps(inputs, sort_keys=True, default=str).encode()).hexdigest()


def ask(
    work: UnitOfWork, kind: str, inputs: Mapping[str, Any], title: str, application_id: int | None = None
) -> WorkTask:
    """Ask for a piece of work; the same that was asked for already is found again, unless it failed or was cancelled.

    It is queued in this transaction: it begins when that is committed, and never if it is rolled back.
    """
    key = key_of(inputs)
    values = {"kind": kind, "key": key, "inputs": dict(inputs), "title": title, "application_id": application_id}
    fresh = {"state": WAITING, "share": 0.0, "told": "", "stop_asked": False, "tries": 0, "asked_at": now()}
    by = {"asked_by_id": work.acting[0] if work.acting else None}
    work.execute(insert(WorkTask).values(**values, **fresh, **by).on_conflict_do_nothing())
    found = work.scalars(select(WorkTask).where(WorkTask.kind == kind, WorkTask.key == key).with_for_update()).one()
    if found.state in (FAILED, CANCELLED):
        for name, value in fresh.items():
            setattr(found, name, value)
    work.flush()
    if found.state == WAITING:
        queue_up(work, found)
    return found


def queue_up(work: Session, task: WorkTask) -> None:
    """Put a piece of work into its queue, where it does not stand there already."""
    once = f"task-{task.id}"
    _put(work, QUEUES[task.kind], "longbreath.run", {"task_id": task.id}, once)


def settle_soon(work: Session, application_id: int) -> None:
    """Have what is owed for an application looked through by a worker; asked for twice at once it is done once."""
    _put(work, SHORT, "longbreath.settle", {"application_id": application_id}, f"settle-{application_id}")


def watch_soon(work: Session) -> None:
    """Have what published claims rest on looked at by a worker; asked for twice at once it is done once."""
    _put(work, SHORT, "longbreath.watch_claims", {"timestamp": 0}, "watch-claims")


def _put(work: Session, queue: str, task: str, args: Mapping[str, Any], once: str) -> None:
    work.execute(_QUEUE_UP, {"queue": queue, "task": task, "args": json.dumps(args), "lock": once, "once": once})


def task_of(db: Session, kind: str, inputs: Mapping[str, Any]) -> WorkTask | None:
    """The task of these inputs, or None where nobody asked for it."""
    return db.scalar(select(WorkTask).where(WorkTask.kind == kind, WorkTask.key == key_of(inputs)))


def cancel(work: UnitOfWork, task: WorkTask) -> None:
    """Ask that a piece of work stops; one that only waits is cancelled at once. Raises Conflict if it is over."""
    work.refresh(task, with_for_update=True)
    if task.state not in (WAITING, RUNNING):
        raise Conflict("This is over already.")
    task.stop_asked = True
    if task.state == WAITING:
        task.state, task.told, task.ended_at = CANCELLED, "stopped before it began", now()
    work.flush()


def recent_tasks(db: Session, application_id: int | None = None, limit: int = 20) -> list[WorkTask]:
    """The newest tasks, of an application or of all."""
    query = select(WorkTask).order_by(WorkTask.id.desc()).limit(limit)
    if application_id is not None:
        query = query.where(WorkTask.application_id == application_id)
    return list(db.scalars(query))
