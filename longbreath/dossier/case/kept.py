"""What was made of cases: the newest test by the stamp of its dossier, statements by their case in this process."""

from __future__ import annotations

from collections.abc import Collection, Hashable, Sequence
from threading import Lock

from cachetools import LRUCache, cached
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case import seen
from longbreath.core.case.case import Case, canonical
from longbreath.core.case.state import state
from longbreath.core.case.statement import Statement
from longbreath.core.case.weigh import NO_PULLS
from longbreath.dossier.case import tests
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.case.weighings import weighed_of
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import Application
from longbreath.store.once import once


def _of_case(db: Session, case: Case) -> Hashable:
    return case.kind, case.school, case.miles, canonical(case.seen)


@cached(LRUCache(256), key=_of_case, lock=Lock())
def statement_of(db: Session, case: Case) -> Statement:
    """What may be stated of a case. Raises EvidenceError where the evidence does not allow it."""
    return state(case, channels_in(db), lambda test, _: weighed_of(db, test))


def newest_test(db: Session, application: Application) -> seen.Test:
    """The test that the newest session belongs to which can be weighed, with all its sessions: an empty one, or one that is still too
    short, takes nothing over.

    Raises EvidenceError if there is none.
    """
    found = newest_tests(db, [application.id])[application.id]
    return found or once(db, (newest_test, application.id), lambda: _newest(db, application))


def test_of(db: Session, application: Application, session_ids: Collection[int]) -> seen.Test:
    """The test of a part in these sessions and no others, as it is looked at; the newest one where it is of these. Raises
    EvidenceError where none has pulls."""
    newest = newest_tests(db, [application.id])[application.id]
    if newest is not None and _numbers(newest) == set(session_ids):
        return newest
    return tests.test_of(db, application, session_ids)


def joined_of(db: Session, application: Application, session_ids: Collection[int]) -> seen.Test:
    """The test that a statement on these sessions is of: with every other session that belongs to it by now. Raises EvidenceError
    where none has pulls."""
    newest = newest_tests(db, [application.id])[application.id]
    if newest is not None and not _numbers(newest).isdisjoint(session_ids):
        return newest
    known = [number for number in tests.pulled(db, application) if number in session_ids]
    if not known:
        return tests.test_of(db, application, session_ids)
    return tests.joined_of(db, application, known[0])


def _numbers(test: seen.Test) -> set[int]:
    return {session.number for session in test.sessions}


def _newest(db: Session, application: Application) -> seen.Test:
    refused = EvidenceError(NO_PULLS)
    for session in (s for s in dyno_sessions(db, application.id) if s.full_pulls):
        try:
            test = tests.joined_of(db, application, session.id)
            weighed_of(db, test)
        except EvidenceError as error:
            refused = error if refused.message == NO_PULLS else refused
            continue
        return test
    raise refused


def _of_many(db: Session, ids: Sequence[int]) -> dict[int, seen.Test | None]:
    return {number: _or_none(db, number) for number in ids}


def _or_none(db: Session, number: int) -> seen.Test | None:
    application = db.get_one(Application, number)
    try:
        return once(db, (newest_test, number), lambda: _newest(db, application))
    except EvidenceError:
        return None


newest_tests = Remembered(_of_many, 2000, "test", seen.Test | None)
"""The newest test of each application that can be weighed, kept while nothing of it changes."""
