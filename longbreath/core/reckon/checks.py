"""One thing a target asks of a candidate, held or not, and the limit that most of them are."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis.sentence import Sentence


@dataclass(frozen=True)
class LimitCheck:
    """One thing the target asks: column it is about, whether it holds, and the sentence with the shortfall."""

    key: str
    holds: bool
    words: Sentence


def limit(key: str, value: float | None, most: float | None, kind: str, fine: str, short: str) -> list[LimitCheck]:
    """A value that must not be above `most` [SI]; nothing where either is not known."""
    if value is None or most is None:
        return []
    if value <= most * (1 + 1e-9):
        return [LimitCheck(key, True, Sentence(fine, values=((value, kind), (most, kind))))]
    return [LimitCheck(key, False, Sentence(short, values=((value, kind), (most, kind), (value - most, kind))))]
