"""The nomenclature: every symbol of the reckonings with its word, its kind of quantity, and where it stands."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from longbreath.core.basis import units
from longbreath.core.basis.register import all_reckonings


@dataclass(frozen=True)
class Term:
    """One symbol in one sense: what it stands for, its kind of quantity ("" for words), the reckonings (name, title)."""

    symbol: str
    word: str
    kind: str
    where: tuple[tuple[str, str], ...]

    def unit(self, system: str) -> str:
        """The unit it is shown in."""
        return units.kind_named(self.kind).symbol(system) if self.kind else ""


@cache
def terms() -> tuple[Term, ...]:
    """All symbols that stand for something given, by symbol then word, read from the workings of the register's examples.

    A symbol that stands for two things has two entries: it is told by its word, in the working where it stands.
    """
    found: dict[tuple[str, str, str], dict[str, str]] = {}
    for entry in all_reckonings():
        answer = entry.answer({field.name: field.example for field in entry.fields})
        for figure in answer.figures:
            for given in figure.working.givens:
                key = (given.symbol, given.meaning, given.kind)
                found.setdefault(key, {})[entry.name] = entry.title
            if figure.working.steps:
                last = figure.working.steps[-1]
                word = figure.label[0].lower() + figure.label[1:]
                found.setdefault((last.symbol, word, last.kind), {})[entry.name] = entry.title
    return tuple(
        Term(symbol, word, kind, tuple(where.items()))
        for (symbol, word, kind), where in sorted(found.items(), key=lambda item: (item[0][0].lower(), item[0]))
    )
