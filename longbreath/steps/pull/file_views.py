"""Views of the files of a session: taking them in, mapping their columns, correcting how a source is read."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from flask import Response, abort, flash, redirect, request, stream_with_context, url_for
from werkzeug.datastructures import FileStorage
from werkzeug.http import dump_options_header

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.dossier import blobs
from longbreath.dossier import work as tasks
from longbreath.dossier.pull import correcting, pictures, recording, waiting
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.pull.chosen import LEAVE, WaitingSource
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.drawing.logview import channel_svg, log_svg
from longbreath.formats.filename import clean_name
from longbreath.formats.log import LARGE, is_large, reading_ahead
from longbreath.formats.pull_read import sought_for
from longbreath.steps.pull import forms
from longbreath.steps.pull.views import cell
from longbreath.store.models import DynoSession, RawFile
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db, keep

MOST_AHEAD = 64 * 1024 * 1024
"""Most content of an upload that is held to be read side by side [bytes]."""


def receive(application_id: int, session_id: int) -> Any:
    """Take in files; those that cannot be read are refused by name, the others wait to be mapped."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    files = [f for f in request.files.getlist("files") if f.filename]
    refused = [] if files else ["No file was chosen. Choose the logs of the pulls."]
    with reading_ahead(_small(files)):
        for upload in files:
            try:
                with db().savepoint():
                    pull_verbs.receive(db(), session, clean_name(upload.filename or ""), upload.stream)
                keep()
            except InputError as error:
                refused.append(error.message)
    db().refresh(session, ["files"])
    if refused:
        return cell(application, dyno_sessions(db(), application.id, pulls=False), session, refused, status=422)
    return redirect(url_for("pull.mapping", application_id=application.id, session_id=session.id))


def _small(files: list[FileStorage]) -> Iterator[tuple[str, bytes]]:
    """Name and content of the files that are read at once, as many as may be held at a time."""
    room = MOST_AHEAD
    for upload in files:
        data = upload.stream.read(LARGE)
        upload.stream.seek(0)
        room -= len(data)
        if room < 0:
            return
        if not is_large(len(data)):
            yield clean_name(upload.filename or ""), data


def mapping(application_id: int, session_id: int) -> Any:
    """Say which column is which, see what was found, and record the pulls; a worker does it where a file is large."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    here = url_for("pull.overview", application_id=application.id, session=session.id)
    number = request.args.get("file", type=int)
    again = load_part(RawFile, number, application, "session.application_id") if number is not None else None
    if again is not None and again.session_id != session.id:
        abort(404)
    if not waiting.waiting(db(), session) and again is None:
        return redirect(here)
    found = waiting.what_waits(db(), application, session, request.form, again)
    asked = request.method == "POST" and "record" in request.form
    if asked and not found.has_errors and not found.being_read:
        if recording.is_long(found):
            task = recording.ask(db(), session, request.form.to_dict(), again)
            flash(f"{task.title}: it goes on in the background.", "done")
        else:
            flash(recording.record_waiting(db(), application, session, found).words, "done")
        return redirect(here)
    return page(
        "pull/mapping.html",
        session=session,
        letters=[(v.letter, f"{v.letter}, {v.called}") for v in session.card.variants],
        found=found,
        shown=forms.shown_channels,
        picture_of=_picture,
        sought=sought_for,
        leave=LEAVE,
        status=422 if asked else 200,
    )


def _picture(source: WaitingSource) -> list[tuple[str, Any]]:
    """What the mapping makes of a source: its pulls over speed, and the logs that hold more than one pull with what was found."""
    curves, label, symbol = pictures.preview_curves(source, system())
    drawn = [(f"{label} of each, as it is read", channel_svg(curves, label, symbol))] if curves else []
    several = pictures.several_in(source)
    return [*drawn, *((name, log_svg(speed, pieces, time)) for name, speed, pieces, time in several[:4])]


def stop_task(application_id: int, session_id: int) -> Any:
    """Stop the reading or recording of files that a worker does."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    for task in recording.open_tasks(db(), session):
        tasks.cancel(db(), task)
    return redirect(url_for("pull.overview", application_id=application.id, session=session.id))


def correct_source(application_id: int, session_id: int, fingerprint: str) -> Any:
    """Read all pulls of a source anew: a wrong unit was found after they were recorded."""
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    source = correcting.source_of(db(), session, fingerprint, request.form)
    if source is None:
        abort(404)
    form = forms.CorrectForm()
    saved = save(form, None, lambda: correcting.read_anew(db(), application, source, form.why.data or ""))
    if saved.done:
        flash(f"{counted(saved.result, 'pull')} read anew; the earlier readings stay in the record.", "done")
        return redirect(url_for("pull.overview", application_id=application.id, session=session.id))
    return page(
        "pull/correct.html",
        form=form,
        session=session,
        source=source,
        shown=forms.shown_channels,
        sought=sought_for,
        status=saved.status,
    )


def raw_file(application_id: int, file_id: int) -> Any:
    """A file as received."""
    application = load_application(application_id)
    file = load_part(RawFile, file_id, application, "session.application_id")
    answer = Response(stream_with_context(blobs.stretch(db(), file.blob_id)), mimetype="application/octet-stream")
    answer.headers["Content-Disposition"] = dump_options_header("attachment", {"filename": file.filename})
    answer.content_length = file.size
    return answer
