"""Tables as loggers and benches write them, delimited text or a workbook.

Copes with encodings, delimiters, decimal marks, unit rows and remarks above the header.
"""

from __future__ import annotations

import csv
import hashlib
import io
import re
import zipfile
from collections import Counter
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import openpyxl

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.units import KINDS, guess_unit
from longbreath.core.dyno.pulls import MINIMUM_ROWS

DELIMITERS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
SHEET = "sheet"
SHEET_ROWS = 20_000
_DECIMAL_COMMA = re.compile(r"^\s*[+\-]?\d+,\d+\s*$")
_DECIMAL_POINT = re.compile(r"^\s*[+\-]?\d*\.\d+([eE][+\-]?\d+)?\s*$")
_ALL_KINDS = tuple(KINDS)


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


def read_table(data: bytes, filename: str = "file", minimum: int = MINIMUM_ROWS, one: str = "a sweep") -> Table:
    """Read delimited text, or the first sheet of an XLSX workbook, with `minimum` rows of numbers or more.

    one: what such a file holds, for the message. Raises InputError (field "file") with a sentence that says what to do.
    """
    rows, delimiter = _workbook(data, filename) if data[:4] == b"PK\x03\x04" else _text_rows(data, filename)
    width = Counter(len(row) for row in rows if len(row) > 1).most_common(1)[0][0]
    decimal = _decimal(rows)
    first = next((i for i, row in enumerate(rows) if _is_data(row, width, decimal)), None)
    if first is None:
        raise InputError(f"{filename} has no rows of numbers under a header.", "file")
    headers, units, top = _headers(rows, first, width, filename)
    values = np.array([_numbers(row, width, decimal) for row in rows[first:]], dtype=np.float64)
    values = values[np.isfinite(values).sum(axis=1) >= 1]
    if values.shape[0] < minimum:
        raise InputError(
            f"{filename} has {values.shape[0]} rows of numbers; {one} needs at least {minimum}. "
            "Export every logged row, not the summary.",
            "file",
        )
    remarks = tuple(", ".join(cell for cell in row if cell) for row in rows[:top])
    return Table(headers, units, values, delimiter, decimal, remarks)


def _text_rows(data: bytes, filename: str) -> tuple[list[list[str]], str]:
    lines = [line for line in _decode(data, filename).splitlines() if line.strip()]
    if len(lines) < 2:
        raise InputError(f"{filename} holds one line only. Export it with a header and a row per reading.", "file")
    delimiter = _delimiter([line for line in lines if not line.startswith("#")] or lines, filename)
    reader = csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter)
    return [[cell.strip() for cell in row] for row in reader], delimiter


def _workbook(data: bytes, filename: str) -> tuple[list[list[str]], str]:
    """The first sheet of a workbook as rows of text; empty columns at the right and empty rows are left out."""
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        cells = [
            ["" if v is None else str(v).strip() for v in row]
            for row in sheet.iter_rows(max_row=SHEET_ROWS, values_only=True)
        ]
        book.close()
    except (
        KeyError,
        ValueError,
        OSError,
        IndexError,
        zipfile.BadZipFile,
        openpyxl.utils.exceptions.InvalidFileException,
    ):
        raise InputError(
            f"{filename} cannot be opened as a workbook. Save it again as XLSX or as CSV.", "file"
        ) from None
    width = max((i + 1 for row in cells for i, cell in enumerate(row) if cell), default=0)
    rows = [row[:width] for row in cells if any(row)]
    if len(rows) < 2 or width < 2:
        raise InputError(f"{filename}: its first sheet holds no table. Put header and rows on the first sheet.", "file")
    return rows, SHEET


def _decode(data: bytes, filename: str) -> str:
    if not data.strip():
        raise InputError(f"{filename} is empty. Export it again and upload that file.", "file")
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return data.decode("utf-16", errors="replace")
    if b"\x00" in data[:4096] or _share_of_controls(data[:4096]) > 0.02:
        raise InputError(
            f"{filename} is not a text file, whatever its name says. Export it as CSV from the logger.", "file"
        )
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")


def _share_of_controls(data: bytes) -> float:
    return sum(byte < 32 and byte not in b"\t\r\n\x0c" for byte in data) / max(len(data), 1)


def _delimiter(lines: list[str], filename: str) -> str:
    """The delimiter whose rows agree best on a width of two or more; a decimal comma never wins over a semicolon."""
    best, best_score = "", 0.0
    for candidate in (";", "\t", "|", ","):
        widths = Counter(len(row) for row in csv.reader(io.StringIO("\n".join(lines[:200])), delimiter=candidate))
        width, count = max(widths.items(), key=lambda item: (item[0] > 1, item[1]))
        score = count / min(len(lines), 200) if width > 1 else 0.0
        if score > best_score + (0.1 if best else 0.0):
            best, best_score = candidate, score
    if best_score < 0.5:
        raise InputError(
            f"{filename} has no columns that can be told apart. Separate them by comma, semicolon or tab.", "file"
        )
    return best


def _decimal(rows: list[list[str]]) -> str:
    commas = sum(bool(_DECIMAL_COMMA.match(cell)) for row in rows for cell in row)
    points = sum(bool(_DECIMAL_POINT.match(cell)) for row in rows for cell in row)
    return "," if commas > points else "."


def _number(cell: str, decimal: str) -> float:
    text = cell.replace("\u00a0", "").replace("\u202f", "").replace("−", "-").strip().strip('"')
    if decimal == ",":
        text = text.replace(".", "").replace(",", ".")
    try:
        return float(text)
    except ValueError:
        return float("nan")


def _numbers(row: list[str], width: int, decimal: str) -> list[float]:
    cells = (row + [""] * width)[:width]
    return [value if np.isfinite(value := _number(cell, decimal)) else float("nan") for cell in cells]


def _is_data(row: list[str], width: int, decimal: str) -> bool:
    numbers = sum(np.isfinite(_number(cell, decimal)) for cell in row)
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
