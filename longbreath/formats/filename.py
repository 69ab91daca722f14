"""The name of a file as it came from outside, made into a plain name."""

from __future__ import annotations

import re

LONGEST = 80


def clean_name(filename: str) -> str:
    """A file's name without folders and odd signs, 80 signs at most; its ending is kept."""
    bare = re.split(r"[\\/]", filename)[-1]
    plain = re.sub(r"[^\w.\- ]", "_", bare).strip(". ") or "file"
    stem, dot, ending = plain.rpartition(".")
    if not dot or len(ending) > 8:
        return plain[:LONGEST]
    return f"{stem[: LONGEST - 1 - len(ending)]}.{ending}"
