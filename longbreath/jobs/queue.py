"""The queue of background work on PostgreSQL, and a worker that takes from it."""

from __future__ import annotations

import logging

import procrastinate
from procrastinate import PsycopgConnector

from longbreath.dossier import subscribers
from longbreath.jobs import claims, tasks
from longbreath.store.database import Database

STALLED = 30.0
"""Seconds without a sign of life after which a worker counts as dead, and its work is taken up again."""
log = logging.getLogger("longbreath.worker")


def make_app(url: str) -> procrastinate.App:
    """The application of the queue on a database address, with all tasks."""
    plain = url.replace("postgresql+psycopg://", "postgresql://")
    connector = PsycopgConnector(
        conninfo=plain, kwargs={"options": "-c search_path=jobs,public"}, min_size=1, max_size=4
    )
    app = procrastinate.App(connector=connector)
    database = Database(url)
    subscribers.attach()

    @app.task(name="longbreath.run", queue="short")
    def run(task_id: int) -> None:
        tasks.run(database.session, task_id)

    @app.task(name="longbreath.settle", queue="short")
    def settle(application_id: int) -> None:
        tasks.settle(database.session, application_id)

    @app.periodic(cron="* * * * *")
    @app.task(name="longbreath.watch_claims", queue="short", queueing_lock="watch-claims")
    def watch_claims(timestamp: int) -> None:
        """Look at what published claims rest on: at once after a change, and every minute because clocks run."""
        claims.look(database.session)

    @app.periodic(cron="* * * * *")
    @app.task(name="longbreath.take_up", queue="short", queueing_lock="take-up")
    async def take_up(timestamp: int) -> None:
        """Put work of dead workers back into its queue."""
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED):
            log.warning("The worker of job %s died: it is taken up again.", job.id)
            await app.job_manager.retry_job(job)

    return app


def work_off(url: str, queues: list[str], wait: bool = True) -> None:
    """Work off queues until told to stop; without `wait` until they are empty."""
    app = make_app(url)
    app.run_worker(
        queues=queues,
        concurrency=1,
        wait=wait,
        delete_jobs="successful",
        update_heartbeat_interval=5.0,
        stalled_worker_timeout=STALLED,
        shutdown_graceful_timeout=3.0,
        install_signal_handlers=wait,
    )
