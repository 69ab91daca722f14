"""What the bench does to the records."""

from __future__ import annotations

import hashlib
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import discharge, reduction
from longbreath.dossier.bench.traces import leak_of, meter_reading
from longbreath.formats.bench_sheet import SheetReading
from longbreath.store.models import (
    Application,
    Bench,
    BenchRange,
    BenchSession,
    BenchSheet,
    Fixture,
    Reading,
    ReadingMark,
    Trace,
    User,
)


def save_fixture(db: Session, application: Application, found: Fixture | None, **values: Any) -> Fixture:
    """Add or change a fixture. Raises InputError where the valve gear cannot be."""
    if values["valves"] and values["valve_diameter"] and values["throat_diameter"]:
        discharge.ValveGear(
            values["valves"], values["valve_diameter"], values["throat_diameter"], values["stem_diameter"] or 0.0
        )
    fixture = found or Fixture(application_id=application.id)
    for name, value in values.items():
        setattr(fixture, name, value or "" if name in ("outlet", "note") else value)
    db.add(fixture)
    db.flush()
    return fixture


def open_session(
    db: Session, application: Application, fixture: Fixture, kind: str = "sweep", **values: Any
) -> BenchSession:
    """Open a bench session with an empty trace of A and of B on one fixture. Raises InputError as `check_leak`."""
    session = BenchSession(application_id=application.id)
    _put(db, session, values)
    db.add(session)
    db.flush()
    for label, revision in (("A", application.stock_revision), ("B", application.revision)):
        title = revision.title if kind == "fixed" else f"{revision.title} + head"
        add_trace(db, session, fixture, label=label, title=title, kind=kind, runner="", stack="", ladder=[])
    return session


def change_session(db: Session, session: BenchSession, **values: Any) -> None:
    """Change the conditions of a session; figures follow from them anew. Raises InputError as `check_leak`."""
    _put(db, session, values)


def _put(db: Session, session: BenchSession, values: dict[str, Any]) -> None:
    checked = BenchSession(**values)
    checked.bench = db.get(Bench, values["bench_id"]) or _refuse("There is no such bench.", "bench_id")
    checked.leak_range = db.get(BenchRange, values["leak_range_id"])
    if checked.leak_range is None or checked.leak_range.bench_id != values["bench_id"]:
        raise InputError("This range belongs to another bench than the one chosen.", "leak_range_id")
    if (values["leak_percent"] is None) == (values["leak_flow"] is None):
        raise InputError("Give the leak either as a percentage of a range or as a flow.", "leak_percent")
    leak = leak_of(checked)
    if leak is not None:
        reduction.check_leak(leak, values["test_pressure"], checked.bench.leak_limit)
    session.bench, session.leak_range = checked.bench, checked.leak_range
    for name, value in values.items():
        setattr(session, name, value)


def _refuse(sentence: str, field: str) -> Any:
    raise InputError(sentence, field)


def add_trace(db: Session, session: BenchSession, fixture: Fixture, **values: Any) -> Trace:
    """Add a part to a session. Raises InputError if the fixture belongs elsewhere."""
    if fixture.application_id != session.application_id:
        raise InputError("This fixture belongs to another application.", "fixture_id")
    trace = Trace(session_id=session.id, fixture_id=fixture.id, **values)
    db.add(trace)
    trace.session, trace.fixture = session, fixture
    db.flush()
    return trace


def change_trace(db: Session, trace: Trace, fixture: Fixture, **values: Any) -> Trace:
    """Change what a trace is and sat on. Raises InputError for a sweep that would become a fixed part, or the reverse."""
    if values["kind"] != trace.kind and any(reading.counts for reading in trace.readings):
        raise InputError("It has readings: a sweep cannot become a fixed part, nor the reverse.", "kind")
    trace.fixture_id, trace.fixture = fixture.id, fixture
    for name, value in values.items():
        setattr(trace, name, value)
    db.flush()
    return trace


def capture(db: Session, trace: Trace, actor: User, **values: Any) -> Reading:
    """Record one reading; a lift read again is a repeat, and repeats are averaged.

    values: lift, range_id, percent, direct_flow, pressure, and where they are known meter_drop, inlet_temperature,
    meter_temperature, spread, samples, flags, source, sheet_id, capture_key. Raises InputError if it gives none or
    several of percentage, flow and drop, or cannot be reduced. A key that is known gives the reading it made.
    """
    key = values.get("capture_key") or None
    if key is not None and (known := db.scalar(select(Reading).where(Reading.capture_key == key))) is not None:
        return known
    values = {**values, "capture_key": key}
    given = [values.get(name) for name in ("percent", "direct_flow", "meter_drop")]
    if sum(value is not None for value in given) != 1:
        raise InputError("Give either a percentage of the range or a flow, not both.", "percent")
    if values.get("direct_flow") is not None:
        values["range_id"] = None
    if trace.kind == "fixed":
        values["lift"] = 0.0
    elif values["lift"] <= 0:
        raise InputError("A sweep is read at lifts of more than nought.", "lift")
    reading = Reading(trace_id=trace.id, taken_by_id=actor.id, **values)
    db.add(reading)
    reading.trace, reading.taken_by = trace, actor
    reading.range = next((r for r in trace.session.bench.ranges if r.id == values["range_id"]), None)
    if reading.range is None and values.get("direct_flow") is None:
        raise InputError("This range belongs to another bench.", "range_id")
    db.flush()
    session = trace.session
    reduction.reduce_reading(meter_reading(reading, trace), session.test_pressure, leak_of(session))
    return reading


def take_back(db: Session, trace: Trace, actor: User) -> Reading | None:
    """Take the newest reading of a trace that counts back; it stays in the record. None if there is none."""
    newest = max((r for r in trace.readings if r.counts), key=lambda r: r.id, default=None)
    if newest is not None:
        exclude(db, newest, actor, "taken back at the desk")
    return newest


def exclude(db: Session, reading: Reading, actor: User, reason: str) -> None:
    """Take a reading out, with a reason; it stays in the record."""
    if reading.counts:
        reading.marks.append(ReadingMark(reading_id=reading.id, reason=reason, made_by_id=actor.id))
        db.flush()


def receive_sheet(db: Session, session: BenchSession, actor: User, filename: str, content: bytes) -> BenchSheet:
    """Keep a sheet as received. Raises InputError if the same file was received in this session before."""
    digest = hashlib.sha256(content).hexdigest()
    query = select(BenchSheet).where(BenchSheet.session_id == session.id, BenchSheet.sha256 == digest)
    if db.scalar(query) is not None:
        raise InputError(f"{filename} was received in this session before, bit for bit.", "file")
    sheet = BenchSheet(
        session_id=session.id, filename=filename, content=content, sha256=digest, received_by_id=actor.id
    )
    db.add(sheet)
    db.flush()
    return sheet


def record_sheet(
    db: Session, sheet: BenchSheet, trace: Trace, actor: User, rows: list[SheetReading], pressure: float
) -> int:
    """Make readings of a sheet's rows; `pressure` [Pa] is used where the sheet names none. Raises InputError by row."""
    if sheet.readings:
        raise InputError("Readings were made of this sheet already.", "trace_id")
    ranges = {r.label: r for r in trace.session.bench.ranges}
    for row in rows:
        used = ranges.get(row.range_label)
        if row.percent is not None and used is None:
            names = ", ".join(ranges)
            raise InputError(
                f"Row {row.row}: this bench has no range “{row.range_label}”. It has: {names}.", "range"
            )
        try:
            capture(db, trace, actor, lift=row.lift, range_id=used.id if used else None, percent=row.percent,
                    direct_flow=row.flow, pressure=row.pressure or pressure, source="sheet", sheet_id=sheet.id)  # fmt: skip
        except InputError as error:
            raise InputError(f"Row {row.row}: {error.message}", error.field) from None
    return len(rows)
