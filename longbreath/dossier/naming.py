"""Names that tell records apart: sessions of one day, traces with one title."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from datetime import date
from typing import Protocol

from longbreath.store.models import Trace

ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth")


class Held(Protocol):
    """Something of a day: a bench or a dyno session."""

    @property
    def id(self) -> int: ...
    @property
    def held_on(self) -> date: ...


def day(value: date) -> str:
    """A day as people write it: 8 May 2026."""
    return f"{value.day} {value:%b %Y}"


def _ordinal(number: int) -> str:
    return ORDINALS[number] if number < len(ORDINALS) else f"no. {number + 1}"


def session_names(sessions: Iterable[Held]) -> dict[int, str]:
    """Names of sessions by id: the day, and which of that day where there were several, in the order they were opened."""
    by_day: dict[date, list[int]] = {}
    for session in sorted(sessions, key=lambda s: s.id):
        by_day.setdefault(session.held_on, []).append(session.id)
    return {
        number: day(held) + (f", {_ordinal(place)} session" if len(numbers) > 1 else "")
        for held, numbers in by_day.items()
        for place, number in enumerate(numbers)
    }


def told_apart(names: list[str], more: list[str]) -> list[str]:
    """Names as they are where they differ; with `more` added where they are the same, and counted where they still are."""
    times = Counter(names)
    found = [f"{name}, {extra}" if times[name] > 1 and extra else name for name, extra in zip(names, more, strict=True)]
    again, seen = Counter(found), Counter[str]()
    told = []
    for name in found:
        told.append(f"{name}, {_ordinal(seen[name])}" if again[name] > 1 else name)
        seen[name] += 1
    return told


def trace_names(traces: Iterable[Trace]) -> dict[int, str]:
    """Names of traces by id: what was swept, its runner, and its port and set-up where two would read alike."""
    rows = list(traces)
    names = [f"{t.label + ': ' if t.label else ''}{t.title}{', runner ' + t.runner if t.runner else ''}" for t in rows]
    told = told_apart(names, [", ".join(filter(None, (t.fixture.port, t.fixture.direction))) for t in rows])
    return {trace.id: name for trace, name in zip(rows, told, strict=True)}
