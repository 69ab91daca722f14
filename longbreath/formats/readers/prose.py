"""Selling text out of a page (HTML), a CSV of sentences or plain text: its words alone."""

from __future__ import annotations

import csv
import io
import re
from html.parser import HTMLParser

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers import Told

MOST_LETTERS = 4 * 1024 * 1024
"""Letters of a page that are looked at; the words in them are fewer."""


def read(data: bytes, filename: str) -> Told:
    """The words of a file, lines apart. Raises InputError for what is no text."""
    if b"\0" in data:
        raise InputError("This is no text: give a text file, a page (HTML) or a CSV of sentences.", "file")
    text = data.decode("utf-8-sig", "replace")
    kind = filename.rpartition(".")[2].casefold()
    words = _plain(text) if kind in ("html", "htm") else _cells(text) if kind == "csv" else text
    return {"text": words}, b""


_BREAKS = "p br li h1 h2 h3 h4 h5 h6 div tr td th section article header footer ul ol table dt dd"


class _Stripper(HTMLParser):
    """Keeps the words of a page and lets its marks, scripts and styles fall."""

    breaks = frozenset(_BREAKS.split())

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.words: list[str] = []
        self._hidden = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Begin a line where a page does."""
        self._hidden += tag in ("script", "style", "template")
        if tag in self.breaks:
            self.words.append("\n")

    def handle_endtag(self, tag: str) -> None:
        """End a line where a page does."""
        self._hidden -= tag in ("script", "style", "template") and self._hidden > 0
        if tag in self.breaks:
            self.words.append("\n")

    def handle_data(self, data: str) -> None:
        """Keep what is read."""
        if not self._hidden:
            self.words.append(re.sub(r"\s+", " ", data))


def _plain(text: str) -> str:
    stripper = _Stripper()
    stripper.feed(text[:MOST_LETTERS])
    stripper.close()
    return "".join(stripper.words)


def _cells(text: str) -> str:
    """A CSV of sentences as lines: the first column, or the one that is called “sentence”; a column “part” goes before it."""
    try:
        rows = [row for row in csv.reader(io.StringIO(text)) if any(cell.strip() for cell in row)]
    except csv.Error as error:
        raise InputError(f"This CSV cannot be read: {error}.", "file") from None
    if not rows:
        return ""
    head = [cell.strip().casefold() for cell in rows[0]]
    at = head.index("sentence") if "sentence" in head else 0
    part = head.index("part") if "part" in head else None
    body = rows[1:] if "sentence" in head or "part" in head else rows
    lines = []
    for row in body:
        if part is not None and part < len(row):
            lines.append(f"{row[part].strip()}:")
        lines.append(row[at].strip() if at < len(row) else "")
    return "\n".join(lines)
