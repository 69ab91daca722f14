"""Tables as loggers and benches write them, delimited text or a workbook: what was read, and how."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from threading import Lock

import numpy as np
import numpy.typing as npt
from cachetools import LRUCache

from longbreath.core.pull.pulls import MINIMUM_ROWS
from longbreath.formats import apart

DELIMITERS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
SHEET = "sheet"
KEPT = 32 * 1024 * 1024
"""Tables kept in memory, so that a page about files that wait does not open them each time [bytes of figures]."""


@dataclass(frozen=True)
class Table:
    """A read file: headers and unit texts (k,), values (n, k) with NaN for what is no number, and how it was read."""

    headers: tuple[str, ...]
    units: tuple[str, ...]
    values: npt.NDArray[np.float64]
    delimiter: str
    decimal: str
    remarks: tuple[str, ...]

    @property
    def fingerprint(self) -> str:
        """Identifies the source by its header names, unit row and delimiter, not by its figures."""
        text = self.delimiter + "\n" + "\n".join(f"{h}|{u}" for h, u in zip(self.headers, self.units, strict=True))
        return hashlib.sha256(text.encode()).hexdigest()

    @property
    def how(self) -> str:
        """How it was read, for the preview."""
        if self.delimiter == SHEET:
            return f"{self.values.shape[0]} rows of the first sheet"
        mark = "comma" if self.decimal == "," else "point"
        return f"{self.values.shape[0]} rows, columns apart by {DELIMITERS[self.delimiter]}, decimal {mark}"


_kept: LRUCache[tuple[str, int], Table] = LRUCache(KEPT, getsizeof=lambda table: table.values.nbytes + 4096)
_lock = Lock()


def read_table(data: bytes, filename: str = "file", minimum: int = MINIMUM_ROWS, one: str = "a sweep") -> Table:
    """Read delimited text, or the first sheet of an XLSX workbook, with `minimum` rows of numbers or more.

    one: what such a file holds, for the message. Raises InputError (field "file") with a sentence that says what to do.
    """
    key = (hashlib.sha256(data).hexdigest(), minimum)
    with _lock:
        found = _kept.get(key)
    if found is None:
        facts, block = apart.opened("table", data, filename, filename=filename, minimum=minimum, one=one)
        headers, units, remarks = (tuple(facts[name]) for name in ("headers", "units", "remarks"))
        values = np.frombuffer(block, dtype=np.float64).reshape(-1, len(headers))
        found = Table(headers, units, values, facts["delimiter"], facts["decimal"], remarks)
        with _lock:
            if found.values.nbytes < KEPT // 4:
                _kept[key] = found
    return found
