"""Reads of the bench: the desk's ladder and curves, traces to lay over, a session as an export."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.working import Figure
from longbreath.core.bench import reduction
from longbreath.dossier.bench.traces import TraceRow, differs, gear_of, reduce_trace, traces_of
from longbreath.dossier.naming import told_apart
from longbreath.store.models import Application, BenchSession, Fixture, Reading, Revision, Trace

USUAL_LIFTS = {"metric": tuple(n / 1000.0 for n in range(1, 11)), "us": tuple(n * 0.05 * 0.0254 for n in range(1, 10))}
"""Rungs offered for an empty ladder [m]: every millimetre, or every fifty thousandths of an inch."""


@dataclass(frozen=True)
class LiftRung:
    """One rung of the ladder [m]: lift over valve diameter, what was read, B − reference, whether it is up now."""

    lift: float
    over_diameter: float | None
    row: TraceRow | None
    difference: Figure | None
    is_now: bool

    @property
    def millimetres(self) -> float:
        """Its lift in mm, for the stand-in and the form."""
        return round(self.lift * 1000.0, 3)


@dataclass(frozen=True)
class Laid:
    """A trace laid over the one at the desk, its rows, and what keeps the two from being compared."""

    trace: Trace
    rows: dict[float, TraceRow]
    differs: tuple[str, ...]


@dataclass(frozen=True)
class Board:
    """The desk of a trace: rungs, the lift that is up (None when all are read), traces laid over it."""

    trace: Trace
    rungs: list[LiftRung]
    now: float | None
    laid: list[Laid]
    rows: dict[float, TraceRow]

    @property
    def newest(self) -> LiftRung | None:
        """The rung that was read last."""
        read = [r for r in self.rungs if r.row is not None]
        return max(read, key=lambda r: r.row.readings[-1].id if r.row else 0, default=None)

    @property
    def has_flags(self) -> bool:
        """Whether any trace laid over it sits on another fixture."""
        return any(laid.differs for laid in self.laid)


def references(db: Session, application: Application, trace: Trace) -> list[tuple[int, str]]:
    """Traces that may be laid over one: of the same vehicle, way and kind, newest first, with a name each."""
    query = (
        select(Trace.id, Trace.label, Trace.title, BenchSession.held_on, Revision.name, Fixture.direction, Fixture.port)
        .join(BenchSession, Trace.session_id == BenchSession.id)
        .join(Application, BenchSession.application_id == Application.id)
        .join(Revision, Application.revision_id == Revision.id)
        .join(Fixture, Trace.fixture_id == Fixture.id)
        .where(
            Application.vehicle_id == application.vehicle_id,
            Trace.id != trace.id,
            Trace.kind == trace.kind,
            Fixture.direction == trace.fixture.direction,
            Trace.readings.any(),
        )
        .order_by(BenchSession.held_on.desc(), Trace.id.desc())
        .limit(60)
    )
    rows = db.execute(query).all()
    names = [
        f"{row.label + ', ' if row.label else ''}{row.held_on.day} {row.held_on:%b %y}, {row.title}" for row in rows
    ]
    return list(zip([row.id for row in rows], told_apart(names, [row.port for row in rows]), strict=True))


def usual_reference(trace: Trace) -> list[int]:
    """What a trace is laid over when nobody chose: the other one of its session on the same fixture and stack."""
    wanted = {"B": "A", "A": "B"}.get(trace.label)
    found = [
        t
        for t in trace.session.traces
        if t.label == wanted
        and t.kind == trace.kind
        and t.stack == trace.stack
        and t.runner == trace.runner
        and any(r.counts for r in t.readings)
    ]
    return [t.id for t in found[:1]]


def board(db: Session, trace: Trace, ids: Sequence[int], system: str, wanted: float | None = None) -> Board:
    """The desk of a trace with others laid over it; `wanted` [m] puts a rung up."""
    rows = reduce_trace(trace)
    laid = [Laid(other, reduce_trace(other), differs(trace, other)) for other in traces_of(db, ids)]
    lifts = _ladder(trace, laid, rows, system)
    if wanted is not None and round(wanted, 7) not in lifts:
        lifts = sorted({*lifts, round(wanted, 7)})
    now = round(wanted, 7) if wanted is not None else next((lift for lift in lifts if lift not in rows), None)
    if trace.kind == "fixed":
        now = lifts[0]  # a part has one place: what is read again is a repeat
    gear = gear_of(trace)
    rungs = []
    for lift in lifts:
        row = rows.get(lift)
        other = laid[0].rows.get(lift) if laid else None
        gap = None
        if row is not None and other is not None:
            same = laid[0].trace.session.bench_id == trace.session.bench_id
            gap = reduction.difference(other.flow, row.flow, same)
        rungs.append(LiftRung(lift, lift / gear.head if gear else None, row, gap, lift == now))
    return Board(trace, rungs, now, laid, rows)


def _ladder(trace: Trace, laid: list[Laid], rows: dict[float, TraceRow], system: str) -> list[float]:
    if trace.kind == "fixed":
        return [0.0]
    planned = [round(float(lift), 7) for lift in trace.ladder] or (sorted(laid[0].rows) if laid else [])
    return sorted({*(planned or (round(lift, 7) for lift in USUAL_LIFTS[system])), *rows})


def board_figures(found: Board) -> dict[str, Figure]:
    """The figures of a board by key: flow-3, difference-3."""
    figures = {}
    for number, rung in enumerate(found.rungs):
        if rung.row is not None:
            figures[f"flow-{number}"] = rung.row.flow.figure
        if rung.difference is not None:
            figures[f"difference-{number}"] = rung.difference
    return figures


@dataclass(frozen=True)
class Offered:
    """What the form by hand offers: lift [m], and the range and pressure of the last reading."""

    lift: float | None
    range_id: int | None
    pressure: float


def offered(found: Board) -> Offered:
    """The next point to type."""
    trace = found.trace
    last: Reading | None = max(trace.readings, key=lambda r: r.id, default=None)
    pressure = last.pressure if last is not None else trace.session.test_pressure
    return Offered(found.now, last.range_id if last is not None else None, pressure)


def fixtures(db: Session, application_id: int) -> list[Fixture]:
    """The application's fixtures, newest first."""
    return list(db.scalars(select(Fixture).where(Fixture.application_id == application_id).order_by(Fixture.id.desc())))
