"""Which published claims would read otherwise now, and why; what changed besides and moves nothing that is printed is news."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload, undefer

from longbreath.core.basis.errors import LongBreathError
from longbreath.core.case.case import digest_of, plain
from longbreath.core.case.changes import CAUSES, Move, causes_of, moves, words_of
from longbreath.core.case.state import content
from longbreath.dossier.claim.reads import case_now, day_of, draft_of
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import Application, Claim, ClaimSheet, DynoSession

TYPED = 1
"""The shape of sheets that hold words somebody typed: nothing can be made of them again, and they are watched by their pulls."""
ALL_OF_IT = "all of it"


@dataclass(frozen=True)
class Change:
    """What became of a published claim: the things that it prints otherwise now, with the names of their causes; and causes that moved
    nothing."""

    moves: tuple[Move, ...] = ()
    causes: tuple[str, ...] = ()
    news: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """Why it would read otherwise, in words; "" where it would not."""
        return words_of(self.causes)

    @property
    def news_words(self) -> str:
        """What changed besides, in words."""
        return words_of(self.news)


UNCHANGED = Change()


def changed(db: Session, claims: Sequence[Claim], day: date | None = None) -> dict[int, Change]:
    """Of published claims those of which anything changed by a day, today where none is named, by number."""
    out = [c for c in claims if c.sheet is not None]
    if day is not None and day != day_of(db):
        return _changes(db, out, day)
    kept = changes(db, list(dict.fromkeys(c.application_id for c in out))) if out else {}
    return {c.id: change for c in out if (change := kept[c.application_id].get(c.id))}


def _changes(db: Session, claims: Sequence[Claim], day: date | None = None) -> dict[int, Change]:
    ids = [c.id for c in claims]
    wanted = (undefer(ClaimSheet.snapshot), undefer(ClaimSheet.case))
    sheets = {
        s.claim_id: s for s in db.scalars(select(ClaimSheet).where(ClaimSheet.claim_id.in_(ids)).options(*wanted))
    }
    found = {c.id: _change(db, c, sheets[c.id], day) for c in claims}
    return {number: change for number, change in found.items() if change != UNCHANGED}


def _of_many(db: Session, ids: Sequence[int]) -> dict[int, dict[int, Change]]:
    query = select(Claim).join(ClaimSheet).where(Claim.application_id.in_(ids)).order_by(Claim.id)
    found: dict[int, dict[int, Change]] = {number: {} for number in ids}
    every = list(db.scalars(query))
    for number, change in _changes(db, every).items():
        found[next(c.application_id for c in every if c.id == number)][number] = change
    return found


changes = Remembered(_of_many, 2000, "changed", dict[int, Change])
"""What became of the published claims of each application, kept while nothing of it changes."""


def _change(db: Session, claim: Claim, sheet: ClaimSheet, day: date | None) -> Change:
    if sheet.shape <= TYPED:
        return Change((), ("pulls",)) if _pulls_key(db, claim) != sheet.evidence_key else UNCHANGED
    application = db.get_one(Application, claim.application_id)
    try:
        now = case_now(db, application, claim, day)
        if digest_of(now) == sheet.evidence_key:
            return UNCHANGED
    except LongBreathError as error:
        return Change((Move(ALL_OF_IT, "published", error.message),), ("pulls",))
    causes = causes_of(sheet.case, plain(now)) if sheet.case is not None else ()
    try:
        found = moves(sheet.snapshot, content(draft_of(db, application, claim, day=day)))
    except LongBreathError as error:
        found = [Move(ALL_OF_IT, "published", error.message)]
    return Change(tuple(found), causes or (_cause_of(found),)) if found else Change((), (), causes)


def _cause_of(found: Sequence[Move]) -> str:
    """The likeliest cause where no case was kept to tell."""
    what = {move.what for move in found}
    named = {"certificate": "certificate", "road use": "road", "costs beside": "costs", "what differed": "ledger"}
    named |= {name: "part" for name in ("product", "revision", "state of the part", "stock part", "vehicle")}
    return next((named[name] for name in named if name in what), "pulls")


def _pulls_key(db: Session, claim: Claim) -> str:
    """The key that sheets of typed words were published on: weather, standard, pulls and judgements of their sessions."""
    query = select(DynoSession).where(DynoSession.id.in_(claim.session_ids)).options(selectinload(DynoSession.pulls))
    return key_of_typed(sorted(db.scalars(query), key=lambda s: s.id))


def key_of_typed(sessions: Sequence[DynoSession]) -> str:
    """The same of sessions in the order of their numbers."""
    text = [
        f"{s.id}:{s.standard}:{s.already_corrected}:{s.temperature}:{s.pressure}:{s.humidity}|"
        + ",".join(f"{p.id}{p.label}{p.is_valid}" for p in s.pulls)
        for s in sessions
    ]
    return hashlib.sha256(";".join(text).encode()).hexdigest()


def urgent(change: Change, at_once: Sequence[str]) -> bool:
    """Whether any of its causes withdraws a claim at once, by the rules of the house."""
    return any(name in at_once for name in change.causes if name in CAUSES)
