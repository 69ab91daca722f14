"""Views of the end of a dyno day: rounds of tuning, closing a session, its sheet, its raw numbers."""

from __future__ import annotations

import io
from typing import Any

from flask import abort, flash, redirect, render_template, send_file, url_for

from longbreath.core.basis import units
from longbreath.core.basis.sentence import counted
from longbreath.dossier import people, registers
from longbreath.dossier.pull import cell_board, closing, conditions, export, tuning
from longbreath.dossier.records import sessions as pull_sessions
from longbreath.drawing.cellview import cell_svg
from longbreath.formats import pdf
from longbreath.formats.pulls_out import WRITERS
from longbreath.steps.pull import forms
from longbreath.store.models import DynoSession, FuelBatch, Pull
from longbreath.web.assets import DIST
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part, user
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def tune(application_id: int, session_id: int) -> Any:
    """Rounds of tuning: what was changed, what lambda should become of it, what came of it; and whether A and B match."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    form = forms.RoundForm()
    form.label.choices = options([(v.letter, f"{v.letter}, {v.called}") for v in session.card.variants])
    form.fuel_id.choices = options([(0, "not said"), *((f.id, f.name) for f in registers.kept(db(), FuelBatch))])
    saved = save(form, None, lambda: tuning.record_round(db(), session, form.command(tuning.RoundCard)))
    if saved.done:
        flash("Round kept. The next pull shows what came of it.", "done")
        return redirect(url_for("pull.tune", application_id=application.id, session_id=session.id))
    state = tuning.tuning_of(db(), application, session)
    return page("pull/tune.html", form=form, session=session, tuning=state, status=saved.status)


def close_session(application_id: int, session_id: int) -> Any:
    """Close a session: what is missing gets a reason, and is owed from then on."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    missing = closing.missing_of(db(), application, session)
    form = forms.closing_form(missing, [(p.id, p.name) for p in people.everybody(db()) if p.is_active], user().id)
    saved = save(form, None, lambda: closing.close(db(), application, session, form.card()))
    if saved.done:
        flash(f"The session is closed, with {counted(len(saved.result.gaps), 'thing')} owed.", "done")
        return redirect(url_for("pull.overview", application_id=application.id, session=session.id))
    return page(
        "pull/close.html",
        form=form,
        session=session,
        missing=missing,
        before=closing.closing_of(db(), session),
        status=saved.status,
    )


def open_session_again(application_id: int, session_id: int) -> Any:
    """Take a closing back."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    closing.open_again(db(), session)
    return redirect(url_for("pull.overview", application_id=application.id, session=session.id))


def _name(session: DynoSession, ending: str, more: str = "") -> str:
    return f"dyno-{session.held_on:%Y-%m-%d}-{session.id}{more}.{ending}"


def raw_session(application_id: int, session_id: int, kind: str) -> Any:
    """The raw numbers of a session's pulls as CSV, XLSX or MDF 4."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    if kind not in WRITERS:
        abort(404)
    mime, write = WRITERS[kind]
    data = write(export.export_of(db(), application, session, session.pulls), system())
    return send_file(io.BytesIO(data), mime, as_attachment=True, download_name=_name(session, kind))


def raw_pull(application_id: int, pull_id: int, kind: str) -> Any:
    """The raw numbers of one pull."""
    application = load_application(application_id)
    found = load_part(Pull, pull_id, application, "session.application_id")
    if kind not in WRITERS:
        abort(404)
    mime, write = WRITERS[kind]
    data = write(export.export_of(db(), application, found.session, [found]), system())
    name = _name(found.session, kind, f"-pull-{found.sequence}")
    return send_file(io.BytesIO(data), mime, as_attachment=True, download_name=name)


def day_sheet(application_id: int, session_id: int) -> Any:
    """The sheet of the day as PDF: picture, order with verdicts, air, conditions, what is missing and why."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    picture = cell_board.picture_of(db(), application, session, system())
    symbol = units.kind_named("torque").symbol(system())
    html = render_template(
        "pull/day_sheet.html",
        application=application,
        session=session,
        closing=closing.closing_of(db(), session),
        missing=closing.missing_of(db(), application, session),
        verdicts=pull_sessions.verdicts(session),
        correction=pull_sessions.correction_of(session),
        rows=cell_board.rows_of(session)[::-1],
        lines=conditions.lines_of(db(), session),
        rounds=tuning.rounds_of(db(), session),
        picture=cell_svg(picture.scale, picture.speeds, picture.pulls, "", symbol) if session.full_pulls else "",
        printed_by=user().name,
    )
    return send_file(io.BytesIO(pdf.to_pdf(html, DIST)), "application/pdf", download_name=_name(session, "pdf"))
