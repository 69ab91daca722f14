"""Selling text that somebody uploads: a page, a CSV of sentences or plain text, opened in a process of its own."""

from __future__ import annotations

from longbreath.core.basis.errors import InputError
from longbreath.formats import apart

MOST_BYTES = 1024 * 1024
KINDS = ("html", "htm", "csv", "txt", "md", "text")


def read(filename: str, data: bytes) -> str:
    """The words of an uploaded text. Raises InputError (field "file") for any other file, or one that is too large."""
    if len(data) > MOST_BYTES:
        raise InputError(f"At most {MOST_BYTES // 1024} kB.", "file")
    if filename.rpartition(".")[2].casefold() not in KINDS:
        raise InputError("Give a text file (.txt), a page (.html) or a CSV of sentences.", "file")
    facts, _ = apart.opened("prose", data, filename, filename=filename)
    return str(facts["text"])
