"""The invented people of Windlass Airway Works."""

from __future__ import annotations

from dataclasses import dataclass

PASSWORD = "long-breath-demo"


@dataclass(frozen=True)
class Person:
    """An invented person with a role."""

    name: str
    email: str
    role: str


PEOPLE = (
    Person("Mara Arden", "mara@windlass.example.test", "tester"),
    Person("Joss Pellew", "joss@windlass.example.test", "approver"),
    Person("Ines Quill", "ines@windlass.example.test", "viewer"),
    Person("Tam Okehurst", "tam@windlass.example.test", "admin"),
)
