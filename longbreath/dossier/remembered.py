"""What was made of a dossier, kept while nothing in the dossier changes: in this process, and in rows for all others."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Any, Generic, TypeVar

from cachetools import LRUCache
from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from longbreath.core.case.case import plain
from longbreath.store.base import now
from longbreath.store.models import Kept
from longbreath.store.once import once
from longbreath.store.stamps import stamps_of
from longbreath.store.unit_of_work import UnitOfWork

T = TypeVar("T")
ROOT = Path(__file__).parents[1]
MAKERS = ("core", "dossier")
"""Rooms that decide what is made: what another version made is made anew."""


@cache
def version() -> str:
    """Identifies the program that makes what is kept."""
    found = hashlib.sha256()
    for room in MAKERS:
        for path in sorted((ROOT / room).rglob("*.py")):
            found.update(path.read_bytes())
    return found.hexdigest()[:16]


class Remembered(Generic[T]):
    """Makes something of applications, for many at once, and keeps it by their stamps.

    make: gives it by id for the ids it is handed; it may hold no rows of the database, and depend on nothing but the records.
    name: under which it is kept in rows as well, so that no process makes what another has made; plain data alone can be.
    """

    def __init__(
        self, make: Callable[[Session, Sequence[int]], dict[int, T]], most: int = 2000, name: str = "", kind: Any = None
    ) -> None:
        self._make, self._name = make, name
        self._kept: LRUCache[tuple[str, int, str], T] = LRUCache(most)
        self._lock = Lock()
        self._data = TypeAdapter(kind) if name else None

    def __call__(self, db: Session, ids: Sequence[int]) -> dict[int, T]:
        """By id, made anew where its stamp is another."""
        stamps = once(db, (stamps_of, tuple(ids)), lambda: stamps_of(db, ids))
        if stamps is None:
            return self._make(db, ids)
        place = str(db.get_bind().engine.url)
        day = now().date().isoformat()  # certificates and clocks run out without anybody writing anything
        marks = {number: f"{stamp} {day}" for number, stamp in stamps.items()}
        with self._lock:
            keys = {number: (place, number, mark) for number, mark in marks.items()}
            found = {number: self._kept[key] for number, key in keys.items() if key in self._kept}
        missing = {number: marks[number] for number in ids if number not in found}
        if missing:
            made = self._read(db, missing)
            if left := [number for number in missing if number not in made]:
                new = self._make(db, left)
                self._write(db, new, missing)
                made |= new
            with self._lock:
                for number in missing:
                    self._kept[keys[number]] = made[number]
            found |= made
        return {number: found[number] for number in ids}

    def _read(self, db: Session, marks: dict[int, str]) -> dict[int, T]:
        """What another process made of the same records by the same version."""
        if self._data is None:
            return {}
        query = select(Kept.application_id, Kept.stamp, Kept.value)
        query = query.where(Kept.what == self._name, Kept.application_id.in_(marks))
        return {
            number: self._data.validate_python(value["of"])
            for number, stamp, value in db.execute(query)
            if stamp == f"{marks[number]} {version()}"
        }

    def _write(self, db: Session, made: dict[int, T], marks: dict[int, str]) -> None:
        """Have it kept for the others, once this unit of work ends well."""
        if self._data is None or not isinstance(db, UnitOfWork):
            return
        rows = [
            {
                "what": self._name,
                "application_id": number,
                "stamp": f"{marks[number]} {version()}",
                "value": {"of": plain(made[number])},
            }
            for number in sorted(made)
        ]
        new = insert(Kept).values(rows)
        changed = {"stamp": new.excluded.stamp, "value": new.excluded.value}
        db.before_commit(new.on_conflict_do_update(index_elements=[Kept.what, Kept.application_id], set_=changed))
