"""The habits in which loggers write: headers, units, decimal marks, containers. All of them invented."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import openpyxl

from longbreath.devices.made_engine import Array, Channels

FACTORS: dict[str, tuple[float, float]] = {
    "lb-ft": (1.0 / 1.3558179483, 0.0),
    "hp": (1.0 / 0.74569987158, 0.0),
    "PS": (1.0 / 0.73549875, 0.0),
    "AFR": (14.7, 0.0),
    "psi": (1.0 / 6.894757293, 0.0),
    "bar": (0.01, 0.0),
    "°F": (1.8, 32.0),
    "K": (1.0, 273.15),
    "of one": (0.01, 0.0),
    "ms": (1000.0, 0.0),
}
"""What the plain units of a made pull are multiplied by, and what is added, in other units."""


@dataclass(frozen=True)
class Column:
    """One column of a log: the channel, its header, the unit it is written in (as `FACTORS` has it, else the plain one), decimals."""

    channel: str
    header: str
    unit: str = ""
    decimals: int = 2
    shown: str | None = None

    @property
    def unit_text(self) -> str:
        """The unit as it is written."""
        return self.shown if self.shown is not None else self.unit

    def figures(self, made: Mapping[str, Array]) -> Array:
        """The figures in the column's unit."""
        values = made[self.channel]
        if self.unit == "ms" and self.channel != "time":
            return values
        factor, offset = FACTORS.get(self.unit, (1.0, 0.0))
        return values * factor + offset


def as_text(
    made: Channels,
    columns: Sequence[Column],
    delimiter: str = ",",
    decimal: str = ".",
    units: str = "header",
    title: str = "",
    encoding: str = "utf-8",
    grouped: bool = False,
    newline: str = "\n",
) -> bytes:
    """Delimited text. units: in the header, in a row, or nowhere; grouped: thousands are set apart as that decimal mark has it."""
    out = io.StringIO()
    if title:
        out.write(title + newline)
    writer = csv.writer(out, delimiter=delimiter, lineterminator=newline)
    writer.writerow([f"{c.header} ({c.unit_text})" if units == "header" and c.unit_text else c.header for c in columns])
    if units == "row":
        writer.writerow([c.unit_text for c in columns])
    for row in zip(*(c.figures(made) for c in columns), strict=True):
        writer.writerow([_cell(v, c.decimals, decimal, grouped) for v, c in zip(row, columns, strict=True)])
    return out.getvalue().encode(encoding)


def _cell(value: float, decimals: int, decimal: str, grouped: bool) -> str:
    text = f"{value:,.{decimals}f}" if grouped else f"{value:.{decimals}f}"
    if decimal == ",":
        text = text.replace(",", "§").replace(".", ",").replace("§", ".")
    return text


def as_workbook(sheets: Mapping[str, Channels], columns: Sequence[Column]) -> bytes:
    """A workbook with a sheet for each pull; units in the second row."""
    book = openpyxl.Workbook(write_only=True)
    for name, made in sheets.items():
        sheet = book.create_sheet(name)
        sheet.append([c.header for c in columns])
        sheet.append([c.unit_text for c in columns])
        for row in zip(*(c.figures(made) for c in columns), strict=True):
            sheet.append([round(float(v), c.decimals) for v, c in zip(row, columns, strict=True)])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def as_measured(groups: Sequence[tuple[Channels, Sequence[Column], float]]) -> bytes:
    """A measurement file (MDF 4) with a group for each rate; group: channels, columns, every how many-th row is written."""
    from asammdf import MDF, Signal

    file = MDF(version="4.10")
    for made, columns, every in groups:
        rows = slice(None, None, int(every))
        time = made["time"][rows]
        signals = [Signal(np.asarray(c.figures(made)[rows]), time, name=c.header, unit=c.unit_text) for c in columns]
        file.append(signals, comment="made")
    out = io.BytesIO()
    file.save(out)
    file.close()
    return out.getvalue()


def as_archive(files: Mapping[str, bytes]) -> bytes:
    """An archive of files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(zipfile.ZipInfo(name, (2026, 5, 1, 12, 0, 0)), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


US = (
    Column("rpm", "Engine Speed", shown="rpm", decimals=0),
    Column("torque", "Torque", "lb-ft"),
    Column("power", "Power", "hp"),
    Column("mixture", "AFR", "AFR", shown=""),
)
METRIC = (
    Column("rpm", "n", shown="1/min", decimals=1),
    Column("torque", "Md", shown="Nm", decimals=2),
    Column("power", "P", shown="kW", decimals=3),
    Column("mixture", "Lambda", shown="λ", decimals=3),
)
FULL = (
    Column("time", "Time", shown="s", decimals=3),
    Column("rpm", "Engine speed", shown="rpm", decimals=0),
    Column("roller", "Roller speed", shown="rpm", decimals=1),
    Column("torque", "Torque", shown="Nm", decimals=1),
    Column("power", "Power", shown="kW", decimals=2),
    Column("mixture", "Lambda", shown="λ", decimals=3),
    Column("map", "Manifold pressure", shown="kPa", decimals=1),
    Column("throttle", "Throttle", shown="%", decimals=1),
    Column("intake", "Intake air", shown="°C", decimals=1),
    Column("coolant", "Coolant", shown="°C", decimals=1),
    Column("oil", "Oil temperature", shown="°C", decimals=1),
    Column("exhaust", "Exhaust gas", shown="°C", decimals=0),
    Column("knock", "Knock", shown="", decimals=0),
    Column("injector", "Injector time", shown="ms", decimals=3),
    Column("battery", "Battery", shown="V", decimals=2),
)
BOOSTED = (
    *FULL[:7],
    Column("duty", "Wastegate duty", shown="%", decimals=1),
    Column("turbine", "Pressure before turbine", shown="kPa", decimals=1),
    Column("charge", "Charge temp", shown="°C", decimals=1),
    *FULL[7:],
)
LOGGER = tuple(c for c in FULL if c.channel not in ("torque", "power", "roller"))
"""What a logger in the vehicle writes: no torque, no roller."""
