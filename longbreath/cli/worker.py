"""The command line: longbreath worker, which takes background work from the database; any number of them, on any machine."""

from __future__ import annotations

import sys

import click

from longbreath.cli.data import database_url
from longbreath.cli.parts import Part, Stopped, ignore_stops, keep_running, stop_when_told

QUEUES = ("short", "long")


@click.command()
@click.option("--queue", type=click.Choice(QUEUES), help="Work off this queue alone; without it, a process for each.")
@click.option("--once", is_flag=True, help="End when the queues are empty.")
def worker(queue: str | None, once: bool) -> None:
    """Take background work from the database. What is short never waits behind what is long: each queue has its process."""
    url = database_url()
    if queue is not None or once:
        from longbreath.jobs.queue import work_off

        work_off(url, [queue] if queue else list(QUEUES), wait=not once)
        return
    stop_when_told()
    parts = [
        Part(f"worker for {q} work", [sys.executable, "-m", "longbreath.cli.main", "worker", "--queue", q])
        for q in QUEUES
    ]
    try:
        for part in parts:
            part.start()
        keep_running(parts, lambda: None)
    except Stopped:
        pass
    finally:
        ignore_stops()
        for part in parts:
            part.end()
