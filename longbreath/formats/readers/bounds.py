"""How much a file may hold. What a request waits for is small; each bound is far beyond a pull or a bench sheet."""

from __future__ import annotations

from longbreath.core.basis.errors import InputError

MOST_ROWS = 50_000
MOST_COLUMNS = 256
MOST_SHEETS = 20
MOST_CELLS = 500_000
MOST_SPREAD = 32 * 1024 * 1024
"""What an archive may hold, spread out [bytes]."""
MOST_ENTRIES = 500
MOST_TABLES = 200
"""Most tables of one file: sheets, groups, files of an archive."""
MOST_LARGE = 30_000_000
"""Most cells that a worker takes of one table."""
MOST_POINTS = 4_000
MOST_SHAPES = 200
MOST_DEPTH = 40
MOST_DRAWING = 4 * 1024 * 1024
"""Largest drawing [bytes]."""
MOST_PIXELS = {"JPEG": 64_000_000, "PNG": 16_000_000, "WEBP": 16_000_000}
"""Most pixels of a photo. A JPEG can be read small, the others only whole."""
FARTHEST = 10.0
"""Farthest that a point of an outline may lie from its origin [m]."""


def _check(found: int, most: int, what: str, filename: str) -> None:
    if found > most:
        number = f"{most:,}".replace(",", "\u202f")
        words = f"{filename} holds more than {number} {what}. Export less at once: one pull, or one sheet, a file."
        raise InputError(words, "file")


def check_rows(found: int, filename: str) -> None:
    """Raises InputError for more rows than are taken at once."""
    _check(found, MOST_ROWS, "rows", filename)


def check_columns(found: int, filename: str) -> None:
    """Raises InputError for more columns than are taken."""
    _check(found, MOST_COLUMNS, "columns", filename)


def check_cells(found: int, filename: str) -> None:
    """Raises InputError for more cells than are taken at once."""
    _check(found, MOST_CELLS, "cells", filename)
