"""Large logs: read by a worker while the page stays quick, and recorded by it once a person has mapped them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from concurrent.futures import TimeoutError as StillAtIt
from dataclasses import asdict
from typing import Any

from longbreath.core.basis.errors import InputError
from longbreath.dossier.pull import logs, recording
from longbreath.store.models import RawFile, User
from longbreath.store.unit_of_work import UnitOfWork, working

Sessions = Callable[[], UnitOfWork]
Progress = Callable[[float, str], None]
EVERY = 0.25
"""Seconds between two looks at whether it shall stop."""


def read_log(sessions: Sessions, inputs: Mapping[str, Any], progress: Progress, by: int | None) -> dict[str, Any]:
    """Read a large file and keep what it holds, or why it cannot be read. A stop is heard while it is being opened."""
    progress(0.05, "fetching the file")
    with ThreadPoolExecutor(1) as aside:
        reading = aside.submit(_read, sessions, inputs["file"])
        share = 0.1
        while True:
            try:
                return reading.result(timeout=EVERY)
            except StillAtIt:
                share = min(share + 0.03, 0.9)
                progress(share, "opening it and looking for pulls")


def _read(sessions: Sessions, file_id: int) -> dict[str, Any]:
    with working(sessions) as work:
        file = work.get_one(RawFile, file_id)
        try:
            found = logs.known(work, file) or logs.read(work, file)
        except InputError as error:
            logs.refuse(work, file, error.message)
            return {"refused": error.message}
        return {"tables": len(found.tables), "rows": sum(table.rows for table in found.tables)}


def record(sessions: Sessions, inputs: Mapping[str, Any], progress: Progress, by: int | None) -> dict[str, Any]:
    """Record the pulls of large files, all of them or none."""
    with working(sessions) as work:
        work.act_as(work.get(User, by) if by else None)
        return asdict(recording.do_asked(work, inputs, progress))
