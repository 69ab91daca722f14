"""Bench sheets: the columns they may have, reading them in, and writing a session out as CSV, XLSX or JSON."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import openpyxl
from openpyxl.styles import Font

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.formats.mapping import Mapping, Sought, apply_columns
from longbreath.formats.table import Table

_COLUMNS = ("inH₂O", "kPa", "Pa", "mmH₂O", "psi")
COLUMNS = (
    Sought("lift", "Lift", "length", ("mm", "in", "thou"), ("lift", "valvelift", "l")),
    Sought("flow", "Flow", "flow", ("cfm", "L/s", "m³/h", "m³/s"), ("flow", "airflow", "cfm", "q", "volumeflow")),
    Sought(
        "percent", "Percentage of a range", "percent", ("%", "of one"), ("percent", "percentage", "reading", "scale")
    ),
    Sought("range", "Range", "count", ("",), ("range", "rangeno", "bereich")),
    Sought(
        "pressure",
        "Pressure when read",
        "column",
        _COLUMNS,
        ("pressure", "testpressure", "column", "depression", "dp", "water"),
    ),
)


@dataclass(frozen=True)
class SheetReading:
    """One row of a sheet, SI: lift [m], flow [m3/s] or percent [0..1] with its range label, pressure [Pa] or None."""

    row: int
    lift: float
    flow: float | None
    percent: float | None
    range_label: str
    pressure: float | None


def readings_of(table: Table, mapping: Mapping) -> list[SheetReading]:
    """The readings of a sheet; rows without flow are left out. Raises InputError naming the column at fault."""
    found = apply_columns(table, mapping, COLUMNS)
    if "flow" not in found and "percent" not in found:
        raise InputError("Choose the column that holds the flow, or the percentage of a range.", "flow")
    if "percent" in found and "range" not in found and "flow" not in found:
        raise InputError("A percentage needs the column that says of which range.", "range")
    readings = []
    for i in range(table.values.shape[0]):
        at = {name: float(column[i]) for name, column in found.items() if np.isfinite(column[i])}
        if "flow" not in at and "percent" not in at:
            continue
        label = f"{at['range']:g}" if "range" in at and "flow" not in at else ""
        readings.append(
            SheetReading(
                i + 1,
                at.get("lift", 0.0),
                at.get("flow"),
                at.get("percent") if "flow" not in at else None,
                label,
                at.get("pressure"),
            )
        )
    if not readings:
        raise InputError("No row holds a flow or a percentage.", "flow")
    return readings


@dataclass(frozen=True)
class Export:
    """A session to write out: what it is (word, value, kind or "" for words) and its rows (SI by field)."""

    title: str
    about: tuple[tuple[str, Any, str], ...]
    rows: Sequence[dict[str, Any]]


FIELDS = (
    ("trace", "trace", ""),
    ("part", "part", ""),
    ("fixture", "fixture", ""),
    ("lift", "lift", "length"),
    ("reading", "reading", ""),
    ("counts", "counts", ""),
    ("why_not", "why not", ""),
    ("range", "range", ""),
    ("percent", "percentage", "percent"),
    ("direct", "flow as read", "flow"),
    ("drop", "drop across the plate", "column"),
    ("pressure", "pressure when read", "column"),
    ("spread", "spread in the window", "percent"),
    ("flags", "flags", ""),
    ("flow", "flow at the test pressure", "flow"),
    ("uncertainty", "uncertainty", "flow"),
    ("source", "source", ""),
    ("by", "taken by", ""),
    ("at", "taken at", ""),
)


def _shown(value: Any, kind: str, system: str) -> Any:
    if value is None or not kind:
        return "" if value is None else value
    return float(f"{units.to_unit(value, kind, units.kind_named(kind).symbol(system)):.7g}")


def _header(word: str, kind: str, system: str) -> str:
    return f"{word} ({units.kind_named(kind).symbol(system)})" if kind else word


def to_csv(export: Export, system: str) -> bytes:
    """Readings in a system's units, the conditions as remarks above; UTF-8 with a mark so that spreadsheets know it."""
    out = io.StringIO()
    out.write(f"# {export.title}\n")
    for word, value, kind in export.about:
        out.write(f"# {_header(word, kind, system)}: {_shown(value, kind, system)}\n")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([_header(word, kind, system) for _, word, kind in FIELDS])
    for row in export.rows:
        writer.writerow([_safe(_shown(row.get(name), kind, system)) for name, _, kind in FIELDS])
    return out.getvalue().encode("utf-8-sig")


def _safe(value: Any) -> Any:
    """Text that a spreadsheet would run as a formula is written with a leading quote."""
    return f"'{value}" if isinstance(value, str) and value[:1] in ("=", "+", "-", "@") else value


def to_xlsx(export: Export, system: str) -> bytes:
    """Two sheets: the readings, and what the session was."""
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.title = "readings"
    sheet.append([_header(word, kind, system) for _, word, kind in FIELDS])
    for row in export.rows:
        sheet.append([_safe(_shown(row.get(name), kind, system)) for name, _, kind in FIELDS])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "A2"
    about = book.create_sheet("session")
    about.append([export.title])
    for word, value, kind in export.about:
        about.append([_header(word, kind, system), _safe(_shown(value, kind, system))])
    about.column_dimensions["A"].width = 34
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def to_json(export: Export, system: str = "metric") -> bytes:
    """Everything in SI, each field's kind named."""
    return json.dumps(
        {
            "title": export.title,
            "units": "SI",
            "about": {word: value for word, value, _ in export.about},
            "fields": {name: {"meaning": word, "kind": kind} for name, word, kind in FIELDS},
            "readings": list(export.rows),
        },
        indent=1,
        ensure_ascii=False,
    ).encode()
