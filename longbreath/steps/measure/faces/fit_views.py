"""Views of the fit register."""

from __future__ import annotations

from typing import Any

from flask import redirect, url_for

from longbreath.core.path import mounting
from longbreath.dossier.attachments import attached
from longbreath.dossier.path import fit as path_fit
from longbreath.steps.measure.faces import forms
from longbreath.store.models import Application
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _fit_page(application: Application, form: forms.SpotForm, status: int = 200) -> Any:
    found = path_fit.fit_of(db(), application)
    spots = path_fit.spots_of(db(), application)
    seen = {s.place.casefold() for s in spots}
    return page(
        "faces/fit.html",
        fit=found,
        spots=spots,
        fitting=path_fit.fitting(found, spots),
        form=form,
        status=status,
        open_places=[p for p in mounting.PLACES if p not in seen],
        states=dict(mounting.STATES),
        state_of=mounting.state_of,
        checklist=mounting.CHECKLIST,
        attachments=attached(db(), found) if found is not None else None,
    )


def fit(application_id: int) -> Any:
    """Does it fit: places, wall, work, checklist."""
    return _fit_page(load_application(application_id), forms.SpotForm())


def add_spot(application_id: int) -> Any:
    """Write down a look at a place."""
    application = load_application(application_id)
    form = forms.SpotForm()
    saved = save(form, None, lambda: path_fit.add_spot(db(), application, form.command(path_fit.SpotCard)))
    if saved.done:
        return redirect(url_for("faces.fit", application_id=application.id))
    return _fit_page(application, form, saved.status)


def edit_fit(application_id: int) -> Any:
    """Write down what fitting takes."""
    application = load_application(application_id)
    found = path_fit.fit_of(db(), application)
    form = forms.FitForm(obj=found)
    saved = save(
        form,
        found,
        lambda: path_fit.save_fit(
            db(), application, found, form.command(path_fit.FitCard, done=tuple(form.done.data or ()))
        ),
    )
    if saved.done:
        return redirect(url_for("faces.fit", application_id=application.id))
    return page("faces/fit_form.html", form=form, conflict=saved.conflict, status=saved.status)
