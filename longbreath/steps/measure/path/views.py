"""Views of the path: the long section with what each element costs."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.dossier.path import duty
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.path import versions as path_versions
from longbreath.dossier.path.elements import elements_of, owed, taken_out
from longbreath.steps.measure.path import forms, picture
from longbreath.store.models import Application, Element
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.transaction import db

TRY = "try-"
TIMES = (1, 2, 4)
SIDES = ("intake", "exhaust")
KEYS = (
    ("↑ ↓", "on a wall: try another inside diameter, with Shift by a millimetre"),
    ("Enter", "on a wall: let it flow"),
)


def _asked(application: Application) -> tuple[forms.DutyForm, duty.Flowing | None]:
    """The form as the address fills it, and what flows (None if it has errors)."""
    start = duty.usual_duty(application.vehicle)
    asked = "at" in request.args
    form = forms.DutyForm(request.args if asked else None, obj=start)
    if asked and not form.validate():
        return form, None
    values = {k: v if (v := getattr(form, k).data) is not None and v != "" else old for k, old in asdict(start).items()}
    try:
        return form, duty.flowing(application.vehicle, duty.DutyAsked(**values), system())
    except InputError as error:
        form.blame(error)
        return form, None


def _trials(rows: list[Element]) -> tuple[dict[int, float], dict[int, str], dict[int, str]]:
    """Inside diameters tried in the address by element: as read, as typed, and what is wrong with them."""
    tried, typed, wrong = {}, {}, {}
    for e in rows:
        text = request.args.get(f"{TRY}{e.id}", "").strip()
        if not text or e.volume:
            continue
        typed[e.id] = text
        try:
            read = units.parse(text, "length", system()).value
            if not 0.001 <= read <= 1:
                raise InputError(f"An inside diameter of {text} cannot be.")
            tried[e.id] = read
        except InputError as error:
            wrong[e.id] = error.message
    return tried, typed, wrong


def _versions(
    found: dict[str, list[Element]], side: str, at: duty.Flowing, tried: dict[int, float]
) -> tuple[list[path_versions.Version], dict[int, str], str]:
    """A where it differs, B, and the trial; what is wrong with trials; and why nothing could be walked."""
    try:
        b = path_versions.walked("B", found["B"], side, at.duty)
        versions = [b]
        if [e.id for e in found["A"] if e.side == side] != [e.id for e in b.rows]:
            versions.insert(0, path_versions.walked("A", found["A"], side, at.duty))
    except InputError as error:
        return [], {}, error.message
    if any(e.id in tried for e in b.rows):
        try:
            versions.append(path_versions.walked("trial", found["B"], side, at.duty, tried))
        except InputError as error:
            return versions, dict.fromkeys((e.id for e in b.rows if e.id in tried), error.message), ""
    return versions, {}, ""


def section(application_id: int) -> Any:
    """The long section of a side, and below it what each element costs."""
    application = load_application(application_id)
    lit = request.args.get("element", type=int)
    every = elements_of(db(), application.id)
    lit_side = next((e.side for e in every if e.id == lit and e.side in SIDES), None)
    side = request.args.get("side", "")
    if side not in SIDES:
        side = lit_side or application.product.side
    found = {label: [e for e in every if e.belongs_to in (label, "both")] for label in ("A", "B")}
    form, at = _asked(application)
    tried, typed, wrong = _trials(found["B"])
    times = request.args.get("times", 2, int)
    context: dict[str, Any] = {
        "form": form,
        "side": side,
        "typed": typed,
        "lit": lit,
        "times": times if times in TIMES else 2,
        "all_times": TIMES,
        "elements": every,
        "gone": taken_out(db(), application.id),
        "owed": owed(every, application.vehicle),
        "at": at,
        "sides": SIDES,
        "keys": KEYS,
    }
    if at is None or not any(e.side == side for e in every):
        return page("path/section.html", versions=[], wrong=wrong, status=422 if at is None else 200, **context)
    versions, more, problem = _versions(found, side, at, tried)
    return _drawn(application, versions, at, {**wrong, **more}, tried, problem, context)


def _drawn(
    application: Application,
    versions: list[path_versions.Version],
    at: duty.Flowing,
    wrong: dict[int, str],
    tried: dict[int, float],
    problem: str,
    context: dict[str, Any],
) -> Any:
    figures: dict[str, Figure] = {}
    for version in versions:
        figures |= path_versions.figures_of(version, version.look)
    shown = next((v for v in versions if v.look == "B"), None)
    if shown is not None:
        figures |= path_versions.areas(shown.rows)
    last = versions[-1] if versions else None
    remedies = path_versions.remedies(shown, at, application.vehicle) if shown is not None else []
    figures |= {f"worth-{i}": r.worth for i, r in enumerate(remedies) if r.worth is not None}
    volumes = path_versions.volume_rows(
        application.vehicle, [e for e in context["elements"] if e.belongs_to != "A"], at
    )
    for number, row in enumerate(volumes):
        figures |= {f"volume-{number}": row.volume, f"ratio-{number}": row.ratio}
        figures |= {f"response-{number}": row.response} if row.response is not None else {}
    drawn = (
        picture.picture(application, versions, context["side"], system(), context["lit"], context["times"], tried)
        if versions
        else ""
    )
    return page(
        "path/section.html",
        figures,
        versions=versions,
        shown=shown,
        last=last,
        drawn=drawn,
        remedies=remedies,
        wrong=wrong,
        tried=tried,
        problem=problem,
        volumes=volumes,
        marks=path_versions.marks_by(last, system()) if last is not None else {},
        status=422 if wrong or problem else 200,
        **context,
    )


def keep_trial(application_id: int) -> Any:
    """Make a tried diameter the design's size; it is nominal until it is measured."""
    application = load_application(application_id)
    element = load_part(Element, request.form.get("element", 0, int), application)
    try:
        diameter = units.parse(request.form.get("diameter", ""), "length", system()).value
        with db().savepoint():
            path_verbs.keep_trial(db(), element, diameter)
    except InputError as error:
        return page("error.html", title="Not kept", sentence=error.message, status=422)
    flash(f"{element.name} is now drawn with the size tried. It is nominal until it is measured.", "done")
    return redirect(url_for("path.section", application_id=application.id, element=element.id))
