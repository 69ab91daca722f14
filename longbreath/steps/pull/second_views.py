"""The second look: a pull without letter, place and result, and whether it should count."""

from __future__ import annotations

from typing import Any

from flask import flash, redirect, url_for

from longbreath.dossier.pull import second
from longbreath.steps.pull import forms
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def second_look(application_id: int) -> Any:
    """Say of the next pull whether it should count."""
    application = load_application(application_id)
    form, found = forms.SecondForm(), second.next_for(db(), application)
    if not form.is_submitted() and found is not None:
        form.judgement.data = str(found.judgement_id)

    def look() -> None:
        number = int(form.judgement.data) if (form.judgement.data or "").isdigit() else 0
        second.look(db(), application, number, form.counts.data == "yes", form.reason.data or "")

    saved = save(form, None, look)
    if saved.done:
        flash("Kept. Your word and the other stand side by side.", "done")
        return redirect(url_for("pull.second_look", application_id=application.id))
    others = len(second.contested(db(), application))
    return page("pull/second.html", form=form, found=found, waiting=others, status=saved.status)
