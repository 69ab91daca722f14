"""Reads of curves: two traces with their coefficients and velocities, stacks of a session, fixed parts with their spread."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.bench import discharge, potential, reduction, repeats, stacks
from longbreath.core.path.kinds import AT_THE_VALVE
from longbreath.dossier.bench.traces import (
    LiftRow,
    TraceRow,
    coefficients,
    gear_of,
    lift_rows,
    noise_of,
    reduce_trace,
    sessions_of,
)
from longbreath.dossier.naming import day, told_apart
from longbreath.dossier.path.elements import section_of
from longbreath.store.models import Application, BenchSession, Element, Fixture, Revision, Trace


def comparable(db: Session, application: Application) -> list[tuple[int, str]]:
    """All traces read on this vehicle, newest first, each with a name."""
    query = (
        select(Trace.id, Trace.label, Trace.title, Trace.runner, BenchSession.held_on, Fixture.direction, Fixture.port)
        .join(BenchSession, Trace.session_id == BenchSession.id)
        .join(Application, BenchSession.application_id == Application.id)
        .join(Revision, Application.revision_id == Revision.id)
        .join(Fixture, Trace.fixture_id == Fixture.id)
        .where(Application.vehicle_id == application.vehicle_id, Trace.readings.any())
        .order_by(BenchSession.held_on.desc(), Trace.id)
        .limit(120)
    )
    rows = db.execute(query).all()
    names = [
        f"{r.label + ' ' if r.label else ''}{r.title}{', runner ' + r.runner if r.runner else ''}, "
        f"{day(r.held_on)}, {r.direction}"
        for r in rows
    ]
    return list(zip([r.id for r in rows], told_apart(names, [r.port for r in rows]), strict=True))


@dataclass(frozen=True)
class Compared:
    """Two traces lift by lift, with the coefficients of each by lift and name, and all figures by key."""

    a: Trace
    b: Trace
    rows: list[LiftRow]
    has_gear: bool
    sections: list[Element]
    figures: dict[str, Figure]


def compared(a: Trace, b: Trace, path: Sequence[Element], cylinders: int) -> Compared:
    """Everything the page of two traces shows."""
    rows = lift_rows(a, b)
    found = lift_figures(rows, with_velocity=False)
    sections = [e for e in path if e.side == a.fixture.direction or e.kind in AT_THE_VALVE]
    for label, trace, name in (("A", a, "a"), ("B", b, "b")):
        lifts = _side(rows, name)
        found |= _valve_figures(label, trace, lifts, rows)
        if lifts:
            best = max(lifts.values(), key=lambda row: row.flow.value)
            found |= _velocities(label, best, sections)
            if trace.fixture.direction == "intake" and trace.kind == "sweep":
                found[f"potential-{label}"] = potential.power_potential(
                    best.flow.value, trace.session.test_pressure, cylinders
                )
    used = [e for e in sections if any(f"velocity-{label}-{e.id}" in found for label in "AB")]
    return Compared(a, b, rows, any(key.startswith("share-") for key in found), used, found)


def _valve_figures(
    label: str, trace: Trace, lifts: dict[float, TraceRow], rows: Sequence[LiftRow]
) -> dict[str, Figure]:
    """Discharge coefficients and the switch-over lift of one trace, where its valve gear is known."""
    numbers = {row.lift: number for number, row in enumerate(rows)}
    found = {
        f"{name}-{label}-{numbers[lift]}": figure
        for lift, names in coefficients(trace, lifts).items()
        for name, figure in names.items()
    }
    if (gear := gear_of(trace)) is not None and trace.kind == "sweep":
        found[f"switch-{label}"] = discharge.switch_over_figure(gear)
    return found


def _velocities(label: str, best: TraceRow, sections: Sequence[Element]) -> dict[str, Figure]:
    """Mean velocity of a trace's largest flow in each measured section that belongs to it."""
    flow = best.flow.figure
    return {
        f"velocity-{label}-{e.id}": reduction.mean_velocity(
            flow.value, section_of(e).area, flow.uncertainty, flow.working.rows
        )
        for e in sections
        if e.belongs_to in (label, "both")
    }


def _side(rows: Sequence[LiftRow], name: str) -> dict[float, TraceRow]:
    return {row.lift: side for row in rows if (side := getattr(row, name)) is not None}


def exhaust_to_intake(sessions: Sequence[BenchSession]) -> list[tuple[float, Figure]]:
    """Exhaust over intake by lift [m], from the newest sweeps of B (else A) of each way at one test pressure."""
    sweeps = [t for s in sessions for t in s.traces if t.kind == "sweep" and any(r.counts for r in t.readings)]
    ways = {}
    for way in ("intake", "exhaust"):
        of_way = [t for t in sweeps if t.fixture.direction == way]
        ways[way] = next((t for label in ("B", "A", "") for t in of_way if t.label == label), None)
    intake, exhaust = ways["intake"], ways["exhaust"]
    if intake is None or exhaust is None:
        return []
    if reduction.is_off_pressure(intake.session.test_pressure, exhaust.session.test_pressure):
        return []
    one, other = reduce_trace(intake), reduce_trace(exhaust)
    return [
        (lift, potential.exhaust_to_intake(other[lift].flow.value, one[lift].flow.value))
        for lift in sorted(set(one) & set(other))
    ]


# --- stacks ---------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class StackRow:
    """One stack at one lift [m]: the analysis, and its name."""

    name: str
    lift: float
    stack: stacks.Stack


def stacks_of(session: BenchSession) -> list[StackRow]:
    """The stacks of a session: traces whose pieces grow one by one from a common first piece, at their highest common lift."""
    noise = noise_of(session)
    read = {t.id: rows for t in session.traces if t.pieces and (rows := reduce_trace(t, noise))}
    traces = [t for t in session.traces if t.id in read]
    found = []
    for top in traces:
        chain = _chain(top, traces)
        if len(chain) < 2 or any(
            len(t.pieces) > len(top.pieces) and t.pieces[: len(top.pieces)] == top.pieces and _same(t, top)
            for t in traces
        ):
            continue
        common = set.intersection(*(set(read[t.id]) for t in chain))
        if not common:
            continue
        lift = max(common)
        states = [
            stacks.StackState(" + ".join(t.pieces), read[t.id][lift].flow.value, read[t.id][lift].flow.own)
            for t in chain
        ]
        found.append(StackRow(top.title, lift, stacks.analyse(states)))
    return found


def _same(a: Trace, b: Trace) -> bool:
    return a.label in (b.label, "") or b.label == ""


def _chain(top: Trace, traces: Sequence[Trace]) -> list[Trace]:
    """From the first piece up to `top`, one state for each number of pieces; shared states ("neither") serve A and B."""
    chain = []
    for size in range(1, len(top.pieces)):
        states = [t for t in traces if t.pieces == top.pieces[:size] and t.label in (top.label, "")]
        if states:
            chain.append(states[-1])
    return [*chain, top]


def stack_figures(found: Sequence[StackRow], target: float | None) -> tuple[dict[str, Figure], dict[str, str]]:
    """Figures of stacks by key (loss-0-1, alone-0-1, share-0-1, needed-0-1), and why a needed flow cannot be."""
    figures: dict[str, Figure] = {}
    refused: dict[str, str] = {}
    for i, row in enumerate(found):
        figures[f"share-{i}-first"] = row.stack.first_share
        rest = row.stack.first
        for j, step in enumerate(row.stack.steps):
            figures[f"loss-{i}-{j}"] = step.loss
            if step.alone is not None and step.share is not None:
                figures[f"alone-{i}-{j}"], figures[f"share-{i}-{j}"] = step.alone, step.share
            if target is not None:
                try:
                    figures[f"needed-{i}-{j}"] = stacks.needed_figure(target, rest)
                except InputError as error:
                    refused[f"{i}-{j}"] = error.message
            rest = step.state
    return figures, refused


# --- fixed parts ----------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class FixedPart:
    """One fixed part: its traces (one a runner) with their flow, and the spread between its runners."""

    title: str
    label: str
    traces: list[tuple[Trace, reduction.Flow]]
    spread: Figure | None


def parts_of(db: Session, application_id: int) -> list[FixedPart]:
    """The fixed parts that were read, by session and title, newest first."""
    parts = []
    for session in sessions_of(db, application_id):
        noise = noise_of(session)
        groups: dict[tuple[str, str], list[tuple[Trace, reduction.Flow]]] = {}
        for trace in session.traces:
            if trace.kind == "fixed" and (rows := reduce_trace(trace, noise)):
                groups.setdefault((trace.title, trace.label), []).append((trace, rows[0.0].flow))
        for (title, label), members in groups.items():
            ordered = sorted(members, key=lambda item: item[0].runner)
            parts.append(FixedPart(title, label, ordered, _spread([flow for _, flow in ordered])))
    return parts


def _spread(flows: Sequence[reduction.Flow]) -> Figure | None:
    rows = tuple(row for flow in flows for row in flow.figure.working.rows)
    return repeats.runner_spread([flow.value for flow in flows], max(flow.own for flow in flows), rows)


def part_figures(parts: Sequence[FixedPart], wanted: float | None) -> dict[str, Figure]:
    """Figures of fixed parts by key: flow-<trace>, pressure-<trace>, spread-<n>."""
    figures: dict[str, Figure] = {}
    for number, part in enumerate(parts):
        if part.spread is not None:
            figures[f"spread-{number}"] = part.spread
        for trace, flow in part.traces:
            figures[f"flow-{trace.id}"] = flow.figure
            if wanted is not None:
                figures[f"pressure-{trace.id}"] = stacks.pressure_at_flow(
                    flow.value, trace.session.test_pressure, wanted, part.title, flow.figure.uncertainty
                )
    return figures


def lift_figures(rows: Sequence[LiftRow], with_velocity: bool = True) -> dict[str, Figure]:
    """Figures of a ladder by key: flow-A-0, velocity-B-3, difference-2 …"""
    found: dict[str, Figure] = {}
    for number, row in enumerate(rows):
        for label, side in (("A", row.a), ("B", row.b)):
            if side is not None:
                found[f"flow-{label}-{number}"] = side.flow.figure
                if with_velocity and side.velocity is not None:
                    found[f"velocity-{label}-{number}"] = side.velocity
        if row.difference is not None:
            found[f"difference-{number}"] = row.difference
    return found
