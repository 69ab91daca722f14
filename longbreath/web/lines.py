"""Hearing that instruments have new values: one listener a process, for all desks that are open in it."""

from __future__ import annotations

from threading import Lock
from typing import cast

from flask import current_app

from longbreath.store.database import Database
from longbreath.store.notices import LINES, Notices

_lock = Lock()


def line_notices() -> Notices:
    """The listener of this process; it is started with the first desk."""
    extensions = current_app.extensions
    with _lock:
        if "lines" not in extensions:
            extensions["lines"] = Notices(cast(Database, extensions["longbreath"]).engine, LINES)
        return cast(Notices, extensions["lines"])
