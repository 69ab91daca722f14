"""Delimited text as rows of cells: encodings, delimiters, and the bounds of what is taken."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers.bounds import check_cells, check_columns, check_rows

_CONTROLS = re.compile(r"[\x00-\x08\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")


def rows_of_text(data: bytes, filename: str) -> tuple[list[list[str]], str]:
    """The rows of a text and its delimiter. Raises InputError for what is no table, or more than is taken."""
    text = decode(data, filename)
    check_rows(text.count("\n") + text.count("\r"), filename)
    return rows_of_lines([line for line in text.splitlines() if line.strip()], filename)


def rows_of_lines(lines: list[str], filename: str) -> tuple[list[list[str]], str]:
    """The rows of lines that hold something, and their delimiter. Raises InputError as `rows_of_text`."""
    if len(lines) < 2:
        raise InputError(f"{filename} holds one line only. Export it with a header and a row per reading.", "file")
    delimiter = _delimiter([line for line in lines if not line.startswith("#")] or lines, filename)
    check_columns(max(line.count(delimiter) for line in lines) + 1, filename)
    check_cells(sum(line.count(delimiter) + 1 for line in lines), filename)
    reader = csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter)
    try:
        return [[plain(cell) for cell in row] for row in reader], delimiter
    except csv.Error:
        words = f"{filename} holds a cell of more than {csv.field_size_limit()} signs: is a quotation mark left open?"
        raise InputError(words, "file") from None


def plain(cell: str) -> str:
    """A cell without the signs that no page, sheet or database can hold, trimmed."""
    return _CONTROLS.sub("", cell).strip()


def decode(data: bytes, filename: str) -> str:
    """The text of a file in the encodings that loggers write. Raises InputError for what is no text."""
    if not data.strip():
        raise InputError(f"{filename} is empty. Export it again and upload that file.", "file")
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return data.decode("utf-16", errors="replace")
    if b"\x00" in data or _share_of_controls(data[:4096]) > 0.02:
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
        widths = _widths(lines[:200], candidate)
        width, count = max(widths.items(), key=lambda item: (item[0] > 1, item[1]))
        score = count / min(len(lines), 200) if width > 1 else 0.0
        if score > best_score + (0.1 if best else 0.0):
            best, best_score = candidate, score
    if best_score < 0.5:
        raise InputError(
            f"{filename} has no columns that can be told apart. Separate them by comma, semicolon or tab.", "file"
        )
    return best


def _widths(lines: list[str], delimiter: str) -> Counter[int]:
    try:
        return Counter(len(row) for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter))
    except csv.Error:
        return Counter(line.count(delimiter) + 1 for line in lines)
