"""Build sheets of a dossier: versions, two compared, and the headroom of sensors and actuators."""

from __future__ import annotations

from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.build import sheet
from longbreath.core.engine import headroom
from longbreath.store.models import Application, BuildSheet, User


def sheets_of(db: Session, application_id: int) -> list[BuildSheet]:
    """All versions of all sheets of an application, newest first."""
    return list(
        db.scalars(
            select(BuildSheet).where(BuildSheet.application_id == application_id).order_by(BuildSheet.id.desc())
        )
    )


def usual_pair(sheets: list[BuildSheet]) -> tuple[BuildSheet, BuildSheet] | None:
    """The two sheets to compare first: the newest of A and of B, or the two newest."""
    a, b = (next((s for s in sheets if s.label == label), None) for label in ("A", "B"))
    if a is not None and b is not None:
        return a, b
    return (sheets[1], sheets[0]) if len(sheets) > 1 else None


def aliases_of(sheets: list[BuildSheet]) -> dict[str, str]:
    """Every “also known as” of the application's sheets."""
    return sheet.as_alias_map(
        {s.values["part"]: s.values["aliases"] for s in sheets if s.values.get("part") and s.values.get("aliases")}
    )


def compared(a: BuildSheet, b: BuildSheet, sheets: list[BuildSheet]) -> sheet.Comparison:
    """Two sheets compared, a part under two names counted as one."""
    return sheet.compare(a.values, b.values, aliases_of(sheets))


def comparison(db: Session, application_id: int) -> sheet.Comparison | None:
    """The newest sheets of A and B compared; None while there are no two."""
    sheets = sheets_of(db, application_id)
    pair = usual_pair(sheets)
    return compared(*pair, sheets) if pair is not None else None


FUEL_DENSITY = 745.0
"""Petrol [kg/m3] at 15 °C, handbook, from memory."""


USUAL = {
    "consumption": units.from_unit(280, "consumption", "g/kWh"),
    "rated_drop": 3e5,
    "drop": 3e5,
    "dead_time": 0.001,
}


def headroom_figures(given: dict[str, Any], strokes: int) -> tuple[dict[str, Figure], dict[str, str]]:
    """Figures of sensor, injectors and controller, as far as they were asked for; and errors by field."""
    figures: dict[str, Figure] = {}
    errors: dict[str, str] = {}

    def put(prefix: str, needs: tuple[str, ...], make: Any) -> None:
        missing = [name for name in needs if given.get(name) is None]
        if len(missing) == len(needs):
            return
        if missing:
            errors[missing[0]] = "This is missing for the answer."
            return
        try:
            made = make()
            figures.update({f"{prefix}-{f.name}": f for f in (made if isinstance(made, tuple) else (made,))})
        except InputError as error:
            errors[error.field or needs[0]] = error.message

    put("sensor", ("top", "altitude"), lambda: headroom.sensor_figures(
        given["top"], headroom.pressure_at(given["altitude"]), given.get("boost") or 0.0))  # fmt: skip
    put("injector", ("power", "speed", "injectors", "rated"), lambda: headroom.injector_duty(
        given["power"], given["consumption"] or USUAL["consumption"], given["injectors"], given["rated"],
        given["rated_drop"] or USUAL["rated_drop"], given["drop"] or USUAL["drop"], FUEL_DENSITY, given["speed"],
        given["dead_time"] if given["dead_time"] is not None else USUAL["dead_time"], strokes))  # fmt: skip
    put(
        "controller",
        ("duty", "spring"),
        lambda: headroom.controller_figures(given["duty"], given.get("boost") or 0.0, given["spring"]),
    )
    return figures, errors


def add_sheet(
    db: Session, application: Application, actor: User, values: dict[str, str], before: BuildSheet | None = None, **words: Any
) -> BuildSheet:  # fmt: skip
    """Record a build sheet, or the next version of one. Raises InputError for an empty sheet, or a next one without a reason."""
    if not values:
        raise InputError("Fill in at least one line.", "line_part")
    if before is not None and not words.get("why"):
        raise InputError("Say what changed.", "why")
    title = before.title if before is not None else words["title"].strip()
    newest = db.scalar(
        select(func.max(BuildSheet.number)).where(
            BuildSheet.application_id == application.id, BuildSheet.title == title
        )
    )
    if before is None and newest:
        raise InputError(
            "A sheet of this name is kept already: make its next version, or choose another name.", "title"
        )
    sheet = BuildSheet(application_id=application.id, values=values, number=(newest or 0) + 1, taken_by_id=actor.id,
                       **{**words, "title": title})  # fmt: skip
    sheet.taken_by = actor
    db.add(sheet)
    db.flush()
    return sheet
