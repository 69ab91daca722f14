"""What the bench does to the records: fixtures, sessions, traces, readings, sheets."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from sqlalchemy import select

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import discharge, reduction
from longbreath.dossier.bench.traces import leak_of, leak_reading, meter_reading
from longbreath.dossier.commands import put
from longbreath.dossier.events import ReadingComes, ReadingsChanged, say
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
)
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class FixtureCard:
    """What a part sits on; sizes [m]."""

    port: str
    mouth: str
    direction: str = "intake"
    outlet: str = ""
    bore: float | None = None
    valves: int | None = None
    valve_diameter: float | None = None
    throat_diameter: float | None = None
    stem_diameter: float | None = None
    note: str = ""


@dataclass(frozen=True)
class BenchSessionCard:
    """One set-up of a flow bench: pressures [Pa], temperatures [K], humidity [1], and its leak as a share of a range or as
    a flow [m3/s]."""

    bench_id: int
    held_on: date
    test_pressure: float
    temperature: float
    pressure: float
    humidity: float
    leak_range_id: int
    leak_pressure: float
    leak_percent: float | None = None
    leak_flow: float | None = None
    meter_temperature: float | None = None


@dataclass(frozen=True)
class TraceCard:
    """One part to sweep or read: label A, B or neither, its name, what was bolted together, planned lifts [m]."""

    title: str
    label: str = ""
    kind: str = "sweep"
    runner: str = ""
    stack: str = ""
    ladder: tuple[float, ...] = ()


@dataclass(frozen=True)
class NewReading:
    """One captured point: lift [m], one of percentage [1], flow [m3/s] or drop [Pa], the pressure it was read at [Pa], and
    what a live bench sent beside it: airs [K], spread [1], samples, flags."""

    lift: float
    pressure: float
    range_id: int | None = None
    percent: float | None = None
    direct_flow: float | None = None
    meter_drop: float | None = None
    inlet_temperature: float | None = None
    meter_temperature: float | None = None
    spread: float = 0.0
    samples: int = 1
    flags: tuple[str, ...] = ()
    source: str = "hand"
    sheet_id: int | None = None
    capture_key: str | None = None


def save_fixture(work: UnitOfWork, application: Application, found: Fixture | None, card: FixtureCard) -> Fixture:
    """Add or change a fixture. Raises InputError where the valve gear cannot be."""
    if card.valves and card.valve_diameter and card.throat_diameter:
        discharge.ValveGear(card.valves, card.valve_diameter, card.throat_diameter, card.stem_diameter or 0.0)
    fixture = found or Fixture(application_id=application.id)
    put(fixture, card, outlet=card.outlet or "", note=card.note or "")
    work.add(fixture)
    work.flush()
    return fixture


def open_session(
    work: UnitOfWork, application: Application, fixture: Fixture, card: BenchSessionCard, kind: str = "sweep"
) -> BenchSession:
    """Open a bench session with an empty trace of A and of B on one fixture. Raises InputError as `change_session`."""
    session = BenchSession(application_id=application.id)
    _set_up(work, session, card)
    work.add(session)
    work.flush()
    for label, revision in (("A", application.stock_revision), ("B", application.revision)):
        title = revision.title if kind == "fixed" else f"{revision.title} + head"
        add_trace(work, session, fixture, TraceCard(title, label, kind))
    return session


def change_session(work: UnitOfWork, session: BenchSession, card: BenchSessionCard) -> None:
    """Change the conditions of a session; figures follow from them anew.

    Raises InputError for a leak that is told twice or not at all, belongs to another bench, or is too large.
    """
    _set_up(work, session, card)


def _set_up(work: UnitOfWork, session: BenchSession, card: BenchSessionCard) -> None:
    bench, leak_range = work.get(Bench, card.bench_id), work.get(BenchRange, card.leak_range_id)
    if bench is None:
        raise InputError("There is no such bench.", "bench_id")
    if leak_range is None or leak_range.bench_id != bench.id:
        raise InputError("This range belongs to another bench than the one chosen.", "leak_range_id")
    if (card.leak_percent is None) == (card.leak_flow is None):
        raise InputError("Give the leak either as a percentage of a range or as a flow.", "leak_percent")
    leak = leak_reading(card, bench, leak_range)
    if leak is not None:
        reduction.check_leak(leak, card.test_pressure, bench.leak_limit)
    session.bench, session.leak_range = bench, leak_range
    put(session, card)


def add_trace(work: UnitOfWork, session: BenchSession, fixture: Fixture, card: TraceCard) -> Trace:
    """Add a part to a session. Raises InputError if the fixture belongs elsewhere."""
    if fixture.application_id != session.application_id:
        raise InputError("This fixture belongs to another application.", "fixture_id")
    trace = Trace(session_id=session.id, fixture_id=fixture.id)
    put(trace, card)
    work.add(trace)
    trace.session, trace.fixture = session, fixture
    work.flush()
    return trace


def change_trace(work: UnitOfWork, trace: Trace, fixture: Fixture, card: TraceCard) -> Trace:
    """Change what a trace is and sat on. Raises InputError for a sweep that would become a fixed part, or the reverse."""
    if card.kind != trace.kind and any(reading.counts for reading in trace.readings):
        raise InputError("It has readings: a sweep cannot become a fixed part, nor the reverse.", "kind")
    trace.fixture_id, trace.fixture = fixture.id, fixture
    put(trace, card)
    work.flush()
    return trace


def choose_section(work: UnitOfWork, trace: Trace, element_id: int | None) -> None:
    """Say in which measured section the velocity of a trace is shown; None: in none."""
    trace.section_id = element_id
    work.flush()


def capture(work: UnitOfWork, trace: Trace, new: NewReading) -> Reading:
    """Record one reading; a lift read again is a repeat, and repeats are averaged. The first of the part seals what was said of it.

    Raises InputError if it gives none or several of percentage, flow and drop, or cannot be reduced. A capture key that
    is known gives the reading it made.
    """
    reading = _record(work, trace, new)
    _score_anew(work, trace)
    return reading


def _application(work: UnitOfWork, trace: Trace) -> Application:
    return work.get_one(Application, trace.session.application_id)


def _score_anew(work: UnitOfWork, trace: Trace) -> None:
    """What was said of airflow is scored anew: readings have come or gone."""
    say(work, ReadingsChanged(trace.session.application_id))


def _record(work: UnitOfWork, trace: Trace, new: NewReading) -> Reading:
    key = new.capture_key or None
    if key is not None and (known := work.scalar(select(Reading).where(Reading.capture_key == key))) is not None:
        return known
    new = _in_place(trace, replace(new, capture_key=key))
    used = next((r for r in trace.session.bench.ranges if r.id == new.range_id), None)
    if used is None and new.direct_flow is None:
        raise InputError("This range belongs to another bench.", "range_id")
    session = trace.session
    reduction.check_referable(new.pressure, session.test_pressure)
    reduction.reduce_reading(meter_reading(new, trace, used), session.test_pressure, leak_of(session))
    if trace.label == "B":
        say(work, ReadingComes(_application(work, trace)))
    reading = Reading(trace_id=trace.id, taken_by_id=work.actor.id)
    put(reading, new)
    work.add(reading)
    reading.trace, reading.taken_by, reading.range = trace, work.actor, used
    work.flush()
    return reading


def _in_place(trace: Trace, new: NewReading) -> NewReading:
    """A reading as its trace takes it: one way of reading, no range beside a flow, no lift of a fixed part."""
    given = (new.percent, new.direct_flow, new.meter_drop)
    if sum(value is not None for value in given) != 1:
        raise InputError("Give either a percentage of the range or a flow, not both.", "percent")
    if new.direct_flow is not None:
        new = replace(new, range_id=None)
    if trace.kind == "fixed":
        return replace(new, lift=0.0)
    if new.lift <= 0:
        raise InputError("A sweep is read at lifts of more than nought.", "lift")
    return new


def take_back(work: UnitOfWork, trace: Trace) -> Reading | None:
    """Take the newest reading of a trace that counts back; it stays in the record. None if there is none."""
    newest = max((r for r in trace.readings if r.counts), key=lambda r: r.id, default=None)
    if newest is not None:
        exclude(work, newest, "taken back at the desk")
    return newest


def exclude(work: UnitOfWork, reading: Reading, reason: str) -> None:
    """Take a reading out, with a reason; it stays in the record."""
    if reading.counts:
        mark = ReadingMark(reading_id=reading.id, reason=reason, made_by_id=work.actor.id)
        reading.marks.append(mark)
        work.flush()
        _score_anew(work, reading.trace)


def receive_sheet(work: UnitOfWork, session: BenchSession, filename: str, content: bytes) -> BenchSheet:
    """Keep a sheet as received. Raises InputError if the same file was received in this session before."""
    digest = hashlib.sha256(content).hexdigest()
    work.lock_row(session)  # the same file may come from two pages at once
    query = select(BenchSheet).where(BenchSheet.session_id == session.id, BenchSheet.sha256 == digest)
    if work.scalar(query) is not None:
        raise InputError(f"{filename} was received in this session before, bit for bit.", "file")
    sheet = BenchSheet(
        session_id=session.id, filename=filename, content=content, sha256=digest, received_by_id=work.actor.id
    )
    work.add(sheet)
    work.flush()
    return sheet


def record_sheet(
    work: UnitOfWork, sheet: BenchSheet, trace: Trace, rows: Sequence[SheetReading], pressure: float
) -> int:
    """Make readings of a sheet's rows; `pressure` [Pa] is used where the sheet names none. Raises InputError by row."""
    work.lock_row(sheet.session)
    work.refresh(sheet, ["readings"])
    if sheet.readings:
        raise InputError("Readings were made of this sheet already.", "trace_id")
    ranges = {r.label: r for r in trace.session.bench.ranges}
    for row in rows:
        used = ranges.get(row.range_label)
        if row.percent is not None and used is None:
            names = ", ".join(ranges)
            words = f"Row {row.row}: this bench has no range “{row.range_label}”. It has: {names}."
            raise InputError(words, "range")
        new = NewReading(
            row.lift,
            row.pressure or pressure,
            range_id=used.id if used else None,
            percent=row.percent,
            direct_flow=row.flow,
            source="sheet",
            sheet_id=sheet.id,
        )
        try:
            _record(work, trace, new)
        except InputError as error:
            raise InputError(f"Row {row.row}: {error.message}", error.field) from None
    _score_anew(work, trace)
    return len(rows)
