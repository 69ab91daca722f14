"""Addresses: numbers of records in them, and places of this site to go on to."""

from __future__ import annotations

import re
from urllib.parse import unquote
from zoneinfo import ZoneInfo

from flask import Flask, current_app, request
from werkzeug.routing import IntegerConverter

MOST = 2**31 - 1
"""The largest number that a record can have."""
LONGEST = 2000
_UNSAFE = re.compile(r"[\x00-\x1f\x7f-\x9f\\]")


class RecordNumber(IntegerConverter):
    """A whole number that a record can have; any other leads nowhere, as a page that is not there."""

    regex = r"[0-9]{1,10}"

    def __init__(self, *arguments: object, **keywords: object) -> None:
        super().__init__(*arguments, **{"max": MOST, **keywords})  # type: ignore[arg-type]


def local(target: str | None) -> str | None:
    """The target if it is a path of this site and nothing else can be read into it, else None.

    What a browser would strip or turn (tabs, line feeds, backslashes), written plainly or percent-encoded, is no path.
    """
    if not target or len(target) > LONGEST or not target.startswith("/") or re.search(r"\s", target):
        return None
    read = target
    for _ in range(4):
        if _UNSAFE.search(read) or read.startswith("//"):
            return None
        if read == (read := unquote(read)):
            return target
    return None


def init_addresses(app: Flask) -> None:
    """Let numbers in addresses be such as a record can have."""
    app.url_map.converters["int"] = RecordNumber


def outside_address(path: str) -> str:
    """A path of this site as an address that another device can open: by the settings, else as it was asked for."""
    base = str(current_app.config.get("ADDRESS") or request.url_root)
    return base.rstrip("/") + path


def house_zone() -> ZoneInfo:
    """The time zone of the house."""
    return ZoneInfo(str(current_app.config["ZONE"]))
