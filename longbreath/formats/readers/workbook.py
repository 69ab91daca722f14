"""The sheets of an XLSX workbook as rows of cells."""

from __future__ import annotations

import io
import zipfile

import openpyxl

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers.bounds import (
    MOST_COLUMNS,
    MOST_ENTRIES,
    MOST_ROWS,
    MOST_SHEETS,
    MOST_SPREAD,
    check_cells,
    check_columns,
    check_rows,
)
from longbreath.formats.readers.text import plain


def rows_of_workbook(data: bytes, filename: str) -> list[list[str]]:
    """Rows of the first sheet as text; empty columns at the right and empty rows are left out. Raises InputError as `rows_of_text`."""
    (_, rows), *_ = sheets_of_workbook(data, filename, first_only=True)
    if len(rows) < 2 or len(rows[0]) < 2:
        raise InputError(f"{filename}: its first sheet holds no table. Put header and rows on the first sheet.", "file")
    return rows


def sheets_of_workbook(data: bytes, filename: str, first_only: bool = False) -> list[tuple[str, list[list[str]]]]:
    """Name and rows of each sheet; rows are filled up to one width. Raises InputError for what is no workbook, or too much."""
    check_archive(data, filename)
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        sheets = book.worksheets[:1] if first_only else book.worksheets[:MOST_SHEETS]
        found = [(str(sheet.title), _rows(sheet, filename)) for sheet in sheets]
        book.close()
    except InputError:
        raise
    except MemoryError:
        raise
    except Exception:  # parse, archive, type and overflow errors of a damaged workbook
        raise InputError(
            f"{filename} cannot be opened as a workbook. Save it again as XLSX or as CSV.", "file"
        ) from None
    if not found:
        raise InputError(f"{filename} cannot be opened as a workbook. Save it again as XLSX or as CSV.", "file")
    return [(name, _filled(rows)) for name, rows in found]


def _filled(rows: list[list[str]]) -> list[list[str]]:
    width = max((len(row) for row in rows), default=0)
    return [row + [""] * (width - len(row)) for row in rows]


def _rows(sheet: openpyxl.worksheet._read_only.ReadOnlyWorksheet, filename: str) -> list[list[str]]:
    rows, cells = [], 0
    bounds = {"max_row": MOST_ROWS + 1, "max_col": MOST_COLUMNS + 1}
    for number, row in enumerate(sheet.iter_rows(**bounds, values_only=True), start=1):
        check_rows(number, filename)
        texts = ["" if value is None else plain(str(value)) for value in row]
        while texts and not texts[-1]:
            texts.pop()
        check_columns(len(texts), filename)
        cells += len(texts)
        check_cells(cells, filename)
        if texts:
            rows.append(texts)
    return rows


def check_archive(data: bytes, filename: str) -> None:
    """Refuse an archive that spreads out to more than a sheet needs, before anything of it is spread out."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        raise InputError(
            f"{filename} cannot be opened as a workbook. Save it again as XLSX or as CSV.", "file"
        ) from None
    if len(entries) > MOST_ENTRIES or sum(entry.file_size for entry in entries) > MOST_SPREAD:
        words = f"{filename} holds more than {MOST_SPREAD // 1024 // 1024} MB spread out. Save the one sheet as CSV."
        raise InputError(words, "file")
