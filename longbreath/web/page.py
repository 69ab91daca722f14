"""The frame around every page: spine, air line, log strip, working drawer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, cast

from flask import g, render_template, request
from flask_login import current_user
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.working import Figure
from longbreath.dossier.owed import summaries
from longbreath.dossier.path.elements import elements_of, exit_of, section_of
from longbreath.dossier.places import measure_places
from longbreath.dossier.remembered import Remembered
from longbreath.drawing import airline, charts
from longbreath.store.models import Application, AuditEntry, Element, User
from longbreath.web import tours
from longbreath.web.transaction import db

STEP_TITLES = {
    "measure": "Measure",
    "reckon": "Reckon",
    "plan": "Plan",
    "pull": "Pull",
    "weigh": "Weigh",
    "claim": "Claim",
}

PLACES = dict.fromkeys(
    ("bench", "curves", "ports", "path", "faces", "timing", "builds", "trials", "attachments"), "measure"
)
"""Blueprints that are part of a step without being named like it."""

WAYS = {
    "bench": "measure.overview",
    "curves": "curves.compare",
    "stacks": "curves.stacks",
    "parts": "curves.parts",
    "maps": "ports.maps",
    "porting": "ports.jobs",
    "path": "path.section",
    "faces": "faces.match",
    "fit": "faces.fit",
    "timing": "timing.wheel",
    "ladder": "timing.ladder",
    "builds": "builds.sheets",
    "trials": "trials.trials",
}
"""The page of each place of Measure."""


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
        "tour": tours.here(cast(User, current_user)) if current_user.is_authenticated else None,
    }
    if application is not None:
        frame["summary"] = summaries(db(), [application.id])[application.id]
        frame["line"] = air_lines(db(), [application.id])[application.id]
        frame["log"] = recent(application.id)
        if frame["place"] == "measure":
            here = next((key for key, endpoint in WAYS.items() if endpoint == request.endpoint), "")
            frame["ways"], frame["way_to"] = measure_places(db(), application, here), WAYS
    html = render_template(template, figures=figures or {}, hatches=charts.hatches(theme()), **frame, **context)
    return html, status


def recent(application_id: int | None, limit: int = 3) -> list[AuditEntry]:
    """The last things that happened in a dossier."""
    query = select(AuditEntry).order_by(AuditEntry.at.desc(), AuditEntry.id.desc()).limit(limit)
    if application_id is not None:
        query = query.where(AuditEntry.application_id == application_id)
    return list(db().scalars(query))


def _air_lines(db: Session, ids: Sequence[int]) -> dict[int, airline.AirLine]:
    """The path with the product (B) fitted, to scale, by application."""
    found = {}
    for number in ids:
        pieces = []
        for element in elements_of(db, number, "B"):
            entry = _height(element)
            exit = entry if element.volume else exit_of(element).equal_area_diameter
            place = (element.id, element.name, element.kind, element.side, element.length)
            pieces.append(airline.LineElement(*place, entry, exit))
        found[number] = airline.air_line(pieces)
    return found


air_lines = Remembered(_air_lines)


def _height(element: Element) -> float:
    if element.volume:
        return airline.height_of_volume(element.volume, element.length)
    return section_of(element).equal_area_diameter
