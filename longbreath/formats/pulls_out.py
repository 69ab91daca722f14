"""The raw numbers of pulls: CSV, a workbook with a sheet a pull, or a measurement file (MDF 4) with a group a pull."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import openpyxl
from openpyxl.styles import Font

from longbreath.core.basis import units

Array = npt.NDArray[np.float64]
DIGITS = 7
"""Figures of a number that are written."""


@dataclass(frozen=True)
class OutColumn:
    """One channel of a pull: its name, kind of quantity ("" where nobody said) and values [SI], (n,)."""

    name: str
    kind: str
    values: Array


@dataclass(frozen=True)
class OutPull:
    """One pull: its title ("3 of B"), whether it counts and why not, its channels."""

    title: str
    counts: bool
    reason: str
    columns: tuple[OutColumn, ...]


@dataclass(frozen=True)
class PullsOut:
    """Pulls to write: a title, what holds for all of them (word and text), the pulls."""

    title: str
    about: tuple[tuple[str, str], ...]
    pulls: tuple[OutPull, ...]


def _header(column: OutColumn, system: str) -> str:
    symbol = _symbol(column, system)
    return f"{column.name} ({symbol})" if symbol else column.name


def _symbol(column: OutColumn, system: str) -> str:
    return units.kind_named(column.kind).symbol(system) if column.kind in units.KINDS else ""


def _shown(column: OutColumn, system: str) -> Array:
    if column.kind not in units.KINDS:
        return column.values
    unit = units.unit_of(column.kind, _symbol(column, system))
    return (column.values - unit.offset) / unit.factor


def _cell(value: float) -> float | str:
    return float(f"{value:.{DIGITS}g}") if np.isfinite(value) else ""


def to_csv(out: PullsOut, system: str) -> bytes:
    """All pulls one below the other: number, whether it counts, then every channel that any of them has; conditions as remarks."""
    text = io.StringIO()
    text.write(f"# {out.title}\n")
    for word, value in out.about:
        text.write(f"# {word}: {' '.join(value.split())}\n")
    headers = list(dict.fromkeys(_header(c, system) for pull in out.pulls for c in pull.columns))
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(["pull", "counts", *(_safe(h) for h in headers)])
    for pull in out.pulls:
        shown = {_header(c, system): _shown(c, system) for c in pull.columns}
        for row in range(_rows(pull)):
            values = [_cell(shown[h][row]) if h in shown and row < shown[h].size else "" for h in headers]
            writer.writerow([pull.title, "yes" if pull.counts else "no", *values])
    return text.getvalue().encode("utf-8-sig")


def to_xlsx(out: PullsOut, system: str) -> bytes:
    """A sheet for each pull, and one of what holds for all."""
    book = openpyxl.Workbook()
    about = book.active
    about.title = "session"
    about.append([_safe(out.title)])
    for word, value in out.about:
        about.append([word, _safe(value)])
    for pull in out.pulls:
        about.append([f"pull {pull.title}", "counts" if pull.counts else _safe(f"out: {pull.reason}")])
        sheet = book.create_sheet(f"pull {pull.title}"[:31])
        sheet.append([_safe(_header(c, system)) for c in pull.columns])
        shown = [_shown(c, system) for c in pull.columns]
        for row in range(_rows(pull)):
            sheet.append([_cell(values[row]) if row < values.size else "" for values in shown])
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        sheet.freeze_panes = "A2"
    about.column_dimensions["A"].width = 30
    data = io.BytesIO()
    book.save(data)
    return data.getvalue()


def to_mdf(out: PullsOut, system: str) -> bytes:
    """A measurement file: a group for each pull, on its own time where it has one, else on its rows."""
    from asammdf import MDF, Signal  # takes a while to load; only this needs it

    file = MDF(version="4.10")
    for pull in out.pulls:
        time = next((c.values for c in pull.columns if c.name == "time"), None)
        rows = _rows(pull)
        clock = (
            time
            if time is not None and np.isfinite(time).all() and (np.diff(time) > 0).all()
            else np.arange(rows) * 1.0
        )
        signals = [
            Signal(_shown(c, system), clock[: c.values.size], name=c.name, unit=_symbol(c, system))
            for c in pull.columns
            if c.name != "time"
        ]
        file.append(signals, comment=f"pull {pull.title}, {'counts' if pull.counts else 'out: ' + pull.reason}")
    data = io.BytesIO()
    file.save(data)
    file.close()
    return data.getvalue()


def _rows(pull: OutPull) -> int:
    return max((c.values.size for c in pull.columns), default=0)


def _safe(text: str) -> str:
    """Text that a spreadsheet would run as a formula is written with a leading quote."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


WRITERS = {
    "csv": ("text/csv", to_csv),
    "xlsx": ("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", to_xlsx),
    "mf4": ("application/octet-stream", to_mdf),
}
"""Type and writer by ending."""
