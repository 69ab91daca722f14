"""A test is weighed once: what came of it is kept by the digest of the test and the version that weighed it, for every process."""

from __future__ import annotations

import io
import pickle
from threading import Lock
from typing import Any

from cachetools import LRUCache
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from longbreath.core.case import seen
from longbreath.core.case.case import digest_of
from longbreath.core.case.weigh import Weighed, weigh
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.remembered import version
from longbreath.store.models import KeptWeighing
from longbreath.store.once import once
from longbreath.store.unit_of_work import UnitOfWork

PLAIN = {
    ("datetime", "date"),
    ("datetime", "datetime"),
    ("datetime", "timezone"),
    ("datetime", "timedelta"),
    ("numpy", "dtype"),
    ("numpy", "ndarray"),
    ("numpy._core.multiarray", "_reconstruct"),
    ("numpy._core.multiarray", "scalar"),
    ("numpy._core.numeric", "_frombuffer"),
    ("numpy.core.multiarray", "_reconstruct"),
    ("numpy.core.multiarray", "scalar"),
    ("numpy.core.numeric", "_frombuffer"),
}
"""What beside the classes of the core may stand in a row: days, and arrays of numbers."""
_here: LRUCache[str, Weighed] = LRUCache(512)
_lock = Lock()


class _Reader(pickle.Unpickler):
    """Reads plain data of the core and arrays, and nothing that could do anything."""

    def find_class(self, module: str, name: str) -> Any:
        """A class of the core, or one of the plain ones. Raises UnpicklingError for any other."""
        found = (
            super().find_class(module, name)
            if (module, name) in PLAIN or module.startswith("longbreath.core.")
            else None
        )
        if found is None or (module.startswith("longbreath.core.") and not isinstance(found, type)):
            raise pickle.UnpicklingError(f"{module}.{name} is no plain data")
        return found


def read(data: bytes) -> Weighed:
    """What was kept. Raises UnpicklingError for anything but plain data."""
    found = _Reader(io.BytesIO(data)).load()
    if not isinstance(found, Weighed):
        raise pickle.UnpicklingError("This is no weighing.")
    return found


def digest_in(db: Session, test: seen.Test) -> str:
    """What identifies a test, made once in a unit of work for each that it holds."""
    return once(db, (digest_in, id(test)), lambda: (test, digest_of(test)))[1]


def weighed_of(db: Session, test: seen.Test) -> Weighed:
    """A test weighed on the channels of the records, once for each digest. Raises EvidenceError where its pulls do not allow it."""
    digest = digest_in(db, test)
    with _lock:
        if digest in _here:
            return _here[digest]
    found = _kept(db, digest)
    if found is None:
        found = weigh(test, channels_in(db))
        if isinstance(db, UnitOfWork):
            values = {"digest": digest, "version": version(), "data": pickle.dumps(found, 5)}
            new = insert(KeptWeighing).values(**values)
            db.before_commit(new.on_conflict_do_update(index_elements=[KeptWeighing.digest], set_=values))
    with _lock:
        _here[digest] = found
    return found


def _kept(db: Session, digest: str) -> Weighed | None:
    query = select(KeptWeighing.data).where(KeptWeighing.digest == digest, KeptWeighing.version == version())
    data = db.scalar(query)
    try:
        return read(data) if data is not None else None
    except (pickle.UnpicklingError, AttributeError, ImportError):
        return None
