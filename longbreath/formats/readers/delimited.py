"""Large delimited text: its head is told by the careful reader, its body read by Arrow's."""

from __future__ import annotations

import os
from typing import Any

os.environ.setdefault("ARROW_DEFAULT_MEMORY_POOL", "system")  # bounded by the limits of this process

import numpy as np
import numpy.typing as npt
import pyarrow as pa
from pyarrow import csv

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers.bounds import MOST_COLUMNS, MOST_LARGE
from longbreath.formats.readers.cells import number
from longbreath.formats.readers.table import Layout, layout_of, table_facts, unique
from longbreath.formats.readers.text import decode, rows_of_lines

Array = npt.NDArray[np.float64]
HEAD = 1 << 17
"""Bytes by which the head is told."""
NOTHING = [
    "",
    "-",
    "--",
    "---",
    "NaN",
    "nan",
    "NAN",
    "n/a",
    "N/A",
    "#N/A",
    "NULL",
    "null",
    "None",
    "inf",
    "-inf",
    "Inf",
    "-Inf",
]
MINIMUM = 10


def read_large(data: bytes, filename: str, threads: bool) -> tuple[dict[str, Any], list[Array]]:
    """What is told of a table, and its columns (k of (n,)). threads: whether it may use all processors, which takes memory.

    Raises InputError (field "file") for what is no table, or too much."""
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        data = data.decode("utf-16", errors="replace").encode()
    view = memoryview(data)
    head = data[:HEAD]
    head = head[: head.rfind(b"\n") + 1] or head
    lines = [line for line in decode(head, filename).splitlines() if line.strip()]
    rows, delimiter = rows_of_lines(lines, filename)
    layout = layout_of(rows, filename, bare=True)
    if layout.width > MOST_COLUMNS:
        raise InputError(f"{filename} has more than {MOST_COLUMNS} columns.", "file")
    if data.count(b"\n") * layout.width > MOST_LARGE:
        raise InputError(f"{filename} holds more than {MOST_LARGE // 10**6} million cells. Send it in parts.", "file")
    columns = _body(view[_offset(data, layout.first) :], layout, delimiter, filename, threads)
    rows_there = columns[0].size
    if not any(np.isfinite(column).all() for column in columns):
        full = np.any([np.isfinite(column) for column in columns], axis=0)
        columns = [column[full] for column in columns]
        rows_there = int(full.sum())
    if rows_there < MINIMUM:
        raise InputError(f"{filename} has {rows_there} rows of numbers; a log needs at least {MINIMUM}.", "file")
    return unique(table_facts(rows, layout, delimiter)), columns


def _offset(data: bytes, row: int) -> int:
    """Where the row begins, counted in lines that hold something."""
    start = 0
    while row >= 0:
        end = data.find(b"\n", start)
        line = data[start : end if end >= 0 else len(data)]
        if line.strip():
            if row == 0:
                return start
            row -= 1
        if end < 0:
            return start
        start = end + 1
    return start


def _body(data: memoryview, layout: Layout, delimiter: str, filename: str, threads: bool) -> list[Array]:
    """Columns of the body: as numbers where every cell is one or nothing; else without the rows of another width; else cell by
    cell."""
    names = [f"c{n}" for n in range(layout.width)]
    numbers = csv.ConvertOptions(
        column_types=dict.fromkeys(names, pa.float64()),
        null_values=NOTHING,
        decimal_point=layout.decimal,
        quoted_strings_can_be_null=True,
    )
    texts = csv.ConvertOptions(column_types=dict.fromkeys(names, pa.string()))
    plain = csv.ParseOptions(delimiter=delimiter)
    passing = csv.ParseOptions(delimiter=delimiter, invalid_row_handler=lambda row: "skip")
    for parsing, converting, at_once in ((plain, numbers, threads), (passing, numbers, False), (passing, texts, False)):
        reading = csv.ReadOptions(column_names=names, use_threads=at_once, block_size=1 << 20)
        if converting is texts:
            reading.encoding = "latin1"
        try:
            found = csv.read_csv(pa.BufferReader(pa.py_buffer(data)), reading, parsing, converting)
        except pa.ArrowInvalid:  # a word among the numbers, a row of another width, another encoding
            continue
        return [_column(found.column(n), layout.decimal) for n in range(layout.width)]
    raise InputError(f"{filename} cannot be read as a table. Export it again.", "file")


def _column(column: pa.ChunkedArray, decimal: str) -> Array:
    if pa.types.is_floating(column.type):
        values = np.concatenate(
            [np.asarray(chunk.to_numpy(zero_copy_only=False)) for chunk in column.chunks] or [np.zeros(0)]
        )
        return np.where(np.isfinite(values), values, np.nan)
    kept: dict[str, float] = {}
    return np.array([_known(text, decimal, kept) for text in column.to_pylist()], dtype=np.float64)


def _known(text: str | None, decimal: str, kept: dict[str, float]) -> float:
    """A cell as a number; words that come again and again are read once."""
    if text is None:
        return float("nan")
    if text not in kept:
        if len(kept) > 200_000:
            kept.clear()
        kept[text] = number(text, decimal)
    return kept[text]
