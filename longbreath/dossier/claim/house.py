"""Rules of the house for claims, and what a sheet says of a part beside the facts."""

from __future__ import annotations

from dataclasses import dataclass, field

from longbreath.core.basis.errors import InputError
from longbreath.core.case.changes import CAUSES
from longbreath.core.claim.gates.house import NOTES
from longbreath.core.claim.language import find_concealment, find_in_record
from longbreath.core.claim.road import TAMPERING
from longbreath.dossier.commands import put
from longbreath.dossier.records.house import RulesCard, notes_of
from longbreath.store.models import Application, ClaimRules, SheetNote
from longbreath.store.unit_of_work import UnitOfWork


def set_rules(work: UnitOfWork, card: RulesCard) -> ClaimRules:
    """Write the rules of the house. Raises InputError for a cause that is none."""
    if wrong := [cause for cause in card.at_once if cause not in CAUSES]:
        raise InputError(f"There is no such cause: {wrong[0]}.", "at_once")
    row = ClaimRules()
    put(row, card)
    row.at_once, row.made_by_id = list(card.at_once), work.actor.id
    work.add(row)
    work.flush()
    return row


@dataclass(frozen=True)
class NotesCard:
    """What is written of a part beside the facts, by what it is about; tampering is keeps or removes."""

    words: dict[str, str] = field(default_factory=dict)
    tampering: str = ""


def write_notes(work: UnitOfWork, application: Application, card: NotesCard) -> int:
    """Write what a sheet says beside the facts; returns how many are new. Raises InputError beside the field for words that speak of a
    result, or advise to hide the part."""
    if card.tampering not in TAMPERING:
        raise InputError("Say whether it removes or disables an emission device.", "tampering")
    for about, words in card.words.items():
        if about not in NOTES:
            raise InputError("There is no such line on a sheet.", about)
        if refused := (find_in_record(words) or find_concealment(words)):
            raise InputError(refused.sentence, about)
    before = notes_of(work, application.id)
    added = 0
    for about, words in {**card.words, "tampering": card.tampering}.items():
        tidy = " ".join(words.split())
        if tidy and tidy != before.get(about, ""):
            work.add(SheetNote(application_id=application.id, about=about, words=tidy, made_by_id=work.actor.id))
            added += 1
    work.flush()
    return added
