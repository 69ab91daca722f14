"""What a live bench says, for the desk: the settle window, a reading made of it, and the values the page shows."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from longbreath.core.basis import units
from longbreath.core.basis.errors import LongBreathError
from longbreath.core.bench import reduction, settle
from longbreath.core.bench.meter import MeterAir, Orifice, orifice_flow
from longbreath.devices.link import LIVE, BenchLink, Sample, Status
from longbreath.devices.protocol import Line
from longbreath.dossier.bench.traces import leak_of, meter_air, orifice_of
from longbreath.drawing.column import scale_top
from longbreath.store.models import Trace

STAND_IN = "stand-in bench"
PACE = 0.12
LONGEST = 1800.0


@dataclass(frozen=True)
class Scale:
    """One range as the desk needs it: full scale [m3/s] and the orifice of a plate."""

    key: int
    full_scale: float
    orifice: Orifice | None


@dataclass(frozen=True)
class Desk:
    """Everything that live values are reduced with, free of the database: the session's air, leak and ranges."""

    test_pressure: float
    leak: reduction.MeterReading | None
    scales: dict[str, Scale]
    room: MeterAir
    direction: str
    rule: str
    system: str
    rules: settle.Rules

    def air(self, line: Line) -> MeterAir:
        """The airs of a line: what it sent, else the session's."""
        room = self.room.inlet
        inlet = type(room)(line.inlet or room.temperature, room.pressure, room.relative_humidity)
        suction = max(line.column, 0.0) if self.direction == "intake" else 0.0
        return MeterAir(inlet, line.meter or self.room.temperature, room.pressure - suction)

    def flow(self, line: Line) -> float:
        """Flow as shown by a line [m3/s]; nought for a range the bench's card does not know."""
        if line.flow is not None:
            return line.flow
        scale = self.scales.get(line.range_label)
        if scale is None:
            return 0.0
        if line.drop is not None:
            return orifice_flow(scale.orifice, line.drop, self.air(line)) if scale.orifice else 0.0
        return scale.full_scale * (line.share or 0.0)

    def at_test_pressure(self, line: Line) -> float | None:
        """Flow of a line with leak off and referred [m3/s], or None where there is none yet."""
        try:
            reading = reduction.MeterReading(line.column, direct=self.flow(line), air=self.air(line),
                                         rule=self.rule if line.drop is None else "none")  # fmt: skip
            return reduction.reduce_reading(reading, self.test_pressure, self.leak).value
        except LongBreathError:
            return None


def desk_of(trace: Trace, system: str, rules: settle.Rules | None = None) -> Desk:
    """The desk of a trace."""
    session, found = trace.session, trace.session.bench
    scales = {
        r.label: Scale(
            r.id, r.full_scale, orifice_of(found, r.plate_diameter) if found.meter == "orifice" else None
        )
        for r in found.ranges
    }
    room = meter_air(session, "exhaust", session.test_pressure, None, None)
    return Desk(session.test_pressure, leak_of(session), scales, room, trace.fixture.direction, found.temperature_rule,
                system, rules or settle.Rules())  # fmt: skip


def judge(desk: Desk, samples: list[Sample], now: float) -> settle.Settled:
    """The settle window of the samples [monotonic s]."""
    moments = []
    for sample in samples:
        scale = desk.scales.get(sample.line.range_label)
        full = scale.full_scale if scale else None
        moments.append(
            settle.Moment(sample.at, sample.line.column, desk.flow(sample.line), sample.line.range_label, full)
        )
    return settle.judge(moments, now, desk.test_pressure, desk.rules)


def reading_of(desk: Desk, samples: list[Sample], settled: settle.Settled) -> dict[str, Any]:
    """Values of a reading made of a settle window: means of what the meter showed, of the column and of the airs."""
    lines = [sample.line for sample in samples]
    last = lines[-1]
    scale = desk.scales.get(last.range_label)
    return {
        "range_id": scale.key if scale and last.flow is None else None,
        "percent": _mean(lines, "share") if last.share is not None else None,
        "direct_flow": settled.flow if last.flow is not None else None,
        "meter_drop": _mean(lines, "drop") if last.drop is not None else None,
        "pressure": settled.pressure,
        "inlet_temperature": _mean(lines, "inlet"),
        "meter_temperature": _mean(lines, "meter"),
        "spread": settled.spread,
        "samples": settled.samples,
        "flags": [problem.key for problem in settled.problems],
        "source": "bench",
    }


def _mean(lines: list[Line], name: str) -> float | None:
    values = [value for line in lines if (value := getattr(line, name)) is not None]
    return sum(values) / len(values) if values else None


def shown(desk: Desk, status: Status, samples: list[Sample], now: float) -> dict[str, Any]:
    """What the page shows of this moment, in the viewer's units, as JSON-ready text."""
    found: dict[str, Any] = {
        "state": status.state, "words": status.words, "refused": status.refused,
        "stand_in": STAND_IN in status.device,
    }  # fmt: skip
    if status.state != LIVE or status.newest is None:
        return found
    line = status.newest.line
    settled = judge(desk, samples, now)
    flow = desk.at_test_pressure(line)
    unit = units.kind_named("column").symbol(desk.system)
    column = units.to_unit(line.column, "column", unit)
    top = scale_top(units.to_unit(desk.test_pressure, "column", unit))
    air = [units.show(t, "temperature", desk.system, 0.1) for t in (line.inlet, line.meter) if t is not None]
    places = 1 if desk.system == "us" else 2
    return {
        **found,
        "flow": units.show_number(flow, "flow", desk.system, decimals=1) if flow is not None else "–",
        "column": units.tidy_number(column, places),
        "level": round(min(1.0, max(0.0, column / top)), 4),
        "range": f"range {line.range_label}" if line.range_label else "",
        "share": units.show(line.share, "percent", desk.system, 0.001) if line.share is not None else "",
        "airs": " / ".join(air),
        "gathered": round(settled.gathered, 2),
        "unrest": round(min(settled.unrest, 9.9), 1),
        "good": settled.good,
        "problems": [{"key": p.key, "finding": p.finding, "advice": p.advice, "blocks": p.blocks} for p in settled.problems],
    }  # fmt: skip


def stream(desk: Desk, link: BenchLink) -> Iterator[str]:
    """Server-sent events: the desk's values, at most eight a second, and at least four while nothing comes in."""
    ends, last = time.monotonic() + LONGEST, 0.0
    while time.monotonic() < ends:
        link.wait(last, 0.25)
        status = link.status()
        last = status.newest.at if status.newest is not None else last
        now = time.monotonic()
        values = shown(desk, status, link.recent(desk.rules.window), now)
        yield f"data: {json.dumps(values, ensure_ascii=False)}\n\n"
        time.sleep(PACE)
