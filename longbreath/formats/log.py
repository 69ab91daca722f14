"""Logs as people bring them: the tables of a file with a thinned copy of their figures, and stretches of it as they stand."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.formats import apart
from longbreath.formats.table import Table

LARGE = 3 * 1024 * 1024
"""Files from this size on are read by a worker [bytes]."""
MOST_BYTES = 256 * 1024 * 1024
"""Largest file [bytes]."""
THIN = 20_000
"""Rows of a table that are kept to look at: enough to find ramps in hours of a log."""


@dataclass(frozen=True)
class LogTable:
    """One table of a log: name within the file, its thinned figures, how many rows it has, and every how many-th was kept."""

    name: str
    table: Table
    rows: int
    stride: int

    @property
    def how(self) -> str:
        """How it was read, for the preview."""
        if self.table.delimiter == "group":
            return f"{self.rows} rows of one clock"
        return self.table.how.replace(f"{self.table.values.shape[0]} rows", f"{self.rows} rows", 1)


@dataclass(frozen=True)
class Log:
    """What a file holds: its tables, and sentences on what of it was passed over."""

    tables: tuple[LogTable, ...]
    skipped: tuple[str, ...]


def is_large(size: int) -> bool:
    """Whether a file of so many bytes is read by a worker."""
    return size >= LARGE


Held = tuple[dict[str, Any], bytes]
"""Facts of a file to keep, and the block of its thinned figures."""
_ahead: ContextVar[Mapping[tuple[str, bytes], Future[Held]] | None] = ContextVar("ahead", default=None)


@contextmanager
def reading_ahead(files: Iterable[tuple[str, bytes]]) -> Iterator[None]:
    """While it lasts, files (by name and content) are read side by side, each before it is asked for; large ones are not."""
    with ThreadPoolExecutor(apart.AT_ONCE, "log") as pool:
        asked = {(name, data): pool.submit(_read, data, name) for name, data in files if not is_large(len(data))}
        held = _ahead.set(asked)
        try:
            yield
        finally:
            _ahead.reset(held)
            for one in asked.values():
                one.cancel()


def read_log(data: bytes, filename: str) -> Held:
    """What a file holds. Raises InputError (field "file") with a sentence."""
    asked = (_ahead.get() or {}).get((filename, data))
    return asked.result() if asked is not None else _read(data, filename)


def _read(data: bytes, filename: str) -> Held:
    large = is_large(len(data))
    limits = apart.LARGE if large else None
    return apart.opened("log", data, filename, limits, filename=filename, large=large, most=THIN)


def log_of(facts: dict[str, Any], block: bytes) -> Log:
    """What was kept of a file, as tables again."""
    tables, start = [], 0
    for told in facts["tables"]:
        shape = (told["thin"], len(told["headers"]))
        length = shape[0] * shape[1] * 8
        values = np.frombuffer(block[start : start + length], dtype=np.float64).reshape(shape)
        start += length
        table = _table(told, values)
        tables.append(LogTable(told["name"], table, told["rows"], told["stride"]))
    return Log(tuple(tables), tuple(facts["skipped"]))


def _table(told: dict[str, Any], values: npt.NDArray[np.float64]) -> Table:
    names = (tuple(told[name]) for name in ("headers", "units"))
    headers, units = names
    return Table(headers, units, values, told["delimiter"], told["decimal"], tuple(told["remarks"]))


@dataclass(frozen=True)
class Part:
    """A stretch of a log: table, first and last row."""

    table: int
    first: int
    last: int

    def to_json(self) -> dict[str, int]:
        """JSON-ready."""
        return {"table": self.table, "first": self.first, "last": self.last}


def read_parts(data: bytes, filename: str, tables: Sequence[LogTable], parts: Sequence[Part]) -> list[Table]:
    """Stretches of a log with all their rows, as tables. Raises InputError (field "file") as `read_log`."""
    if all(tables[part.table].stride == 1 for part in parts):
        return [_cut(tables[part.table].table, part) for part in parts]
    large = is_large(len(data))
    wanted = [[part.table, part.first, part.last] for part in parts]
    limits = apart.LARGE if large else None
    facts, block = apart.opened("log", data, filename, limits, filename=filename, large=large, parts=wanted)
    found, start = [], 0
    for part, rows in zip(parts, facts["rows"], strict=True):
        table = tables[part.table].table
        length = rows * len(table.headers) * 8
        values = np.frombuffer(block[start : start + length], dtype=np.float64).reshape(rows, len(table.headers))
        start += length
        found.append(Table(table.headers, table.units, values, table.delimiter, table.decimal, table.remarks))
    return found


def _cut(table: Table, part: Part) -> Table:
    values = table.values[part.first : part.last + 1]
    return Table(table.headers, table.units, values, table.delimiter, table.decimal, table.remarks)
