"""Commands: what a person wants written, as a frozen dataclass beside the verb that writes it."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from longbreath.store.base import Base


def put(record: Base, command: Any, **changed: Any) -> None:
    """Write the fields of a command into a record's columns of the same name; `changed` stands in their place."""
    for item in fields(command):
        value = changed[item.name] if item.name in changed else getattr(command, item.name)
        setattr(record, item.name, list(value) if isinstance(value, tuple) else value)
