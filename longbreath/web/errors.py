"""One place shows errors: a sentence for the user's mistakes, a number in the log for our own."""

from __future__ import annotations

import contextlib
import secrets
from typing import Any
from urllib.parse import urlsplit

from flask import Flask, render_template, request, url_for
from flask_limiter.errors import RateLimitExceeded
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import DataError, OperationalError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from longbreath.core.basis.errors import LongBreathError

DRAIN_LIMIT = 100 * 1024 * 1024

SENTENCES = {
    400: "The request was not understood. Go back and try again.",
    403: "You may not do this.",
    404: "There is nothing at this address. It may have been mistyped, or the record belongs elsewhere.",
    405: "This address does not take that kind of request.",
    413: "That upload is larger than {limit} MB. One pull is far smaller: export each pull as its own CSV.",
    429: "Too many tries. Wait a minute, then try again.",
    500: "Something went wrong here, not with you. It was written down as {number}; nothing was saved.",
    503: "The database cannot be reached. Try again in a minute; nothing was saved.",
}


def show(status: int, sentence: str, title: str = "That did not work") -> tuple[str, int]:
    """The page (or the fragment for htmx) that shows one sentence."""
    wants_json = request.path.startswith("/api/")
    if wants_json:
        return {"error": sentence}, status  # type: ignore[return-value]
    template = "_message.html" if request.headers.get("HX-Request") else "error.html"
    return render_template(template, sentence=sentence, title=title, status=status, back=way_back()), status


def way_back() -> tuple[str, str] | None:
    """Where somebody goes on from an error, and what that is called: the page of this site they came from, else the dossier
    that the address lies in. None where there is neither."""
    came = urlsplit(request.referrer or "")
    if came.netloc == request.host and came.path != request.path:
        return came.path + (f"?{came.query}" if came.query else ""), "Back to where you were"
    parts = request.path.split("/")
    if len(parts) > 3 and parts[1] == "applications" and parts[2].isdigit():
        return url_for("coverage.application", application_id=int(parts[2])), "To the application"
    return None


def init_errors(app: Flask) -> None:
    """Attach the handlers. In testing, faults are raised instead of shown."""

    @app.errorhandler(LongBreathError)
    def _ours(error: LongBreathError) -> Any:
        return show(error.status, error.message)

    @app.errorhandler(RequestEntityTooLarge)
    def _too_large(error: RequestEntityTooLarge) -> Any:
        _drain()
        limit = app.config["MAX_CONTENT_LENGTH"] // (1024 * 1024)
        return show(413, SENTENCES[413].format(limit=limit), "Too large")

    @app.errorhandler(CSRFError)
    def _csrf(error: CSRFError) -> Any:
        return show(400, "This page was open too long, or in two sessions. Reload it and save again.")

    @app.errorhandler(RateLimitExceeded)
    def _limited(error: RateLimitExceeded) -> Any:
        return show(429, SENTENCES[429])

    @app.errorhandler(OperationalError)
    def _no_database(error: OperationalError) -> Any:
        app.logger.error("database: %s", error)
        return render_template("bare.html", sentence=SENTENCES[503]), 503

    @app.errorhandler(DataError)
    def _too_large_a_number(error: DataError) -> Any:
        app.logger.warning("not kept: %s", error.orig)
        return show(
            400, "A number in that request is larger than anything that is kept here. Go back and write it anew."
        )

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Any:
        code = error.code or 500
        return show(code, SENTENCES.get(code, error.description or SENTENCES[400]))

    if not app.testing:

        @app.errorhandler(Exception)
        def _fault(error: Exception) -> Any:
            number = secrets.token_hex(4)
            app.logger.exception("fault %s at %s", number, request.path)
            return render_template("bare.html", sentence=SENTENCES[500].format(number=number)), 500


def _drain() -> None:
    """Read the rest of a refused upload, so that the browser gets the answer instead of a broken connection."""
    left = DRAIN_LIMIT
    with contextlib.suppress(OSError, ValueError):
        while left > 0 and (chunk := request.environ["wsgi.input"].read(65536)):
            left -= len(chunk)
