"""Trials as they stand: those that nothing took the place of."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.store.models import Trial
from longbreath.store.once import once


def trials_of(db: Session, application_id: int) -> list[Trial]:
    """The trials of an application that hold, newest first: those that nothing took the place of."""
    replaced = select(Trial.replaces_id).where(Trial.application_id == application_id, Trial.replaces_id.is_not(None))
    query = select(Trial).where(Trial.application_id == application_id, Trial.id.not_in(replaced))
    newest_first = query.order_by(Trial.held_on.desc(), Trial.id.desc())
    return list(once(db, (trials_of, application_id), lambda: db.scalars(newest_first).all()))
