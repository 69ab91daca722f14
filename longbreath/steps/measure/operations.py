"""What Measure does to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from longbreath.core import bench
from longbreath.core.errors import InputError
from longbreath.store.evidence import leak_of, meter_reading, section_of
from longbreath.store.models import (
    Application,
    BenchRange,
    BenchSession,
    Element,
    Reading,
    ReadingMark,
    Trace,
    User,
)


def open_session(db: Session, application: Application, **values: Any) -> BenchSession:
    """Open a bench session with an empty trace of A and of B."""
    _check_leak_range(db, values)
    session = BenchSession(application_id=application.id, **values)
    db.add(session)
    db.flush()
    for label, revision in (("A", application.stock_revision), ("B", application.revision)):
        db.add(Trace(session=session, session_id=session.id, label=label, title=f"{revision.title} + head"))
    db.flush()
    return session


def _check_leak_range(db: Session, values: dict[str, Any]) -> None:
    found = db.get(BenchRange, values["leak_range_id"])
    if found is None or found.bench_id != values["bench_id"]:
        raise InputError("This range belongs to another bench than the one chosen.", "leak_range_id")


def change_session(db: Session, session: BenchSession, **values: Any) -> None:
    """Change the conditions of a session; figures follow from them anew. Raises InputError for a range of another bench."""
    _check_leak_range(db, values)
    for name, value in values.items():
        setattr(session, name, value)


def capture(db: Session, trace: Trace, actor: User, **values: Any) -> Reading:
    """Record one reading; an earlier one at the same lift is superseded, not changed.

    Raises InputError if it gives both a percentage and a flow, or neither, or cannot be reduced.
    """
    if (values["percent"] is None) == (values["direct_flow"] is None):
        raise InputError("Give either a percentage of the range or a flow, not both.", "percent")
    if values["direct_flow"] is not None:
        values["range_id"] = None
    earlier = [r for r in trace.readings if r.counts and abs(r.lift - values["lift"]) < 1e-7]
    reading = Reading(trace_id=trace.id, taken_by_id=actor.id, **values)
    db.add(reading)
    reading.trace, reading.taken_by = trace, actor
    reading.range = next((r for r in trace.session.bench.ranges if r.id == values["range_id"]), None)
    db.flush()
    session = trace.session
    bench.reduce_reading(meter_reading(reading, session), session.test_pressure, leak_of(session))
    for old in earlier:
        mark = ReadingMark(reading_id=old.id, replaced_by_id=reading.id, reason="read again", made_by_id=actor.id)
        old.marks.append(mark)
    db.flush()
    return reading


def exclude(db: Session, reading: Reading, actor: User, reason: str) -> None:
    """Take a reading out, with a reason; it stays in the record."""
    if reading.counts:
        reading.marks.append(ReadingMark(reading_id=reading.id, reason=reason, made_by_id=actor.id))
        db.flush()


def save_element(db: Session, application: Application, element: Element | None, **values: Any) -> Element:
    """Add or change an element. Raises InputError where its section or volume is missing or cannot be."""
    found = element or Element(application_id=application.id)
    checked = Element(**values)
    wanted = ("diameter",) if values["shape"] == "round" else ("width", "height")
    for name in wanted:
        if values[name] is None:
            raise InputError("This is missing for the section chosen.", name)
    section_of(checked)
    if values["kind"] in ("plenum", "air box") and values["volume"] is None:
        raise InputError("A plenum or box needs its volume.", "volume")
    if values["provenance"] == "measured" and not values["tool"].strip():
        raise InputError("Say what it was measured with, or mark it nominal.", "tool")
    for name, value in values.items():
        setattr(found, name, value)
    db.add(found)
    return found
