"""Reads of Measure."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core import units
from longbreath.core.sections import area_figure as area_of
from longbreath.core.working import Figure, Given
from longbreath.store.evidence import LiftRow, section_of
from longbreath.store.models import BenchSession, Element, Reading, Trace

USUAL_LIFTS = {
    "metric": tuple(n / 1000.0 for n in range(1, 11)),
    "us": tuple(n * 0.05 * 0.0254 for n in range(1, 10)),
}
"""Rungs offered for an empty ladder [m]: every millimetre, or every fifty thousandths of an inch."""


def sessions(db: Session, application_id: int) -> list[BenchSession]:
    """Bench sessions with traces and readings, newest first."""
    query = (
        select(BenchSession)
        .where(BenchSession.application_id == application_id)
        .options(selectinload(BenchSession.traces).selectinload(Trace.readings))
        .order_by(BenchSession.held_on.desc(), BenchSession.id.desc())
    )
    return list(db.scalars(query))


def elements(db: Session, application_id: int) -> list[Element]:
    """Elements from mouth to tail."""
    query = select(Element).where(Element.application_id == application_id)
    return list(db.scalars(query.order_by(Element.position, Element.belongs_to, Element.id)))


def lift_figures(rows: list[LiftRow]) -> dict[str, Figure]:
    """All figures of a session's ladder by key: flow-A-0, velocity-B-3, difference-2 …"""
    figures = {}
    for number, row in enumerate(rows):
        for label, side in (("A", row.a), ("B", row.b)):
            if side is not None:
                figures[f"flow-{label}-{number}"] = side.flow
                if side.velocity is not None:
                    figures[f"velocity-{label}-{number}"] = side.velocity
        if row.difference is not None:
            figures[f"difference-{number}"] = row.difference
    return figures


def element_figures(found: list[Element]) -> dict[str, Figure]:
    """Section area of each element, with working and the uncertainty its tool allows."""
    return {f"area-{element.id}": area_figure(element) for element in found}


def area_figure(element: Element) -> Figure:
    """The inside area of an element."""
    sizes = (
        (("D", "inside diameter", element.diameter),)
        if element.shape == "round"
        else (
            ("w", "width", element.width),
            ("h", "height", element.height),
            ("r", "corner radius", element.corner_radius),
        )
    )
    givens = tuple(
        Given(symbol, meaning, value or 0.0, "length", element.tool) for symbol, meaning, value in sizes
    )
    return area_of(element.name, section_of(element), givens, element.precision, element.provenance == "nominal")


def chart_points(rows: list[LiftRow], system: str) -> list[dict[str, Any]]:
    """Points of the flow curve in display units."""
    lift_unit, flow_unit = units.kind_named("length").symbol(system), units.kind_named("flow").symbol(system)
    return [
        {
            "lift": units.to_unit(row.lift, "length", lift_unit),
            "flow": round(units.to_unit(side.flow.value, "flow", flow_unit), 3),
            "label": label,
        }
        for row in rows
        for label, side in (("A", row.a), ("B", row.b))
        if side is not None
    ]


@dataclass(frozen=True)
class NextReading:
    """What the desk offers for the next capture: lift [m], and the range and pressure of the last one."""

    lift: float | None
    range_id: int | None
    pressure: float


def next_reading(trace: Trace, system: str) -> NextReading:
    """The next rung of the ladder: the other trace's lifts if it has them, else the usual ones; None at its end."""
    taken = {round(r.lift, 6) for r in trace.readings if r.counts}
    other = [t for t in trace.session.traces if t.label != trace.label]
    ladder = sorted({round(r.lift, 6) for t in other for r in t.readings if r.counts})
    following = next((lift for lift in ladder or USUAL_LIFTS[system] if round(lift, 6) not in taken), None)
    last: Reading | None = max(trace.readings, key=lambda r: r.id, default=None)
    pressure = last.pressure if last is not None else trace.session.test_pressure
    return NextReading(following, last.range_id if last is not None else None, pressure)
