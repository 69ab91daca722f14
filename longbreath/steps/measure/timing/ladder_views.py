"""Views of the port ladder."""

from __future__ import annotations

from typing import Any

from flask import redirect, url_for

from longbreath.core.basis import units
from longbreath.core.timing import port_ladder
from longbreath.dossier import timing
from longbreath.dossier.timing import core_rung, rungs_of
from longbreath.steps.measure.timing import forms
from longbreath.store.models import Application, LadderRung
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def ladder(application_id: int) -> Any:
    """The steps of porting beside each other, each value with its grade."""
    application = load_application(application_id)
    found = rungs_of(db(), application.id)
    rungs = [core_rung(r) for r in found]
    columns = [c for c in port_ladder.COLUMNS if any(c.key in r.values for r in rungs)]
    return page(
        "timing/ladder.html",
        port_ladder.gains(rungs),
        rungs=list(zip(found, rungs, strict=True)),
        columns=columns,
        grades=dict(port_ladder.GRADES),
        shown=_shown,
    )


def _shown(column: port_ladder.LadderColumn, value: port_ladder.Value) -> str:
    """A value of the ladder for people."""
    if isinstance(value.value, str):
        return value.value
    return units.show(value.value, column.kind, system())


def _rung_page(application: Application, rung: LadderRung | None) -> Any:
    form = forms.RungForm(obj=rung)
    if not form.is_submitted():
        if rung is None:
            form.position.data = len(rungs_of(db(), application.id)) + 1
        for key, entry in (rung.values if rung is not None else {}).items():
            getattr(form, f"value_{key}").data = entry["value"]
            getattr(form, f"grade_{key}").data = entry["grade"]
    saved = save(
        form,
        rung,
        lambda: timing.save_rung(db(), application, rung, form.command(timing.RungCard, values=form.entered())),
    )
    if saved.done:
        return redirect(url_for("timing.ladder", application_id=application.id))
    return page(
        "timing/rung.html",
        form=form,
        rung=rung,
        columns=port_ladder.COLUMNS,
        conflict=saved.conflict,
        status=saved.status,
    )


def new_rung(application_id: int) -> Any:
    """Add a step of porting."""
    return _rung_page(load_application(application_id), None)


def edit_rung(application_id: int, rung_id: int) -> Any:
    """Change a step of porting."""
    application = load_application(application_id)
    return _rung_page(application, load_part(LadderRung, rung_id, application))
