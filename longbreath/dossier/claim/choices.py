"""What statements of each kind may be drafted on: sessions that can be weighed, bench sessions, trials, looks, runs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case import weigh
from longbreath.core.case.placing import by_day
from longbreath.core.claim.facts import AS_SET, SCHOOLS
from longbreath.core.claim.kinds.register import KINDS
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.dossier.bench.traces import main_pair, sessions_of
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.case.kept import joined_of
from longbreath.dossier.case.tests import part_ran
from longbreath.dossier.case.weighings import weighed_of
from longbreath.dossier.path.fit import spots_of
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.dossier.records.trials import trials_of
from longbreath.store.models import Application, Trial

Sources = Mapping[str, Any]
"""What a claim rests on beside dyno sessions, by name: school, bench session, trial, miles and price."""


@dataclass(frozen=True)
class LookChoice:
    """Something a statement of a kind may be drafted on: its sessions and sources, and words for the choice."""

    words: str
    session_ids: tuple[int, ...] = ()
    sources: Sources = field(default_factory=dict)


def _of_pulls(db: Session, application: Application) -> list[LookChoice]:
    """Tests of which A and B can be weighed, newest first, each with all its sessions; of a boosted engine by either school."""
    found: list[LookChoice] = []
    for session in (s for s in dyno_sessions(db, application.id) if s.full_pulls):
        try:
            test = joined_of(db, application, [session.id])
            weighed_of(db, test)
        except EvidenceError:
            continue
        ids = tuple(s.number for s in test.sessions)
        if any(choice.session_ids == ids for choice in found):
            continue
        words = f"{'sessions' if len(ids) > 1 else 'session'} of {', '.join(s.name for s in by_day(test.sessions))}"
        if application.vehicle.induction not in BOOSTED:
            found.append(LookChoice(words, ids))
            continue
        found += [LookChoice(f"{words}, {school}", ids, {"school": school}) for school in SCHOOLS]
    return found


def _of_response(db: Session, application: Application) -> list[LookChoice]:
    """Sessions whose pulls show how boost came."""
    found: list[LookChoice] = []
    if application.vehicle.induction not in BOOSTED:
        return found
    for choice in _of_pulls(db, application):
        if choice.sources.get("school") == AS_SET:
            test = joined_of(db, application, choice.session_ids)
            try:
                weigh.response_of(test, weighed_of(db, test), channels_in(db))
            except EvidenceError:
                continue
            found.append(LookChoice(choice.words.partition(", as set")[0], choice.session_ids, {"school": AS_SET}))
    return found


def _of_traces(db: Session, application: Application) -> list[LookChoice]:
    """Bench sessions with a trace of A and one of B, newest first."""
    found = []
    for session in sessions_of(db, application.id):
        a, b = main_pair(session)
        if a is not None and b is not None:
            words = f"bench session of {session.held_on:%d %b %Y}, {a.title} and {b.title}"
            found.append(LookChoice(words, sources={"bench": session.id}))
    return found


def _of_looks(db: Session, application: Application) -> list[LookChoice]:
    """The looks of this application, once there are any."""
    spots = spots_of(db, application)
    return [LookChoice(f"{len(spots)} places looked at")] if spots else []


def _of_runs(db: Session, application: Application) -> list[LookChoice]:
    """All sessions in which the part was run."""
    sessions = [s for s in dyno_sessions(db, application.id) if part_ran(s, application.id)]
    return [LookChoice(f"all {len(sessions)} sessions with the part on")] if sessions else []


def _of_trials(kind: str, db: Session, application: Application) -> list[LookChoice]:
    """The trials of a kind that hold, those of one origin as one choice: all count alike."""
    found: dict[str, list[Trial]] = {}
    for row in trials_of(db, application.id):
        if row.kind == kind:
            found.setdefault(row.origin, []).append(row)
    return [
        LookChoice("; ".join(f"{t.title}, {t.held_on:%d %b %Y}" for t in rows), sources={"trial": rows[0].id})
        for rows in found.values()
    ]


CHOICES: dict[str, Callable[[Session, Application], list[LookChoice]]] = {
    "torque": _of_pulls,
    "response": _of_response,
    "airflow": _of_traces,
    "fitment": _of_looks,
    "durability": _of_runs,
    **{kind: partial(_of_trials, kind) for kind in ("temperature", "noise", "mass", "fuel")},
}


def choices_of(db: Session, application: Application) -> dict[str, list[LookChoice]]:
    """What statements of each kind may be drafted on, of the kinds that have anything."""
    found = {kind: CHOICES[kind](db, application) for kind in KINDS}
    return {kind: choices for kind, choices in found.items() if choices}
