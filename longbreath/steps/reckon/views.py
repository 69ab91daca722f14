"""Views of Reckon: the column of questions, one question with what-if values, and the target."""

from __future__ import annotations

from typing import Any

from flask import abort, flash, redirect, request, url_for

from longbreath.core.basis import units, written
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import reckoning_named
from longbreath.core.engine import runners, tuned_pipe
from longbreath.core.reckon.candidates import Limits
from longbreath.dossier.reckon import answers, predictions, streams, targets
from longbreath.dossier.reckon.answers import Answered
from longbreath.dossier.reckon.candidates import candidates_of
from longbreath.dossier.reckon.question import Question
from longbreath.dossier.reckon.questions import BY_KEY
from longbreath.dossier.reckon.records import Records, records_of, sections_among
from longbreath.drawing import pipe, tuned
from longbreath.steps.reckon import forms
from longbreath.store.models import Application
from longbreath.web.forms import system
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def overview(application_id: int) -> Any:
    """Every question that this engine and part raise, answered as far as the records go."""
    application = load_application(application_id)
    records = records_of(db(), application)
    found = answers.answers(records, system())
    side = streams.streams_of(records, application.product.side)
    chain = streams.chain_of(records)
    figures = {f"{a.question.key}-{f.name}": f for a in found for f in a.headline}
    if side is not None:
        figures |= side.figures
    said = predictions.standing(predictions.predictions_of(db(), application.id))
    return page(
        "reckon/overview.html",
        figures,
        found=found,
        records=records,
        side=side,
        chain=chain,
        candidates=candidates_of(db(), application.id),
        predictions=said,
        kept=answers.kept_answers(db(), application.id, most=4),
    )


def _texts(question: Question) -> dict[str, str]:
    """What was typed in place of records, in the viewer's units whatever units the address was written in."""
    told = request.args.get("units", "")
    fields = {f.name: f for name in question.reckonings for f in reckoning_named(name).fields}
    texts = {name: request.args[name] for name in fields if name in request.args}
    if told in units.SYSTEMS and told != system():
        for name, text in texts.items():
            kind = fields[name].shown_kind
            try:
                texts[name] = written.typed(units.parse(text, kind, told).value, kind, system())
            except InputError:
                continue  # words, or a number that cannot be read: it is answered as it stands
    return texts


def _asked(application: Application, key: str) -> tuple[Records, Answered]:
    question = BY_KEY.get(key) or abort(404)
    records = records_of(db(), application, request.args.get("section", 0, int) or None)
    return records, answers.answer(records, question, _texts(question), system())


def ask(application_id: int, key: str) -> Any:
    """One question: what goes in and what that rests on, the schools' answers, their spread; what-if values in the address."""
    return _ask_page(load_application(application_id), key, forms.KeepForm())


def _ask_page(application: Application, key: str, form: forms.KeepForm, status: int = 200) -> Any:
    records, found = _asked(application, key)
    order = [q.key for q in BY_KEY.values() if q.when(records)]
    at = order.index(key) if key in order else -1
    return page(
        "reckon/ask.html",
        found.figures,
        status=422 if found.errors and status == 200 else status,
        found=found,
        records=records,
        sections=sections_among(records.elements) if key == "section" else [],
        picture=_picture(application, records, found),
        form=form,
        kept=answers.kept_answers(db(), application.id, key),
        before=BY_KEY[order[at - 1]] if at > 0 else None,
        after=BY_KEY[order[at + 1]] if 0 <= at < len(order) - 1 else None,
    )


def _picture(application: Application, records: Records, found: Answered) -> Any:
    """The picture of a question that has one: tuned speeds on one axis, or the pipe as it would be rolled."""
    if found.question.key == "tuned" and found.figures:
        return _tuned_picture(application, records, found)
    if found.question.key == "pipe-shape" and "tuned" in found.figures:
        sizes = {name: found.values.get(name) for name in ("port", "header", "belly", "stinger")}
        pieces = tuned_pipe.pieces(found.figures["tuned"].value, **{n: float(v or 0) for n, v in sizes.items()})
        return pipe.pipe(pieces)
    return None


def _tuned_picture(application: Application, records: Records, found: Answered) -> Any:
    by_school: dict[str, list[tuple[float, str]]] = {}
    for figure in found.figures.values():
        school, number = runners.school_of(figure.name)
        by_school.setdefault(school, []).append((figure.value, number))
    rows = [tuned.TunedRow(school, tuple(speeds)) for school, speeds in by_school.items()]
    rows += [tuned.TunedRow(name, ((speed, ""),)) for name, speed in predictions.simulated_peaks(db(), application.id)]
    vehicle = records.vehicle
    return tuned.tuned_axis(rows, (vehicle.band_low, vehicle.band_end), 1.35 * vehicle.redline)


def keep(application_id: int, key: str) -> Any:
    """Keep an answer with the what-if values that stand in the address."""
    application = load_application(application_id)
    form = forms.KeepForm()
    records, found = _asked(application, key)
    saved = save(form, None, lambda: answers.keep_answer(db(), records, found, form.note.data or "", system()))
    if not saved.done:
        return _ask_page(application, key, form, saved.status)
    flash("Kept. It stands in this dossier as it is.", "done")
    return redirect(url_for("reckon.ask", application_id=application.id, key=key))


def target(application_id: int) -> Any:
    """Set what the application is reckoned for."""
    application = load_application(application_id)
    found = targets.target_of(db(), application.id)
    form = forms.TargetForm()
    if not form.is_submitted():
        records = records_of(db(), application)
        limits = vars(targets.limits_of(records)) | (found.limits if found is not None else {})
        for field in form:
            if field.name in limits:
                field.data = limits[field.name]
        form.why.data = found.why if found is not None else ""

    def apply() -> None:
        card = form.command(targets.TargetCard, limits=form.command(Limits))
        targets.save_target(db(), application, found, card)

    saved = save(form, found, apply)
    if saved.done:
        flash("The target stands. Questions and candidates are held against it.", "done")
        return redirect(_back(application))
    return page("reckon/target.html", form=form, found=found, conflict=saved.conflict, status=saved.status)


def _back(application: Application) -> str:
    """Where a target was changed from: the candidates if there are any, else the questions."""
    endpoint = "reckon.table" if candidates_of(db(), application.id) else "reckon.overview"
    return url_for(endpoint, application_id=application.id)
