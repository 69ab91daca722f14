"""Places and letters of files that wait, by their names and by what the card plans."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from itertools import count

from longbreath.store.models import DynoSession, RawFile

A_WORDS = {"a", "stock", "std", "base", "baseline", "before"}
B_WORDS = {"b", "product", "proto", "prototype", "after"}
"""Words in a file's name that tell what was pulled; the words of the product's own name tell B as well."""


def words_of(text: str) -> set[str]:
    """The words of a name in lower case."""
    return set(re.findall(r"[a-z]+", text.rsplit(".", 1)[0].lower()))


def label_in(filename: str, ours: set[str]) -> str:
    """A or B, where the name of a file says one of them and not the other; nothing otherwise. ours: words of the product."""
    words = words_of(filename)
    is_a = bool(words & A_WORDS)
    is_b = bool(words & B_WORDS) or (not is_a and any(len(word) > 3 and word in ours for word in words))
    return "" if is_a == is_b else "A" if is_a else "B"


def guessed_by(named: str, planned: str) -> str:
    """What a label was guessed by, in words."""
    if not named:
        return "by its place on the card"
    return "so its name says" if named == planned else f"so its name says; the card plans {planned} here"


def numbered(session: DynoSession, files: Sequence[RawFile]) -> dict[int, int]:
    """Places by file id where every file's name has one number, all different and free; empty otherwise."""
    taken = {pull.sequence for pull in session.pulls}
    found = {}
    for file in files:
        numbers = re.findall(r"\d+", file.filename.rsplit(".", 1)[0])
        if len(numbers) != 1 or len(numbers[0]) > 3 or not 1 <= int(numbers[0]) <= 99:
            return {}
        found[file.id] = int(numbers[0])
    return found if len(set(found.values())) == len(files) and not taken & set(found.values()) else {}


def planned(session: DynoSession, place: int) -> str:
    """The label that the card plans for a place (A once the card is fulfilled)."""
    order = session.card.order
    return order[place - 1] if place <= len(order) else "A"


def free_places(session: DynoSession) -> Iterator[int]:
    """Places not taken yet."""
    taken = {pull.sequence for pull in session.pulls}
    return (place for place in count(1) if place not in taken)
