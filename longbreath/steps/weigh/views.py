"""Views of Weigh."""

from __future__ import annotations

from typing import Any

from flask import flash, jsonify, redirect, request, url_for

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.dyno import bands as dyno_bands
from longbreath.core.dyno.bands import Judged, Weighing
from longbreath.core.dyno.remarks import remarks
from longbreath.core.reckon.forecast import AIRFLOW
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.builds import give_reasons
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.evidence.verdict import keep
from longbreath.dossier.pull.sessions import correction_of, dyno_sessions
from longbreath.dossier.reckon import predictions as predicting
from longbreath.dossier.reckon import scores
from longbreath.drawing import charts
from longbreath.steps.weigh import forms
from longbreath.store.models import Application, Prediction
from longbreath.web.forms import system
from longbreath.web.guard import load_application
from longbreath.web.page import page, theme
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _gathered(application: Application) -> Evidence:
    """The evidence of the sessions that the address names, or the one that counts."""
    return gather(db(), application, request.args.getlist("session", int))


def _asked(weighing: Weighing) -> tuple[forms.BandForm, Judged | None]:
    """The band that the address asks about, with its verdict."""
    form = forms.BandForm(request.args)
    if "low" not in request.args or not form.validate():
        return form, None
    try:
        return form, dyno_bands.ask(weighing, form.low.si(), form.high.si())
    except InputError as error:
        form.blame(error)
    except EvidenceError as error:
        form.blame(InputError(error.message, "low"))
    return form, None


def overview(application_id: int) -> Any:
    """The verdict as a sentence, the picture that carries it, the figures below."""
    application = load_application(application_id)
    sessions, named = dyno_sessions(db(), application.id), request.args.getlist("session", int)
    try:
        found = _gathered(application)
    except EvidenceError as error:
        used = [s for s in sessions if s.id in named]
        status = 409 if named else 200
        return page(
            "weigh/overview.html", sessions=sessions, used=used, found=None, problem=error.message, status=status
        )
    if not named:
        keep(db(), found)
    weighing = found.weighing
    figures = dyno_bands.figures_of(weighing)
    form, asked = _asked(weighing)
    if asked is not None:
        figures["asked"] = dyno_bands.judged_figure(asked, weighing.comparison)
    return page(
        "weigh/overview.html",
        figures,
        status=422 if form.errors and "low" in request.args else 200,
        sessions=sessions,
        used=found.sessions,
        found=found,
        weighing=weighing,
        headline=dyno_bands.headline(weighing),
        remarks=remarks(weighing.comparison),
        influential=dyno_bands.influential(weighing),
        form=form,
        asked=asked,
        factors=[correction_of(s) for s in found.sessions],
        said=_said(application, found),
    )


def _said(application: Application, found: Evidence) -> list[tuple[Prediction, scores.Reckoning | None]]:
    """What was said before the test and sealed, each with its score on the evidence that is weighed."""
    stands = predicting.standing(predicting.predictions_of(db(), application.id))
    scored = {item.prediction.id: item for item in scores.score_all(found, stands)}
    return [(p, scored.get(p.id)) for p in stands if p.sealed_at is not None and p.quantity != AIRFLOW]


def differences(application_id: int) -> Any:
    """Why A and B differed beside the part, each difference in words."""
    application = load_application(application_id)
    found = _gathered(application)
    form = forms.reasons_form(found.builds.differing)
    saved = save(form, found.builds, lambda: give_reasons(db(), application, found.builds, form.given()))
    if saved.done:
        flash("Kept. The result is that of a package.", "done")
        return redirect(url_for("claim.overview", application_id=application.id))
    return page("weigh/differences.html", form=form, found=found, conflict=saved.conflict, status=saved.status)


def chart(application_id: int) -> Any:
    """A and B, and B − A below, as a chart specification."""
    application = load_application(application_id)
    found = _gathered(application)
    return jsonify(charts.weigh_chart(found.weighing, bands_of(application.vehicle), system(), theme()))
