"""Views of the bench: sessions, fixtures, traces, readings taken out."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.bench import reduction
from longbreath.dossier import library
from longbreath.dossier.attachments import attached
from longbreath.dossier.bench import board
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.bench.traces import flow_alone, leak_of, noise_of, plate_of, reduce_trace, repeats_of
from longbreath.steps.measure.bench import forms
from longbreath.store.models import Application, BenchSession, Element, Fixture, Reading, Trace
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.letters import NEITHER, offer_letters
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

DESCRIBE = "a new one, described below"


def _offer_benches(form: forms.BenchSessionForm) -> None:
    benches = library.benches(db())
    form.bench_id.choices = options([(b.id, b.name) for b in benches])
    form.leak_range_id.choices = options([(r.id, f"{b.name}, range {r.label}") for b in benches for r in b.ranges])


def _fixture(form: forms.SetUpForm, application: Application) -> Fixture:
    chosen = form.fixture_id.data
    if chosen:
        return load_part(Fixture, chosen, application)
    return bench_verbs.save_fixture(db(), application, None, form.command(bench_verbs.FixtureCard))


def new_session(application_id: int) -> Any:
    """Open a bench session on a fixture."""
    application = load_application(application_id)
    form = forms.SetUpForm()
    _offer_benches(form)
    known = board.fixtures(db(), application.id)
    form.fixture_id.choices = options([*((f.id, f.words) for f in known), (0, DESCRIBE)])
    if not form.is_submitted():
        form.held_on.data = date.today()
        form.test_pressure.data = units.from_unit(28.0, "column", "inH2O")
        form.direction.data = application.product.side
        form.fixture_id.data = known[0].id if known else 0

    def add() -> BenchSession:
        card = form.command(bench_verbs.BenchSessionCard)
        return bench_verbs.open_session(db(), application, _fixture(form, application), card, form.kind.data)

    saved = save(form, None, add)
    if saved.done:
        trace = next(t for t in saved.result.traces if t.label == "A")
        return redirect(url_for("bench.desk", application_id=application.id, trace_id=trace.id))
    return page("bench/set_up.html", form=form, session=None, status=saved.status)


def edit_session(application_id: int, session_id: int) -> Any:
    """Change the conditions of a bench session."""
    application = load_application(application_id)
    found = load_part(BenchSession, session_id, application)
    form = forms.BenchSessionForm(obj=found)
    _offer_benches(form)
    saved = save(
        form, found, lambda: bench_verbs.change_session(db(), found, form.command(bench_verbs.BenchSessionCard))
    )
    if saved.done:
        flash("Session saved; its figures were made anew.", "done")
        return redirect(url_for("bench.session", application_id=application.id, session_id=found.id))
    return page("bench/set_up.html", form=form, session=found, conflict=saved.conflict, status=saved.status)


def session(application_id: int, session_id: int) -> Any:
    """A session: its set-up, leak, plate check, traces, and its way in and out."""
    application = load_application(application_id)
    found = load_part(BenchSession, session_id, application)
    return session_page(found)


def session_page(found: BenchSession, refused: str = "", status: int = 200) -> Any:
    """The page of a session, with what was wrong with a file sent to it."""
    leak = leak_of(found)
    noise = noise_of(found)
    rows = {trace.id: reduce_trace(trace, noise) for trace in found.traces}
    return page(
        "bench/session.html",
        session=found,
        plate=plate_of(found.bench, found.held_on),
        rows=rows,
        refused=refused,
        leak=reduction.leak_at(leak, found.test_pressure) if leak else None,
        status=status,
        attachments=attached(db(), found),
    )


def new_trace(application_id: int, session_id: int) -> Any:
    """Add a part to a session."""
    application = load_application(application_id)
    return _trace_page(application, load_part(BenchSession, session_id, application), None)


def edit_trace(application_id: int, trace_id: int) -> Any:
    """Change what a trace is called, is, and sat on; its readings stay as they are."""
    application = load_application(application_id)
    trace = load_part(Trace, trace_id, application, "session.application_id")
    return _trace_page(application, trace.session, trace)


def _trace_page(application: Application, found: BenchSession, trace: Trace | None) -> Any:
    form = forms.TraceForm(obj=trace)
    offer_letters(form.label, application, NEITHER)
    form.fixture_id.choices = options([(f.id, f.words) for f in board.fixtures(db(), application.id)])
    if not form.is_submitted():
        form.ladder.data = ", ".join(units.show(lift, "length", "metric") for lift in trace.ladder) if trace else ""
        if trace is None and found.traces:
            form.fixture_id.data = found.traces[-1].fixture_id

    def put() -> Trace:
        card = form.command(bench_verbs.TraceCard, ladder=tuple(form.lifts()))
        fixture = load_part(Fixture, form.fixture_id.data, application)
        if trace is None:
            return bench_verbs.add_trace(db(), found, fixture, card)
        return bench_verbs.change_trace(db(), trace, fixture, card)

    saved = save(form, trace, put)
    if saved.done:
        return redirect(url_for("bench.desk", application_id=application.id, trace_id=saved.result.id))
    return page("bench/trace.html", form=form, session=found, trace=trace, conflict=saved.conflict, status=saved.status)


def new_fixture(application_id: int) -> Any:
    """Describe a fixture."""
    return _fixture_page(load_application(application_id), None)


def edit_fixture(application_id: int, fixture_id: int) -> Any:
    """Change the description of a fixture."""
    application = load_application(application_id)
    return _fixture_page(application, load_part(Fixture, fixture_id, application))


def _fixture_page(application: Application, found: Fixture | None) -> Any:
    form = forms.FixtureForm(obj=found)
    if found is None and not form.is_submitted():
        form.direction.data = application.product.side
    saved = save(
        form, found, lambda: bench_verbs.save_fixture(db(), application, found, form.command(bench_verbs.FixtureCard))
    )
    if saved.done:
        flash("Fixture saved.", "done")
        back = request.args.get("session", type=int)
        if back:
            return redirect(url_for("bench.session", application_id=application.id, session_id=back))
        return redirect(url_for("measure.overview", application_id=application.id))
    return page("bench/fixture.html", form=form, fixture=found, conflict=saved.conflict, status=saved.status)


def set_section(application_id: int, trace_id: int) -> Any:
    """Choose the measured section in which a trace's velocity is shown."""
    application = load_application(application_id)
    trace = load_part(Trace, trace_id, application, "session.application_id")
    wanted = request.form.get("section_id", type=int)
    bench_verbs.choose_section(db(), trace, load_part(Element, wanted, application).id if wanted else None)
    return redirect(url_for("measure.overview", application_id=application.id, session=trace.session_id))


def exclude_reading(application_id: int, reading_id: int) -> Any:
    """Take a reading out, with a reason."""
    application = load_application(application_id)
    reading = load_part(Reading, reading_id, application, "trace.session.application_id")
    beside = repeats_of(reading)
    by_number = {r.id: r for r in beside}
    form = forms.ExcludeForm()
    form.offer([(r.id, _in_words(r)) for r in beside])
    saved = save(form, reading, lambda: bench_verbs.exclude(db(), by_number[form.which.data], form.reason.data or ""))
    if saved.done:
        flash("The reading no longer counts; it stays in the record with the reason.", "done")
        session_id = reading.trace.session_id
        return redirect(url_for("bench.session", application_id=application.id, session_id=session_id))
    return page(
        "bench/exclude.html", form=form, reading=reading, beside=beside, conflict=saved.conflict, status=saved.status
    )


def _in_words(reading: Reading) -> str:
    """One reading as it is told from its repeats: flow, pressure, when and by whom."""
    flow = flow_alone(reading)
    shown = units.show(flow.value, "flow", system(), flow.uncertainty)
    return f"{shown}, read {reading.taken_at:%d %b %H:%M:%S} by {reading.taken_by.name}"
