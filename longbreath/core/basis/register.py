"""The register of reckonings: each calculation that stands on its own, described once.

Quick-reckoner pages, the command line, the JSON endpoint and the method notes are all made from it.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib import import_module
from typing import Any

import longbreath.core
from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure


@dataclass(frozen=True)
class Field:
    """One input: its kind and label, an example that fills the empty page, bounds (SI), or a list of choices."""

    name: str
    label: str
    kind: str
    example: str = ""
    low: float | None = None
    high: float | None = None
    required: bool = True
    choices: tuple[tuple[str, str], ...] = ()
    help: str = ""


Values = dict[str, Any]


@dataclass(frozen=True)
class Answer:
    """What came of a reckoning: figures, what each field was read as, and one sentence per field in error."""

    figures: tuple[Figure, ...] = ()
    understood: dict[str, str] = field(default_factory=dict)
    errors: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Reckoning:
    """One calculation: name for the address and command line, title, the question it answers, fields, source, group."""

    name: str
    title: str
    question: str
    fields: tuple[Field, ...]
    run: Callable[[Values], tuple[Figure, ...]]
    source: str
    group: str = "Engine and air"

    def field_named(self, name: str) -> Field | None:
        """The field of that name, or None."""
        return next((item for item in self.fields if item.name == name), None)

    def answer(self, texts: Mapping[str, str], system: str = "metric") -> Answer:
        """Read the texts, check them and reckon. Errors come back by field; nothing is raised for bad input."""
        values: Values = {}
        understood: dict[str, str] = {}
        errors: dict[str, str] = {}
        for name in texts:
            if self.field_named(name) is None:
                known = ", ".join(item.name for item in self.fields)
                errors[name] = f"{self.name} has no input “{name}”. Its inputs are: {known}."
        for item in self.fields:
            try:
                values[item.name] = read_field(item, texts.get(item.name, ""), system, understood)
            except InputError as problem:
                errors[item.name] = problem.message
        if errors:
            return Answer((), understood, errors)
        try:
            return Answer(self.run(values), understood, {})
        except InputError as problem:
            return Answer((), understood, {problem.field or self.fields[0].name: problem.message})


def read_field(item: Field, text: str, system: str, understood: dict[str, str]) -> float | str | None:
    """The SI value (or chosen key) of one field. Raises InputError with a sentence."""
    text = text.strip()
    if not text:
        if item.required:
            raise InputError(f"{item.label} is missing. Write for example “{item.example}”.", item.name)
        return None
    if item.choices:
        if text not in dict(item.choices):
            raise InputError(f"“{text}” is not one of: {', '.join(key for key, _ in item.choices)}.", item.name)
        understood[item.name] = dict(item.choices)[text]
        return text
    read = units.parse(text, item.kind, system)
    check_bounds(read.value, item, system)
    understood[item.name] = read.words
    return read.value


def check_bounds(value: float, item: Field, system: str) -> None:
    """Raises InputError if the SI value lies outside the field's bounds, naming them in the viewer's unit."""
    if item.low is not None and value < item.low:
        raise InputError(f"{item.label} cannot be less than {units.show(item.low, item.kind, system)}.", item.name)
    if item.high is not None and value > item.high:
        raise InputError(f"{item.label} cannot be more than {units.show(item.high, item.kind, system)}.", item.name)


_register: dict[str, Reckoning] = {}


def register(reckoning: Reckoning) -> Reckoning:
    """Add a reckoning. Raises ValueError if the name is taken."""
    if reckoning.name in _register:
        raise ValueError(f"{reckoning.name} is registered twice")
    _register[reckoning.name] = reckoning
    return reckoning


@cache
def _fill() -> None:
    """Import every module of the core that is named for reckonings: that registers its entries."""
    for found in pkgutil.walk_packages(longbreath.core.__path__, "longbreath.core."):
        if found.name.rpartition(".")[2].startswith("reckonings"):
            import_module(found.name)


def all_reckonings() -> tuple[Reckoning, ...]:
    """All entries in the order in which they were registered."""
    _fill()
    return tuple(_register.values())


def reckoning_named(name: str) -> Reckoning:
    """The entry of that name. Raises InputError naming those there are."""
    _fill()
    if name not in _register:
        raise InputError(f"There is no reckoning “{name}”. There are: {', '.join(_register)}.")
    return _register[name]
