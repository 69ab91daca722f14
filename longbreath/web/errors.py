"""One place shows errors: a sentence for the user's mistakes, a number in the log for our own, and what is kept when the
database is away."""

from __future__ import annotations

import contextlib
import errno
import re
import secrets
from typing import Any
from urllib.parse import urlsplit

from flask import Flask, current_app, render_template, request, url_for
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import SQLAlchemyError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from longbreath.core.basis.errors import LongBreathError
from longbreath.web.addresses import local
from longbreath.web.outage import AWAY, Outage, outage_of
from longbreath.web.transaction import undo

DRAIN_LIMIT = 100 * 1024 * 1024

SENTENCES = {
    400: "The request was not understood. Go back and try again.",
    403: "You may not do this.",
    404: "There is nothing at this address. It may have been mistyped, or the record belongs elsewhere.",
    405: "This address does not take that kind of request.",
    413: "That upload is larger than {limit} MB. One pull is far smaller: export each pull as its own CSV.",
    500: "Something went wrong here, not with you. It was written down as {number}; nothing was saved.",
    507: "The disk of this machine is full: the upload could not be taken in. Ask whoever runs it to make room.",
}


def show(status: int, sentence: str, title: str = "That did not work") -> Any:
    """The page (or the fragment for htmx) that shows one sentence."""
    if _wants_json():
        return {"error": sentence}, status
    template = "_message.html" if request.headers.get("HX-Request") else "error.html"
    try:
        return render_template(template, sentence=sentence, title=title, status=status, back=way_back()), status
    except SQLAlchemyError as error:  # the frame of a page asks the database who looks at it
        outage = outage_of(error) or AWAY
        return bare(outage.status, outage.sentence, outage.retry)


def bare(status: int, sentence: str, retry: int | None = None) -> tuple[Any, int, dict[str, str]]:
    """The answer when nothing can be asked of the database: the sentence, and whatever was typed, ready to be sent again."""
    headers = {"Retry-After": str(retry)} if retry is not None else {}
    if _wants_json():
        return {"error": sentence}, status, headers
    template = current_app.jinja_env.get_template(
        "_message.html" if request.headers.get("HX-Request") else "bare.html"
    )  # without what templates are usually told: that would ask who is logged in
    return template.render(sentence=sentence, retry=retry, **_typed()), status, headers


def _wants_json() -> bool:
    return request.path.startswith("/api/") or request.path.endswith(".json")


def _typed() -> dict[str, Any]:
    """What a form was sent with: all of it to send again, and what a person wrote to be read. Passwords are not kept."""
    here = local(request.full_path.rstrip("?")) or "/"
    if request.method != "POST":
        return {"here": here, "sent": [], "written": []}
    try:
        sent, files = list(request.form.items(multi=True)), list(request.files)
    except (OSError, HTTPException):
        sent, files = [], ["file"]
    secret = any(re.search("password|old|new", name) for name, _ in sent if request.path.startswith("/account/"))
    own = ("csrf_token", "units", "version", "once")
    written = [] if secret else [(n.replace("_", " "), v) for n, v in sent if v.strip() and n not in own]
    return {"here": here, "sent": [] if secret else sent, "written": written, "files": files}


def way_back() -> tuple[str, str] | None:
    """Where somebody goes on from an error, and what that is called: the page of this site they came from, else the dossier
    that the address lies in. None where there is neither."""
    came = urlsplit(request.referrer or "")
    before = local(came.path + (f"?{came.query}" if came.query else ""))
    if before and came.netloc == request.host and came.path != request.path:
        return before, "Back to where you were"
    parts = request.path.split("/")
    if len(parts) > 3 and parts[1] == "applications" and re.fullmatch(r"[0-9]{1,10}", parts[2]):
        return url_for("coverage.application", application_id=int(parts[2])), "To the application"
    return None


def init_errors(app: Flask) -> None:
    """Attach the handlers. In testing, faults are raised instead of shown."""

    _init_outages(app)

    @app.errorhandler(LongBreathError)
    def _ours(error: LongBreathError) -> Any:
        return show(error.status, error.message)

    @app.errorhandler(RequestEntityTooLarge)
    def _too_large(error: RequestEntityTooLarge) -> Any:
        _drain()
        limit = (request.max_content_length or 0) // (1024 * 1024)
        return show(413, SENTENCES[413].format(limit=limit), "Too large")

    @app.errorhandler(CSRFError)
    def _csrf(error: CSRFError) -> Any:
        return show(400, "This page was open too long, or in two sessions. Reload it and save again.")

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Any:
        code = error.code or 500
        if code == 500:
            return fault(getattr(error, "original_exception", None) or error)
        return show(code, SENTENCES.get(code, error.description or SENTENCES[400]))

    if not app.testing:
        app.register_error_handler(Exception, fault)


def fault(error: BaseException) -> Any:
    """Our own fault: a number for the person, the rest for the log. In testing it is raised."""
    if current_app.testing:
        raise error
    number = secrets.token_hex(4)
    current_app.logger.error("fault %s at %s", number, request.path, exc_info=error)
    return bare(500, SENTENCES[500].format(number=number))


def _init_outages(app: Flask) -> None:
    """What is answered while the database, or a disk, cannot do its part."""

    @app.errorhandler(SQLAlchemyError)
    def _database(error: SQLAlchemyError) -> Any:
        undo()
        found = outage_of(error)
        if found is None:
            return fault(error)
        app.logger.error("database: %s: %s", request.path, str(getattr(error, "orig", error)).partition("\n")[0])
        return answer_to(found)

    @app.errorhandler(OSError)
    def _disk(error: OSError) -> Any:
        if error.errno not in (errno.ENOSPC, errno.EDQUOT):
            return fault(error)
        app.logger.error("disk full: %s", error)
        return bare(507, SENTENCES[507])


def answer_to(outage: Outage) -> Any:
    """The page of an outage: with what was typed where sending it again may help, else in its frame if the database answers."""
    if outage.status < 500 and outage.retry is None:
        return show(outage.status, outage.sentence)
    return bare(outage.status, outage.sentence, outage.retry)


def _drain() -> None:
    """Read the rest of a refused upload, so that the browser gets the answer instead of a broken connection."""
    left = DRAIN_LIMIT
    with contextlib.suppress(OSError, ValueError):
        while left > 0 and (chunk := request.environ["wsgi.input"].read(65536)):
            left -= len(chunk)
