"""Speeds and variants of a simulated engine side by side over processes; the caller sees progress and may cancel."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ProcessPoolExecutor, wait
from dataclasses import dataclass
from multiprocessing import get_context
from typing import Any

from longbreath.core.basis.errors import LongBreathError
from longbreath.core.wave.compiled import is_compiled
from longbreath.core.wave.cycle import MOST, TOLERANCE, Cancelled, SpeedPoint, simulate
from longbreath.core.wave.engine import WaveEngine

POLL = 0.1
"""Seconds between two looks at whether to cancel."""
_stop: Any = None


@dataclass(frozen=True)
class Task:
    """One speed [rad/s] of one variant; `key` is the caller's."""

    key: int
    engine: WaveEngine
    speed: float


@dataclass(frozen=True)
class Done:
    """What came of a task: the point, or the sentence of what went wrong."""

    task: Task
    point: SpeedPoint | None
    error: str = ""


def _begin(stop: Any) -> None:
    global _stop
    _stop = stop


def _go_on(_cycle: int, _change: float) -> bool:
    return _stop is None or not _stop.is_set()


def _run(task: Task, tolerance: float, most: int) -> SpeedPoint:
    return simulate(task.engine, task.speed, tolerance, most, _go_on)


def compile_once(engine: WaveEngine) -> bool:
    """Compile the solver here if it is not in the cache, so that workers load it instead of each compiling; whether it had to."""
    if is_compiled():
        return False
    simulate(engine, 500.0, most=1)
    return True


def sweep(
    tasks: Sequence[Task],
    workers: int | None = None,
    tolerance: float = TOLERANCE,
    most: int = MOST,
    cancelled: Callable[[], bool] = lambda: False,
) -> Iterator[Done]:
    """Run tasks over `workers` processes (all cores by default), slowest first; yields each as it is done.

    `cancelled` is asked about ten times a second; once true, running cycles are finished and Cancelled is raised. An
    error of one task is a Done with its sentence; the others go on.
    """
    if tasks:
        compile_once(tasks[0].engine)
    count = min(workers or os.cpu_count() or 1, max(len(tasks), 1))
    context = get_context("forkserver")  # a fork of a process with threads may hang; the server has none
    context.set_forkserver_preload([__name__])  # what takes a second to import is imported once for all workers
    stop = context.Event()
    order = sorted(tasks, key=lambda t: t.speed)
    with ProcessPoolExecutor(count, context, _begin, (stop,)) as pool:
        waiting: dict[Future[SpeedPoint], Task] = {pool.submit(_run, t, tolerance, most): t for t in order}
        try:
            while waiting:
                if cancelled():
                    raise Cancelled
                finished, _ = wait(waiting, POLL, FIRST_COMPLETED)
                for future in finished:
                    yield _done(waiting.pop(future), future)
        finally:
            stop.set()
            pool.shutdown(cancel_futures=True)


def _done(task: Task, future: Future[SpeedPoint]) -> Done:
    try:
        return Done(task, future.result())
    except LongBreathError as error:
        return Done(task, None, error.message)


def points(tasks: Sequence[Task], **options: Any) -> list[Done]:
    """All tasks of a sweep in the caller's order."""
    found = {done.task.key: done for done in sweep(tasks, **options)}
    return [found[t.key] for t in tasks]
