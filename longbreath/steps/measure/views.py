"""Views of Measure."""

from __future__ import annotations

from typing import Any

from flask import abort, redirect, request, url_for

from longbreath.steps.measure import forms, operations, queries
from longbreath.store.flow import differs, lift_rows, main_pair, sessions_of
from longbreath.store.models import Application, BenchSession, Element
from longbreath.web.guard import load_application, load_part
from longbreath.web.locking import save
from longbreath.web.page import page
from longbreath.web.traces import curve_of, drawn
from longbreath.web.transaction import db


def _chosen(application: Application) -> tuple[list[BenchSession], BenchSession | None]:
    """All sessions, and the one the address names (or the newest that is about A and B)."""
    found = sessions_of(db(), application.id)
    wanted = request.args.get("session", type=int)
    usual = next((s for s in found if all(main_pair(s))), next(iter(found), None))
    chosen = next((s for s in found if s.id == wanted), None) if wanted else usual
    if wanted and chosen is None:
        abort(404)
    return found, chosen


def overview(application_id: int) -> Any:
    """Traces A and B per lift, and the measured path."""
    application = load_application(application_id)
    sessions, session = _chosen(application)
    a, b = main_pair(session) if session is not None else (None, None)
    rows = lift_rows(a, b)
    elements = queries.elements(db(), application.id)
    figures = {**queries.lift_figures(rows), **queries.element_figures(elements)}
    pair = [
        (t, {row.lift: side for row in rows if (side := row.a if t is a else row.b) is not None})
        for t in (a, b)
        if t
    ]
    return page(
        "measure/overview.html", figures, sessions=sessions, session=session, rows=rows, elements=elements,
        pair=[t for t, _ in pair], curves=drawn([curve_of(t, found) for t, found in pair]),
        warnings=differs(a, b) if a is not None and b is not None else (),
    )  # fmt: skip


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
