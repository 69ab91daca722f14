"""States of a part: what was done to it, told apart out of one text."""

from __future__ import annotations

import re

STATES = ("casting", "finish", "machining", "coating", "modified")
"""What is kept of a part's state, in the order it is told."""
_WORDS = {
    "casting": re.compile("cast", re.IGNORECASE),
    "finish": re.compile("finish|port|weld", re.IGNORECASE),
    "machining": re.compile("machin", re.IGNORECASE),
    "coating": re.compile("coat", re.IGNORECASE),
}
"""Words by which a piece of text is of one kind. Common practice, no source."""


def states_in(text: str) -> dict[str, str]:
    """The states that a text tells, comma separated, by kind; what is of no kind counts as a modification."""
    found: dict[str, list[str]] = {name: [] for name in STATES}
    for piece in filter(None, (p.strip() for p in text.split(","))):
        kinds = [name for name, words in _WORDS.items() if words.search(piece)] or ["modified"]
        for name in kinds:
            found[name].append(piece)
    return {name: ", ".join(pieces) for name, pieces in found.items()}
