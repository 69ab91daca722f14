"""Views of the quick reckoner: every calculation usable alone, as a page and as JSON."""

from __future__ import annotations

from typing import Any

from flask import jsonify, request

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Reckoning, all_reckonings, reckoning_named
from longbreath.web.forms import system
from longbreath.web.page import page

OWN_ARGUMENTS = {"working", "units"}


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
