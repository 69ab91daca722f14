"""Measurement files (MDF 4, and 3) as tables: groups that ran at one time are brought onto the clock of the fastest."""

from __future__ import annotations

import io
import logging
from typing import Any

import numpy as np
import numpy.typing as npt
from asammdf import MDF
from asammdf.blocks import mdf_v3, mdf_v4

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.align import onto
from longbreath.formats.readers.bounds import MOST_COLUMNS, MOST_LARGE, MOST_TABLES
from longbreath.formats.readers.text import plain

Array = npt.NDArray[np.float64]
MINIMUM = 10
CLOCK = "time"
for version in (mdf_v3, mdf_v4):
    setattr(version, "NamedTemporaryFile", lambda **_: io.BytesIO())  # noqa: B010 — this process may write no file
logging.getLogger("asammdf").setLevel(logging.CRITICAL)


def groups_of(data: bytes, filename: str) -> list[tuple[str, dict[str, Any], list[Array]]]:
    """Name, what is told, and columns (k of (n,)) of each group; its clock is the first column, in seconds. Channels that hold no
    numbers are left out. Raises InputError (field "file") for what is no such file."""
    try:
        found = _groups(data)
    except MemoryError:
        raise
    except InputError:
        raise
    except Exception:  # the library raises whatever a damaged file leads it to
        raise InputError(f"{filename} cannot be opened as a measurement file. Export it again.", "file") from None
    if not found:
        raise InputError(f"{filename} holds no group of {MINIMUM} rows or more.", "file")
    return found


def _groups(data: bytes) -> list[tuple[str, dict[str, Any], list[Array]]]:
    found = []
    with MDF(io.BytesIO(data)) as file:
        if len(file.groups) > MOST_TABLES:
            raise InputError(f"It holds more than {MOST_TABLES} groups.", "file")
        for number, group in enumerate(_groups_in(file)):
            rows = int(group.channel_group.cycles_nr)
            if rows < MINIMUM or rows * max(len(group.channels), 1) > MOST_LARGE:
                continue
            columns = _columns(file, number, rows)
            if len(columns) > 1:
                name = plain(str(getattr(group.channel_group, "acq_name", ""))) or f"group {number + 1}"
                found.append((name, columns))
    return [_table(name, columns) for name, columns in _on_one_clock(found)]


Columns = list[tuple[str, str, Array]]


def _table(name: str, columns: Columns) -> tuple[str, dict[str, Any], list[Array]]:
    headers, units, values = zip(*columns[:MOST_COLUMNS], strict=True)
    told = {"headers": headers, "units": units, "delimiter": "group", "decimal": ".", "remarks": []}
    return name, told, list(values)


def _on_one_clock(groups: list[tuple[str, Columns]]) -> list[tuple[str, Columns]]:
    """Groups that ran at the same time brought onto the clock of the fastest, in order; those that ran apart stay apart."""
    found: list[tuple[str, Columns]] = []
    for name, columns in sorted(groups, key=lambda g: -g[1][0][2].size):
        clock = columns[0][2]
        host = next((c for _, c in found if _together(c[0][2], clock)), None)
        if host is None:
            found.append((name, list(columns)))
            continue
        taken = {header for header, *_ in host}
        for header, unit, values in columns[1:]:
            own = header if header not in taken else f"{header} (2)"
            host.append((own, unit, onto(host[0][2], clock, values)))
    return found


def _together(one: Array, other: Array) -> bool:
    """Whether two clocks run over the same time, for the most part of the shorter."""
    if min(np.ptp(one), np.ptp(other)) <= 0:
        return False
    shared = min(one[-1], other[-1]) - max(one[0], other[0])
    return bool(shared > 0.5 * min(np.ptp(one), np.ptp(other)))


def _groups_in(file: MDF) -> list[Any]:
    return list(file.groups)


def _columns(file: MDF, number: int, rows: int) -> Columns:
    clock = np.asarray(file.get_master(number), dtype=np.float64)
    columns = [(CLOCK, "s", clock)]
    seen = {CLOCK}
    for place, channel in enumerate(_groups_in(file)[number].channels):
        if place == file.masters_db.get(number):
            continue
        signal = file.get(group=number, index=place, ignore_invalidation_bits=False)
        samples = np.asarray(signal.samples)
        if samples.ndim != 1 or samples.dtype.kind not in "fiub" or samples.size != rows:
            continue
        name = plain(str(channel.name)) or f"channel {place}"
        while name in seen:
            name += " (2)"
        seen.add(name)
        values = samples.astype(np.float64)
        columns.append((name, plain(str(signal.unit or "")), np.where(np.isfinite(values), values, np.nan)))
    return columns
