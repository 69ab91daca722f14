"""Views of one pair: the verdict, its picture to take away, the numbers behind it."""

from __future__ import annotations

import io
from typing import Any

from flask import Response, abort, jsonify, request, send_file

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.case.pulls import looks_words
from longbreath.core.compare import bands as dyno_bands
from longbreath.core.compare.bands import Judged, Weighing
from longbreath.core.compare.remarks import remarks
from longbreath.core.reckon.forecast import AIRFLOW
from longbreath.core.weigh.figures import net_figures
from longbreath.core.weigh.trade import next_question, trade_offs
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.evidence.verdict import keep
from longbreath.dossier.reckon import predictions as predicting
from longbreath.dossier.reckon import scores
from longbreath.dossier.records.sessions import correction_of, dyno_sessions
from longbreath.dossier.weigh import numbers
from longbreath.drawing import charts
from longbreath.steps.weigh import forms
from longbreath.store.models import Application, Prediction
from longbreath.web.forms import system
from longbreath.web.guard import load_application
from longbreath.web.page import page, theme
from longbreath.web.transaction import db


def gathered(application: Application) -> Evidence:
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
        found = gathered(application)
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
    if found.net is not None:
        figures |= net_figures(found.net)
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
        scatter=numbers.scatter_words(weighing, system()),
        remarks=remarks(weighing.comparison),
        influences=numbers.influences(weighing, system()),
        trades=trade_offs(weighing.bands, system()),
        question=next_question(weighing, application.product.side, numbers.narrowest(db(), application)),
        age=numbers.age_words(found),
        off=request.args.getlist("off", int),
        form=form,
        asked=asked,
        factors=[correction_of(s) for s in found.sessions],
        said=_said(application, found),
        looks=looks_words(found.test),
    )


def _said(application: Application, found: Evidence) -> list[tuple[Prediction, scores.ScoredPrediction | None]]:
    """What was said before the test and sealed, each with its score on the evidence that is weighed."""
    stands = predicting.standing(predicting.predictions_of(db(), application.id))
    scored = {item.prediction.id: item for item in scores.score_all(found, stands)}
    return [(p, scored.get(p.id)) for p in stands if p.sealed_at is not None and p.quantity != AIRFLOW]


def chart(application_id: int) -> Any:
    """A and B, and B − A below, as a chart specification."""
    application = load_application(application_id)
    found = gathered(application)
    off = request.args.getlist("off", int)
    return jsonify(charts.weigh_chart(found.weighing, bands_of(application.vehicle), system(), theme(), off=off))


def picture(application_id: int, kind: str) -> Any:
    """The picture with its conditions printed in, to take away: SVG or PNG."""
    application = load_application(application_id)
    if kind not in ("svg", "png"):
        abort(404)
    found = gathered(application)
    spec = charts.weigh_chart(found.weighing, bands_of(application.vehicle), system(), "paper", brush=False)
    spec = charts.with_words(spec, dyno_bands.headline(found.weighing), numbers.conditions_of(found))
    name = f"weigh-{application.id}.{kind}"
    if kind == "svg":
        return send_file(io.BytesIO(charts.to_svg(spec).encode()), "image/svg+xml", download_name=name)
    return send_file(io.BytesIO(charts.to_png(spec)), "image/png", download_name=name)


def table(application_id: int) -> Any:
    """The numbers behind the picture, speed by speed and pull by pull; as a table to copy, or as CSV."""
    application = load_application(application_id)
    found = gathered(application)
    rows = numbers.table_of(found, system())
    if "csv" in request.args:
        headers = {"Content-Disposition": f"attachment; filename=weigh-{application.id}.csv"}
        return Response(numbers.as_csv(rows), mimetype="text/csv", headers=headers)
    return page("weigh/table.html", found=found, rows=rows)
