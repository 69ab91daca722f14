"""Hearing that instruments have new values: one listener a process, for all desks that are open in it."""

from __future__ import annotations

from collections.abc import Iterator
from threading import BoundedSemaphore, Lock
from typing import cast

from flask import Response, current_app

from longbreath.store.database import Database
from longbreath.store.notices import LINES, Notices

SEATS = BoundedSemaphore(16)
"""Live pages that a process serves at once; each takes one of its threads for as long as it is open."""
_lock = Lock()


def seated(events: Iterator[str]) -> Response | tuple[str, int, dict[str, str]]:
    """Server-sent events as the answer to a request, while a seat is free; the seat is given back when the page goes."""
    if not SEATS.acquire(blocking=False):
        return (
            "Too many live pages are open. Close one; what is taken by hand or from files goes on.",
            503,
            {"Retry-After": "10"},
        )
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    answer = Response(events, mimetype="text/event-stream", headers=headers)
    answer.call_on_close(SEATS.release)
    return answer


def line_notices() -> Notices:
    """The listener of this process; it is started with the first desk."""
    extensions = current_app.extensions
    with _lock:
        if "lines" not in extensions:
            extensions["lines"] = Notices(cast(Database, extensions["longbreath"]).engine, LINES)
        return cast(Notices, extensions["lines"])
