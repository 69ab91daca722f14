"""What the files of a session hold: read once, by the page where they are small, by a worker where they are large."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from threading import Lock
from typing import IO, Any

from cachetools import LRUCache
from isal import isal_zlib
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.dossier import blobs
from longbreath.dossier import work as tasks
from longbreath.dossier.work import RUNNING, WAITING
from longbreath.formats import log
from longbreath.formats.log import Log, is_large
from longbreath.formats.table import Table
from longbreath.store.base import now
from longbreath.store.models import LogRead, RawFile, WorkTask
from longbreath.store.unit_of_work import UnitOfWork

KIND = "log_read"
KEPT = 48 * 1024 * 1024
_kept: LRUCache[tuple[str, str], Log] = LRUCache(
    KEPT, getsizeof=lambda found: sum(t.table.values.nbytes + 4096 for t in found.tables)
)
_lock = Lock()


def read(work: UnitOfWork, file: RawFile, data: bytes | IO[bytes] | None = None) -> Log:
    """What a file holds, read now and kept. data: its bytes, where they are at hand.

    Raises InputError (field "file") with the reason if it cannot be read.
    """
    if data is None:
        data = blobs.content(work, file.blob_id)
    elif not isinstance(data, bytes):
        data.seek(0)
        data = data.read()
    return keep(work, file, *log.read_log(data, file.filename))


def keep(work: UnitOfWork, file: RawFile, facts: dict[str, Any], block: bytes) -> Log:
    """Keep what a file was found to hold."""
    read_at = now()
    values = {"file_id": file.id, "facts": facts, "thin": isal_zlib.compress(block, blobs.PACKED), "read_at": read_at}
    work.execute(insert(LogRead).values(**values).on_conflict_do_nothing())
    found = log.log_of(facts, block)
    _hold(_key(file, read_at), found)
    return found


def _key(file: RawFile, read_at: datetime) -> tuple[str, str]:
    return file.sha256, f"{file.filename} {read_at.isoformat()}"


def _hold(key: tuple[str, str], found: Log) -> None:
    with _lock:
        if sum(t.table.values.nbytes for t in found.tables) < KEPT // 4:
            _kept[key] = found


def known(db: Session, file: RawFile) -> Log | None:
    """What a file was found to hold; None if it was not read yet. Raises InputError if it could not be read."""
    query = select(LogRead.id, LogRead.read_at, LogRead.facts["refused"]).where(LogRead.file_id == file.id)
    kept = db.execute(query).first()
    if kept is None:
        return None
    number, read_at, refused = kept
    if refused is not None:
        raise InputError(str(refused), "file")
    key = _key(file, read_at)
    with _lock:
        found = _kept.get(key)
    if found is None:
        facts, thin = db.execute(select(LogRead.facts, LogRead.thin).where(LogRead.id == number)).one()
        found = log.log_of(facts, isal_zlib.decompress(thin))
        _hold(key, found)
    return found


def log_of(work: UnitOfWork, file: RawFile) -> Log | None:
    """What a file holds; a small one that was never read is read now, of a large one a worker is asked (None so far)."""
    found = known(work, file)
    if found is None and not is_large(file.size):
        return read(work, file)
    if found is None:
        ask(work, file)
    return found


def ask(work: UnitOfWork, file: RawFile) -> WorkTask:
    """Ask a worker to read a file."""
    return tasks.ask(work, KIND, {"file": file.id}, f"Reading {file.filename}", file.session.application_id)


def task_of(db: Session, file: RawFile) -> WorkTask | None:
    """The work of reading a file, if it was asked for."""
    return tasks.task_of(db, KIND, {"file": file.id})


def refuse(work: UnitOfWork, file: RawFile, why: str) -> None:
    """Keep why a file cannot be read."""
    values = {"file_id": file.id, "facts": {"refused": why}, "thin": b"", "read_at": now()}
    work.execute(insert(LogRead).values(**values).on_conflict_do_nothing())


def parts(db: Session, file: RawFile, found: Log, wanted: list[log.Part]) -> list[Table]:
    """Stretches of a file with all their rows. Raises InputError (field "file")."""
    whole = all(found.tables[p.table].stride == 1 for p in wanted)
    data = b"" if whole else blobs.content(db, file.blob_id)
    return log.read_parts(data, file.filename, found.tables, wanted)


def being_read(db: Session, files: Iterable[RawFile]) -> list[tuple[RawFile, WorkTask]]:
    """Files that a worker reads just now, with how far it is."""
    pairs = ((file, task_of(db, file)) for file in files if is_large(file.size))
    return [(file, task) for file, task in pairs if task is not None and task.state in (WAITING, RUNNING)]
