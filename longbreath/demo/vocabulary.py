"""What an entry of a shop may say, for those who write one: each `do` with its fields."""

from __future__ import annotations

import typing
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from inspect import signature

from sqlalchemy.orm import Session

from longbreath.demo.binding import short_of
from longbreath.demo.book import Book
from longbreath.demo.told import VERBS, Verb

EVERY = "Every entry may also say: on (the day), at (the hour), by (who), dossier, called (its name later on), rows (a table)."


def vocabulary() -> Iterator[str]:
    """Two lines for each `do`: its fields with their types, and what it does. A record is said by its name."""
    yield EVERY
    for name, verb in sorted(VERBS.items()):
        yield f"{name}: {', '.join(_fields(verb))}"
        yield f"    {(verb.__doc__ or '').strip().partition(chr(10))[0]}"


def _fields(verb: Verb) -> Iterator[str]:
    hints = typing.get_type_hints(verb)
    for name, parameter in signature(verb).parameters.items():
        kind = next(k for k in (typing.get_args(hints[name]) or (hints[name],)) if k is not type(None))
        if name == "application" or (isinstance(kind, type) and issubclass(kind, Session | Book)):
            continue
        if is_dataclass(kind) and not hasattr(kind, "__table__"):
            yield from (_field(field.name, str(field.type)) for field in fields(kind))
        else:
            yield _field(name, str(parameter.annotation))


def _field(name: str, kind: str) -> str:
    short = short_of(name)
    return f"{short} [name]" if short else f"{name} [{kind}]"
