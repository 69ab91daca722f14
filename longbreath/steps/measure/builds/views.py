"""Views of build sheets."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.core.basis.errors import InputError
from longbreath.core.build import sheet as build_sheet
from longbreath.core.engine.fuels import fuel_named
from longbreath.core.engine.headroom import Demand, Headroom, answer
from longbreath.dossier import build as builds
from longbreath.dossier.attachments import attached
from longbreath.dossier.conditions import assumptions_of
from longbreath.steps.measure.builds import forms
from longbreath.store.models import Application, BuildSheet
from longbreath.web.guard import load_application, load_part
from longbreath.web.letters import NEITHER, offer_letters
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def sheets(application_id: int) -> Any:
    """All sheets, and two of them compared."""
    application = load_application(application_id)
    found = builds.sheets_of(db(), application.id)
    by_id = {s.id: s for s in found}
    asked = [by_id[i] for name in ("a", "b") if (i := request.args.get(name, type=int)) in by_id]
    pair = (asked[0], asked[1]) if len(asked) == 2 else builds.usual_pair(found)
    compared = builds.compared(*pair, found) if pair else None
    return page("builds/sheets.html", sheets=found, pair=pair, compared=compared)


def sheet(application_id: int, sheet_id: int) -> Any:
    """One version of a sheet."""
    application = load_application(application_id)
    record = load_part(BuildSheet, sheet_id, application)
    versions = [s for s in builds.sheets_of(db(), application.id) if s.title == record.title]
    return page(
        "builds/sheet.html",
        record=record,
        versions=versions,
        groups=build_sheet.GROUPS,
        items=build_sheet.ITEMS,
        attachments=attached(db(), record),
    )


def confirm(application_id: int, sheet_id: int) -> Any:
    """Confirm a version by the file that hangs on it."""
    application = load_application(application_id)
    record = load_part(BuildSheet, sheet_id, application)
    builds.confirm(db(), application, record)
    flash("Confirmed: it stands for the days that were pulled before it was written.", "done")
    return redirect(url_for("builds.sheet", application_id=application.id, sheet_id=record.id))


def _form_page(application: Application, before: BuildSheet | None) -> Any:
    form = forms.BuildForm()
    offer_letters(form.label, application, NEITHER)
    if not form.is_submitted():
        form.held_on.data = date.today()
        _begin(form, application, before)

    def add() -> BuildSheet:
        card = form.command(builds.BuildCard, values=form.lines())
        return builds.add_sheet(db(), application, card, before)

    saved = save(form, None, add)
    if saved.done:
        flash(f"{saved.result.audit_title}, is kept.", "done")
        return redirect(url_for("builds.sheets", application_id=application.id))
    return page(
        "builds/form.html",
        form=form,
        before=before,
        groups=build_sheet.GROUPS,
        items=build_sheet.ITEMS,
        status=saved.status,
    )


def _begin(form: forms.BuildForm, application: Application, before: BuildSheet | None) -> None:
    """Fill an empty sheet: the next version with the one before; one of B with A's lines, or the other way round."""
    newest = next(iter(builds.sheets_of(db(), application.id)), None)
    like = before or newest
    for item in build_sheet.ITEMS if like is not None else ():
        getattr(form, f"line_{item.key}").data = like.values.get(item.key, "") if like is not None else ""
    if before is not None:
        form.title.data, form.label.data = before.title, before.label
        return
    form.label.data = "B" if newest is not None and newest.label == "A" else "A"
    fitted = application.revision if form.label.data == "B" else application.stock_revision
    form.line_part.data, form.line_part_state.data, form.line_aliases.data = fitted.title, fitted.state, ""


def new_sheet(application_id: int) -> Any:
    """Write down a whole configuration."""
    return _form_page(load_application(application_id), None)


def next_version(application_id: int, sheet_id: int) -> Any:
    """The next version of a sheet: what changed, and why."""
    application = load_application(application_id)
    return _form_page(application, load_part(BuildSheet, sheet_id, application))


def headroom(application_id: int) -> Any:
    """What a sensor, the injectors and the controller have left."""
    application = load_application(application_id)
    form = forms.HeadroomForm(request.args)
    found = Headroom({}, {})
    if request.args and form.validate():
        vehicle = application.vehicle
        usual, density = assumptions_of(vehicle).consumption, fuel_named(vehicle.fuel).density
        found = answer(form.command(Demand), usual, vehicle.strokes, density)
        for name, words in found.errors.items():
            form.blame(InputError(words, name))
    return page("builds/headroom.html", found.figures, form=form, status=422 if form.errors else 200)
