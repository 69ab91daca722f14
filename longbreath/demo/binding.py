"""From what an entry says to the arguments of a verb: by the names and types of its parameters."""

from __future__ import annotations

import types
import typing
from collections.abc import Callable, Mapping, Sequence
from dataclasses import MISSING, fields, is_dataclass
from datetime import date
from functools import cache
from inspect import Parameter, signature
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import LongBreathError
from longbreath.demo.book import Book, day_of
from longbreath.store import models
from longbreath.store.base import Base
from longbreath.store.models import Application

YES, NO = ("yes", "true"), ("no", "false")
CALLED: dict[str, type[Base]] = {
    "application": models.Application,
    "bench": models.Bench,
    "cell": models.Cell,
    "dyno": models.Dyno,
    "element": models.Element,
    "engine": models.TestEngine,
    "fuel": models.FuelBatch,
    "leak_range": models.BenchRange,
    "range": models.BenchRange,
    "revision": models.Revision,
    "sensor": models.Sensor,
    "session": models.DynoSession,
    "stock_revision": models.Revision,
    "tune": models.TuneFile,
    "vehicle": models.Vehicle,
    "who": models.User,
}
"""The kind of record that a number such as `dyno_id` stands for: an entry says `dyno` with its name."""


@cache
def quantity(text: str) -> float | None:
    """A text that is a number with a unit of the trade, as SI; None where it is none."""
    try:
        _, rest = units.read_number(text)
    except LongBreathError:
        return None
    for kind in units.KINDS if rest.strip() else ():
        if units.guess_unit(kind, rest) is not None:
            return units.parse(text, kind).value
    return None


def arguments(verb: Callable[..., Any], said: Mapping[str, Any], book: Book) -> dict[str, Any]:
    """The arguments of a verb, from what an entry says. Raises ValueError for what is missing, unknown or cannot be read."""
    left, found = dict(said), {}
    hints = typing.get_type_hints(verb)
    for name, parameter in signature(verb).parameters.items():
        found[name] = _argument(name, hints[name], parameter.default, left, book)
    if left:
        raise ValueError(f"nobody asks for {', '.join(f'“{name}”' for name in left)}")
    return found


def _argument(name: str, hint: Any, default: Any, left: dict[str, Any], book: Book) -> Any:
    kinds = _members(hint)
    if kinds[0] is Book:
        return book
    if issubclass(_plain(kinds[0]), Session):
        return book.work
    if name in left:
        return read(hint, left.pop(name), book, name)
    if kinds[0] is Application and name == "application":
        if book.dossier is None:
            raise ValueError("say of which dossier")
        return book.dossier
    if is_dataclass(kinds[0]) and not _is_record(kinds[0]):
        return _card(kinds[0], left, book, take=True)
    return _unsaid(name, kinds, left, book) if default is Parameter.empty or short_of(name) in left else default


def short_of(name: str) -> str:
    """What an entry says for the number of a record: “dyno” for `dyno_id`; empty for anything else."""
    short = name.removesuffix("_id")
    return short if short != name and short in CALLED else ""


def _unsaid(name: str, kinds: tuple[Any, ...], left: dict[str, Any], book: Book) -> Any:
    """What is not said by its own name: a record's number by the record's name, the entry's day, or nothing where that may be."""
    short = short_of(name)
    if short and short in left:
        return book.find(CALLED[short], left.pop(short)).id
    if kinds[0] is date:
        return book.day
    if type(None) in kinds:
        return None
    raise ValueError(f"“{name}” is missing")


def _card(kind: Any, said: dict[str, Any], book: Book, take: bool = False) -> Any:
    """A card of a verb. take: its fields are taken out of what is said; without it everything said must be one of them."""
    left = said if take else dict(said)
    hints, found = typing.get_type_hints(kind), {}
    for one in fields(kind):
        members = _members(hints[one.name])
        is_asked = one.default is MISSING and one.default_factory is MISSING
        if one.name in left:
            found[one.name] = read(hints[one.name], left.pop(one.name), book, one.name)
        elif is_asked and is_dataclass(members[0]):
            found[one.name] = _card(members[0], left, book, take=True)
        elif is_asked or short_of(one.name) in left:
            found[one.name] = _unsaid(one.name, members, left, book)
    if left and not take:
        raise ValueError(f"nobody asks for {', '.join(f'“{name}”' for name in left)}")
    return kind(**found)


def read(hint: Any, said: Any, book: Book, name: str = "") -> Any:
    """One value as its type asks for it. Raises ValueError naming it."""
    kinds = _members(hint)
    if said is None:
        return None
    last: Exception | None = None
    for kind in kinds:
        if kind is type(None):
            continue
        try:
            return _read(kind, said, book)
        except (ValueError, LongBreathError) as error:
            last = last or error
    raise ValueError(f"“{name}”: {last}")


def _read(kind: Any, said: Any, book: Book) -> Any:
    origin, inside = typing.get_origin(kind), typing.get_args(kind)
    if origin is not None:
        return _several(origin, inside, said, book)
    if _is_record(kind):
        return book.find(kind, said)
    if is_dataclass(kind):
        return _card(kind, said, book)
    reader = _PLAIN.get(kind)
    if reader is None:
        raise ValueError(f"an entry cannot say a {kind}")
    return reader(said, book)


def _several(origin: Any, inside: tuple[Any, ...], said: Any, book: Book) -> Any:
    if issubclass(origin, Mapping):
        return {key: read(inside[1], value, book, key) for key, value in said.items()}
    if isinstance(said, str):
        said = [part.strip() for part in said.split(";")]
    if not issubclass(origin, Sequence):
        raise ValueError(f"an entry cannot say a {origin}")
    if origin is tuple and inside[-1] is not Ellipsis:
        return tuple(read(one, value, book) for one, value in zip(inside, said, strict=True))
    values = [read(inside[0], value, book) for value in said]
    return tuple(values) if origin is tuple else values


def _float(said: Any, book: Book) -> float:
    if not isinstance(said, str):
        return float(said)
    found = quantity(said)
    if found is not None:
        return found
    number, rest = units.read_number(said)
    if rest.strip():
        raise ValueError(f"“{said}” has no unit of the trade")
    return number


def _bool(said: Any, book: Book) -> bool:
    if isinstance(said, str) and said in YES + NO:
        return said in YES
    if not isinstance(said, bool):
        raise ValueError(f"“{said}” is neither yes nor no")
    return said


def _any(said: Any, book: Book) -> Any:
    """What a type does not say more of: a text that is a quantity is one."""
    if isinstance(said, dict):
        return {key: _any(value, book) for key, value in said.items()}
    if isinstance(said, list):
        return [_any(value, book) for value in said]
    found = quantity(said) if isinstance(said, str) else None
    return said if found is None else found


_PLAIN: dict[Any, Callable[[Any, Book], Any]] = {
    str: lambda said, book: str(said),
    int: lambda said, book: int(said),
    float: _float,
    bool: _bool,
    date: lambda said, book: day_of(said),
    Path: lambda said, book: book.folder / said,
    Any: _any,
    object: _any,
}


def _members(hint: Any) -> tuple[Any, ...]:
    """The types of a union, or the one type."""
    origin = typing.get_origin(hint)
    return typing.get_args(hint) if origin in (typing.Union, types.UnionType) else (hint,)


def _plain(kind: Any) -> type:
    return kind if isinstance(kind, type) else object


def _is_record(kind: Any) -> bool:
    return isinstance(kind, type) and issubclass(kind, Base)
