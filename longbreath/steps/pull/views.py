"""Views of Pull."""

from __future__ import annotations

import io
from datetime import date
from typing import Any

from flask import abort, flash, jsonify, redirect, request, send_file, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.basis.sentence import counted
from longbreath.dossier import shop
from longbreath.dossier.attachments import attached
from longbreath.dossier.plan.cards import card_of
from longbreath.dossier.programme.register import share_of
from longbreath.dossier.pull import sessions as pull_sessions
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.pull import waiting
from longbreath.dossier.pull.sessions import dyno_sessions
from longbreath.dossier.sources import remember
from longbreath.drawing import charts
from longbreath.formats.filename import clean_name
from longbreath.formats.mapping import PULL_CHANNELS, to_json
from longbreath.steps.pull import forms
from longbreath.store.models import Application, DynoSession, Owed, Pull, RawFile
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page, theme
from longbreath.web.saving import save
from longbreath.web.transaction import db, keep


def overview(application_id: int) -> Any:
    """The order of pulls, the verdict on each, and what is still owed."""
    application = load_application(application_id)
    sessions = dyno_sessions(db(), application.id)
    wanted = request.args.get("session", type=int)
    session = next((s for s in sessions if s.id == wanted), None) if wanted else next(iter(sessions), None)
    if wanted and session is None:
        abort(404)
    return _cell(application, sessions, session)


def _cell(
    application: Application,
    sessions: list[DynoSession],
    session: DynoSession | None,
    refused: list[str] | None = None,
    status: int = 200,
) -> Any:
    if session is None:
        card = card_of(db(), application.id)
        return page("pull/overview.html", session=None, sessions=[], card=card, things=_before(application))
    return page(
        "pull/overview.html",
        pull_sessions.figures(session),
        session=session,
        sessions=sessions,
        card=session.card,
        things=_before(application),
        tokens=pull_sessions.tokens(session),
        owed=pull_sessions.still_owed(session),
        waiting=waiting.waiting(session),
        refused=refused or [],
        status=status,
    )


def _before(application: Application) -> list[Owed]:
    """What is owed before the first pull."""
    return [
        t for t in share_of(db(), application.id, ("other", "part", "tune", "figure"), 40) if t.blocks == "the dyno day"
    ][:6]


def new_session(application_id: int) -> Any:
    """Open a dyno session."""
    application = load_application(application_id)
    card = card_of(db(), application.id)
    if card is None:
        raise EvidenceError("Write the test card first: every pull is held to it.")
    form = _session_form()
    if not form.is_submitted():
        form.held_on.data = date.today()
    saved = save(
        form, None, lambda: pull_verbs.open_session(db(), application, card, form.command(pull_verbs.DynoSessionCard))
    )
    if saved.done:
        return redirect(url_for("pull.overview", application_id=application.id, session=saved.result.id))
    return page("pull/session.html", form=form, session=None, status=saved.status)


def _session_form(session: DynoSession | None = None) -> forms.DynoSessionForm:
    form = forms.DynoSessionForm(obj=session)
    form.engine_id.choices = options(
        [(0, "the vehicle’s own"), *((e.id, f"{e.serial}, {e.what}") for e in shop.engines(db()))]
    )
    form.fuel_id.choices = options([(0, "not said"), *((f.id, f.name) for f in shop.fuels(db()))])
    return form


def edit_session(application_id: int, session_id: int) -> Any:
    """Change weather or standard of a session."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    form = _session_form(session)
    saved = save(
        form,
        session,
        lambda: pull_verbs.change_session(db(), application, session, form.command(pull_verbs.DynoSessionCard)),
    )
    if saved.done:
        return redirect(url_for("pull.overview", application_id=application.id, session=session.id))
    return page(
        "pull/session.html",
        form=form,
        session=session,
        conflict=saved.conflict,
        status=saved.status,
        attachments=attached(db(), session),
    )


def receive(application_id: int, session_id: int) -> Any:
    """Take in files; those that cannot be read are refused by name, the others wait to be mapped."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    files = [f for f in request.files.getlist("files") if f.filename]
    refused = [] if files else ["No file was chosen. Choose the CSV files of the pulls."]
    for upload in files:
        try:
            pull_verbs.receive(db(), session, clean_name(upload.filename or ""), upload.read())
            keep()
        except InputError as error:
            refused.append(error.message)
    db().refresh(session, ["files"])
    if refused:
        return _cell(application, dyno_sessions(db(), application.id), session, refused, status=422)
    return redirect(url_for("pull.mapping", application_id=application.id, session_id=session.id))


def mapping(application_id: int, session_id: int) -> Any:
    """Say which column is which, see what becomes of each file, and record the pulls."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    sources = waiting.waiting_sources(db(), session, application.vehicle, request.form)
    waiting.collisions(sources, session)
    here = url_for("pull.overview", application_id=application.id, session=session.id)
    if not sources:
        return redirect(here)
    asked = request.method == "POST" and "record" in request.form
    if asked and not waiting.has_errors(sources):
        recorded = 0
        for source in sources:
            remember(db(), source.fingerprint, source.files[0].file.filename, to_json(source.chosen))
            for chosen in source.files:
                if chosen.label != waiting.LEAVE:
                    pull_verbs.record(db(), application, chosen.command(source.chosen))
                    recorded += 1
        pull_verbs.renew_served(db(), session)
        flash(f"{counted(recorded, 'pull')} recorded and judged.", "done")
        return redirect(here)
    return page(
        "pull/mapping.html",
        session=session,
        letters=[(v.letter, f"{v.letter}, {v.called}") for v in session.card.variants],
        sources=sources,
        channels=PULL_CHANNELS,
        leave=waiting.LEAVE,
        status=422 if asked else 200,
    )


def chart(application_id: int, session_id: int) -> Any:
    """All pulls of a session as a chart specification."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    rows = pull_sessions.chart_rows(db(), application, session, system())
    return jsonify(charts.pull_chart(rows, units.kind_named("torque").symbol(system()), theme()))


def judge(application_id: int, pull_id: int) -> Any:
    """Let a pull count or take it out, with a reason."""
    application = load_application(application_id)
    pull = load_part(Pull, pull_id, application, "session.application_id")
    form = forms.JudgeForm()
    if not form.is_submitted():
        form.counts.data = "no" if pull.is_valid else "yes"

    def judge_it() -> None:
        pull_verbs.judge_pull(db(), application, pull, form.counts.data == "yes", form.reason.data or "")

    saved = save(form, pull, judge_it)
    if saved.done:
        return redirect(url_for("pull.overview", application_id=application.id, session=pull.session_id))
    return page("pull/judge.html", form=form, pull=pull, conflict=saved.conflict, status=saved.status)


def raw_file(application_id: int, file_id: int) -> Any:
    """A file as received."""
    application = load_application(application_id)
    file = load_part(RawFile, file_id, application, "session.application_id")
    return send_file(io.BytesIO(file.content), "text/plain", as_attachment=True, download_name=file.filename)
