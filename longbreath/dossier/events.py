"""What happened to the records, as verbs say it. A verb never knows who hears it: that is told in `subscribers`, in one table.

Whoever hears does so at once, in the same transaction; what he writes is kept or undone with the rest.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from longbreath.store.models import Application, DynoSession, TestCard, Vehicle
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class PullComes:
    """A pull of a card is about to be kept."""

    application: Application
    card: TestCard


@dataclass(frozen=True)
class PullsChanged:
    """What counts of a session's pulls, or what is said of them, may be another."""

    session: DynoSession


@dataclass(frozen=True)
class ReadingComes:
    """A reading of the part is about to be kept on the bench."""

    application: Application


@dataclass(frozen=True)
class ReadingsChanged:
    """Readings of a dossier have come or gone."""

    application_id: int


@dataclass(frozen=True)
class BuildWritten:
    """A build sheet of a dossier was written, or a line of its ledger."""

    application: Application


@dataclass(frozen=True)
class BandsChanged:
    """A vehicle was changed; its bands of use may be others."""

    vehicle: Vehicle


@dataclass(frozen=True)
class EngineLookedAt:
    """An entry was written into the health log of an engine or a vehicle."""

    engine_id: int | None
    vehicle_id: int | None


@dataclass(frozen=True)
class VerdictKept:
    """The kept verdict of a dossier is another, of this evidence; None: there is none any more."""

    application: Application
    evidence: Any = None


Hear = Callable[[UnitOfWork, Any], object]
_hears: dict[type, tuple[Hear, ...]] = {}


def told_to(table: Mapping[type, tuple[Hear, ...]]) -> None:
    """Say who hears what: the one table of subscribers."""
    _hears.update(table)


def say(work: UnitOfWork, event: object) -> None:
    """Say that something happened. Raises KeyError for what stands not in the table: nothing that is said is lost."""
    for hear in _hears[type(event)]:
        hear(work, event)
