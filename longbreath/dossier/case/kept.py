"""What was made of cases, kept in this process by their digests: equal cases are equal evidence."""

from __future__ import annotations

from collections.abc import Hashable
from threading import Lock

from cachetools import LRUCache, cached
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case import seen, weigh
from longbreath.core.case.case import Case, canonical, digest_of
from longbreath.core.case.placing import Channels
from longbreath.core.case.state import state
from longbreath.core.case.statement import Statement
from longbreath.core.case.weigh import NO_PULLS, Weighed
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.case.tests import test_of
from longbreath.dossier.pull.sessions import dyno_sessions
from longbreath.store.models import Application
from longbreath.store.once import once


def _by_digest(test: seen.Test, channels: Channels) -> Hashable:
    return digest_of(test)


@cached(LRUCache(256), key=_by_digest, lock=Lock())
def weighed(test: seen.Test, channels: Channels) -> Weighed:
    """A test weighed, once for each digest. Raises EvidenceError where its pulls do not allow it."""
    return weigh.weigh(test, channels)


def weighed_of(db: Session, test: seen.Test) -> Weighed:
    """A test weighed on the channels of the records. Raises EvidenceError where its pulls do not allow it."""
    return weighed(test, channels_in(db))


def _of_case(case: Case, channels: Channels) -> Hashable:
    return case.kind, case.school, case.miles, canonical(case.seen)


@cached(LRUCache(256), key=_of_case, lock=Lock())
def _stated(case: Case, channels: Channels) -> Statement:
    return state(case, channels, weighed)


def statement_of(db: Session, case: Case) -> Statement:
    """What may be stated of a case. Raises EvidenceError where the evidence does not allow it."""
    return _stated(case, channels_in(db))


def newest_test(db: Session, application: Application) -> seen.Test:
    """The newest session that can be weighed, as a test: an empty one, or one that is still too short, takes nothing over.

    Raises EvidenceError if there is none.
    """
    return once(db, (newest_test, application.id), lambda: _newest(db, application))


def _newest(db: Session, application: Application) -> seen.Test:
    refused = EvidenceError(NO_PULLS)
    for session in (s for s in dyno_sessions(db, application.id) if s.full_pulls):
        test = test_of(db, application, [session.id])
        try:
            weighed_of(db, test)
        except EvidenceError as error:
            refused = error if refused.message == NO_PULLS else refused
            continue
        return test
    raise refused
