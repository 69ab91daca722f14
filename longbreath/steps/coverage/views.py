"""Views of coverage."""

from __future__ import annotations

from typing import Any

from flask import redirect, request, url_for

from longbreath.dossier import coverage
from longbreath.dossier.owed import summaries
from longbreath.dossier.programme.register import due_soon
from longbreath.steps.coverage.forms import ApplicationForm
from longbreath.web.forms import options
from longbreath.web.guard import load_application
from longbreath.web.page import page, recent
from longbreath.web.saving import save
from longbreath.web.transaction import db


def home() -> Any:
    """How far every product is on every vehicle."""
    filters = coverage.Filters(*(request.args.get(name, "") for name in ("family", "side", "use")))
    grid = coverage.grid(db(), filters, request.args.get("page", 1, int))
    return page(
        "coverage/home.html",
        grid=grid,
        filters=filters,
        choices=coverage.choices(db()),
        log=recent(None),
        due=due_soon(db()),
    )


def tour() -> Any:
    """A walk through an application that ends in a published claim."""
    return page("coverage/tour.html", example=coverage.finished(db()))


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
