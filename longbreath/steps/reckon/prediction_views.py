"""Views of predictions: kept before the test, scored after it, and the board over all applications."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from flask import abort, flash, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.reckon import scoring
from longbreath.core.reckon.forecast import AIRFLOW, QUANTITIES, Forecast
from longbreath.dossier.reckon import predictions as predicting
from longbreath.dossier.reckon import scores
from longbreath.dossier.reckon.records import records_of
from longbreath.drawing import forecast as picture
from longbreath.steps.reckon import forms
from longbreath.store.models import Application, Prediction
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _scored(application: Application, said: list[Prediction]) -> dict[int, scores.ScoredPrediction]:
    """What was scored, by the prediction's number; nothing while there is too little to weigh."""
    found = [*scores.score_airflow(db(), application, said), *scores.score_each(db(), application, said)]
    return {item.prediction.id: item for item in found}


def predictions(application_id: int) -> Any:
    """Predictions of an application, each with its curve and, once it is sealed and weighed, its score."""
    application = load_application(application_id)
    said = predicting.standing(predicting.predictions_of(db(), application.id))
    scored = _scored(application, said)
    figures = {
        f"p{number}-{band.name}": scoring.score_figure(band, item.forecast.quantity)
        for number, item in scored.items()
        for band in item.bands
    }
    return page(
        "reckon/predictions.html",
        figures,
        said=said,
        scored=scored,
        pictures={p.id: _picture(p, scored.get(p.id)) for p in said if p.quantity},
        source_words=predicting.source_words,
        quantities=QUANTITIES,
    )


def _picture(prediction: Prediction, scored: scores.ScoredPrediction | None) -> Any:
    curve = predicting.forecast_of(prediction)
    if curve is None:
        return None
    quantity = QUANTITIES[curve.quantity]
    per = units.scale(quantity.kind, system())
    axis = units.scale(quantity.axis, system()) if quantity.axis else 1.0
    said = [picture.SaidPoint(p.x / axis, p.low / per, p.middle / per, p.high / per) for p in curve.points]
    seen = []
    for band in scored.bands if scored is not None else ():
        low, high = (p / axis for p in band.found.places) if quantity.axis else (said[0].x, said[0].x)
        if low == high:
            low, high = low - 1.0, high + 1.0
        seen.append(picture.Seen(low, high, band.found.value / per, band.half_width / per))
    x_words = units.kind_named(quantity.axis).symbol(system()) if quantity.axis else ""
    y_words = f"{quantity.label}, B − A, {units.kind_named(quantity.kind).symbol(system())}"
    return picture.forecast(said, seen, x_words, y_words)


def _drawn(form: forms.ForecastForm, quantity: str, bands: Sequence[predicting.ToDraw]) -> Forecast:
    """The forecast that was drawn. Raises InputError beside the value that cannot be."""
    values = []
    for number in range(len(bands)):
        low, middle, high = (form[f"band{number}_{part}"].si() for part, _ in forms.PARTS)
        if not low <= middle <= high:
            raise InputError("The expected value lies between the least and the most.", f"band{number}_middle")
        if low == high:
            raise InputError(
                "A forecast without a band is a promise: say the least and the most.", f"band{number}_high"
            )
        values.append((low, middle, high))
    return predicting.drawn(quantity, bands, values, form["top_lift"].si() if "top_lift" in form else None)


def draw(application_id: int, quantity: str) -> Any:
    """Draw a forecast by hand: least, expected and most for each band."""
    application = load_application(application_id)
    if quantity not in QUANTITIES:
        abort(404)
    bands = predicting.bands_to_draw(application, quantity)
    form = forms.forecast_form(quantity, len(bands))
    before = _instead_of(application, form)
    if before is not None and not form.is_submitted():
        _fill(form, before, bands)

    def apply() -> Prediction:
        new = predicting.NewPrediction(
            form.expects.data or "", quantity, predicting.HAND, "", _drawn(form, quantity, bands)
        )
        return predicting.keep_prediction(db(), application, new, before)

    saved = save(form, None, apply)
    if saved.done:
        return _kept(application, saved.result)
    return page(
        "reckon/draw.html",
        form=form,
        quantity=QUANTITIES[quantity],
        bands=bands,
        before=before,
        conflict=saved.conflict,
        status=saved.status,
    )


def _instead_of(application: Application, form: forms.ForecastForm) -> Prediction | None:
    """The open prediction that is said anew, if the address or the form names one."""
    told = form.instead_of.data or request.args.get("instead_of", "")
    form.instead_of.data = told
    return load_part(Prediction, int(told), application) if told.isdigit() else None


def _fill(form: forms.ForecastForm, before: Prediction, bands: Sequence[predicting.ToDraw]) -> None:
    form.expects.data = before.expects
    for number in range(len(bands)):
        point = before.points[min(2 * number, len(before.points) - 1)]
        for place, (part, _) in enumerate(forms.PARTS, start=1):
            form[f"band{number}_{part}"].data = point[place]
    if "top_lift" in form:
        form["top_lift"].data = before.points[-1][0]


def _kept(application: Application, kept: Prediction) -> Any:
    after = "Kept, and marked as made after the test: it scores nothing."
    flash(after if kept.after_test else f"Kept. {_sealer(kept)} will seal it.", "done")
    return redirect(url_for("reckon.predictions", application_id=application.id))


def _sealer(kept: Prediction) -> str:
    return "The first reading of the part" if kept.quantity == AIRFLOW else "The first pull of its card"


def school(application_id: int) -> Any:
    """Let a tuning school draw a torque curve from the runners that were measured."""
    application = load_application(application_id)
    form = forms.SchoolForm()
    form.school.choices = options([(name, name) for name in predicting.SCHOOLS])

    def apply() -> Prediction:
        chosen = str(form.school.data)
        curve, inputs = predicting.by_school(records_of(db(), application), chosen)
        new = predicting.NewPrediction(form.expects.data or "", "torque", predicting.SCHOOL, chosen, curve, inputs)
        return predicting.keep_prediction(db(), application, new)

    saved = save(form, None, apply)
    if saved.done:
        return _kept(application, saved.result)
    return page("reckon/school.html", form=form, conflict=saved.conflict, status=saved.status)


def board() -> Any:
    """How every source of predictions stands over all applications."""
    waiting = scores.renew_airflow(db())
    found = scores.board_of(db())
    figures: dict[str, Figure] = {}
    for kind, rows in (("kind", found.kinds), ("source", found.sources)):
        for number, row in enumerate(rows):
            figures |= {f"{kind}-{number}-held": row.held, f"{kind}-{number}-bias": row.bias}
    return page("reckon/board.html", figures, found=found, waiting=waiting, quantities=QUANTITIES)
