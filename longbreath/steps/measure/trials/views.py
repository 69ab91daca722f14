"""Views of trials."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import abort, flash, redirect, url_for

from longbreath.core.weigh.trial_kinds import KINDS
from longbreath.dossier.attachments import attached
from longbreath.dossier.records.trials import trials_of
from longbreath.dossier.weigh import trials as kept
from longbreath.steps.measure.trials import forms
from longbreath.store.models import Application, Trial
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def trials(application_id: int) -> Any:
    """All trials that hold, by kind."""
    application = load_application(application_id)
    return page("trials/trials.html", trials=trials_of(db(), application.id), kinds=KINDS)


def trial(application_id: int, trial_id: int) -> Any:
    """One trial with its rows."""
    application = load_application(application_id)
    record = load_part(Trial, trial_id, application)
    kind = KINDS[record.kind]
    rows = [kept.shown_row(kind, row, system()) for row in record.rows]
    holds = record.id in {t.id for t in trials_of(db(), application.id)}
    return page(
        "trials/trial.html", record=record, kind=kind, rows=rows, holds=holds, attachments=attached(db(), record)
    )


def new_trial(application_id: int, kind: str) -> Any:
    """Record a trial of a kind."""
    return _form_page(load_application(application_id), kind, None)


def correct_trial(application_id: int, trial_id: int) -> Any:
    """Record a correction: it takes the place of the earlier one, which stays kept."""
    application = load_application(application_id)
    record = load_part(Trial, trial_id, application)
    return _form_page(application, record.kind, record)


def _form_page(application: Application, name: str, before: Trial | None) -> Any:
    kind = KINDS.get(name) or abort(404)
    form = forms.trial_form(kind, before)
    if not form.is_submitted() and before is None:
        form.held_on.data = date.today()
    saved = save(form, None, lambda: kept.save_trial(db(), application, form.card(kind), before))
    if saved.done:
        flash("Kept.", "done")
        return redirect(url_for("trials.trial", application_id=application.id, trial_id=saved.result.id))
    return page("trials/form.html", form=form, kind=kind, before=before, status=saved.status)
