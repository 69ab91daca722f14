"""Claims of the demo: what stands around them, and how they are published."""

from __future__ import annotations

from typing import Any

from longbreath.dossier.claim.backing.register import backing, choices_of
from longbreath.dossier.claim.house import NotesCard, RulesCard, set_rules, write_notes
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.sheet import content, digest
from longbreath.dossier.claim.verbs import approve_claim, draft_claim, state_approval, submit_claim
from longbreath.store.models import Application, Claim, User
from longbreath.store.unit_of_work import UnitOfWork

HOUSE = "Windlass Airway Works"
NOTES = {
    "rules": "not recorded: ask the series before you fit it",
    "idle": "not recorded",
    "noise": "not recorded",
    "life": "look at the gaskets after the first heat; no failure known to the shop",
    "relation": "tested by the house that sells it, on its own dyno",
}
"""What the sheets of the demo say besides, where nothing else is known."""


def rules(db: UnitOfWork) -> None:
    """How the shop of the demo lets claims out."""
    set_rules(db, RulesCard(house=HOUSE, money="crowns"))


def closed_course(db: UnitOfWork, application: Application, sold: str, **notes: str) -> None:
    """No approval is held; the part leaves emission devices alone; what the sheet says besides."""
    write_notes(db, application, NotesCard({**NOTES, "sold": sold, **notes}, "keeps"))
    state_approval(db, application, "closed_course", "")


def drafted(db: UnitOfWork, application: Application, kind: str, place: int = 0) -> Claim:
    """Draft a claim of a kind on what may back it, newest first."""
    choice = choices_of(db, application)[kind][place]
    return draft_claim(db, backing(db, application, kind, choice.session_ids, choice.sources))


def publish(db: UnitOfWork, application: Application, approver: User, kind: str, place: int = 0) -> Claim:
    """Draft, submit, and have a second person approve."""
    claim = drafted(db, application, kind, place)
    submit_claim(db, draft_of(db, application, claim))
    writer: Any = db.actor
    db.act_as(approver, application.id)
    read = draft_of(db, application, claim)
    approve_claim(db, read, digest(content(read)))
    db.act_as(writer, application.id)
    return claim
