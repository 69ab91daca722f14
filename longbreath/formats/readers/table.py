"""Rows of cells as a table of numbers: remarks and headers above, units in or under the headers, the decimal mark."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from math import isfinite
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.units import KINDS, guess_unit
from longbreath.formats.readers import Told
from longbreath.formats.readers.cells import COMMA, POINT, number
from longbreath.formats.readers.text import rows_of_text
from longbreath.formats.readers.workbook import rows_of_workbook
from longbreath.formats.table import SHEET

Array = npt.NDArray[np.float64]
LOOKED_AT = 2_000
"""Rows by which the decimal mark is told."""
_ALL_KINDS = tuple(KINDS)


@dataclass(frozen=True)
class Layout:
    """How the rows of a table lie: width, decimal mark, headers with units, index of the header row and of the first data row."""

    width: int
    decimal: str
    headers: tuple[str, ...]
    units: tuple[str, ...]
    top: int
    first: int


def read(data: bytes, filename: str, minimum: int, one: str) -> Told:
    """Headers, units, delimiter, decimal mark and remarks; the values (n, k) as float64. Raises InputError (field "file")."""
    if data[:4] == b"PK\x03\x04":
        rows, delimiter = rows_of_workbook(data, filename), SHEET
    else:
        rows, delimiter = rows_of_text(data, filename)
    layout = layout_of(rows, filename)
    values = values_of(rows, layout, filename, minimum, one)
    return table_facts(rows, layout, delimiter), values.tobytes()


def layout_of(rows: list[list[str]], filename: str, bare: bool = False) -> Layout:
    """How rows lie. bare: a table without a header row gets the names “column 1” … Raises InputError for rows without figures."""
    widths = Counter(len(row) for row in rows if len(row) > 1).most_common(1)
    if not widths:
        raise InputError(f"{filename} has no rows of numbers under a header.", "file")
    width = widths[0][0]
    decimal = _decimal(rows[:LOOKED_AT])
    first = next((i for i, row in enumerate(rows) if _is_data(row, width, decimal)), None)
    if first is None:
        raise InputError(f"{filename} has no rows of numbers under a header.", "file")
    if bare and not any(len(row) == width for row in rows[max(0, first - 1) : first]):
        names = tuple(f"column {n}" for n in range(1, width + 1))
        return Layout(width, decimal, names, ("",) * width, first, first)
    headers, units, top = _headers(rows, first, width, filename)
    return Layout(width, decimal, headers, units, top, first)


def values_of(rows: list[list[str]], layout: Layout, filename: str, minimum: int, one: str) -> Array:
    """The figures under the headers, (n, k), rows without any left out. Raises InputError for fewer than `minimum` rows."""
    values = np.array([_numbers(row, layout.width, layout.decimal) for row in rows[layout.first :]], dtype=np.float64)
    values = np.asarray(values[np.isfinite(values).sum(axis=1) >= 1])
    if values.shape[0] < minimum:
        raise InputError(
            f"{filename} has {values.shape[0]} rows of numbers; {one} needs at least {minimum}. "
            "Export every logged row, not the summary.",
            "file",
        )
    return values


def table_facts(rows: list[list[str]], layout: Layout, delimiter: str) -> dict[str, Any]:
    """What is told of a table beside its figures."""
    remarks = [", ".join(cell for cell in row if cell) for row in rows[: layout.top]]
    return {
        "headers": layout.headers,
        "units": layout.units,
        "delimiter": delimiter,
        "decimal": layout.decimal,
        "remarks": remarks,
    }


def unique(facts: dict[str, Any]) -> dict[str, Any]:
    """Headers that can be told apart: a second “Lambda” is “Lambda (2)”, an empty one has its number."""
    seen: dict[str, int] = {}
    headers = []
    for place, header in enumerate(facts["headers"], start=1):
        name = header or f"column {place}"
        seen[name] = seen.get(name, 0) + 1
        headers.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return {**facts, "headers": tuple(headers)}


def _decimal(rows: list[list[str]]) -> str:
    commas = sum(bool(COMMA.match(cell)) for row in rows for cell in row)
    points = sum(bool(POINT.match(cell)) for row in rows for cell in row)
    return "," if commas > points else "."


def _numbers(row: list[str], width: int, decimal: str) -> list[float]:
    cells = (row + [""] * width)[:width]
    return [number(cell, decimal) for cell in cells]


def _is_data(row: list[str], width: int, decimal: str) -> bool:
    numbers = sum(isfinite(number(cell, decimal)) for cell in row)
    return len(row) == width and numbers >= 2 and numbers * 3 >= sum(bool(cell) for cell in row)


def _headers(
    rows: list[list[str]], first: int, width: int, filename: str
) -> tuple[tuple[str, ...], tuple[str, ...], int]:
    """Header names and unit texts above the first row of data, and the index of the header row."""
    above = [i for i in range(first) if len(rows[i]) == width]
    if not above or above[-1] != first - 1:
        raise InputError(f"{filename} has no header row above its numbers. Add one that names the columns.", "file")
    last = above[-1]
    if len(above) > 1 and above[-2] == last - 1 and all(not c or _is_unit(c.strip("()[] ")) for c in rows[last]):
        return tuple(rows[last - 1]), tuple(cell.strip("()[] ") for cell in rows[last]), last - 1
    names, units = zip(*(split_unit(cell) for cell in rows[last]), strict=True)
    return tuple(names), tuple(units), last


def _is_unit(text: str) -> bool:
    return text.lower() in ("λ", "lambda", "afr", "s") or any(guess_unit(kind, text) is not None for kind in _ALL_KINDS)


def split_unit(header: str) -> tuple[str, str]:
    """A header's name and the unit written in it: "Torque (lb-ft)", "Power [kW]", "torque_nm", "Speed, rpm"."""
    match = re.match(r"^(.*?)\s*[(\[]\s*([^()\[\]]+?)\s*[)\]]\s*$", header)
    if match and _is_unit(match[2]):
        return match[1].strip() or match[2], match[2]
    match = re.match(r"^(.+?)(?:_|,\s*|\s+|/)([^\s_,/]+)$", header)
    if match and len(match[2]) > 1 and _is_unit(match[2]):
        return match[1].strip(), match[2]
    return header, header if _is_unit(header) else ""
