"""Logs in any format as tables: delimited text, workbooks, measurement files (MDF), and archives of them.

Of each table it tells names, units and rows; of the figures it gives either a thinned copy, or one stretch of rows as they stand.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError
from longbreath.formats.filename import clean_name
from longbreath.formats.readers import Told
from longbreath.formats.readers.bounds import MOST_ENTRIES, MOST_SPREAD, MOST_TABLES
from longbreath.formats.readers.delimited import read_large
from longbreath.formats.readers.measured import groups_of
from longbreath.formats.readers.table import layout_of, table_facts, unique, values_of
from longbreath.formats.readers.text import rows_of_text
from longbreath.formats.readers.workbook import sheets_of_workbook
from longbreath.formats.table import SHEET

Array = npt.NDArray[np.float64]
ARCHIVE, EMPTY, MEASURED = b"PK\x03\x04", b"PK\x05\x06", b"MDF     "
LARGE = 1 << 20
"""Text from this size on is read by the fast reader [bytes]."""
MOST_SPREAD_LARGE = 640 * 1024 * 1024
MINIMUM = 10


@dataclass(frozen=True)
class ReadTable:
    """One table of a file: its name within the file, what is told of it, its columns (k of (n,))."""

    name: str
    facts: dict[str, Any]
    columns: list[Array]

    @property
    def rows(self) -> int:
        """How many rows it has."""
        return self.columns[0].size

    def cut(self, rows: slice) -> Array:
        """Some of its rows, (m, k)."""
        return np.column_stack([column[rows] for column in self.columns])


def read(data: bytes, filename: str, large: bool, most: int = 0, parts: list[list[int]] | None = None) -> Told:
    """The tables of a log. Raises InputError (field "file") where it holds none.

    most: rows of each table in the block, thinned evenly (every so many-th); 0: none. parts: table, first and last row of each
    stretch that is wanted as it stands: the block is those, one after the other. large: a worker asks, with larger bounds.
    """
    skipped: list[str] = []
    tables = list(_tables(data, filename, large, skipped))
    if not tables:
        raise InputError(skipped[0] if skipped else f"{filename} holds no table of numbers.", "file")
    if parts is not None:
        if any(not 0 <= table < len(tables) for table, _, _ in parts):
            raise InputError(f"{filename} does not hold that table.", "file")
        wanted = [tables[table].cut(slice(first, last + 1)) for table, first, last in parts]
        return {"rows": [v.shape[0] for v in wanted]}, b"".join(np.ascontiguousarray(v).tobytes() for v in wanted)
    facts, blocks = [], []
    for table in tables:
        stride = max(1, -(-table.rows // most)) if most else 0
        thin = table.cut(slice(None, None, stride) if stride else slice(0, 0))
        facts.append({**table.facts, "name": table.name, "rows": table.rows, "stride": stride, "thin": thin.shape[0]})
        blocks.append(np.ascontiguousarray(thin).tobytes())
    return {"tables": facts, "skipped": skipped}, b"".join(blocks)


def _tables(data: bytes, filename: str, large: bool, skipped: list[str]) -> Iterator[ReadTable]:
    if data[:8] == MEASURED or data[:8] == b"UnFinMF ":
        yield from (ReadTable(*group) for group in groups_of(data, filename))
    elif data[:4] == EMPTY:
        return
    elif data[:4] == ARCHIVE and not _is_workbook(data):
        yield from _archived(data, filename, large, skipped)
    elif data[:4] == ARCHIVE:
        for name, rows in sheets_of_workbook(data, filename):
            if len(rows) > MINIMUM and len(rows[0]) >= 2:
                yield from _kept(name, rows, SHEET, filename, skipped)
    elif large or len(data) >= LARGE:
        yield ReadTable("", *read_large(data, filename, large))
    else:
        rows, delimiter = rows_of_text(data, filename)
        layout = layout_of(rows, filename, bare=True)
        values = values_of(rows, layout, filename, MINIMUM, "a log")
        yield ReadTable("", unique(table_facts(rows, layout, delimiter)), list(values.T))


def _kept(name: str, rows: list[list[str]], delimiter: str, filename: str, skipped: list[str]) -> Iterator[ReadTable]:
    """A sheet as a table; one that holds none is passed over, and said so."""
    try:
        layout = layout_of(rows, f"{filename}, {name}", bare=True)
        values = values_of(rows, layout, f"{filename}, {name}", MINIMUM, "a log")
    except InputError as error:
        skipped.append(error.message)
        return
    yield ReadTable(name, unique(table_facts(rows, layout, delimiter)), list(values.T))


def _is_workbook(data: bytes) -> bool:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return "[Content_Types].xml" in archive.namelist()
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        return True  # the reader of workbooks says what is wrong with it


def _archived(data: bytes, filename: str, large: bool, skipped: list[str]) -> Iterator[ReadTable]:
    """The tables of each file of an archive; a file that cannot be read is passed over and named. No archive in it is opened."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        entries = [e for e in archive.infolist() if not e.is_dir() and "__MACOSX" not in e.filename]
        most = MOST_SPREAD_LARGE if large else MOST_SPREAD
        if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > most:
            raise InputError(
                f"{filename} holds more than {most // 1024 // 1024} MB spread out. Send fewer at once.", "file"
            )
        number = 0
        for entry in sorted(entries, key=lambda e: e.filename.lower()):
            name = clean_name(entry.filename)
            try:
                inner = _spread(archive, entry, name)
                for table in _tables(inner, name, large, skipped):
                    number += 1
                    if number > MOST_TABLES:
                        raise InputError(
                            f"{filename} holds more than {MOST_TABLES} tables. Send fewer at once.", "file"
                        )
                    yield ReadTable(f"{name}, {table.name}" if table.name else name, table.facts, table.columns)
            except InputError as error:
                if number > MOST_TABLES:
                    raise
                skipped.append(error.message)


def _spread(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, name: str) -> bytes:
    """The bytes of an entry, no more than it says it holds. Raises InputError for a lock, an archive, or a lie about its size."""
    if entry.flag_bits & 1:
        raise InputError(f"{name} is locked with a password. Unlock it first.", "file")
    try:
        with archive.open(entry) as stream:
            inner = stream.read(entry.file_size + 1)
    except (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError, ValueError):
        raise InputError(f"{name} is damaged in its archive. Pack it again.", "file") from None
    if len(inner) > entry.file_size:
        raise InputError(f"{name} is larger than its archive says.", "file")
    if inner[:4] == ARCHIVE and not _is_workbook(inner):
        raise InputError(f"{name} is an archive within an archive. Unpack it first.", "file")
    return inner
