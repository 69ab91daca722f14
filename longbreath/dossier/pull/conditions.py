"""What no log states of the pulls of a letter: asked for, kept, or marked “not recorded”; what differs goes into the ledger."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.case import conditions
from longbreath.core.case.conditions import ASKED, ConditionLine
from longbreath.core.claim.language import find_in_record
from longbreath.dossier.case.sessions import sessions_seen
from longbreath.dossier.events import PullsChanged, say
from longbreath.store.models import DynoSession, PullCondition
from longbreath.store.unit_of_work import UnitOfWork


def lines_of(db: Session, session: DynoSession) -> tuple[ConditionLine, ...]:
    """The conditions of a session's pulls, a line each, for the letters that were pulled."""
    return conditions.lines_of(sessions_seen(db, session.application_id, [session], {})[session.id])


def _said(db: Session, session: DynoSession) -> dict[tuple[str, str], str]:
    """What a person said of each letter; the newest of a name holds."""
    query = select(PullCondition).where(PullCondition.session_id == session.id).order_by(PullCondition.id)
    return {(row.label, row.name): row.words for row in db.scalars(query)}


def put_conditions(work: UnitOfWork, session: DynoSession, given: Mapping[tuple[str, str], str]) -> int:
    """Keep what was said of letters and names; what stands already is not written again. Returns how many are new.

    Raises InputError for words that a sheet could not print beside a claim.
    """
    before, letters, added = _said(work, session), session.card.letters, 0
    for (letter, name), text in given.items():
        words = " ".join(text.split())[:200]
        if letter not in letters or name not in ASKED:
            continue
        if said := find_in_record(words):
            raise InputError(f"“{said.word}”: {said.why}", f"{name}-{letter}")
        if words != before.get((letter, name), ""):
            row = PullCondition(session_id=session.id, label=letter, name=name, words=words, made_by_id=work.actor.id)
            work.add(row)
            added += 1
    work.flush()
    if added:
        say(work, PullsChanged(session))
    return added


def said_of(db: Session, session: DynoSession, letter: str, name: str) -> str:
    """What a person said, to show in a form."""
    return _said(db, session).get((letter, name), "")
