"""One session a request; it commits once, here, and any error rolls it back."""

from __future__ import annotations

from typing import cast

from flask import Flask, Response, current_app, g
from sqlalchemy.orm import Session
from sqlalchemy.orm.exc import StaleDataError

from longbreath.core.basis.errors import Conflict
from longbreath.store.database import Database

STALE = (
    "Somebody else saved this page while you had it open. What you typed is still here: compare it with the "
    "newest version and save again."
)


def db() -> Session:
    """The session of this request."""
    if "session" not in g:
        g.session = cast(Database, current_app.extensions["longbreath"]).session()
    return cast(Session, g.session)


def flush() -> None:
    """Flush now. Raises Conflict if somebody else changed a record in the meantime."""
    try:
        db().flush()
    except StaleDataError:
        db().rollback()
        raise Conflict(STALE) from None


def keep() -> None:
    """Have this request's changes committed even though it answers with a 4xx: what was received stays received."""
    g.keep = True


def init_transaction(app: Flask) -> None:
    """Commit after a response that is no error (or was told to `keep`); close at the end in any case."""

    @app.after_request
    def _commit(response: Response) -> Response:
        session = g.get("session")
        if session is not None:
            if response.status_code < 400 or g.get("keep"):
                session.commit()
            else:
                session.rollback()
        return response

    @app.teardown_request
    def _close(error: BaseException | None) -> None:
        session = g.pop("session", None)
        if session is not None:
            session.close()
