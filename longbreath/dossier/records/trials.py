"""Trials as they stand: those that nothing took the place of, and those that count alike."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.weigh.slips import is_slip
from longbreath.store.models import Application, Trial
from longbreath.store.once import once


def trials_of(db: Session, application_id: int) -> list[Trial]:
    """The trials of an application that hold, newest first: those that nothing took the place of."""
    replaced = select(Trial.replaces_id).where(Trial.application_id == application_id, Trial.replaces_id.is_not(None))
    query = select(Trial).where(Trial.application_id == application_id, Trial.id.not_in(replaced))
    newest_first = query.order_by(Trial.held_on.desc(), Trial.id.desc())
    return list(once(db, (trials_of, application_id), lambda: db.scalars(newest_first).all()))


def newest_of(db: Session, application: Application, number: int) -> Trial:
    """The trial that stands in the place of one. Raises EvidenceError if it is none of this application."""
    trial = db.get(Trial, number)
    if trial is None or trial.application_id != application.id:
        raise EvidenceError("There is no such trial.")
    follows = {t.replaces_id: t for t in _every(db, application.id)}
    while trial.id in follows:
        trial = follows[trial.id]
    return trial


def alike(db: Session, application: Application, trial: Trial) -> list[Trial]:
    """The other trials of the same kind and origin that count as much as one, newest first: those that stand, and those whose rows
    a later one took the place of, unless what was corrected is a slip of the pen that can be seen."""
    every = _every(db, application.id)
    follows = {t.replaces_id: t for t in every}
    counts = [t for t in every if (t.kind, t.origin) == (trial.kind, trial.origin) and not _is_corrected(t, follows)]
    return [t for t in reversed(counts) if t.id != trial.id]


def _is_corrected(trial: Trial, follows: dict[int | None, Trial]) -> bool:
    """Whether what took its place says the same, but for slips."""
    later = follows.get(trial.id)
    return later is not None and is_slip(trial.rows, later.rows)


def _every(db: Session, application_id: int) -> list[Trial]:
    query = select(Trial).where(Trial.application_id == application_id).order_by(Trial.id)
    return list(once(db, (_every, application_id), lambda: db.scalars(query).all()))
