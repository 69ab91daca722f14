"""Claims as they stand: the draft rendered from the evidence, and its gates."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.claim import gates as gates_of
from longbreath.core.claim.facts import Fact
from longbreath.core.claim.gates import Gate, Grounds
from longbreath.core.claim.grammar import Composition, Line, compose, sentences
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.pull.sessions import outside_standard
from longbreath.store.models import Application, Claim, Pull


def of_application(db: Session, application_id: int) -> list[Claim]:
    """Claims, newest first."""
    return list(db.scalars(select(Claim).where(Claim.application_id == application_id).order_by(Claim.id.desc())))


def by_slug(db: Session, slug: str) -> Claim | None:
    """The claim at a public address, if a sheet of it was ever published."""
    claim = db.scalar(select(Claim).where(Claim.slug == slug))
    return claim if claim is not None and claim.sheet is not None else None


def composition_of(claim: Claim) -> Composition:
    """What the writer of a claim chose."""
    return Composition(tuple(Line(**line) for line in claim.lines), claim.joined)


@dataclass(frozen=True)
class Draft:
    """A claim on the evidence as it stands: what it says, in whose words, and the gates."""

    claim: Claim
    evidence: Evidence
    composition: Composition

    @cached_property
    def said(self) -> tuple[tuple[Fact, Line], ...]:
        """The facts that are said, with what the writer chose for each."""
        return compose(self.evidence.facts, self.composition.lines)

    @cached_property
    def unsaid(self) -> tuple[Fact, ...]:
        """The other facts: those that may be said as well, and those that are blocked, with the reason."""
        keys = {fact.key for fact, _ in self.said}
        return tuple(fact for fact in self.evidence.facts if fact.key not in keys)

    @cached_property
    def sentences(self) -> tuple[str, ...]:
        """The statement as it will be read."""
        return sentences(self.evidence.setting, self.said, self.composition.joined)

    @cached_property
    def gates(self) -> tuple[Gate, ...]:
        """The gates as they stand now."""
        return gates_of.gates(grounds(self))

    @property
    def writers(self) -> frozenset[int]:
        """Who wrote, changed or submitted any part of what the sheet will say, its reasons and its road use among it."""
        by = self.claim.writers | {reason.given_by_id for reason in self.evidence.builds.reasons}
        stated = self.evidence.application.approval_by_id
        return by | ({stated} if stated is not None else set())


def draft_of(db: Session, application: Application, claim: Claim, pending: Composition | None = None) -> Draft:
    """The claim on its own evidence, as it is kept or as a writer is composing it.

    Raises EvidenceError if its evidence cannot be weighed any more.
    """
    return Draft(claim, gather(db, application, claim.session_ids), pending or composition_of(claim))


def grounds(draft: Draft) -> Grounds:
    """What the gates look at."""
    found, application = draft.evidence, draft.evidence.application
    return Grounds(
        weighing=found.stated,
        sessions=tuple(f"session of {name}" for name in found.names),
        sides=found.builds.vehicles,
        differing=found.builds.differing,
        closed=not found.package,
        outside_standard=outside_standard(found.session),
        boosted=found.is_boosted,
        said=len(draft.said),
        drafted_on=draft.claim.evidence_key,
        evidence=found.key,
        records=printed_records(draft),
        approval=application.approval,
        approval_note=application.approval_note,
        doubts=tuple(doubt.words for doubt in found.doubts),
    )


def printed_records(draft: Draft) -> tuple[tuple[str, str], ...]:
    """The names and notes of people that the sheet prints, with their place."""
    found, application = draft.evidence, draft.evidence.application
    vehicle, card = application.vehicle, found.card
    records = [
        ("the product’s name", application.revision.title),
        ("the state of the part", application.revision.state),
        ("the stock part’s name", application.stock_revision.title),
        ("the vehicle’s name", f"{vehicle.name} {vehicle.years}"),
        ("the vehicle’s mark", found.builds.vehicle),
        ("the dyno’s name", card.dyno.name),
        ("the test card, A", found.called[0]),
        ("the test card, B", found.called[1]),
        ("the gear", found.session.gear),
        ("the certificate or market", application.approval_note),
    ]
    for item in found.builds.differing:
        sides = {"A": item.a, "B": item.b, "reason": item.reason}
        records += [(f"{item.label}, {side}", text) for side, text in sides.items()]
    for label, text in found.builds.parts:
        records.append((f"{label}, by its build sheet", text))
    records += [(f"{label} on the build sheets", text) for label, text in found.builds.same]
    records += [(f"why pull {p.sequence} is left out", p.judgements[-1].reason) for p in found.left_out if by_hand(p)]
    return tuple((place, text) for place, text in records if text)


def by_hand(pull: Pull) -> bool:
    """Whether a person, not a check, said that a pull does not count."""
    return not pull.judgements[-1].automatic
