"""Answers that may be kept: their tag, how long, and that nothing of them depends on who asks."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response, make_response, request

KEPT = 0
"""Seconds that anybody may keep a public page without asking again: a withdrawal is seen at once, and the tag keeps asking cheap."""


def tagged(tag: str, make: Callable[[], Any], kept: int = KEPT) -> Response:
    """An answer with its tag; the short one where the asker has it already. make: is not called then."""
    known = request.if_none_match.contains(tag)
    response = make_response("", 304) if known else make_response(make())
    response.set_etag(tag)
    response.headers["Cache-Control"] = f"public, max-age={kept}, must-revalidate"
    response.headers["Access-Control-Allow-Origin"] = "*"
    return response
