"""How the line to a device stands, and what came over it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Generic, TypeVar

CONNECTING, LIVE, SILENT, LOST = "connecting", "live", "silent", "lost"

L = TypeVar("L")


@dataclass(frozen=True)
class Sample(Generic[L]):
    """One line with the moment it came in [s], by the clock of whoever tells it."""

    at: float
    line: L


@dataclass(frozen=True)
class Status(Generic[L]):
    """How a link stands: its state, a sentence for people, the newest sample, lines refused, what the device calls
    itself, and its last words."""

    state: str
    words: str
    newest: Sample[L] | None
    refused: int
    device: str
    remarks: tuple[str, ...] = ()
