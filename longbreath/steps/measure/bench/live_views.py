"""Views of the desk: the page, live values, capture by key or by hand, taking back."""

from __future__ import annotations

import re
from typing import Any

from flask import redirect, render_template, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.devices.standin import STAND_IN
from longbreath.devices.status import LIVE, LOST, Status
from longbreath.dossier.bench import board as bench_board
from longbreath.dossier.bench import live as live_desk
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.bench.traces import plate_of
from longbreath.dossier.instruments import Look, Wire, line_of
from longbreath.dossier.naming import trace_names
from longbreath.drawing.column import water_column
from longbreath.steps.measure.bench import forms, stream
from longbreath.store.models import Application, Trace
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.lines import line_notices, seated
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.traces import curve_of, drawn
from longbreath.web.transaction import db, sessions

KEYS = (
    ("Space", "capture the lift that is up (a foot switch sends the same key)"),
    ("r", "take it as it is, referred and flagged"),
    ("z", "take the last reading back"),
    ("↑ ↓", "go up or down the ladder"),
    ("h", "type a reading by hand"),
    ("m", "tone on or off"),
    ("b", "large figures, to stand off"),
)
NO_DEVICE = Look(Status(LOST, "This bench has no device.", None, 0, ""), [], 0.0)
STAND_IN_WORDS = re.compile(r"(motor|range|lift|part|shut|fault|unplug)( much)?( [A-Za-z0-9.]{1,12})?")


def _load(application_id: int, trace_id: int) -> tuple[Application, Trace]:
    application = load_application(application_id)
    return application, load_part(Trace, trace_id, application, "session.application_id")


def wire_of(trace: Trace) -> Wire | None:
    """The line to the live bench of a trace, or None if its bench has no device."""
    return line_of(sessions(), trace.session.bench)


def _asked(trace: Trace) -> list[int]:
    """The traces laid over the desk's: those the address names, else the usual one."""
    if "ref" in request.args:
        return [i for i in request.args.getlist("ref", type=int) if i != trace.id][:3]
    return bench_board.usual_reference(trace)


def _board(trace: Trace) -> bench_board.Board:
    wanted = request.args.get("rung", type=float)
    return bench_board.board(db(), trace, _asked(trace), system(), wanted if wanted and 0 < wanted <= 0.05 else None)


def _hand_form(trace: Trace) -> forms.ReadingForm:
    form = forms.ReadingForm()
    ranges = trace.session.bench.ranges
    form.range_id.choices = options(
        [(r.id, f"{r.label}: {units.show(r.full_scale, 'flow', system())}") for r in ranges]
    )
    return form


def _fill(form: forms.ReadingForm, trace: Trace, board: bench_board.Board) -> None:
    offered = bench_board.offered(board)
    ranges = trace.session.bench.ranges
    form.lift.data, form.pressure.data = offered.lift, offered.pressure
    form.range_id.data = offered.range_id or (ranges[-1].id if ranges else None)


def _shown(trace: Trace, application: Application, form: forms.ReadingForm, status: int = 200) -> Any:
    board = _board(trace)
    if not form.is_submitted():
        _fill(form, trace, board)
    session = trace.session
    unit = units.kind_named("column").symbol(system())
    rounded = round(units.to_unit(session.test_pressure, "column", unit), 3)
    return page(
        "bench/desk.html",
        bench_board.board_figures(board),
        trace=trace,
        session=session,
        form=form,
        board=board,
        curves=_curves(board),
        column=water_column(rounded, unit) if session.bench.device_url else "",
        plate=plate_of(session.bench, session.held_on),
        capture_form=forms.CaptureForm(formdata=None),
        references=bench_board.references(db(), application, trace),
        names=trace_names(trace.session.traces),
        asked=_asked(trace),
        keys=KEYS,
        status=status,
    )


def _curves(board: bench_board.Board) -> Any:
    """The curves of a board, the desk's own last so that it lies on top."""
    here = board.trace
    laid = [curve_of(x.trace, x.rows, bool(x.differs) or x.trace.session_id != here.session_id) for x in board.laid]
    return drawn([*laid, curve_of(here, board.rows)])


def desk(application_id: int, trace_id: int) -> Any:
    """Capture readings of one trace; a post is a reading by hand."""
    application, trace = _load(application_id, trace_id)
    form = _hand_form(trace)
    saved = save(form, None, lambda: bench_verbs.capture(db(), trace, form.command(bench_verbs.NewReading)))
    if saved.done:
        return redirect(_here(application, trace))
    return _shown(trace, application, form, saved.status)


def _here(application: Application, trace: Trace) -> str:
    kept: dict[str, Any] = {key: request.args.getlist(key) for key in ("ref",) if key in request.args}
    return url_for("bench.desk", application_id=application.id, trace_id=trace.id, **kept)


def live(application_id: int, trace_id: int) -> Any:
    """The live values of the desk, as server-sent events."""
    _, trace = _load(application_id, trace_id)
    wire = wire_of(trace)
    if wire is None:
        raise EvidenceError("This bench has no device: capture by hand.")
    events = stream.stream(live_desk.desk_of(trace), system(), wire, line_notices().wait)
    return seated(events)


def capture(application_id: int, trace_id: int) -> Any:
    """Capture the mean of the settle window at a lift; refused with what to do while something speaks against it."""
    application, trace = _load(application_id, trace_id)
    form = forms.CaptureForm()
    if not form.validate():
        return _answer(trace, application, refused=" ".join(e for errors in form.errors.values() for e in errors))
    wire, here = wire_of(trace), live_desk.desk_of(trace)
    look = wire.look(here.rules.window) if wire is not None else NO_DEVICE
    if look.status.state != LIVE:
        words = f"{look.status.words} Nothing was captured: type the reading by hand."
        return _answer(trace, application, refused=words)
    settled = here.settled(look.samples, look.now)
    blocked = [p for p in settled.problems if p.blocks or (form.anyway.data != "yes" and not settled.good)]
    if blocked:
        words = f"{blocked[0].finding} {blocked[0].advice}"
        return _answer(trace, application, refused=words, can_flag=not blocked[0].blocks)
    new = live_desk.reading_of(here, look.samples, settled, form.lift.si(), form.capture_key.data or "")
    try:
        with db().savepoint():
            reading = bench_verbs.capture(db(), trace, new)
    except InputError as error:
        return _answer(trace, application, refused=error.message)
    repeats = sum(1 for r in trace.readings if r.counts and abs(r.lift - reading.lift) < 1e-7)
    words = f"Captured{' again, the mean of ' + str(repeats) + ' is kept' if repeats > 1 else ''}."
    return _answer(trace, application, done=words)


def take_back(application_id: int, trace_id: int) -> Any:
    """Take the newest reading back."""
    application, trace = _load(application_id, trace_id)
    reading = bench_verbs.take_back(db(), trace)
    if reading is None:
        return _answer(trace, application, refused="There is nothing to take back.")
    shown = units.show(reading.lift, "length", system())
    return _answer(trace, application, done=f"The reading at {shown} is taken back; it stays in the record.")


def _answer(trace: Trace, application: Application, done: str = "", refused: str = "", can_flag: bool = False) -> Any:
    """The board anew: as a fragment for htmx, else the whole page."""
    if not request.headers.get("HX-Request"):
        if refused:
            raise InputError(refused)
        return redirect(_here(application, trace))
    db().flush()
    db().refresh(trace, ["readings"])
    board = _board(trace)
    html = render_template(
        "bench/_board.html",
        trace=trace,
        session=trace.session,
        board=board,
        figures=bench_board.board_figures(board),
        curves=_curves(board),
        application=application,
        done=done,
        refused=refused,
        can_flag=can_flag,
        swapped=True,
    )
    return html, 422 if refused else 200


def stand_in(application_id: int, trace_id: int) -> Any:
    """Turn a knob of the stand-in bench. Raises EvidenceError for a real bench, which has knobs of its own."""
    _, trace = _load(application_id, trace_id)
    wire = wire_of(trace)
    words = request.form.get("words", "")
    if wire is None or STAND_IN not in wire.look(0.0).status.device:
        raise EvidenceError("This is no stand-in: turn the knobs of the bench itself.")
    if not STAND_IN_WORDS.fullmatch(words):
        raise InputError("The stand-in does not know that.")
    wire.send(words)
    return "", 204
