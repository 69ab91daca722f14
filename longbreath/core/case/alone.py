"""Pulls whose part in a test is one person's word, against that of their checks: the test with them and without."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from longbreath.core.case.seen import Judgement, Pull, Session, Test

MOST = 6
"""So many such pulls are also turned over one by one; more only all together."""
Place = tuple[int, int]
"""Number of the session and place of the pull."""


def contested(test: Test) -> list[tuple[Session, Pull]]:
    """The pulls of A and B that count, or do not, on one person's word alone, oldest first."""
    return [
        (session, pull)
        for session in reversed(test.sessions)
        for pull in session.pulls
        if pull.letter in (session.card.a, session.card.b) and pull.is_contested
    ]


def otherwise(test: Test) -> Iterator[tuple[str, Test]]:
    """The same test with such pulls turned over, each by itself and all at once, with what was done in words."""
    found = contested(test)
    several = len({session.number for session, _ in found}) > 1 or len(test.sessions) > 1
    if len(found) <= MOST:
        for session, pull in found:
            day = f" of {session.held_on:%d %b %Y}" if several else ""
            words = f"{'without' if pull.counts else 'with'} pull {pull.place} ({pull.letter}){day}"
            yield words, _turned(test, {(session.number, pull.place)})
    if len(found) > 1:
        yield f"with all {len(found)} turned over", _turned(test, {(s.number, p.place) for s, p in found})


def _turned(test: Test, places: set[Place]) -> Test:
    sessions = tuple(
        replace(s, pulls=tuple(_over(p) if (s.number, p.place) in places else p for p in s.pulls))
        for s in test.sessions
    )
    return replace(test, sessions=sessions)


def _over(pull: Pull) -> Pull:
    return replace(pull, judgements=(*pull.judgements, Judgement(not pull.counts, "turned over", True, "")))
