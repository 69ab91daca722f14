"""What instruments said during a live pull, as a file that can be read like any other log: one column a quantity, as it was sent."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from longbreath.core.basis import units
from longbreath.formats.log import Log, log_of


@dataclass(frozen=True)
class LiveColumn:
    """One quantity as a device sends it: its word, kind and unit there, decimals, and the channel that it fills ("": none)."""

    word: str
    kind: str
    unit: str
    decimals: int
    channel: str


@dataclass(frozen=True)
class LiveLog:
    """The file, and what reading it finds: facts and block of figures as `formats.log.read_log` gives them."""

    data: bytes
    facts: dict[str, Any]
    block: bytes

    @property
    def log(self) -> Log:
        """What the file holds."""
        return log_of(self.facts, self.block)


def live_log(columns: Sequence[LiveColumn], rows: Sequence[dict[str, float]]) -> LiveLog:
    """A log of what was sent. rows: values [SI] by word; an empty cell where a line did not name one."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([column.word for column in columns])
    writer.writerow([_unit_of(column) for column in columns])
    texts = [_texts(column, rows) for column in columns]
    values = np.array([[float(text or "nan") for text in column] for column in texts]).T
    writer.writerows(zip(*texts, strict=True))
    table = {
        "headers": [column.word for column in columns],
        "units": [_unit_of(column) for column in columns],
        "delimiter": ",",
        "decimal": ".",
        "remarks": [],
        "name": "",
        "rows": len(rows),
        "stride": 1,
        "thin": len(rows),
    }
    return LiveLog(out.getvalue().encode(), {"tables": [table], "skipped": []}, np.ascontiguousarray(values).tobytes())


def _texts(column: LiveColumn, rows: Sequence[dict[str, float]]) -> list[str]:
    unit, form, word = units.unit_of(column.kind, column.unit), f".{column.decimals}f", column.word
    return [format((row[word] - unit.offset) / unit.factor, form) if word in row else "" for row in rows]


def _unit_of(column: LiveColumn) -> str:
    return "λ" if column.channel.startswith("mixture") else column.unit
