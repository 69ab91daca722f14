"""Turns bench rows into core inputs and core results: reduced traces, pairs of traces, fixtures, calibration."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import partial
from itertools import pairwise
from typing import Protocol

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, object_session, selectinload

from longbreath.core.air import moist
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.bench import discharge, fixture, meter, reduction
from longbreath.core.bench.meter import MeterReading
from longbreath.core.bench.plates import PlateState, plate_state
from longbreath.core.claim.kinds import airflow
from longbreath.dossier.conditions import weather_of
from longbreath.dossier.path.elements import section_of
from longbreath.store.models import Bench, BenchRange, BenchSession, Calibration, Reading, Trace
from longbreath.store.once import once


@dataclass(frozen=True)
class TraceRow:
    """One lift of a trace [m]: the readings that count, their reduced mean, its velocity if a section is known."""

    lift: float
    readings: tuple[Reading, ...]
    flow: reduction.Flow
    velocity: Figure | None
    off_pressure: bool

    @property
    def flags(self) -> tuple[str, ...]:
        """What spoke against its readings when they were taken, and whether one was referred."""
        found = dict.fromkeys(flag for reading in self.readings for flag in reading.flags if flag != "off pressure")
        return (*(["referred"] if self.off_pressure else []), *found)


@dataclass(frozen=True)
class LiftRow:
    """One lift [m] of two traces, A beside B, and their difference where both were read."""

    lift: float
    a: TraceRow | None
    b: TraceRow | None
    difference: Figure | None


@dataclass(frozen=True)
class PlateRow:
    """One plate check with its drift since the one before, share of the flow (None for the first)."""

    check: Calibration
    drift: float | None


def plate_history(found: Bench) -> list[PlateRow]:
    """All plate checks of a bench, newest first."""
    ordered = sorted(found.calibrations, key=lambda c: (c.held_on, c.id))
    rows = [PlateRow(check, check.deviation - before.deviation) for before, check in pairwise(ordered)]
    return [*reversed(rows), *(PlateRow(first, None) for first in ordered[:1])]


def plate_of(found: Bench, on: date) -> PlateState:
    """How a bench stands to its plate checks on a day."""
    return plate_state(found.calibrations, found.check_days, on)


def traces_of(db: Session, ids: Sequence[int]) -> list[Trace]:
    """Traces with everything that reducing them needs, in the order of the ids."""
    query = (
        select(Trace)
        .where(Trace.id.in_(ids))
        .options(
            selectinload(Trace.readings),
            joinedload(Trace.session).options(
                selectinload(BenchSession.traces).selectinload(Trace.readings),
                joinedload(BenchSession.bench).selectinload(Bench.calibrations),
            ),
        )
    )
    by_id = {trace.id: trace for trace in db.scalars(query).unique()}
    return [by_id[i] for i in ids if i in by_id]


def sessions_of(db: Session, application_id: int) -> list[BenchSession]:
    """Bench sessions with traces and readings, newest first."""
    query = (
        select(BenchSession)
        .where(BenchSession.application_id == application_id)
        .options(
            selectinload(BenchSession.traces).selectinload(Trace.readings),
            joinedload(BenchSession.bench).selectinload(Bench.calibrations),
        )
        .order_by(BenchSession.held_on.desc(), BenchSession.id.desc())
    )
    return list(once(db, (sessions_of, application_id), lambda: db.scalars(query).unique().all()))


class LeakTold(Protocol):
    """A leak as a session or its card tells it: a share of a range [1] or a flow [m3/s], at a pressure [Pa], on a day."""

    @property
    def held_on(self) -> date: ...
    @property
    def leak_pressure(self) -> float | None: ...
    @property
    def leak_flow(self) -> float | None: ...
    @property
    def leak_percent(self) -> float | None: ...


def leak_reading(told: LeakTold, bench: Bench, used: BenchRange | None) -> MeterReading | None:
    """A leak for the core, or None where none was told."""
    if told.leak_pressure is None:
        return None
    row = f"leak test of {told.held_on:%d %b %Y}"
    if told.leak_flow is not None:
        return MeterReading(told.leak_pressure, direct=told.leak_flow, flow_resolution=bench.flow_step, row=row)
    if used is None or told.leak_percent is None:
        return None
    step = used.full_scale * bench.percent_step
    return MeterReading(told.leak_pressure, used.full_scale, told.leak_percent, flow_resolution=step, row=row)


def leak_of(session: BenchSession) -> MeterReading | None:
    """The leak reading of a bench session, or None."""
    return leak_reading(session, session.bench, session.leak_range)


def meter_air(
    session: BenchSession, direction: str, pressure: float, inlet: float | None, before: float | None
) -> meter.MeterAir:
    """The airs of a reading at `pressure` [Pa]: what the bench sent [K], else what the session says."""
    room = moist.Weather(inlet or session.temperature, session.pressure, session.humidity)
    return meter.MeterAir.read(room, before or session.meter_temperature or room.temperature, pressure, direction)


class ReadingTold(Protocol):
    """A reading as its row or a capture tells it; units as the columns of a reading."""

    @property
    def pressure(self) -> float: ...
    @property
    def percent(self) -> float | None: ...
    @property
    def direct_flow(self) -> float | None: ...
    @property
    def meter_drop(self) -> float | None: ...
    @property
    def inlet_temperature(self) -> float | None: ...
    @property
    def meter_temperature(self) -> float | None: ...
    @property
    def spread(self) -> float: ...
    @property
    def samples(self) -> int: ...


def stored_reading(reading: Reading, trace: Trace) -> MeterReading:
    """A stored reading as the core takes it, with the row it came from."""
    row = f"reading {reading.id}, {reading.taken_by.name}, {reading.taken_at:%d %b %Y %H:%M}"
    return meter_reading(reading, trace, reading.range, row)


def meter_reading(told: ReadingTold, trace: Trace, used: BenchRange | None, row: str = "") -> MeterReading:
    """A reading as the core takes it. Raises InputError where an orifice plate is not on the bench's card."""
    session, found = trace.session, trace.session.bench
    air_here = meter_air(
        session, trace.fixture.direction, told.pressure, told.inlet_temperature, told.meter_temperature
    )
    make = partial(
        MeterReading,
        told.pressure,
        pressure_resolution=found.pressure_step,
        row=row,
        spread=told.spread,
        samples=told.samples,
        air=air_here,
    )
    if told.meter_drop is not None:
        plate = orifice_of(found, used.plate_diameter if used else None)
        return make(drop=told.meter_drop, orifice=plate, drop_resolution=found.drop_step)
    if told.percent is not None and used is not None:
        step = used.full_scale * found.percent_step
        return make(full_scale=used.full_scale, percent=told.percent, flow_resolution=step, rule=found.temperature_rule)
    return make(direct=told.direct_flow, flow_resolution=found.flow_step, rule=found.temperature_rule)


def orifice_of(found: Bench, plate_diameter: float | None) -> meter.Orifice:
    """The orifice of a bench's range. Raises InputError where plate or pipe is not on the card."""
    if found.pipe_diameter is None or plate_diameter is None:
        raise InputError("This range has no orifice plate on the bench's card.", "range_id")
    return meter.Orifice(plate_diameter, found.pipe_diameter, found.taps)


def by_lift(trace: Trace) -> dict[float, list[Reading]]:
    """The readings that count, by lift [m]."""
    found: dict[float, list[Reading]] = {}
    for reading in sorted((r for r in trace.readings if r.counts), key=lambda r: (r.lift, r.id)):
        found.setdefault(round(reading.lift, 7), []).append(reading)
    return found


def repeats_of(reading: Reading) -> list[Reading]:
    """The readings that count at the lift of one, itself among them, oldest first."""
    return by_lift(reading.trace).get(round(reading.lift, 7), [])


def flow_alone(reading: Reading) -> Figure:
    """The flow of one reading by itself [m3/s], without its repeats."""
    session = reading.trace.session
    return reduction.reduce_reading(stored_reading(reading, reading.trace), session.test_pressure, leak_of(session))


def noise_of(session: BenchSession) -> reduction.Noise:
    """How well the bench repeats and how sure its scale is: its own repeats of the session, else its card."""
    db = object_session(session)
    return once(db, (noise_of, session.id), lambda: _noise(session)) if db is not None else _noise(session)


def _noise(session: BenchSession) -> reduction.Noise:
    found, leak = session.bench, leak_of(session)
    groups = [
        [reduction.reduce_reading(stored_reading(r, trace), session.test_pressure, leak).value for r in repeats]
        for trace in session.traces
        for repeats in by_lift(trace).values()
        if len(repeats) > 1
    ]
    sure = plate_of(found, session.held_on).uncertainty
    return reduction.noise_of_repeats(groups, sure, found.repeatability, found.repeatability_source)


def reduce_trace(trace: Trace, noise: reduction.Noise | None = None) -> dict[float, TraceRow]:
    """The readings that count, reduced and averaged, by lift [m]."""
    db = object_session(trace)
    if db is None or noise is not None:
        return _reduced(trace, noise or noise_of(trace.session))
    return once(db, (reduce_trace, trace.id), lambda: _reduced(trace, noise_of(trace.session)))


def _reduced(trace: Trace, noise: reduction.Noise) -> dict[float, TraceRow]:
    session = trace.session
    leak = leak_of(session)
    area = section_of(trace.section).area if trace.section is not None else None
    rows = {}
    for lift, readings in by_lift(trace).items():
        flow = reduction.reduce_repeats(
            [stored_reading(r, trace) for r in readings], session.test_pressure, leak, noise
        )
        velocity = None
        if area is not None:
            velocity = reduction.mean_velocity(flow.value, area, flow.figure.uncertainty, flow.figure.working.rows)
        off = any(reduction.is_off_pressure(r.pressure, session.test_pressure) for r in readings)
        rows[lift] = TraceRow(lift, tuple(readings), flow, velocity, off)
    return rows


def lift_rows(a: Trace | None, b: Trace | None) -> list[LiftRow]:
    """All lifts of two traces, A beside B."""
    a_rows, b_rows = (reduce_trace(trace) if trace is not None else {} for trace in (a, b))
    same = a is not None and b is not None and a.session.bench_id == b.session.bench_id
    rows = []
    for lift in sorted({*a_rows, *b_rows}):
        one, other = a_rows.get(lift), b_rows.get(lift)
        rows.append(
            LiftRow(lift, one, other, reduction.difference(one.flow, other.flow, same) if one and other else None)
        )
    return rows


def main_pair(session: BenchSession) -> tuple[Trace | None, Trace | None]:
    """The traces of A and of B that a session is about: its first sweeps, else its first fixed parts."""
    found = []
    for label in ("A", "B"):
        ordered = sorted((t for t in session.traces if t.label == label), key=lambda t: (t.kind != "sweep", t.id))
        found.append(next(iter(ordered), None))
    return found[0], found[1]


def fixture_of(trace: Trace) -> fixture.BenchFixture:
    """What a trace's part sat on, as the core takes it."""
    f = trace.fixture
    return fixture.BenchFixture(
        f.bore, f.mouth, f.outlet, f.port, f.direction, trace.session.test_pressure, f.valves, f.valve_diameter
    )


def differs(a: Trace, b: Trace) -> tuple[str, ...]:
    """What keeps two traces from being compared: fixture, test pressure, and a sweep beside a fixed part."""
    kinds = () if a.kind == b.kind else ("a sweep over lift against a fixed part",)
    return (*kinds, *fixture.differences(fixture_of(a), fixture_of(b)))


def gear_of(trace: Trace) -> discharge.ValveGear | None:
    """The valve gear of a trace's fixture, or None where its sizes are not all known."""
    f = trace.fixture
    if f.valves is None or f.valve_diameter is None or f.throat_diameter is None:
        return None
    return discharge.ValveGear(f.valves, f.valve_diameter, f.throat_diameter, f.stem_diameter or 0.0)


def coefficients(trace: Trace, rows: dict[float, TraceRow]) -> dict[float, dict[str, Figure]]:
    """Discharge coefficients by lift [m] and by "curtain", "throat", "share"; none without the valve gear."""
    gear = gear_of(trace)
    if gear is None or trace.kind != "sweep":
        return {}
    room = weather_of(trace.session)
    return {
        lift: discharge.valve_coefficients(
            row.flow.value,
            lift,
            gear,
            trace.session.test_pressure,
            room,
            row.flow.figure.uncertainty,
            row.flow.figure.working.rows,
        )
        for lift, row in rows.items()
        if lift > 0
    }


def pair_of(a: Trace, b: Trace) -> airflow.Pair:
    """Two traces as the evidence of one statement on airflow."""
    gains = [
        airflow.LiftGain(
            row.lift if a.kind == "sweep" else None,
            row.a.flow.value,
            row.difference,
            row.a.off_pressure or row.b.off_pressure,
        )
        for row in lift_rows(a, b)
        if row.a and row.b and row.difference
    ]
    plates = [plate_of(t.session.bench, t.session.held_on) for t in (a, b)]
    return airflow.Pair(
        a.title,
        b.title,
        a.fixture.words,
        a.session.test_pressure,
        differs(a, b),
        gains,
        any(plate.overdue for plate in plates),
        any(plate.newest is None for plate in plates),
    )
