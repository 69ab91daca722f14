"""Reads of Measure."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.sections import area_figure as area_of
from longbreath.core.working import Figure, Given
from longbreath.store.evidence import section_of
from longbreath.store.flow import LiftRow
from longbreath.store.models import Element


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
                figures[f"flow-{label}-{number}"] = side.flow.figure
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
