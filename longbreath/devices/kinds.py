"""The kinds of device that a gateway can own: how each is read, how long it may be silent, how its lines are kept."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from functools import partial
from typing import Any

from longbreath.devices.bench_line import BenchLine, read_bench_line
from longbreath.devices.cell_line import read_cell_line
from longbreath.devices.protocol import DeviceLine

BENCH, DYNO, LOGGER, WEATHER, TOOL = "bench", "dyno", "logger", "weather", "tool"


@dataclass(frozen=True)
class DeviceKind:
    """One kind: what people call it; after how long without a line it has fallen silent [s] (None: it speaks when it is asked to);
    lines kept in memory; how a line is read (raises LineError), written as JSON, and made of it again."""

    name: str
    called: str
    silent_after: float | None
    kept: int
    read: Callable[[bytes], Any]
    told: Callable[[Any], dict[str, Any]]
    again: Callable[[dict[str, Any]], Any]


def _told_bench(line: BenchLine) -> dict[str, Any]:
    return {name: value for name, value in asdict(line).items() if value is not None}


def _told(line: DeviceLine) -> dict[str, Any]:
    return dict(line.values)


def _kind(name: str, called: str, silent_after: float | None, kept: int) -> DeviceKind:
    return DeviceKind(name, called, silent_after, kept, partial(read_cell_line, name), _told, DeviceLine)


KINDS = {
    kind.name: kind
    for kind in (
        DeviceKind(BENCH, "bench", 1.0, 400, read_bench_line, _told_bench, lambda told: BenchLine(**told)),
        _kind(DYNO, "dyno", 1.0, 20_000),
        _kind(LOGGER, "logger", 1.0, 20_000),
        _kind(WEATHER, "weather station", 5.0, 100),
        _kind(TOOL, "hand tool", None, 50),
    )
}
