"""What the demo has told so far, by name; who acts on which dossier, and which day it is."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from longbreath.demo.days import work_day
from longbreath.store.base import Base
from longbreath.store.models import Application, Bench, BenchSession, User
from longbreath.store.unit_of_work import UnitOfWork

NAMES = ("title", "name", "serial", "family", "label")
"""What a record is called by, where nothing else is said; the first that it has."""
_FROM_TODAY = re.compile(r"^today(?: ([+\-]) (\d+) days?)?$")


def day_of(said: date | str) -> date:
    """A day as it is written: 2026-04-07, “today” or “today - 2 days”. Raises ValueError for anything else."""
    if isinstance(said, date):
        return said
    if found := _FROM_TODAY.match(said):
        days = int(found[2] or 0)
        return date.today() + timedelta(days=-days if found[1] == "-" else days)
    return date.fromisoformat(said)


@dataclass
class Book:
    """Records by kind and name, as they were called."""

    work: UnitOfWork
    day: date = date.min
    folder: Path = Path()
    dossier: Application | None = None
    person: User | None = None
    records: dict[tuple[type[Base], str], Any] = field(default_factory=dict)
    words: dict[str, dict[str, Any]] = field(default_factory=dict)

    def turn(self, said: dict[str, Any]) -> None:
        """Take `on`, `at`, `by` and `dossier` out of an entry: which day it is, who acts, and on which dossier."""
        if "on" in said:
            self.day = day_of(said.pop("on"))
            work_day(self.work, self.day, int(said.pop("at", 9)))
        if "by" in said or "dossier" in said:
            if "by" in said:
                self.person = self.find(User, said.pop("by"))
            if "dossier" in said:
                name = said.pop("dossier")
                self.dossier = self.find(Application, name) if name else None
            self.work.act_as(self.person, self.dossier.id if self.dossier is not None else None)

    def find(self, kind: type[Any], name: str) -> Any:
        """The record of a kind that was called so. Raises ValueError naming those that there are."""
        try:
            return self.records[kind, name]
        except KeyError:
            known = ", ".join(f"“{said}”" for one, said in self.records if one is kind) or "none"
            raise ValueError(f"there is no {kind.__name__} called “{name}”; told so far: {known}") from None

    def keep(self, made: object, called: str = "") -> None:
        """Remember a record by what it is called, or by its own name; the ranges of a bench and the traces of a day on it
        with it."""
        if not isinstance(made, Base):
            return
        for name in filter(None, (called, *_own_names(made))):
            self.records[type(made), name] = made
        if isinstance(made, Bench):
            for one in made.ranges:
                self.keep(one)
        if isinstance(made, BenchSession):
            for trace in made.traces:
                for name in (trace.label, trace.title):
                    self.records[type(trace), f"{called}, {name}"] = trace


def _own_names(made: Base) -> Iterable[str]:
    return [str(getattr(made, name)) for name in NAMES if isinstance(getattr(made, name, None), str)][:1]
