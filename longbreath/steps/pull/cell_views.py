"""Views of the dyno day live: the cell, its values, the one key, knobs of the stand-in."""

from __future__ import annotations

import re
from typing import Any

from flask import flash, redirect, render_template, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import Conflict, EvidenceError, InputError
from longbreath.core.plan.cell_day import WAIT
from longbreath.devices.kinds import DYNO
from longbreath.devices.standin_cell import FAULTS
from longbreath.dossier.instruments import Wire
from longbreath.dossier.plan.filling import filling_of
from longbreath.dossier.pull import boosting, cell, cell_board, tuning
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.pull.cell_look import CellLook, eyes_of
from longbreath.dossier.records import sessions as pull_sessions
from longbreath.drawing.cellview import Scale, cell_svg
from longbreath.steps.pull import cell_stream
from longbreath.store.models import Application, CellRun, DynoSession
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part
from longbreath.web.lines import line_notices, seated
from longbreath.web.page import page
from longbreath.web.transaction import db, keep, sessions

KEYS = (
    ("Space", "what is next (a foot switch sends the same key)"),
    ("r", "arm although something is outside its window"),
    ("m", "tones on or off"),
    ("b", "large figures, to stand off"),
)
STAND_IN_WORDS = re.compile(r"(pull|stop|part|setting|engine|fault|line|unplug|seed)( [A-Za-z0-9 ]{1,24})?")


def _load(application_id: int, session_id: int) -> tuple[Application, DynoSession, CellRun | None]:
    application = load_application(application_id)
    session = load_part(DynoSession, session_id, application)
    return application, session, cell.open_run_of(db(), session)


def _here(application: Application, session: DynoSession) -> str:
    return url_for("pull.watch_cell", application_id=application.id, session_id=session.id)


def watch_cell(application_id: int, session_id: int) -> Any:
    """The cell of a session that is pulled live."""
    application, session, run = _load(application_id, session_id)
    if run is None:
        return page("pull/not_live.html", session=session, addresses=cell.addresses_of(session))
    look = eyes_of(sessions(), run).look()
    return page("pull/cell.html", keys=KEYS, faults=FAULTS, **_board(application, session, run, look))


def _board(application: Application, session: DynoSession, run: CellRun, look: CellLook) -> dict[str, Any]:
    """What the board shows."""
    picture = cell_board.picture_of(db(), application, session, system())
    doing = cell.doing(db(), run, look.heard)
    last = cell_board.last_pull(session)
    values = dict(look.values)
    return {
        "session": session,
        "run": run,
        "look": look,
        "doing": doing,
        "picture": cell_svg(
            picture.scale,
            picture.speeds,
            picture.pulls,
            run.armed_label or doing.label or run.fitted,
            units.kind_named("torque").symbol(system()),
        ),
        "scale": ",".join(
            f"{v:g}" for v in (picture.scale.low, picture.scale.high, picture.scale.bottom, picture.scale.top)
        ),
        "tokens": pull_sessions.tokens(session),
        "owed": cell.missing(db(), session),
        "last": last,
        "last_verdict": pull_sessions.verdict_of(last) if last is not None else None,
        "stop": pull_sessions.stop_of(session),
        "verdicts": pull_sessions.verdicts(session),
        "rows": cell_board.rows_of(session),
        "airs": cell_board.air_lines(session, values),
        "factor": pull_sessions.factor_of(session),
        "factor_now": cell_board.factor_now(session, values),
        "boost": boosting.boost_table(db(), application, session),
        "tuning": tuning.tuning_of(db(), application, session) if session.card.mixture_target is not None else None,
        "filling": filling_of(db(), session.card),
    }


def begin_cell(application_id: int, session_id: int) -> Any:
    """Begin to pull a session live."""
    application, session, _ = _load(application_id, session_id)
    cell.open_run(db(), session)
    return redirect(_here(application, session))


def end_cell(application_id: int, session_id: int) -> Any:
    """Pull it live no longer."""
    application, session, run = _load(application_id, session_id)
    if run is not None:
        cell.end_run(db(), run)
        flash("The instruments are let go; everything that was pulled is recorded.", "done")
    return redirect(url_for("pull.overview", application_id=application.id, session=session.id))


def cell_board_part(application_id: int, session_id: int) -> Any:
    """The board alone, to be shown anew."""
    application, session, run = _load(application_id, session_id)
    if run is None:
        return redirect(_here(application, session))
    return _answer(application, session, run, 200)


def _answer(application: Application, session: DynoSession, run: CellRun, status: int, refused: str = "") -> Any:
    look = eyes_of(sessions(), run).look()
    db().expire(session, ["pulls"])
    values = _board(application, session, run, look)
    return render_template("pull/_cell_board.html", application=application, refused=refused, **values), status


def press_cell(application_id: int, session_id: int) -> Any:
    """The one key: whatever is next."""
    application, session, run = _load(application_id, session_id)
    if run is None:
        raise EvidenceError("This session is not pulled live any more.")
    mark, anyway = request.form.get("mark", "")[:60], request.form.get("anyway") == "yes"
    refused, status = "", 200
    try:
        with db().savepoint():
            cell.press(db(), run, mark, eyes_of(sessions(), run).look().heard, anyway and mark.startswith(WAIT))
        keep()
    except (Conflict, EvidenceError) as error:
        refused, status = error.message, error.status
    if not request.headers.get("HX-Request"):
        if refused:
            flash(refused, "error")
        return redirect(_here(application, session))
    return _answer(application, session, run, status, refused)


def fit_cell(application_id: int, session_id: int) -> Any:
    """Say which variant is on, out of the order of the card."""
    application, session, run = _load(application_id, session_id)
    if run is not None:
        cell.fit(db(), run, request.form.get("letter", "")[:2])
    return redirect(_here(application, session))


def take_air(application_id: int, session_id: int) -> Any:
    """Take the weather station's air for the session."""
    application, session, run = _load(application_id, session_id)
    if run is None:
        raise EvidenceError("This session is not pulled live any more.")
    values = eyes_of(sessions(), run).look().values
    if not set(cell_board.WORDS) <= set(values):
        raise EvidenceError("The weather station says nothing just now: type the air under “change”.")
    pull_verbs.take_air(db(), session, values["temperature"], values["pressure"], values["humidity"])
    return redirect(_here(application, session))


def live_cell(application_id: int, session_id: int) -> Any:
    """The live values of the cell, as server-sent events. Raises InputError for a scale that is none."""
    _, session, run = _load(application_id, session_id)
    if run is None:
        raise EvidenceError("This session is not pulled live any more.")
    eyes = eyes_of(sessions(), run)
    tracing = cell_stream.Tracing(
        _scale(request.args.get("scale", "")),
        pull_sessions.factor_of(session),
        units.kind_named("torque").symbol(system()),
    )
    db().expunge(session.card.dyno)
    return seated(cell_stream.stream(eyes, tracing, system(), line_notices().wait))


def _scale(text: str) -> Scale:
    try:
        low, high, bottom, top = (float(part) for part in text.split(","))
    except ValueError:
        raise InputError("The picture has no scale.") from None
    if not (0 <= low < high <= 1e6 and -1e6 <= bottom < top <= 1e6):
        raise InputError("The picture has no scale.")
    return Scale(low, high, bottom, top)


def stand_in_cell(application_id: int, session_id: int) -> Any:
    """Turn a knob of the stand-in. Raises EvidenceError for a real dyno, which has knobs of its own."""
    _, session, run = _load(application_id, session_id)
    words, role = request.form.get("words", ""), request.form.get("role", DYNO)
    addresses = cell.addresses_of(session)
    look = eyes_of(sessions(), run).look() if run is not None else None
    if look is None or role not in look.lines or not look.lines[role].stand_in:
        raise EvidenceError("This is no stand-in: turn the knobs of the dyno itself.")
    if not STAND_IN_WORDS.fullmatch(words):
        raise InputError("The stand-in does not know that.")
    Wire(sessions(), addresses[role], role).send(words)
    return "", 204
