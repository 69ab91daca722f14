"""A bench session with all its readings, for a file."""

from __future__ import annotations

from typing import Any

from longbreath.core.bench import reduction
from longbreath.dossier.bench.traces import leak_of, plate_of, stored_reading
from longbreath.formats.bench_sheet import Export
from longbreath.store.models import Application, BenchSession, Reading, Trace


def export_of(application: Application, session: BenchSession) -> Export:
    """A session with all its readings, those that do not count as well, each with the reason."""
    found, plate = session.bench, plate_of(session.bench, session.held_on)
    leak = leak_of(session)
    about: list[tuple[str, Any, str]] = [
        ("product", application.revision.title, ""),
        ("vehicle", application.vehicle.name, ""),
        ("bench", found.name, ""),
        ("date", session.held_on.isoformat(), ""),
        ("test pressure", session.test_pressure, "column"),
        ("air temperature", session.temperature, "temperature"),
        ("air pressure", session.pressure, "barometer"),
        ("humidity", session.humidity, "percent"),
        ("leak at the test pressure", reduction.leak_at(leak, session.test_pressure), "flow"),
        ("plate check", plate.newest.held_on.isoformat() if plate.newest else "none on record", ""),
        ("plate check reads", plate.newest.deviation if plate.newest else None, "percent"),
        ("repeatability", found.repeatability, "percent"),
    ]
    rows = [_export_row(trace, reading) for trace in session.traces for reading in trace.readings]
    return Export(f"Bench session of {session.held_on:%d %b %Y}", tuple(about), rows)


def _export_row(trace: Trace, r: Reading) -> dict[str, Any]:
    session = trace.session
    reduced = reduction.reduce_reading(stored_reading(r, trace), session.test_pressure, leak_of(session))
    return {
        "trace": trace.label,
        "part": trace.title,
        "fixture": trace.fixture.words,
        "lift": r.lift,
        "reading": r.id,
        "counts": "yes" if r.counts else "no",
        "why_not": "; ".join(mark.reason for mark in r.marks),
        "range": r.range.label if r.range else "",
        "percent": r.percent,
        "direct": r.direct_flow,
        "drop": r.meter_drop,
        "pressure": r.pressure,
        "spread": r.spread or None,
        "flags": ", ".join(r.flags),
        "flow": reduced.value,
        "uncertainty": reduced.uncertainty,
        "source": r.source,
        "by": r.taken_by.name,
        "at": r.taken_at.isoformat(),
    }
