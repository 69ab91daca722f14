"""What else the records of an application hold beside one statement: what may be drafted, and the proven losses of every kind."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim.grammar import SheetLine, clause
from longbreath.core.claim.kinds.register import KINDS
from longbreath.dossier.claim.backing import backing
from longbreath.dossier.claim.choices import LookChoice, choices_of
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import Application

WEIGHED = ("torque", "response", "airflow", "temperature", "fuel", "noise", "mass")
"""Kinds whose newest figures may hold a loss."""


@dataclass(frozen=True)
class Beside:
    """What may be drafted by kind; proven losses in words by kind, and why a kind cannot be weighed, of the newest of each."""

    choices: Mapping[str, Sequence[LookChoice]]
    losses: Mapping[str, tuple[str, ...]]
    unweighed: Mapping[str, str]

    def costs(self, kind: str) -> tuple[str, ...]:
        """Proven losses of other kinds, in words."""
        return tuple(words for other, said in self.losses.items() if other != kind for words in said)

    def cannot_be_weighed(self, kind: str) -> tuple[str, ...]:
        """Other kinds of which there are readings that cannot be weighed, with why."""
        return tuple(words for other, words in self.unweighed.items() if other != kind)


def _beside(db: Session, application: Application) -> Beside:
    choices = choices_of(db, application)
    losses: dict[str, tuple[str, ...]] = {}
    unweighed: dict[str, str] = {}
    for kind in (kind for kind in WEIGHED if kind in choices):
        newest, title = choices[kind][0], KINDS[kind].title.lower()
        try:
            found = backing(db, application, kind, newest.session_ids, newest.sources)
        except EvidenceError as error:
            unweighed[kind] = f"{title}: {error.message}"
            continue
        said = [fact for fact in found.facts if fact.required and not fact.blocked]
        losses[kind] = tuple(f"{title}: it {clause(fact, SheetLine(fact.key), found.setting)}" for fact in said)
    return Beside(choices, losses, unweighed)


def _of_many(db: Session, ids: Sequence[int]) -> dict[int, Beside]:
    return {number: _beside(db, db.get_one(Application, number)) for number in ids}


besides = Remembered(_of_many, 2000, "beside", Beside)
"""What stands beside the statements of an application, by its number, kept while nothing of it changes."""


def beside_of(db: Session, application: Application) -> Beside:
    """What stands beside the statements of one application."""
    return besides(db, [application.id])[application.id]
