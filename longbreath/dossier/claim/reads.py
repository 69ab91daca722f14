"""Claims as they stand: the draft rendered from what it rests on, its gates, and what a seller would have liked to say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.claim.facts import Fact
from longbreath.core.claim.gates.gate import Gate, Grounds
from longbreath.core.claim.gates.house import NOTES, SAID
from longbreath.core.claim.gates.table import gates
from longbreath.core.claim.grammar import Composition, Line, compose, sentences
from longbreath.core.claim.road import Covered, Road
from longbreath.dossier.claim.backing.backing import Backing
from longbreath.dossier.claim.backing.register import backing_of
from longbreath.dossier.claim.beside import Beside, beside_of
from longbreath.dossier.claim.house import RulesCard, notes_rows, rules_of
from longbreath.dossier.claim.rests import COSTS, NEAR, as_watched, costs_key, rests_of
from longbreath.dossier.claim.road import covered_of, road_of
from longbreath.dossier.evidence.keys import digest_of
from longbreath.store.base import now
from longbreath.store.models import Application, Claim, SheetNote


def of_application(db: Session, application_id: int) -> list[Claim]:
    """Claims, newest first."""
    return list(db.scalars(select(Claim).where(Claim.application_id == application_id).order_by(Claim.id.desc())))


def composition_of(claim: Claim) -> Composition:
    """What the writer of a claim chose."""
    return Composition(tuple(Line(**line) for line in claim.lines), claim.joined)


def day_of(db: Session) -> date:
    """The day on which something is done or looked at: the unit of work's own, where it tells one."""
    clock = getattr(db, "clock", now)
    return date.fromisoformat(clock().date().isoformat())


@dataclass(frozen=True)
class Around:
    """What stands around every statement of an application: road, notes, rules of the house, what else its records hold, vehicles
    it is offered for."""

    road: Road
    notes: dict[str, SheetNote]
    rules: RulesCard
    beside: Beside
    covered: Sequence[Covered]

    @property
    def words(self) -> dict[str, str]:
        """What is written of the part, by what it is about."""
        return {about: row.words for about, row in self.notes.items()}


def around_of(db: Session, application: Application, day: date) -> Around:
    """What stands around every statement of an application, on a day."""
    road, notes = road_of(db, application, day), notes_rows(db, application.id)
    return Around(road, notes, rules_of(db), beside_of(db, application), covered_of(db, application.id))


@dataclass(frozen=True)
class Draft:
    """A claim on the evidence as it stands: what it says, in whose words, and the gates. rests_on: a digest of each thing."""

    claim: Claim
    backing: Backing
    composition: Composition
    around: Around
    rests_on: dict[str, str]
    day: date

    @property
    def key(self) -> str:
        """Identifies all that the claim rests on."""
        return key_of(self.rests_on)

    @cached_property
    def said(self) -> tuple[tuple[Fact, Line], ...]:
        """The facts that are said, with what the writer chose for each."""
        return compose(self.backing.facts, self.composition.lines)

    @cached_property
    def unsaid(self) -> tuple[Fact, ...]:
        """The other facts: those that may be said as well, and those that are blocked, with the reason."""
        keys = {fact.key for fact, _ in self.said}
        return tuple(fact for fact in self.backing.facts if fact.key not in keys)

    @cached_property
    def sentences(self) -> tuple[str, ...]:
        """The statement as it will be read."""
        return sentences(self.backing.setting, self.said, self.composition.joined)

    @cached_property
    def gates(self) -> tuple[Gate, ...]:
        """The gates as they stand now."""
        return gates(grounds(self))

    @property
    def writers(self) -> frozenset[int]:
        """Who wrote, changed or submitted any part of what the sheet will say: its reasons, its notes and its road use among it."""
        notes = {row.made_by_id for row in self.around.notes.values()}
        stated = self.backing.application.approval_by_id
        return self.claim.writers | self.backing.wrote | notes | ({stated} if stated is not None else set())


AROUND = ("road", "certificate", NEAR, COSTS)
"""What stands around the facts and makes none of them another."""


def key_of(rests_on: dict[str, str]) -> str:
    """One key over all that a claim rests on."""
    return digest_of("\n".join(f"{name} {value}" for name, value in sorted(rests_on.items())))


def facts_key(rests_on: dict[str, str]) -> str:
    """One key over all that facts are made of: a draft whose road use is stated meanwhile need not be chosen anew."""
    return key_of({name: value for name, value in rests_on.items() if name not in AROUND})


def draft_of(db: Session, application: Application, claim: Claim, pending: Composition | None = None) -> Draft:
    """The claim on its own evidence, as it is kept or as a writer is composing it.

    Raises EvidenceError if its evidence cannot be weighed any more.
    """
    day = day_of(db)
    rests_on = rests_of(db, [as_watched(claim)], day)[claim.id]
    found, around = backing_of(db, application, claim), around_of(db, application, day)
    rests_on[COSTS] = costs_key(around.beside.costs(found.kind))
    return Draft(claim, found, pending or composition_of(claim), around, rests_on, day)


def grounds(draft: Draft) -> Grounds:
    """What the gates look at."""
    found, around, own = draft.backing, draft.around, draft.backing.grounded
    application = found.application
    return Grounds(
        kind=found.kind,
        said=tuple(fact for fact, _ in draft.said),
        required=frozenset(fact.key for fact in found.facts if fact.required and not fact.blocked),
        drafted_on=draft.claim.evidence_key,
        evidence=facts_key(draft.rests_on),
        records=printed_records(draft),
        road=around.road,
        state_sold=application.revision.state,
        notes=around.words,
        age=((draft.day - found.held_on).days, around.rules.most_age),
        foreign=found.foreign,
        outside=found.outside,
        costs=around.beside.costs(found.kind),
        unweighed=around.beside.cannot_be_weighed(found.kind),
        dyno=own.dyno,
        bench=own.bench,
        tool=own.tool,
        looks=own.looks,
    )


def printed_records(draft: Draft) -> tuple[tuple[str, str], ...]:
    """The names and notes of people that the sheet prints, with their place."""
    application = draft.backing.application
    road = draft.around.road
    records = [
        ("the product’s name", application.revision.title),
        ("the state of the part", application.revision.state),
        ("the stock part’s name", application.stock_revision.title),
        ("the vehicle’s name", f"{application.vehicle.name} {application.vehicle.years}"),
        ("the market", application.approval_note),
        *draft.backing.told.records,
        *((NOTES[about], words) for about, words in draft.around.words.items() if about in NOTES),
    ]
    for held in road.certificates:
        records += [
            (f"certificate {held.number}", held.scope),
            (f"certificate {held.number}, what it forbids", held.forbids),
        ]
    return tuple((place, text) for place, text in records if text)


def notes_said(around: Around) -> list[tuple[str, str]]:
    """The lines that every sheet has beside the facts, with their words."""
    return [(NOTES[about], around.words.get(about, "")) for about in ("sold", *SAID) if about in around.words]
