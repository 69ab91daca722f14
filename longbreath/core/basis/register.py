"""The register of reckonings: each calculation that stands on its own, described once, by a decorator on its typed function.

Quick-reckoner pages, the command line, the JSON endpoint and the method notes are all made from it. A function is a
reckoning when it carries `@reckoning(...)`, takes keyword arguments annotated with fields (`core/basis/quantities.py`), and
returns `answered(figures)`. Every module of the core whose name begins with "reckonings" is found by itself.
"""

from __future__ import annotations

import inspect
import pkgutil
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from importlib import import_module
from typing import Any, get_type_hints

import longbreath.core
from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import Sentence
from longbreath.core.basis.working import Figure

TOO_FAR = "These values do not belong together: nothing real comes of them. Look at each and its unit."
NEVER_NEGATIVE = frozenset(
    (
        "length",
        "area",
        "volume",
        "plenum",
        "flow",
        "injector_flow",
        "mass_flow",
        "power",
        "torque",
        "velocity",
        "density",
    )
)
"""Kinds of which no size below nought exists, unless a figure is a difference."""
WHOLE = "whole"
"""The kind of a field that takes a whole number; it is shown as a count."""


@dataclass(frozen=True)
class Field:
    """One input: its name and label, its kind, an example that fills the empty page, bounds (SI), or a list of choices; of a
    whole number the `only` values it takes."""

    label: str
    kind: str
    example: str = ""
    low: float | None = None
    high: float | None = None
    choices: tuple[tuple[str, str], ...] = ()
    help: str = ""
    name: str = ""
    required: bool = True
    only: tuple[int, ...] = ()

    @property
    def shown_kind(self) -> str:
        """The kind of quantity by which a value is shown."""
        return "count" if self.kind == WHOLE else self.kind


@dataclass(frozen=True)
class Reckoned:
    """What a reckoning gives: figures, and a sentence that judges them where one can be said."""

    figures: tuple[Figure, ...]
    judgement: Sentence | None = None


def answered(*figures: Figure | None, judgement: str | Sentence = "") -> Reckoned:
    """What a reckoning gives; figures that could not be made (None) fall out."""
    said = Sentence(judgement) if isinstance(judgement, str) else judgement
    return Reckoned(tuple(f for f in figures if f is not None), said if said.text else None)


@dataclass(frozen=True)
class Answer:
    """What came of a reckoning: figures, what each field was read as, one sentence per field in error, the judgement, and the
    values [SI] that went in."""

    figures: tuple[Figure, ...] = ()
    understood: dict[str, str] = field(default_factory=dict)
    errors: dict[str, str] = field(default_factory=dict)
    judgement: Sentence | None = None
    values: dict[str, float | int | str | None] = field(default_factory=dict)

    def to_dict(self, name: str, system: str) -> dict[str, Any]:
        """As JSON-ready data: SI values, display texts, workings, and the judgement in a display system."""
        if self.errors:
            return {"name": name, "errors": self.errors}
        found: dict[str, Any] = {"name": name, "understood": self.understood}
        found["figures"] = [figure.to_dict() for figure in self.figures]
        if self.judgement is not None:
            found["judgement"] = self.judgement.words(system)
        return found


@dataclass(frozen=True)
class Reckoning:
    """One calculation: name for the address and command line, title, the question it answers, fields, source, group."""

    name: str
    title: str
    question: str
    fields: tuple[Field, ...]
    run: Callable[..., Reckoned]
    source: str
    group: str

    def field_named(self, name: str) -> Field | None:
        """The field of that name, or None."""
        return next((item for item in self.fields if item.name == name), None)

    def answer(
        self, texts: Mapping[str, str], system: str = "metric", known: Mapping[str, float | int | str] | None = None
    ) -> Answer:
        """Read the texts, check them and reckon. Errors come back by field; nothing is raised for bad input.

        known: values [SI] that stand where no text was written, held to the same bounds.
        """
        values: dict[str, float | int | str | None] = {}
        understood: dict[str, str] = {}
        errors: dict[str, str] = {}
        for name in texts:
            if self.field_named(name) is None:
                own = ", ".join(item.name for item in self.fields)
                errors[name] = f"{self.name} has no input “{name}”. Its inputs are: {own}."
        for item in self.fields:
            try:
                values[item.name] = _value_of(
                    item, texts.get(item.name, ""), (known or {}).get(item.name), system, understood
                )
            except InputError as problem:
                errors[item.name] = problem.message
        if errors:
            return Answer((), understood, errors, None, values)
        try:
            found = self.run(**values)
        except InputError as problem:
            return Answer((), understood, {problem.field or self.fields[0].name: problem.message})
        except (ArithmeticError, ValueError):  # divided by nought, off the real line, too large for a float
            found = None
        if found is None or (wrong := _cannot_be(found.figures)):
            return Answer((), understood, {self.fields[0].name: TOO_FAR if found is None else wrong})
        return Answer(found.figures, understood, {}, found.judgement, values)


def _cannot_be(figures: tuple[Figure, ...]) -> str:
    """Why figures cannot be: not real numbers, or a size below nought; empty for those that can."""
    if not all(figure.is_real for figure in figures):
        return TOO_FAR
    below = [f.label for f in figures if f.kind in NEVER_NEGATIVE and not f.signed and f.value < 0.0]
    return (
        f"{below[0]} would come out below nought. These values do not belong together: look at each." if below else ""
    )


def _value_of(
    item: Field, text: str, known: float | int | str | None, system: str, understood: dict[str, str]
) -> float | int | str | None:
    """The text as `read_field` reads it, or the known value where nothing was written."""
    if known is None or text.strip():
        return read_field(item, text, system, understood)
    if isinstance(known, str):
        return read_field(item, known, system, understood)
    check_bounds(float(known), item, system)
    return int(known) if item.kind == WHOLE else float(known)


def read_field(item: Field, text: str, system: str, understood: dict[str, str]) -> float | int | str | None:
    """The SI value, whole number or chosen key of one field. Raises InputError with a sentence."""
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
    read = units.parse(text, item.shown_kind, system)
    if item.kind == WHOLE and read.value != int(read.value):
        raise InputError(f"{item.label} must be a whole number, not {read.words}.", item.name)
    check_bounds(read.value, item, system)
    if item.only and int(read.value) not in item.only:
        raise InputError(f"{item.label}: {' or '.join(str(n) for n in item.only)}, not {read.words}.", item.name)
    understood[item.name] = read.words
    return int(read.value) if item.kind == WHOLE else read.value


def check_bounds(value: float, item: Field, system: str) -> None:
    """Raises InputError if the SI value lies outside the field's bounds, naming them in the viewer's unit."""
    for bound, word, is_outside in (
        (item.low, "less", item.low is not None and value < item.low),
        (item.high, "more", item.high is not None and value > item.high),
    ):
        if is_outside and bound is not None:
            words = f"{item.label} cannot be {word} than {units.show(bound, item.shown_kind, system)}."
            raise InputError(words, item.name)


_register: dict[str, Reckoning] = {}


def reckoning(title: str, group: str, source: str) -> Callable[[Callable[..., Reckoned]], Callable[..., Reckoned]]:
    """Register the decorated function as a reckoning under its own name.

    Its docstring is the question it answers, its annotated arguments are its fields. Raises ValueError if the name is
    taken, the question is missing, or an argument has no field.
    """

    def add(function: Callable[..., Reckoned]) -> Callable[..., Reckoned]:
        name = function.__name__
        if name in _register:
            raise ValueError(f"{name} is registered twice")
        question = inspect.getdoc(function)
        if not question:
            raise ValueError(f"{name} asks no question: write it as the docstring")
        _register[name] = Reckoning(name, title, question, _fields_of(function), function, source, group)
        return function

    return add


def _fields_of(function: Callable[..., Reckoned]) -> tuple[Field, ...]:
    hints = get_type_hints(function, include_extras=True)
    found = []
    for parameter in inspect.signature(function).parameters.values():
        about = next((m for m in getattr(hints[parameter.name], "__metadata__", ()) if isinstance(m, Field)), None)
        if about is None:
            raise ValueError(f"{function.__name__}: the argument {parameter.name} names no field")
        is_required = parameter.default is inspect.Parameter.empty
        found.append(replace(about, name=parameter.name, required=is_required))
    return tuple(found)


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
