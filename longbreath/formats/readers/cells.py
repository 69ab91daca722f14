"""A cell as a number, in every national habit; clock times as seconds."""

from __future__ import annotations

import re
from math import isfinite, nan

COMMA = re.compile(r"^\s*[+\-−]?\d+,\d+\s*$")
POINT = re.compile(r"^\s*[+\-−]?\d*\.\d+([eE][+\-]?\d+)?\s*$")
_GROUPED = {".": re.compile(r"^[+\-]?\d{1,3}(,\d{3})+(\.\d+)?$"), ",": re.compile(r"^[+\-]?\d{1,3}(\.\d{3})+(,\d+)?$")}
_CLOCK = re.compile(r"^(?:\d{4}-\d\d-\d\d[T ])?(?:(\d{1,2}):)?(\d{1,2}):(\d{2}(?:[.,]\d+)?)Z?$")


def number(cell: str, decimal: str) -> float:
    """A cell as a number; NaN for anything else, and for what is not finite. "1’234,5", "1.234,5" and "12:03.4" are numbers."""
    text = cell.replace("\u00a0", "").replace("\u202f", "").replace("−", "-").strip().strip('"')
    if len(text) > 40:
        return nan
    if "’" in text or "'" in text:
        text = text.replace("’", "").replace("'", "")
    if clock := _CLOCK.match(text):
        hours, minutes, seconds = clock.groups()
        return int(hours or 0) * 3600.0 + int(minutes) * 60.0 + float(seconds.replace(",", "."))
    if _GROUPED[decimal].match(text):
        text = text.replace("," if decimal == "." else ".", "")
    if decimal == ",":
        text = text.replace(".", "x") if "." in text and "," in text else text.replace(",", ".")
    try:
        value = nan if "_" in text else float(text)
    except ValueError:
        return nan
    return value if isfinite(value) else nan
