"""Views of coverage."""

from __future__ import annotations

import csv
import io
from typing import Any
from urllib.parse import urlencode

from flask import Response, redirect, request, url_for

from longbreath.dossier import coverage
from longbreath.dossier.owed import summaries
from longbreath.dossier.programme.dates import programme_of
from longbreath.dossier.programme.register import due_soon
from longbreath.drawing.coverage_map import MapLine, MapSpot, coverage_map
from longbreath.steps.coverage.forms import ApplicationForm, ViewForm
from longbreath.web import tours
from longbreath.web.addresses import house_zone
from longbreath.web.forms import options
from longbreath.web.guard import load_application, user
from longbreath.web.page import page, recent
from longbreath.web.saving import Saved, save
from longbreath.web.transaction import db

NAMES = ("family", "side", "use", "claim", "q", "owed", "order")


def _filters() -> coverage.Filters:
    return coverage.Filters(*(request.args.get(name, "")[:80] for name in NAMES))


def _grid(filters: coverage.Filters) -> coverage.Grid:
    placed = programme_of(db(), db().clock(), house_zone())
    ends = {end.job.dossier: end.ends.date() for end in reversed(placed.ends) if end.job.dossier is not None}
    return coverage.grid(db(), filters, request.args.get("page", 1, int), ends)


def home() -> Any:
    """How far every product is on every vehicle."""
    return _home(ViewForm(formdata=None), Saved(False))


def _home(form: ViewForm, saved: Saved) -> Any:
    filters = _filters()
    grid = _grid(filters)
    form.query.data = urlencode({name: value for name in NAMES if (value := getattr(filters, name))})
    return page(
        "coverage/home.html",
        grid=grid,
        map=_map(grid),
        filters=filters,
        choices=coverage.choices(db()),
        standings=coverage.STANDINGS,
        orders=coverage.ORDERS,
        views=coverage.views_of(db(), user()),
        form=form,
        log=recent(None),
        due=due_soon(db()),
        conflict=saved.conflict,
        status=saved.status,
    )


def _map(grid: coverage.Grid) -> Any:
    lines = [MapLine(p.id, p.name, p.side, p.family) for p in grid.products]
    wanted = {p.id for p in grid.products}
    spots = {place: _spot(row) for place, row in grid.cells.items() if place[0] in wanted}
    return coverage_map(lines, [(v.id, v.name) for v in grid.vehicles], spots)


def _spot(row: coverage.CoverageRow) -> MapSpot:
    a = row.application
    verdicts = ", ".join(row.verdicts) or "not weighed"
    told = f"{a.revision.title} on {a.vehicle.name}: {verdicts}; claim {row.claim}; owed {row.owed or 'nothing'}"
    return MapSpot(f"/applications/{a.id}", told, row.verdicts, row.claim, bool(row.owed))


def export() -> Any:
    """The list as a table (CSV)."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(
        ("part", "vehicle", "steps", "verdicts", "claim", "owed", "earliest publishing day", "still to spend")
    )
    for row in _grid(_filters()).rows:
        steps = " ".join(f"{s.name}:{s.state}" for s in row.summary.steps)
        names = (row.application.revision.title, row.application.vehicle.name)
        day = row.publishing.isoformat() if row.publishing else ""
        writer.writerow((*names, steps, ", ".join(row.verdicts), row.claim, row.owed, day, f"{row.money:.0f}"))
    headers = {"Content-Disposition": 'attachment; filename="coverage.csv"'}
    return Response(out.getvalue(), mimetype="text/csv", headers=headers)


def keep_view() -> Any:
    """Keep a way of looking by name."""
    form = ViewForm()
    saved = save(form, None, lambda: coverage.save_view(db(), form.name.data, form.query.data or ""))
    return redirect(f"{url_for('coverage.home')}?{form.query.data or ''}") if saved.done else _home(form, saved)


def forget_view(view_id: int) -> Any:
    """Forget a way of looking."""
    coverage.forget_view(db(), view_id)
    return redirect(url_for("coverage.home"))


def tour() -> Any:
    """A walk through the pages of an application that ends in a published claim; it can be left and taken up."""
    return page("coverage/tour.html", example=tours.example_of(db()), stops=tours.STOPS, left_at=tours.left_at(user()))


def tour_go() -> Any:
    """Go to a stop of the tour, leave it, or take it up."""
    stop = tours.go(db(), user(), request.form.get("to", "1"))
    return redirect(tours.address_of(db(), stop) if stop is not None else url_for("coverage.home"))


def find() -> Any:
    """Find a product, vehicle or calculation."""
    text = request.args.get("q", "")
    return page("coverage/find.html", q=text, found=coverage.search(db(), text))


def application(application_id: int) -> Any:
    """Go on where this application stands: to its first step that is not done."""
    found = load_application(application_id)
    step = summaries(db(), [found.id])[found.id].next_owed
    return redirect(url_for(f"{step.name if step else 'claim'}.overview", application_id=found.id))


def new_application() -> Any:
    """Open an application."""
    form = ApplicationForm()
    offered = coverage.offer(db())
    form.vehicle_id.choices = options((v.id, v.name) for v in offered.vehicles)
    form.revision_id.choices = options((r.id, r.title) for r in offered.products)
    form.stock_revision_id.choices = options((r.id, r.title) for r in offered.stock)
    saved = save(form, None, lambda: coverage.open_application(db(), **form.values()))
    if saved.done:
        return redirect(url_for("measure.overview", application_id=saved.result.id))
    return page("coverage/new.html", form=form, status=saved.status)
