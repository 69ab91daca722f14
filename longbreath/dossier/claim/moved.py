"""What claims would read now: every figure that moved since it was published, after an upgrade or a change of the records."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.dossier.claim.changed import TYPED, UNCHANGED, changed
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.watch import published_claims
from longbreath.store.models import Application, Claim


@dataclass(frozen=True)
class Moved:
    """One thing that reads otherwise now: of which claim, what, as it was published, as it would read now."""

    claim: Claim
    what: str
    was: str
    now: str

    @property
    def words(self) -> str:
        """In one line."""
        return f"{self.claim.slug}, {self.what}: {self.was} was published, {self.now} now"


def now_reads(db: Session, claim: Claim) -> str:
    """What a claim would read now, in a sentence."""
    application = db.get_one(Application, claim.application_id)
    try:
        draft = draft_of(db, application, claim)
    except EvidenceError as error:
        return f"It cannot be weighed any more: {error.message}"
    if not draft.sentences:
        return "Nothing of it could be said now."
    same = claim.sheet is not None and list(draft.sentences) == claim.sheet.snapshot.get("sentences")
    return "It would read the same now." if same else f"It would read now: {' '.join(draft.sentences)}"


def moved(db: Session) -> Iterator[Moved]:
    """Every figure and sentence of published claims that reads otherwise now."""
    for claim in published_claims(db):
        yield from moved_of(db, claim)


def moved_of(db: Session, claim: Claim) -> Iterator[Moved]:
    """What of one published claim reads otherwise now; nothing of sheets of typed words, of which nothing can be made again."""
    if claim.sheet is None or claim.sheet.shape <= TYPED:
        return
    for move in changed(db, [claim]).get(claim.id, UNCHANGED).moves:
        yield Moved(claim, move.what, move.was, move.now)
