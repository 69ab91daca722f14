"""Views of one pull: its checks with the pictures that show them, its channels and readings, and what a person says of it."""

from __future__ import annotations

from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.dossier.attachments import attached
from longbreath.dossier.pull import pictures, points, tuning
from longbreath.dossier.pull import typed as typed_pulls
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.pull.cell import open_run_of
from longbreath.dossier.records.sessions import verdict_of
from longbreath.drawing.logview import channel_svg
from longbreath.steps.pull import forms
from longbreath.store.models import DynoSession, Pull, TypedPull
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def pull(application_id: int, pull_id: int) -> Any:
    """One pull: what the checks say, the channel that shows it, how it was read, and what hangs on it."""
    application = load_application(application_id)
    found = load_part(Pull, pull_id, application, "session.application_id")
    channels = pictures.channel_names(db(), found)
    verdict = verdict_of(found)
    names = [name for name, *_ in channels]
    wanted = request.args.get("channel") or verdict.channel
    shown = wanted if wanted in names else next(iter(names), "")
    curves, symbol = pictures.channel_curves(db(), found, shown, system())
    label = next((label for name, label, *_ in channels if name == shown), shown)
    return page(
        "pull/pull.html",
        pull=found,
        verdict=verdict,
        channels=channels,
        shown=shown,
        picture=channel_svg(curves, label, symbol, verdict.where_rpm if shown == verdict.channel else None),
        taken=tuning.fuel_taken(db(), application, found),
        means=points.shown_means(found),
        attachments=attached(db(), found),
    )


def judge(application_id: int, pull_id: int) -> Any:
    """Let a pull count or take it out, with a reason."""
    application = load_application(application_id)
    found = load_part(Pull, pull_id, application, "session.application_id")
    form = forms.JudgeForm()
    if not form.is_submitted():
        form.counts.data = "no" if found.is_valid else "yes"

    def judge_it() -> None:
        pull_verbs.judge_pull(db(), application, found, form.counts.data == "yes", form.reason.data or "")

    saved = save(form, found, judge_it)
    if saved.done:
        if open_run_of(db(), found.session) is not None:
            return redirect(url_for("pull.watch_cell", application_id=application.id, session_id=found.session_id))
        return redirect(url_for("pull.overview", application_id=application.id, session=found.session_id))
    return page("pull/judge.html", form=form, pull=found, conflict=saved.conflict, status=saved.status)


def new_typed(application_id: int, session_id: int) -> Any:
    """Type the figures of a pull from a sheet of paper or a photo."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    return _typed(application, session, None)


def edit_typed(application_id: int, typed_id: int) -> Any:
    """A typed pull: what the checks say of it, the sheet that hangs on it, and a correction in its place."""
    application = load_application(application_id)
    typed = load_part(TypedPull, typed_id, application, "session.application_id")
    return _typed(application, typed.session, typed)


def _typed(application: Any, session: DynoSession, typed: TypedPull | None) -> Any:
    form = forms.TypedForm(obj=typed)
    form.label.choices = options([(v.letter, f"{v.letter}, {v.called}") for v in session.card.variants])
    if typed is not None and not form.is_submitted():
        form.rows.data = typed_pulls.as_text(typed, system())
    saved = save(
        form,
        None,
        lambda: typed_pulls.add_typed(db(), application, session, form.command(typed_pulls.TypedCard), system(), typed),
    )
    if saved.done:
        flash("Kept as typed: it is charted, and never evidence. Hang the sheet or its photo on it.", "done")
        return redirect(url_for("pull.edit_typed", application_id=application.id, typed_id=saved.result.id))
    hung = attached(db(), typed) if typed is not None else None
    return page("pull/typed.html", form=form, session=session, typed=typed, attachments=hung, status=saved.status)
