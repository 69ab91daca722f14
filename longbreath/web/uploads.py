"""How large a request may be: small, but for the few addresses that take logs and videos."""

from __future__ import annotations

from flask import Flask, request

from longbreath.formats.log import MOST_BYTES
from longbreath.formats.media import MOST_VIDEO

FORM = 1024 * 1024
"""Beside the file: fields and the marks between them [bytes]."""
CHECKED = 64 * 1024 * 1024
"""Largest bundle that the page checks; the command line takes larger ones [bytes]."""
LARGER = {
    "pull.receive": 2 * MOST_BYTES + FORM,
    "attachments.add": MOST_VIDEO + FORM,
    "published.check": CHECKED + FORM,
}
"""Endpoints that take larger requests [bytes]; what they take is streamed, never held whole."""


def init_uploads(app: Flask) -> None:
    """Widen the limit where large files are taken, before anything of the request is read."""

    @app.before_request
    def _widen() -> None:
        if request.endpoint in LARGER and request.method == "POST":
            request.max_content_length = LARGER[request.endpoint]
