"""Views of Pull: sessions, the order of pulls with their verdicts, what is still owed."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import abort, flash, jsonify, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.sentence import counted
from longbreath.core.case.conditions import NOT_RECORDED
from longbreath.dossier import health, registers
from longbreath.dossier.attachments import attached
from longbreath.dossier.programme.register import share_of
from longbreath.dossier.pull import cell as cell_runs
from longbreath.dossier.pull import closing as closings
from longbreath.dossier.pull import conditions, points, recording, second, waiting
from longbreath.dossier.pull import typed as typed_pulls
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.pull.logs import being_read
from longbreath.dossier.records import left
from longbreath.dossier.records import sessions as pull_sessions
from longbreath.dossier.records.cards import card_of
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.drawing import charts
from longbreath.steps.pull import forms
from longbreath.store.models import Application, DynoSession, FuelBatch, Owed, TestEngine
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page, theme
from longbreath.web.saving import save
from longbreath.web.transaction import db


def overview(application_id: int) -> Any:
    """The order of pulls, the verdict on each, and what is still owed."""
    application = load_application(application_id)
    sessions = dyno_sessions(db(), application.id, pulls=False)
    wanted = request.args.get("session", type=int)
    session = next((s for s in sessions if s.id == wanted), None) if wanted else next(iter(sessions), None)
    if wanted and session is None:
        abort(404)
    return cell(application, sessions, session)


def cell(
    application: Application,
    sessions: list[DynoSession],
    session: DynoSession | None,
    refused: list[str] | None = None,
    status: int = 200,
) -> Any:
    """The page of a session; refused: sentences on files that were not taken in."""
    if session is None:
        card = card_of(db(), application.id)
        return page("pull/overview.html", session=None, sessions=[], card=card, things=_before(application))
    waits = waiting.waiting(db(), session)
    closed = closings.closing_of(db(), session)
    return page(
        "pull/overview.html",
        pull_sessions.figures(session),
        session=session,
        sessions=sessions,
        card=session.card,
        things=_before(application),
        closing=closed,
        late=closings.late_pulls(session, closed),
        run=cell_runs.open_run_of(db(), session),
        is_live_dyno=bool(cell_runs.addresses_of(session).get("dyno")),
        tokens=pull_sessions.tokens(session),
        owed=pull_sessions.still_owed(session),
        alone={p.id for p in second.contested(db(), application)},
        waiting=waits,
        left=left.open_files(db(), [session.id]).get(session.id, []),
        reading=being_read(db(), waits),
        recording=recording.open_task(db(), session),
        verdicts=pull_sessions.verdicts(session),
        not_logged=pull_sessions.not_logged(session),
        stop=pull_sessions.stop_of(session),
        typed=typed_pulls.typed_of(db(), session),
        sources=pull_sessions.sources_of(session),
        lines=conditions.lines_of(db(), session),
        not_recorded=NOT_RECORDED,
        points=points.points_of(session),
        differences=points.differences(session, session.card.planned_pair(application.id)),
        doubts=[d for d in health.doubts_of(db(), application, [session])],
        baseline=health.baseline_of(db(), application, date.today()),
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
        [(0, "the vehicle’s own"), *((e.id, f"{e.serial}, {e.what}") for e in registers.kept(db(), TestEngine))]
    )
    form.fuel_id.choices = options([(0, "not said"), *((f.id, f.name) for f in registers.kept(db(), FuelBatch))])
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


def chart(application_id: int, session_id: int) -> Any:
    """All pulls of a session as a chart specification."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    rows = pull_sessions.chart_rows(db(), application, session, system())
    marks = pull_sessions.typed_marks(typed_pulls.typed_of(db(), session), system())
    return jsonify(charts.pull_chart(rows, units.kind_named("torque").symbol(system()), theme(), typed=marks))


def ask_conditions(application_id: int, session_id: int) -> Any:
    """What no log states of the pulls: kept, or marked “not recorded”."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    form = forms.conditions_form(session, db())
    saved = save(form, None, lambda: conditions.put_conditions(db(), session, form.given()))
    if saved.done:
        flash(f"{counted(saved.result, 'condition')} kept.", "done")
        return redirect(url_for("pull.overview", application_id=application.id, session=session.id))
    lines = conditions.lines_of(db(), session)
    return page("pull/conditions.html", form=form, session=session, lines=lines, status=saved.status)
