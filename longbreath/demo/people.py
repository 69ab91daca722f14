"""The people of the demo, as its first chapter tells of them: for those who are greeted with their log-ins."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from longbreath.demo.story import SHOP, chapters


@dataclass(frozen=True)
class Person:
    """An invented person with a role, and what they log in with."""

    name: str
    email: str
    role: str
    password: str


def people(shop: Path = SHOP) -> tuple[Person, ...]:
    """Everybody that the first chapter of a shop names."""
    first = next(chapters(shop))
    fields = ("name", "email", "role", "password")
    return tuple(Person(*(entry.said[field] for field in fields)) for entry in first.entries if entry.do == "person")
