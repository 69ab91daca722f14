"""The evidence of an application as one object. Weigh, Claim, Coverage, staleness and the summary use it and nothing else."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlalchemy.orm import Session

from longbreath.core.air.correction import STANDARDS, UNCORRECTED
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim.facts import PEAK, Fact, Setting, facts_of
from longbreath.core.dyno.bands import Weighing
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.plan.conditions import intended
from longbreath.core.weigh.ledger import Net, applied
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.builds import Builds, builds_of
from longbreath.dossier.evidence.keys import keys_of
from longbreath.dossier.health import PullsInDoubt, doubts_of
from longbreath.dossier.naming import session_names
from longbreath.dossier.pull.conditions import differing
from longbreath.dossier.pull.sessions import dyno_sessions
from longbreath.dossier.pull.tuning import rounds_given
from longbreath.dossier.weigh.ledger import net_of
from longbreath.dossier.weigh.pair import bands_came_late, weighing_of
from longbreath.store.models import Application, DynoSession, Pull, TestCard
from longbreath.store.once import once

NO_PULLS = "There are no pulls to weigh yet."


@dataclass(frozen=True)
class Evidence:
    """What counts: sessions (newest first) with their names, the weighing of their valid pulls, the builds of the day, the key."""

    application: Application
    sessions: tuple[DynoSession, ...]
    names: tuple[str, ...]
    weighing: Weighing
    builds: Builds
    key: str
    late_bands: bool = False
    """Whether the bands of use were changed after the pulls: their intervals then hold for any band picked by eye."""
    doubts: tuple[PullsInDoubt, ...] = ()
    """Findings on the engine that put these pulls in doubt."""
    others: tuple[str, ...] = ()
    """Names of the other sessions with pulls, which do not count here."""
    rounds: Mapping[str, int] = field(default_factory=dict)
    """Rounds of tuning that each letter was given on the dyno."""
    net: Net | None = None
    """From observed to net; None where nothing differs beside the part."""

    @property
    def session(self) -> DynoSession:
        """The newest session that counts."""
        return self.sessions[0]

    @property
    def session_ids(self) -> list[int]:
        """Numbers of the sessions that count."""
        return [session.id for session in self.sessions]

    @property
    def card(self) -> TestCard:
        """The card under which the pulls were taken, as it was then."""
        return self.session.card

    @property
    def is_boosted(self) -> bool:
        """Whether the engine breathes under boost: a gain may be the boost that rose."""
        return self.application.vehicle.induction in BOOSTED

    @property
    def is_net(self) -> bool:
        """Whether what may be said is the net: every line of the ledger is known, and some take something off."""
        return self.net is not None and self.net.is_closed and self.net.moves

    @property
    def stated(self) -> Weighing:
        """The weighing that a statement is made of: the net where the ledger is closed, else what was observed."""
        return applied(self.weighing, self.net)

    @property
    def package(self) -> tuple[str, ...]:
        """What makes this the result of a package: everything that differed, while the effect of any of it is not known."""
        open_ = self.net is not None and not self.net.is_closed
        return tuple(item.label for item in self.builds.differing) if open_ else ()

    @property
    def facts(self) -> tuple[Fact, ...]:
        """Everything that may be said. Of a net nothing is said of peaks: they are as observed."""
        found = facts_of(self.stated, self.is_boosted)
        return tuple(f for f in found if f.scope != PEAK) if self.is_net else found

    @property
    def setting(self) -> Setting:
        """What all facts share: the part, against what, where, how."""
        one = len(self.sessions) == 1
        return Setting(
            part=self.application.revision.title,
            against=self.application.stock_revision.title,
            vehicle=self.application.vehicle.name,
            at=self.card.dyno.measured_at,
            standard="" if self.session.standard == UNCORRECTED else STANDARDS[self.session.standard].name,
            one_session=one,
            margin=self.weighing.comparison.margin_share,
            back_to_back=one and self.weighing.comparison.design.drift,
            package=self.package,
        )

    @property
    def called(self) -> tuple[str, str]:
        """What A and B were, in the card's words."""
        a, b = self.card.pair_of(self.application.id)
        return self.card.called(a), self.card.called(b)

    @property
    def _pulls(self) -> list[Pull]:
        pairs = ((session, session.card.pair_of(self.application.id)) for session in self.sessions)
        return [pull for session, pair in pairs for pull in session.full_pulls if pull.label in pair]

    @property
    def left_out(self) -> list[Pull]:
        """The pulls of A and B in these sessions that do not count."""
        return [pull for pull in self._pulls if not pull.is_valid]

    @property
    def overruled(self) -> list[Pull]:
        """The pulls that count although a check of theirs failed: a person said so."""
        return [p for p in self._pulls if p.is_valid and any(j.automatic and not j.valid for j in p.judgements)]


def gather(db: Session, application: Application, session_ids: Sequence[int] = ()) -> Evidence:
    """The evidence of these sessions; or, if none is named, of the newest session that can be weighed.

    An empty session, or one that is still too short, takes nothing over. Raises EvidenceError if there is none.
    """
    asked = (gather, application.id, tuple(session_ids))
    return once(db, asked, lambda: _gathered(db, application, session_ids))


def _gathered(db: Session, application: Application, session_ids: Sequence[int]) -> Evidence:
    every = dyno_sessions(db, application.id)
    if session_ids:
        return _of(db, application, every, [s for s in every if s.id in session_ids])
    refused = EvidenceError(NO_PULLS)
    for session in (s for s in every if s.full_pulls):
        try:
            return _of(db, application, every, [session])
        except EvidenceError as error:
            refused = error if refused.message == NO_PULLS else refused
    raise refused


def _meant(card: TestCard, application_id: int) -> tuple[tuple[str, str], frozenset[str]]:
    """Letters of A and B, and the lines of their build sheets that the card's modes change on purpose."""
    return card.pair_of(application_id), intended(card.tune_mode, card.control_mode)


def _of(db: Session, application: Application, every: list[DynoSession], used: list[DynoSession]) -> Evidence:
    if not any(session.full_pulls for session in used):
        raise EvidenceError(NO_PULLS)
    if len({session.card.dyno.measured_at for session in used}) > 1:
        raise EvidenceError("Wheel and crank figures are never mixed: choose sessions of one kind of dyno.")
    key = keys_of(db, {0: (application.id, [session.id for session in used])})[0]
    names, newest = session_names(every), used[0]
    late, meant = bands_came_late(db, application, used), _meant(newest.card, application.id)
    weighing = weighing_of(db, application, used, key, late)
    differs = differing(db, used, meant[0])
    builds = builds_of(db, application.id, newest.held_on, newest.card.also_changed, *meant, differs)
    return Evidence(
        application,
        tuple(used),
        tuple(names[session.id] for session in used),
        weighing,
        builds,
        key,
        late,
        doubts_of(db, application, used),
        tuple(names[s.id] for s in every if s.full_pulls and s not in used),
        rounds_given(db, newest.card),
        net_of(db, weighing, builds.told, used, bands_of(application.vehicle)),
    )
