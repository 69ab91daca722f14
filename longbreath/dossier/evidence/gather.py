"""The evidence of an application as its pages show it: the test that counts, what came of weighing it, and its rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.case import pulls, seen
from longbreath.core.case.builds import Builds
from longbreath.core.case.weigh import Weighed
from longbreath.core.claim.facts import Fact, Setting
from longbreath.core.compare.bands import Weighing
from longbreath.core.weigh.ledger import Net
from longbreath.dossier.case.kept import newest_test, test_of
from longbreath.dossier.case.weighings import digest_in, weighed_of
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.store.models import Application, DynoSession, TestCard
from longbreath.store.once import once


@dataclass(frozen=True)
class Evidence:
    """What counts: the test with what came of it, and its sessions as rows, newest first."""

    application: Application
    sessions: tuple[DynoSession, ...]
    test: seen.Test
    weighed: Weighed
    key: str
    """Identifies the evidence."""

    @property
    def session(self) -> DynoSession:
        """The newest session that counts."""
        return self.sessions[0]

    @property
    def session_ids(self) -> list[int]:
        """Numbers of the sessions that count."""
        return [session.id for session in self.sessions]

    @property
    def names(self) -> tuple[str, ...]:
        """Names of the sessions that count."""
        return tuple(session.name for session in self.test.sessions)

    @property
    def card(self) -> TestCard:
        """The card under which the pulls were taken, as it was then."""
        return self.session.card

    @property
    def weighing(self) -> Weighing:
        """A against B as observed."""
        return self.weighed.weighing

    @property
    def builds(self) -> Builds:
        """What differed beside the part."""
        return self.weighed.builds

    @property
    def net(self) -> Net | None:
        """From observed to net; None where nothing differs beside the part."""
        return self.weighed.net

    @property
    def package(self) -> tuple[str, ...]:
        """What makes this the result of a package."""
        return self.weighed.package

    @property
    def late_bands(self) -> bool:
        """Whether the bands of use were changed after the pulls: their intervals then hold for any band picked by eye."""
        return self.test.bands_late

    @property
    def doubts(self) -> tuple[str, ...]:
        """Findings on the engine that put these pulls in doubt, in words."""
        return self.test.doubts

    @property
    def others(self) -> tuple[str, ...]:
        """The other sessions with pulls, which do not count here: name, and why."""
        return self.test.others

    @property
    def is_boosted(self) -> bool:
        """Whether the engine breathes under boost: a gain may be the boost that rose."""
        return pulls.is_boosted(self.test)

    @property
    def facts(self) -> tuple[Fact, ...]:
        """Everything that may be said before a school is chosen."""
        return pulls.facts_as_set(self.test, self.weighed)

    @property
    def setting(self) -> Setting:
        """What all facts share: the part, against what, where, how."""
        return pulls.setting_of(self.test, self.weighed)

    @property
    def left_out(self) -> list[seen.Pull]:
        """The pulls of A and B in these sessions that do not count."""
        return pulls.left_out(self.test)

    @property
    def overruled(self) -> list[seen.Pull]:
        """The pulls that count although a check of theirs failed: a person said so."""
        return pulls.overruled(self.test)


def gather(db: Session, application: Application, session_ids: Sequence[int] = ()) -> Evidence:
    """The evidence of these sessions alone, as they are looked at; or, if none is named, of the test that the newest session belongs
    to which can be weighed, with all its sessions.

    An empty session, or one that is still too short, takes nothing over. Raises EvidenceError if there is none.
    """
    asked = (gather, application.id, tuple(session_ids))
    return once(db, asked, lambda: _gathered(db, application, session_ids))


def _gathered(db: Session, application: Application, session_ids: Sequence[int]) -> Evidence:
    test = test_of(db, application, session_ids) if session_ids else newest_test(db, application)
    numbers = {session.number for session in test.sessions}
    rows = tuple(s for s in dyno_sessions(db, application.id) if s.id in numbers)
    return Evidence(application, rows, test, weighed_of(db, test), digest_in(db, test))
