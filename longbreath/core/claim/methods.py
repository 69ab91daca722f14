"""Versions of the methods behind each kind of statement. A correction that can move a figure counts its version up, and every claim
that was published by an older one is questioned, with the words written here."""

from __future__ import annotations

METHODS: dict[str, tuple[int, str]] = {
    "torque": (1, "least squares with drift, sets and days counted; the first version with a number"),
    "response": (1, "the first version with a number"),
    "airflow": (1, "the first version with a number"),
    "temperature": (1, "the first version with a number"),
    "fuel": (1, "the first version with a number"),
    "noise": (1, "the first version with a number"),
    "mass": (1, "the first version with a number"),
    "fitment": (1, "the first version with a number"),
    "durability": (1, "the first version with a number"),
}
"""Version of each kind's method, and what changed by it."""


GRAMMAR = (1, "the first version with a number")
"""Version of the grammar that makes sentences of facts, and what changed by it."""


def grammar_version() -> str:
    """The version of the grammar, as cases and bundles name it."""
    return f"grammar {GRAMMAR[0]}"


def version_of(kind: str) -> str:
    """The version of a kind's method, as sheets and bundles name it."""
    return f"{kind} {METHODS[kind][0]}"
