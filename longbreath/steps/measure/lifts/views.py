"""Views of Measure."""

from __future__ import annotations

from typing import Any

from flask import abort, request

from longbreath.dossier.bench import curves
from longbreath.dossier.bench.traces import differs, lift_rows, main_pair, sessions_of
from longbreath.dossier.path.elements import elements_of
from longbreath.store.models import Application, BenchSession
from longbreath.web.guard import load_application
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
    """Traces A and B per lift."""
    application = load_application(application_id)
    sessions, session = _chosen(application)
    a, b = main_pair(session) if session is not None else (None, None)
    rows = lift_rows(a, b)
    figures = curves.lift_figures(rows)
    pair = [
        (t, {row.lift: side for row in rows if (side := row.a if t is a else row.b) is not None}) for t in (a, b) if t
    ]
    return page(
        "measure/overview.html",
        figures,
        sessions=sessions,
        session=session,
        rows=rows,
        elements=elements_of(db(), application.id),
        pair=[t for t, _ in pair],
        curves=drawn([curve_of(t, found) for t, found in pair]),
        warnings=differs(a, b) if a is not None and b is not None else (),
    )
