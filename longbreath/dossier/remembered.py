"""What was made of a dossier, kept in this process while nothing in the dossier changes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache
from sqlalchemy.orm import Session

from longbreath.store.base import now
from longbreath.store.stamps import stamps_of

T = TypeVar("T")


class Remembered(Generic[T]):
    """Makes something of applications, for many at once, and keeps it by their stamps.

    make: gives it by id for the ids it is handed; it may hold no rows of the database, and depend on nothing but the records.
    """

    def __init__(self, make: Callable[[Session, Sequence[int]], dict[int, T]], most: int = 2000) -> None:
        self._make = make
        self._kept: LRUCache[tuple[str, int, str], T] = LRUCache(most)
        self._lock = Lock()

    def __call__(self, db: Session, ids: Sequence[int]) -> dict[int, T]:
        """By id, made anew where its stamp is another."""
        stamps = stamps_of(db, ids)
        if stamps is None:
            return self._make(db, ids)
        place = str(db.get_bind().engine.url)
        day = now().date().isoformat()  # certificates and clocks run out without anybody writing anything
        keys = {number: (place, number, f"{stamp} {day}") for number, stamp in stamps.items()}
        with self._lock:
            found = {number: self._kept[key] for number, key in keys.items() if key in self._kept}
        missing = [number for number in ids if number not in found]
        if missing:
            made = self._make(db, missing)
            with self._lock:
                for number in missing:
                    self._kept[keys[number]] = made[number]
            found |= made
        return {number: found[number] for number in ids}
