"""Views of Weigh."""

from __future__ import annotations

from threading import Lock
from typing import Any

from cachetools import LRUCache, cached
from flask import jsonify, request

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.dyno import bands as dyno_bands
from longbreath.core.dyno.bands import Band, Judged, Weighing
from longbreath.dossier import weigh
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.predict import sealed_prediction
from longbreath.dossier.pull.sessions import correction_of, dyno_sessions
from longbreath.dossier.weigh import evidence_key, weighing_of
from longbreath.drawing import charts
from longbreath.steps.weigh import forms
from longbreath.store.models import Application
from longbreath.web.forms import system
from longbreath.web.guard import load_application
from longbreath.web.page import page, theme
from longbreath.web.transaction import db


def _weighed(application: Application) -> tuple[list[Any], list[Any], Weighing | None, str]:
    """All sessions, the chosen ones, their weighing, or the sentence that says why there is none."""
    sessions = dyno_sessions(db(), application.id)
    used = weigh.chosen(sessions, request.args.getlist("session", int))
    if not used:
        return sessions, used, None, "There are no pulls to weigh yet."
    try:
        return sessions, used, weighing_of(db(), application, used), ""
    except EvidenceError as error:
        return sessions, used, None, error.message


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
    sessions, used, weighing, problem = _weighed(application)
    if weighing is None:
        status = 409 if request.args.getlist("session") else 200
        return page("weigh/overview.html", sessions=sessions, used=used, weighing=None, problem=problem, status=status)
    figures = dyno_bands.figures_of(weighing)
    form, asked = _asked(weighing)
    if asked is not None:
        figures["asked"] = dyno_bands.judged_figure(asked, weighing.comparison)
    return page(
        "weigh/overview.html",
        figures,
        status=422 if form.errors and "low" in request.args else 200,
        sessions=sessions,
        used=used,
        weighing=weighing,
        headline=dyno_bands.headline(weighing),
        form=form,
        asked=asked,
        factors=[correction_of(s) for s in used],
        out=weigh.left_out(used, weighing),
        prediction=sealed_prediction(db(), application.id),
    )


def chart(application_id: int) -> Any:
    """A and B, and B − A below, as a chart specification."""
    application = load_application(application_id)
    _, used, weighing, problem = _weighed(application)
    if weighing is None:
        raise EvidenceError(problem)
    return jsonify(_drawn(weighing, bands_of(application.vehicle), system(), theme(), evidence_key(used)))


@cached(LRUCache(64), key=lambda weighing, *rest: rest, lock=Lock())
def _drawn(weighing: Weighing, bands: tuple[Band, ...], units: str, light: str, evidence: str) -> dict[str, Any]:
    """The specification of a weighing in a display system and light, kept by its evidence."""
    return charts.weigh_chart(weighing, bands, units, light)
