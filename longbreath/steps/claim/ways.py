"""Where what would meet a gate is done: the page of each place that the table of gates names."""

from __future__ import annotations

from flask import url_for

from longbreath.store.models import Application

PLACES = {
    "sheets": ("builds.sheets", "To the build sheets"),
    "ledger": ("weigh.differences", "To the ledger"),
    "notes": ("claim.road", "To what the sheet says besides"),
    "pull": ("pull.overview", "To the pulls"),
    "second": ("pull.second_look", "To the second look"),
    "differences": ("weigh.differences", "Write the reasons"),
    "boost": ("weigh.boost", "To both schools of boost"),
    "bench": ("curves.compare", "To the traces"),
    "trials": ("trials.trials", "To the trials"),
    "fit": ("faces.fit", "To the fit"),
    "measure": ("measure.overview", "To what is measured"),
    "plan": ("plan.overview", "To the plan"),
    "road": ("claim.road", "To road use"),
    "claim": ("claim.overview", ""),
}
SHARED = {
    "dynos": ("library.index", "To the dynos"),
    "health": ("library.index", "To the health log"),
    "library": ("library.index", "To the library"),
    "products": ("library.index", "To the revisions"),
}


def way_of(where: str, application: Application) -> tuple[str, str] | None:
    """Address and words of the page on which a gate is met; None where that is this page."""
    if where in SHARED:
        endpoint, words = SHARED[where]
        return url_for(endpoint), words
    endpoint, words = PLACES.get(where, ("", ""))
    return (url_for(endpoint, application_id=application.id), words) if words else None
