"""Views of what comes in and goes out as a file: bench sheets to import, exports, the printed sheet."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

from flask import abort, flash, redirect, render_template, request, send_file, url_for

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.core.bench import reduction
from longbreath.dossier.bench import export as bench_export
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.bench.traces import differs, leak_of, lift_rows, main_pair, noise_of, plate_of, reduce_trace
from longbreath.dossier.sources import remember, remembered
from longbreath.formats import bench_sheet, pdf
from longbreath.formats.filename import clean_name
from longbreath.formats.mapping import chosen, from_json, guess, to_json
from longbreath.formats.table import Table, read_table
from longbreath.steps.measure.bench.views import session_page
from longbreath.store.models import BenchSession, BenchSheet
from longbreath.web.assets import DIST
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part, user
from longbreath.web.page import page
from longbreath.web.traces import curve_of, drawn
from longbreath.web.transaction import db

WRITERS: dict[str, tuple[str, Callable[[bench_sheet.Export, str], bytes]]] = {
    "csv": ("text/csv; charset=utf-8", bench_sheet.to_csv),
    "xlsx": ("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", bench_sheet.to_xlsx),
    "json": ("application/json", bench_sheet.to_json),
}


def _read(content: bytes, filename: str) -> Table:
    return read_table(content, filename, minimum=1, one="a bench sheet")


def receive(application_id: int, session_id: int) -> Any:
    """Keep a sheet as received and go on to its columns; one that cannot be read is refused with the reason."""
    application = load_application(application_id)
    session = load_part(BenchSession, session_id, application)
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return session_page(session, "No file was chosen. Choose a CSV, TSV or XLSX sheet.", 422)
    content, name = upload.read(), clean_name(upload.filename)
    try:
        _read(content, name)
        kept = bench_verbs.receive_sheet(db(), session, name, content)
    except InputError as error:
        return session_page(session, error.message, 422)
    return redirect(url_for("bench.sheet", application_id=application.id, sheet_id=kept.id))


def sheet(application_id: int, sheet_id: int) -> Any:
    """Say which column is which, see the readings, and record them to a trace."""
    application = load_application(application_id)
    found = load_part(BenchSheet, sheet_id, application, "session.application_id")
    table = _read(found.content, found.filename)
    kept = remembered(db(), table.fingerprint)
    start = from_json(kept) if kept is not None else guess(table, bench_sheet.COLUMNS)
    mapping = chosen(table, start, request.form, "", bench_sheet.COLUMNS)
    errors: dict[str, str] = {}
    rows: list[bench_sheet.SheetReading] = []
    try:
        rows = bench_sheet.readings_of(table, mapping)
    except InputError as error:
        errors[error.field or "file"] = error.message
    traces = found.session.traces
    trace = next((t for t in traces if t.id == request.form.get("trace_id", type=int)), None)
    if request.method == "POST" and "record" in request.form and not errors:
        try:
            if trace is None:
                raise InputError("Choose the trace that these readings belong to.", "trace_id")
            with db().savepoint():
                number = bench_verbs.record_sheet(db(), found, trace, rows, found.session.test_pressure)
        except InputError as error:
            errors[error.field or "file"] = error.message
        else:
            remember(db(), table.fingerprint, found.filename, to_json(mapping))
            flash(f"{counted(number, 'reading')} recorded from {found.filename}.", "done")
            return redirect(url_for("bench.session", application_id=application.id, session_id=found.session_id))
    asked = request.method == "POST"
    return page(
        "bench/sheet_in.html",
        sheet=found,
        table=table,
        mapping=mapping,
        columns=bench_sheet.COLUMNS,
        rows=rows,
        errors=errors,
        traces=traces,
        trace=trace,
        known=kept is not None,
        status=422 if asked and errors else 200,
    )


def raw(application_id: int, sheet_id: int) -> Any:
    """A sheet as received."""
    application = load_application(application_id)
    found = load_part(BenchSheet, sheet_id, application, "session.application_id")
    return send_file(
        io.BytesIO(found.content), "application/octet-stream", as_attachment=True, download_name=found.filename
    )


def _name(session: BenchSession, kind: str) -> str:
    return f"bench-{session.held_on:%Y-%m-%d}-{session.id}.{kind}"


def export(application_id: int, session_id: int, kind: str) -> Any:
    """All readings of a session as CSV, XLSX or JSON."""
    application = load_application(application_id)
    session = load_part(BenchSession, session_id, application)
    if kind not in WRITERS:
        abort(404)
    mime, write = WRITERS[kind]
    data = write(bench_export.export_of(application, session), system())
    return send_file(io.BytesIO(data), mime, as_attachment=True, download_name=_name(session, kind))


def printed(application_id: int, session_id: int) -> Any:
    """The bench sheet as PDF: chart, fixture, plate check, leak, and every reading with its figure."""
    application = load_application(application_id)
    session = load_part(BenchSession, session_id, application)
    a, b = main_pair(session)
    noise = noise_of(session)
    tables = [(trace, reduce_trace(trace, noise)) for trace in session.traces if any(r.counts for r in trace.readings)]
    curves = [curve_of(t, rows, t not in (a, b)) for t, rows in tables if t.kind == "sweep"]
    leak = leak_of(session)
    html = render_template(
        "bench/sheet.html",
        application=application,
        session=session,
        plate=plate_of(session.bench, session.held_on),
        leak=reduction.leak_at(leak, session.test_pressure) if leak else None,
        noise=noise,
        tables=tables,
        rows=lift_rows(a, b),
        warnings=differs(a, b) if a and b else (),
        printed_by=user().name,
        curves=drawn(curves, 620, 300, printed=True) if curves else "",
    )
    return send_file(io.BytesIO(pdf.to_pdf(html, DIST)), "application/pdf", download_name=_name(session, "pdf"))
