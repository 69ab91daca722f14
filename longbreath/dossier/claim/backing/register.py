"""The register: how each kind of statement is gathered from the records, and on what it may be drafted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim.kinds.register import KINDS
from longbreath.dossier.claim.backing import looks, pulls, readings, traces
from longbreath.dossier.claim.backing.backing import Backing, Choice, Sources
from longbreath.store.models import Application, Claim

Gather = Callable[[Session, Application, Sequence[int], Sources], Backing]
Choices = Callable[[Session, Application], list[Choice]]


@dataclass(frozen=True)
class Way:
    """How a kind is gathered, and what it may be drafted on."""

    gather: Gather
    choices: Choices


WAYS: dict[str, Way] = {
    "torque": Way(pulls.power, pulls.choices),
    "response": Way(pulls.response, pulls.response_choices),
    "airflow": Way(traces.flow, traces.choices),
    "fitment": Way(looks.fit, looks.fit_choices),
    "durability": Way(looks.run, looks.run_choices),
    **{
        kind: Way(partial(readings.gather_trial, kind), partial(readings.choices_of, kind))
        for kind in ("temperature", "noise", "mass", "fuel")
    },
}


def backing_of(db: Session, application: Application, claim: Claim) -> Backing:
    """What a claim rests on, as it stands. Raises EvidenceError if it cannot be weighed any more."""
    return backing(db, application, claim.kind, claim.session_ids, claim.sources)


def backing(
    db: Session, application: Application, kind: str, session_ids: Sequence[int] = (), sources: Sources | None = None
) -> Backing:
    """What a statement of a kind would rest on. Raises EvidenceError if there is no such kind, or nothing of it."""
    if kind not in WAYS:
        raise EvidenceError("There is no such kind of statement.")
    return WAYS[kind].gather(db, application, session_ids, sources or {})


def choices_of(db: Session, application: Application) -> dict[str, list[Choice]]:
    """What statements of each kind may be drafted on, of the kinds that have anything."""
    found = {kind: WAYS[kind].choices(db, application) for kind in KINDS}
    return {kind: choices for kind, choices in found.items() if choices}
