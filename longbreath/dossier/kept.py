"""Results kept in memory by the identity of their evidence: append-only rows never make them wrong."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

T = TypeVar("T")


class Kept(Generic[T]):
    """The newest `limit` results; the one used longest ago goes first."""

    def __init__(self, limit: int) -> None:
        self._limit, self._results, self._lock = limit, OrderedDict[Hashable, T](), Lock()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """The result for a key, made now if it is not kept."""
        with self._lock:
            if key in self._results:
                self._results.move_to_end(key)
                return self._results[key]
        result = make()
        with self._lock:
            self._results[key] = result
            while len(self._results) > self._limit:
                self._results.popitem(last=False)
        return result
