"""What each kind of background work does, how it tells its progress, and how it is stopped."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

from sqlalchemy import update

from longbreath.core.basis.errors import LongBreathError
from longbreath.dossier.plan.forecast import forecast
from longbreath.dossier.plan.scatter import fit_scatter
from longbreath.dossier.programme.raised import settle as settle_owed
from longbreath.dossier.work import CANCELLED, DONE, FAILED, RUNNING, WAITING
from longbreath.jobs import claims, imports
from longbreath.store.base import now
from longbreath.store.models import Application, Dyno, User, WorkTask
from longbreath.store.unit_of_work import UnitOfWork, working

Sessions = Callable[[], UnitOfWork]
Progress = Callable[[float, str], None]
EVERY = 0.4
"""Seconds between two looks at whether it shall stop; progress is told that often."""
log = logging.getLogger("longbreath.worker")


class Stopped(Exception):
    """Somebody asked for the work to stop."""


def _forecast(sessions: Sessions, inputs: Mapping[str, Any], progress: Progress, by: int | None) -> dict[str, Any]:
    return forecast(inputs, progress)


def _scatter(sessions: Sessions, inputs: Mapping[str, Any], progress: Progress, by: int | None) -> dict[str, Any]:
    progress(0.1, "reading the pulls on record")
    with working(sessions) as work:
        work.act_as(work.get(User, by) if by else None)
        found = fit_scatter(work, work.get_one(Dyno, inputs["dyno"]), date.fromisoformat(inputs["day"]))
        return {"scatter": found.id}


KINDS: dict[str, Callable[[Sessions, Mapping[str, Any], Progress, int | None], dict[str, Any]]] = {
    "card_forecast": _forecast,
    "scatter": _scatter,
    "log_read": imports.read_log,
    "pull_record": imports.record,
    "claim_bundle": claims.make_bundle,
}
"""The function of each kind of work; it is handed sessions of its own, the inputs, a progress that may raise, and who asked."""


def run(sessions: Sessions, task_id: int) -> None:
    """Do one piece of work and keep what came of it; work that is done or cancelled is left alone."""
    begun = _begin(sessions, task_id)
    if begun is None:
        return
    kind, inputs, by = begun
    try:
        result = KINDS[kind](sessions, inputs, _teller(sessions, task_id), by)
    except Stopped:
        _end(sessions, task_id, CANCELLED, "stopped on request")
    except LongBreathError as error:
        _end(sessions, task_id, FAILED, error.message)
    except Exception:
        log.exception("Task %s failed.", task_id)
        _end(sessions, task_id, FAILED, "It failed; the worker's log says where. It may be asked for again.")
    else:
        _end(sessions, task_id, DONE, "", result)


def _begin(sessions: Sessions, task_id: int) -> tuple[str, dict[str, Any], int | None] | None:
    with working(sessions) as work:
        task = work.get(WorkTask, task_id, with_for_update=True)
        if task is None or task.state not in (WAITING, RUNNING) or task.kind not in KINDS:
            return None
        task.state, task.begun_at, task.share, task.tries = RUNNING, now(), 0.0, task.tries + 1
        return task.kind, dict(task.inputs), task.asked_by_id


def _teller(sessions: Sessions, task_id: int) -> Progress:
    """Tells how far it is, now and then, and raises Stopped once somebody asked for that."""
    last = [0.0]

    def tell(share: float, words: str) -> None:
        if time.monotonic() - last[0] < EVERY:
            return
        last[0] = time.monotonic()
        with working(sessions) as work:
            told = update(WorkTask).where(WorkTask.id == task_id).values(share=min(max(share, 0.0), 1.0), told=words)
            stop = work.execute(told.returning(WorkTask.stop_asked)).scalar()
        if stop:
            raise Stopped

    return tell


def _end(sessions: Sessions, task_id: int, state: str, told: str, result: dict[str, Any] | None = None) -> None:
    with working(sessions) as work:
        values = {"state": state, "told": told, "result": result, "ended_at": now()}
        share = {"share": 1.0} if state == DONE else {}
        work.execute(update(WorkTask).where(WorkTask.id == task_id).values(**values, **share))


def settle(sessions: Sessions, application_id: int) -> None:
    """Look through what is owed for an application."""
    with working(sessions) as work:
        application = work.get(Application, application_id)
        if application is not None:
            work.act_as(None, application_id)
            settle_owed(work, application)
