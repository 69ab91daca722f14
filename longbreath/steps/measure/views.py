"""Views of Measure."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import abort, flash, jsonify, redirect, request, url_for
from sqlalchemy import select

from longbreath.core import units
from longbreath.core.errors import InputError
from longbreath.drawing import charts
from longbreath.steps.measure import forms, operations, queries
from longbreath.store.evidence import lift_rows
from longbreath.store.models import Application, Bench, BenchSession, Element, Reading, Trace
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part, user
from longbreath.web.locking import save
from longbreath.web.page import page, theme
from longbreath.web.transaction import db


def _chosen(application: Application) -> tuple[list[BenchSession], BenchSession | None]:
    """All sessions, and the one the address names (or the newest)."""
    found = queries.sessions(db(), application.id)
    wanted = request.args.get("session", type=int)
    chosen = next((s for s in found if s.id == wanted), None) if wanted else next(iter(found), None)
    if wanted and chosen is None:
        abort(404)
    return found, chosen


def overview(application_id: int) -> Any:
    """Traces A and B per lift, and the measured path."""
    application = load_application(application_id)
    sessions, session = _chosen(application)
    rows = lift_rows(session) if session is not None else []
    elements = queries.elements(db(), application.id)
    figures = {**queries.lift_figures(rows), **queries.element_figures(elements)}
    return page("measure/overview.html", figures, sessions=sessions, session=session, rows=rows, elements=elements)


def chart(application_id: int) -> Any:
    """The flow curves as a chart specification."""
    _, session = _chosen(load_application(application_id))
    points = queries.chart_points(lift_rows(session), system()) if session is not None else []
    lift_unit, flow_unit = (units.kind_named(kind).symbol(system()) for kind in ("length", "flow"))
    return jsonify(charts.trace_chart(points, lift_unit, flow_unit, theme()))


def _session_form(session: BenchSession | None) -> forms.SessionForm:
    form = forms.SessionForm(obj=session)
    benches = db().scalars(select(Bench).order_by(Bench.name)).all()
    form.bench_id.choices = options([(b.id, b.name) for b in benches])
    form.leak_range_id.choices = options([(r.id, f"{b.name}, range {r.label}") for b in benches for r in b.ranges])
    return form


def new_session(application_id: int) -> Any:
    """Open a bench session."""
    application = load_application(application_id)
    form = _session_form(None)
    if not form.is_submitted():
        form.held_on.data = date.today()
        form.test_pressure.data = units.from_unit(28.0, "column", "inH2O")
    saved = save(form, None, lambda: operations.open_session(db(), application, **form.values()))
    if saved.done:
        trace = next(t for t in saved.result.traces if t.label == "A")
        return redirect(url_for("measure.desk", application_id=application.id, trace_id=trace.id))
    return page("measure/session.html", form=form, session=None, status=saved.status)


def edit_session(application_id: int, session_id: int) -> Any:
    """Change the conditions of a bench session."""
    application = load_application(application_id)
    session = load_part(BenchSession, session_id, application)
    form = _session_form(session)
    saved = save(form, session, lambda: operations.change_session(db(), session, **form.values()))
    if saved.done:
        flash("Session saved; its figures were made anew.", "done")
        return redirect(url_for("measure.overview", application_id=application.id, session=session.id))
    return page("measure/session.html", form=form, session=session, conflict=saved.conflict, status=saved.status)


def desk(application_id: int, trace_id: int) -> Any:
    """Capture readings of one trace, lift by lift."""
    application = load_application(application_id)
    trace = load_part(Trace, trace_id, application, "session.application_id")
    form = forms.ReadingForm()
    ranges = trace.session.bench.ranges
    form.range_id.choices = options(
        [(r.id, f"{r.label}: {units.show(r.full_scale, 'flow', system())}") for r in ranges]
    )
    if form.validate_on_submit():
        try:
            with db().begin_nested():
                operations.capture(db(), trace, user(), **form.values())
        except InputError as error:
            db().expire_all()
            form.blame(error)
        else:
            return redirect(url_for("measure.desk", application_id=application.id, trace_id=trace.id))
    elif not form.is_submitted():
        offered = queries.next_reading(trace, system())
        form.lift.data, form.pressure.data = offered.lift, offered.pressure
        form.range_id.data = offered.range_id or (ranges[-1].id if ranges else None)
    rows = lift_rows(trace.session)
    figures = queries.lift_figures(rows)
    return page("measure/desk.html", figures, trace=trace, session=trace.session, form=form, rows=rows,
                status=422 if form.errors else 200)  # fmt: skip


def set_section(application_id: int, trace_id: int) -> Any:
    """Choose the measured section in which a trace's velocity is shown."""
    application = load_application(application_id)
    trace = load_part(Trace, trace_id, application, "session.application_id")
    wanted = request.form.get("section_id", type=int)
    trace.section_id = load_part(Element, wanted, application).id if wanted else None
    return redirect(url_for("measure.overview", application_id=application.id, session=trace.session_id))


def exclude_reading(application_id: int, reading_id: int) -> Any:
    """Take a reading out, with a reason."""
    application = load_application(application_id)
    reading = load_part(Reading, reading_id, application, "trace.session.application_id")
    form = forms.ReasonForm()
    if form.validate_on_submit():
        operations.exclude(db(), reading, user(), form.reason.data or "")
        flash("The reading no longer counts; it stays in the record with the reason.", "done")
        return redirect(
            url_for("measure.overview", application_id=application.id, session=reading.trace.session_id)
        )
    return page("measure/exclude.html", form=form, reading=reading, status=422 if form.errors else 200)


def _element_page(application: Application, element: Element | None) -> Any:
    form = forms.ElementForm(obj=element)
    if element is None and not form.is_submitted():
        form.position.data = len(queries.elements(db(), application.id)) + 1
    saved = save(form, element, lambda: operations.save_element(db(), application, element, **form.values()))
    if saved.done:
        place = url_for("measure.overview", application_id=application.id, element=saved.result.id)
        return redirect(f"{place}#path")
    return page("measure/element.html", form=form, element=element, conflict=saved.conflict, status=saved.status)


def new_element(application_id: int) -> Any:
    """Add an element of the path."""
    return _element_page(load_application(application_id), None)


def edit_element(application_id: int, element_id: int) -> Any:
    """Change an element of the path."""
    application = load_application(application_id)
    return _element_page(application, load_part(Element, element_id, application))
