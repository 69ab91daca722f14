"""The working of a computed figure: one mechanism for every figure that a person sees."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from math import isfinite
from typing import Any, TypeVar

from longbreath.core.basis import units

T = TypeVar("T")


@dataclass(frozen=True)
class Given:
    """One input of a figure. `value` is SI for a kind of quantity, or plain words (kind "")."""

    symbol: str
    meaning: str
    value: float | str
    kind: str = ""
    origin: str = ""


@dataclass(frozen=True)
class Step:
    """One line of arithmetic: symbol = formula = value (SI) of a kind."""

    symbol: str
    formula: str
    value: float
    kind: str


@dataclass(frozen=True)
class Working:
    """How a figure was made: inputs, steps, the source of the formula, remarks, and the rows it came from."""

    title: str
    givens: tuple[Given, ...]
    steps: tuple[Step, ...]
    source: str
    notes: tuple[str, ...] = ()
    rows: tuple[str, ...] = ()

    def to_dict(self) -> dict[str, Any]:
        """As JSON-ready data; values stay SI."""
        return {
            "title": self.title,
            "givens": [vars(given) for given in self.givens],
            "steps": [vars(step) for step in self.steps],
            "source": self.source,
            "notes": list(self.notes),
            "rows": list(self.rows),
        }


def numbered(figures: Iterable[T], name: Callable[[T], str]) -> dict[tuple[str, int], T]:
    """Each by its name and how many of that name came before it: rows of one table share a name."""
    found: dict[tuple[str, int], T] = {}
    met: Counter[str] = Counter()
    for figure in figures:
        called = name(figure)
        found[called, met[called]] = figure
        met[called] += 1
    return found


@dataclass(frozen=True)
class Figure:
    """A computed value (SI) with its kind, its uncertainty (95 %, SI, None if unknown) and its working.

    Without an uncertainty it is shown with `significant` digits. between: the 95 % interval where it does not lie evenly about
    the value; it is shown as a range then, an infinite end as "or more".
    """

    name: str
    label: str
    value: float
    kind: str
    working: Working
    uncertainty: float | None = None
    signed: bool = False
    significant: int = 4
    between: tuple[float, float] | None = None

    @property
    def is_real(self) -> bool:
        """Whether value, uncertainty and every line of the working are finite real numbers."""
        lines: tuple[Given | Step, ...] = (*self.working.givens, *self.working.steps)
        values = (self.value, self.uncertainty or 0.0, *(line.value for line in lines))
        return all(isinstance(v, str) or (not isinstance(v, complex) and isfinite(v)) for v in values)

    def number(self, system: str) -> str:
        """The value as text without its unit."""
        return units.show_number(
            self.value,
            self.kind,
            system,
            self.uncertainty,
            self.signed,
            difference=self.signed,
            significant=self.significant,
        )

    def unit(self, system: str) -> str:
        """The unit symbol in a system."""
        return units.kind_named(self.kind).symbol(system)

    def spread(self, system: str) -> str:
        """The uncertainty as text without its unit, or an empty text."""
        if self.uncertainty is None:
            return ""
        return units.show_number(self.uncertainty, self.kind, system, self.uncertainty, difference=True)

    def range(self, system: str) -> str:
        """The uneven interval as text without its unit, or an empty text."""
        if self.between is None:
            return ""
        low, high = self.between
        digits = max(self.significant - 1, 2)
        first = units.show_number(low, self.kind, system, significant=digits)
        if not isfinite(high):
            return f"{first} or more"
        return f"{first} … {units.show_number(high, self.kind, system, significant=digits)}"

    def around(self, system: str) -> str:
        """What stands behind the number: ± and the spread, or the range in brackets; empty where neither is known."""
        if self.between is not None:
            return f"({self.range(system)})"
        return f"± {self.spread(system)}" if self.uncertainty else ""

    def text(self, system: str) -> str:
        """Value, uncertainty and unit in one text."""
        return " ".join(part for part in (self.number(system), self.around(system), self.unit(system)) if part)

    def to_dict(self) -> dict[str, Any]:
        """As JSON-ready data with SI value, both display texts and the working."""
        return {
            "name": self.name,
            "label": self.label,
            "si": self.value,
            "kind": self.kind,
            "uncertainty_si": self.uncertainty,
            "display": {system: self.text(system) for system in units.SYSTEMS},
            "working": self.working.to_dict(),
        }


def reckoned(
    name: str,
    label: str,
    givens: tuple[Given, ...],
    steps: tuple[Step, ...],
    source: str,
    notes: tuple[str, ...] = (),
    rows: tuple[str, ...] = (),
    significant: int = 3,
    signed: bool = False,
    uncertainty: float | None = None,
) -> Figure:
    """A figure whose value and kind are those of the last line of its working, titled with its label."""
    working = Working(label, givens, steps, source, notes, rows)
    last = steps[-1]
    return Figure(name, label, last.value, last.kind, working, uncertainty, signed=signed, significant=significant)


def shown(item: Given | Step, system: str) -> str:
    """The value of a line of a working as text in a system."""
    if isinstance(item.value, str) or not item.kind:
        return str(item.value)
    return units.show(item.value, item.kind, system)


def from_dict(data: dict[str, Any]) -> Working:
    """The inverse of `Working.to_dict`."""
    return Working(
        title=data["title"],
        givens=tuple(Given(**given) for given in data["givens"]),
        steps=tuple(Step(**step) for step in data["steps"]),
        source=data["source"],
        notes=tuple(data["notes"]),
        rows=tuple(data["rows"]),
    )
