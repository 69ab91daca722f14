"""Views of Reckon and of the quick reckoner."""

from __future__ import annotations

from typing import Any

from flask import flash, jsonify, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Reckoning, all_reckonings, reckoning_named
from longbreath.dossier import predict as predictions
from longbreath.dossier.path.elements import section_of
from longbreath.drawing import charts
from longbreath.steps.reckon import forms
from longbreath.store.models import Application, Element
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application
from longbreath.web.page import page, theme
from longbreath.web.transaction import db

OWN_ARGUMENTS = {"working", "units"}


def _assumptions(
    application: Application, sections: list[Element]
) -> tuple[forms.AssumptionsForm, predictions.Assumptions | None, Element | None]:
    """The form as the address fills it, what it was read as (None if it has errors), and the section."""
    start = predictions.usual_assumptions(application.vehicle, sections[0] if sections else None)
    asked = "filling" in request.args
    form = forms.AssumptionsForm(request.args if asked else None, obj=start)
    form.section_id.choices = options(
        [(e.id, f"{e.name} ({e.belongs_to})") for e in sections] or [(0, "none measured")]
    )
    if asked and not form.validate():
        return form, None, None
    values = (
        {name: getattr(form, name).data for name in predictions.as_inputs(start)}
        if asked
        else predictions.as_inputs(start)
    )
    given = predictions.Assumptions(**{**values, "reflection": values["reflection"] or start.reflection})
    return form, given, next((e for e in sections if e.id == given.section_id), None)


def overview(application_id: int) -> Any:
    """Questions, each with its answer, the spread between schools, and what it rests on."""
    return _overview(load_application(application_id), forms.PredictionForm())


def _overview(application: Application, words: forms.PredictionForm, status: int = 200) -> Any:
    sections = predictions.sections(db(), application.id)
    form, given, section = _assumptions(application, sections)
    figures, problem = {}, ""
    if given is not None:
        try:
            figures = predictions.answers(application, section, given)
        except InputError as error:
            problem = error.message
    return page(
        "reckon/overview.html",
        figures,
        status=422 if form.errors or problem else status,
        form=form,
        given=given,
        section=section,
        sample="filling" not in request.args,
        of_intake=predictions.is_of_intake(application, section),
        problem=problem,
        prediction_form=words,
        area=section_of(section).area if section is not None else None,
        predictions=predictions.predictions(db(), application.id),
    )


def demand_chart(application_id: int) -> Any:
    """Air demand over speed as a chart specification."""
    application = load_application(application_id)
    filling = min(max(request.args.get("filling", 0.95, float), 0.1), 3.0)
    rows = predictions.demand_rows(application, filling, system())
    return jsonify(charts.demand_chart(rows, units.kind_named("flow").symbol(system()), theme()))


def predict(application_id: int) -> Any:
    """Keep a prediction made from the assumptions in the address."""
    application = load_application(application_id)
    sections = predictions.sections(db(), application.id)
    _form, given, section = _assumptions(application, sections)
    words = forms.PredictionForm()
    here: dict[str, Any] = {**request.args.to_dict(), "application_id": application.id}
    if given is None or not words.validate():
        return _overview(application, words, 422)
    figures = predictions.answers(application, section, given)
    kept = predictions.keep_prediction(
        db(), application, predictions.as_inputs(given), figures, words.expects.data or ""
    )
    flash(
        "Kept, and marked as made after the test." if kept.after_test else "Kept. The first pull will seal it.", "done"
    )
    return redirect(url_for("reckon.overview", **here))


def reckoner() -> Any:
    """Every calculation, usable alone."""
    return page("reckon/reckoner.html", reckonings=all_reckonings())


def _texts() -> dict[str, str]:
    return {key: value for key, value in request.args.items() if key not in OWN_ARGUMENTS}


def quick(name: str) -> Any:
    """One calculation; its inputs live in the address."""
    try:
        found = reckoning_named(name)
    except InputError as error:
        return page("error.html", sentence=error.message, title="No such calculation", status=404)
    texts = _texts()
    shown = texts or {field.name: field.example for field in found.fields}
    used = request.args.get("units", "")
    answer = found.answer(shown, used if used in units.SYSTEMS else system())
    figures = {figure.name: figure for figure in answer.figures}
    return page(
        "reckon/quick.html",
        figures,
        reckoning=found,
        texts=shown,
        sample=not texts,
        answer=answer,
        status=422 if answer.errors else 200,
    )


def _as_json(found: Reckoning) -> dict[str, Any]:
    fields = [
        {"name": f.name, "label": f.label, "kind": f.kind, "required": f.required, "example": f.example}
        for f in found.fields
    ]
    about = {"name": found.name, "title": found.title, "question": found.question, "source": found.source}
    return {**about, "fields": fields}


def api_list() -> Any:
    """The register as JSON."""
    return jsonify([_as_json(found) for found in all_reckonings()])


def api(name: str) -> Any:
    """One calculation as JSON: SI values, display values, working, judgement."""
    try:
        found = reckoning_named(name)
    except InputError as error:
        return {"error": error.message}, 404
    used = request.args.get("units", "metric")
    chosen = used if used in units.SYSTEMS else "metric"
    answer = found.answer(_texts(), chosen)
    return answer.to_dict(name, chosen), 422 if answer.errors else 200
