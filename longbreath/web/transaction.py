"""One unit of work a request; it commits once, here, and any error rolls it back."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import cast

from flask import Flask, Response, current_app, g
from sqlalchemy.exc import SQLAlchemyError

from longbreath.dossier.work import settle_soon, watch_soon
from longbreath.store.database import Database
from longbreath.store.unit_of_work import UnitOfWork
from longbreath.web.first_looks import is_first_look


def sessions() -> Callable[[], UnitOfWork]:
    """Makes units of work of their own, for what goes on while a request lasts."""
    return cast(Database, current_app.extensions["longbreath"]).session


def db() -> UnitOfWork:
    """The unit of work of this request."""
    if "work" not in g:
        g.work = sessions()()
    return cast(UnitOfWork, g.work)


def keep() -> None:
    """Have this request's changes committed even though it answers with a 4xx: what was received stays received."""
    g.keep = True


def after_response(hook: Callable[[Response], None]) -> None:
    """Have something written with the rest, once the answer is known."""
    g.setdefault("last", []).append(hook)


def undo() -> None:
    """Undo what this request wrote, so that the page that says so can ask the database again."""
    work = g.get("work")
    if work is not None:
        with suppress(SQLAlchemyError):  # gone altogether: then it cannot be asked either
            work.rollback()


def _finish(work: UnitOfWork, response: Response) -> None:
    """Write what comes last, ask for what follows in the background, and commit."""
    for hook in g.get("last", ()):
        hook(response)
    for application_id in sorted(work.touched):
        settle_soon(work, application_id)
    if work.wrote:
        watch_soon(work)
    work.commit()


def init_transaction(app: Flask) -> None:
    """Commit after a response that is no error (or was told to `keep`); close at the end in any case."""

    @app.after_request
    def _commit(response: Response) -> Response:
        work = g.get("work")
        if work is None:
            return response
        try:
            if is_first_look():
                work.commit_derived()
            elif response.status_code < 400 or g.get("keep"):
                _finish(work, response)
            else:
                work.rollback()
        except SQLAlchemyError as error:
            # lost, full or crossed at the last moment: nothing was saved, and so says the answer
            work.invalidate()
            return app.make_response(app.handle_user_exception(error))
        return response

    @app.teardown_request
    def _close(error: BaseException | None) -> None:
        work = g.pop("work", None)
        if work is not None:
            with suppress(SQLAlchemyError):  # a connection that is gone cannot be given back
                work.close()
