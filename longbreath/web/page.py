"""The frame around every page: spine, air line, log strip, working drawer."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from flask import g, render_template, request
from flask_login import current_user
from sqlalchemy import select

from longbreath.core.working import Figure
from longbreath.drawing import airline, charts
from longbreath.store.evidence import section_of
from longbreath.store.models import Application, AuditEntry, Element
from longbreath.store.summary import summaries
from longbreath.web.transaction import db

STEP_TITLES = {
    "measure": "Measure",
    "reckon": "Reckon",
    "plan": "Plan",
    "pull": "Pull",
    "weigh": "Weigh",
    "claim": "Claim",
}

PLACES = {"bench": "measure", "curves": "measure", "ports": "measure"}
"""Blueprints that are part of a step without being named like it."""


def theme() -> str:
    """The present viewer's theme: paper or cell."""
    return current_user.theme if current_user.is_authenticated else "paper"


def page(template: str, figures: Mapping[str, Figure] | None = None, status: int = 200, **context: Any) -> Any:
    """Render a page in its frame.

    `figures` are all figures of the page by key; `?working=key` in the address opens that one's working in the
    drawer, so a working has an address of its own.
    """
    application: Application | None = g.get("application")
    chosen = (figures or {}).get(request.args.get("working", ""))
    frame: dict[str, Any] = {
        "application": application,
        "theme": theme(),
        "chosen": chosen,
        "step_titles": STEP_TITLES,
        "place": PLACES.get(request.blueprint or "", request.blueprint),
    }
    if application is not None:
        frame["summary"] = summaries(db(), [application.id])[application.id]
        frame["line"] = air_line_of(application)
        frame["log"] = recent(application.id)
    html = render_template(template, figures=figures or {}, hatches=charts.hatches(theme()), **frame, **context)
    return html, status


def recent(application_id: int | None, limit: int = 3) -> list[AuditEntry]:
    """The last things that happened in a dossier."""
    query = select(AuditEntry).order_by(AuditEntry.id.desc()).limit(limit)
    if application_id is not None:
        query = query.where(AuditEntry.application_id == application_id)
    return list(db().scalars(query))


def air_line_of(application: Application) -> airline.AirLine:
    """The path with the product (B) fitted, to scale."""
    query = (
        select(Element)
        .where(Element.application_id == application.id, Element.belongs_to != "A")
        .order_by(Element.position, Element.id)
    )
    elements = list(db().scalars(query))
    pieces = []
    for number, element in enumerate(elements):
        entry = _height(element)
        following = elements[number + 1] if number + 1 < len(elements) else None
        tapers = element.kind in ("cone", "merge", "bellmouth") and following is not None
        pieces.append(
            airline.Piece(element.id, element.name, element.kind, element.side, element.length, entry,
                          _height(following) if tapers and following is not None else entry)
        )  # fmt: skip
    return airline.air_line(pieces)


def _height(element: Element) -> float:
    if element.volume:
        return airline.height_of_volume(element.volume, element.length)
    return section_of(element).equal_area_diameter
