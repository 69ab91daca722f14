"""Views of the health log of test engines and vehicles."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import abort, flash, redirect, request, url_for
from flask_login import current_user

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.judge.health import KINDS, WATER
from longbreath.dossier import health as health_dossier
from longbreath.dossier.health import Carrier, HealthCard
from longbreath.steps.library import shop_forms as forms
from longbreath.store.models import HealthEntry, TestEngine, Vehicle
from longbreath.web.forms import system
from longbreath.web.guard import PERMISSIONS
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _carrier(carrier: str, carrier_id: int) -> Carrier:
    if carrier == "engines":
        return Carrier(engine=db().get(TestEngine, carrier_id) or abort(404))
    return Carrier(vehicle=db().get(Vehicle, carrier_id) or abort(404)) if carrier == "vehicles" else abort(404)


def health(carrier: str, carrier_id: int) -> Any:
    """The health log of an engine, newest first, and one more entry."""
    return _page(carrier, carrier_id, None)


def health_entry(carrier: str, carrier_id: int, entry_id: int) -> Any:
    """Correct an entry by one that takes its place; the earlier one stays in the record."""
    found = _carrier(carrier, carrier_id)
    entry = next((e for e in health_dossier.entries_of(db(), found) if e.id == entry_id), None) or abort(404)
    return _page(carrier, carrier_id, entry)


def _page(carrier: str, carrier_id: int, replaces: HealthEntry | None) -> Any:
    found = _carrier(carrier, carrier_id)
    if request.method == "POST" and current_user.role not in PERMISSIONS["edit"]:
        abort(403)
    form = forms.HealthForm(obj=replaces)
    if not form.is_submitted():
        form.held_on.data = replaces.held_on if replaces is not None else date.today()
        form.figures.data = _typed(replaces) if replaces is not None else ""
        form.finding.data = replaces is not None and replaces.state == "finding"

    def write() -> HealthEntry:
        figures = _figures(form.kind.data, form.figures.data or "")
        card = HealthCard(form.held_on.data, form.kind.data, figures, form.words.data or "", bool(form.finding.data))
        return health_dossier.add_entry(db(), found, card, replaces)

    saved = save(form, None, write)
    if saved.done:
        flash(saved.result.told or "Kept.", "done")
        return redirect(url_for("library.health", carrier=carrier, carrier_id=carrier_id))
    return page(
        "library/health.html",
        carrier=found,
        where=(carrier, carrier_id),
        form=form,
        replaces=replaces,
        entries=health_dossier.entries_of(db(), found),
        pulls=health_dossier.pulls_of(db(), found),
        kinds=KINDS,
        water=WATER,
        status=saved.status,
    )


def _figures(kind: str, text: str) -> tuple[float, ...]:
    """Figures as typed [SI]. Raises InputError (field "figures")."""
    about = KINDS.get(kind)
    cells = [cell.strip() for cell in text.split(";") if cell.strip()]
    if not cells or about is None:
        return ()
    if not about.kind:
        raise InputError("This is told in words.", "figures")
    if not about.cylinders and len(cells) > 1:
        raise InputError("This has one figure.", "figures")
    try:
        return tuple(units.parse(cell, about.kind, system()).value for cell in cells)
    except InputError as error:
        raise InputError(error.message, "figures") from None


def _typed(entry: HealthEntry) -> str:
    kind = KINDS[entry.kind].kind
    return "; ".join(units.show(value, kind, system()) for value in entry.figures) if kind else ""
