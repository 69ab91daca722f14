"""One road from a case to what is said of it: weighed, stated, gated, set as a sheet. Desk, public sheet and bundle take it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from datetime import date, timedelta
from functools import cached_property
from typing import Any

from longbreath.core.basis.working import Figure
from longbreath.core.case.bench import Flow, airflow
from longbreath.core.case.case import Case, digest_of, facts_digest
from longbreath.core.case.looks import Looks, Run, durability, fitment
from longbreath.core.case.placing import Channels
from longbreath.core.case.pulls import power, response
from longbreath.core.case.seen import Test
from longbreath.core.case.statement import Statement
from longbreath.core.case.trial import Trial, trial
from longbreath.core.case.weigh import Weighed, weigh
from longbreath.core.claim.facts import Fact
from longbreath.core.claim.gates.gate import Gate, Grounds
from longbreath.core.claim.gates.house import NOTES, SAID
from longbreath.core.claim.gates.table import gates
from longbreath.core.claim.grammar import Composition, SheetLine, compose, sentences
from longbreath.core.claim.kinds.register import KINDS

SHAPE = 3
"""The version of a sheet's shape: 1 held words that somebody typed, 2 holds facts of torque, 3 facts of any kind, with what stands
around them."""
CAUTIONS = (
    "Measured on one vehicle in the state described. Another vehicle, state of tune, fuel or dyno can differ.",
    "Fitting and testing intake and exhaust parts can injure: hot parts, rotating parts, fuel vapour, carbon monoxide. "
    "Local codes and licensed practice decide.",
)
HEADLINE = "What was found stands below, with its conditions."
Weigh = Callable[[Test, Channels], Weighed]


def state(case: Case, channels: Channels, weighing: Weigh = weigh) -> Statement:
    """What may be stated of a case. weighing: how a test is weighed, where somebody keeps what came of it. Raises EvidenceError or
    InputError where the evidence does not allow it."""
    seen = case.seen
    if isinstance(seen, Test):
        weighed = weighing(seen, channels)
        if case.kind == "response":
            return response(seen, weighed, channels)
        return power(seen, weighed, case.school, channels)
    if isinstance(seen, Run):
        return durability(seen, channels)
    if isinstance(seen, Flow):
        return airflow(seen)
    if isinstance(seen, Trial):
        return trial(seen, case.miles)
    assert isinstance(seen, Looks)
    return fitment(seen)


@dataclass(frozen=True)
class Choice:
    """What a writer chose: facts with their phrasing, one sentence or several, the description, and on which evidence they chose."""

    composition: Composition
    description: str = ""
    chosen_on: str = ""


@dataclass(frozen=True)
class Draft:
    """A claim on a case as it stands on a day: what it says, in whose words, and the gates."""

    case: Case
    statement: Statement
    choice: Choice
    day: date

    @cached_property
    def key(self) -> str:
        """Identifies all that the claim rests on."""
        return digest_of(self.case)

    @cached_property
    def said(self) -> tuple[tuple[Fact, SheetLine], ...]:
        """The facts that are said, with what the writer chose for each."""
        return compose(self.statement.stated.facts, self.choice.composition.lines)

    @cached_property
    def unsaid(self) -> tuple[Fact, ...]:
        """The other facts: those that may be said as well, and those that are blocked, with the reason."""
        keys = {fact.key for fact, _ in self.said}
        return tuple(fact for fact in self.statement.stated.facts if fact.key not in keys)

    @cached_property
    def sentences(self) -> tuple[str, ...]:
        """The statement as it will be read."""
        return sentences(self.statement.stated.setting, self.said, self.choice.composition.joined)

    @cached_property
    def gates(self) -> tuple[Gate, ...]:
        """The gates as they stand on the day."""
        return gates(self.grounds)

    @property
    def grounds(self) -> Grounds:
        """What the gates look at."""
        case, context, found = self.case, self.case.context, self.statement
        own, facts = found.grounded, found.stated.facts
        return Grounds(
            kind=case.kind,
            said=tuple(fact for fact, _ in self.said),
            required=frozenset(fact.key for fact in facts if fact.required and not fact.blocked),
            drafted_on=self.choice.chosen_on,
            evidence=facts_digest(case),
            records=self.records,
            road=context.road(self.day),
            state_sold=case.part.state,
            notes=context.notes,
            age=((self.day - found.held_on).days, context.most_age),
            foreign=found.foreign,
            outside=found.outside,
            costs=context.costs,
            unweighed=context.unweighed,
            dyno=own.dyno,
            bench=own.bench,
            tool=own.tool,
            looks=own.looks,
        )

    @property
    def records(self) -> tuple[tuple[str, str], ...]:
        """The names and notes of people that the sheet prints, with their place."""
        part, context = self.case.part, self.case.context
        records = [
            ("the product’s name", part.title),
            ("the state of the part", part.state),
            ("the stock part’s name", part.stock),
            ("the vehicle’s name", f"{part.vehicle} {part.years}"),
            ("the market", context.status_note),
            *self.statement.shown.records,
            *((NOTES[about], words) for about, words in context.notes.items() if about in NOTES),
        ]
        for held in context.certificates:
            records += [
                (f"certificate {held.number}", held.scope),
                (f"certificate {held.number}, what it forbids", held.forbids),
            ]
        return tuple((place, text) for place, text in records if text)


def notes_said(notes: Mapping[str, str]) -> list[tuple[str, str]]:
    """The lines that every sheet has beside the facts, with their words."""
    return [(NOTES[about], notes[about]) for about in ("sold", *SAID) if about in notes]


def content(draft: Draft) -> dict[str, Any]:
    """What the sheet of a draft would say on its day, without its picture."""
    case, context, part = draft.case, draft.case.context, draft.case.part
    stated, shown, road = draft.statement.stated, draft.statement.shown, draft.case.context.road(draft.day)
    setting = stated.setting
    return {
        "shape": SHAPE,
        "kind": case.kind,
        "kind_title": KINDS[case.kind].title,
        "never": list(KINDS[case.kind].never),
        "product": part.product,
        "revision": part.revision,
        "state_of_part": part.state,
        "stock": part.stock,
        "vehicle": f"{part.vehicle} ({part.years})",
        "headline": shown.headline or HEADLINE,
        "margin": stated.margin,
        "sentences": list(draft.sentences),
        "statement": " ".join(draft.sentences),
        "facts": [fact.to_dict() for fact, _ in draft.said],
        "setting": vars(setting) | {"package": list(setting.package), "told": list(setting.told)},
        "lines": [asdict(line) for line in draft.choice.composition.lines],
        "joined": draft.choice.composition.joined,
        "description": draft.choice.description,
        "figures": [_figure(figure, verdict) for figure, verdict in stated.figures],
        "locals": [_figure(figure) for figure in stated.minor],
        "gates": [{"key": g.key, "name": g.name, "met": g.met, "evidence": g.evidence} for g in draft.gates],
        "conditions": [list(row) for row in shown.conditions],
        "differing": [vars(item) for item in shown.differing],
        "correction": _figure(shown.correction) if shown.correction is not None else None,
        "approval": road.words,
        "approval_note": context.status_note,
        "closed_course": road.status == "closed_course",
        "certificates": [held.words for held in road.in_date],
        "covered": [vehicle.words for vehicle in context.covered],
        "notes": [list(row) for row in notes_said(context.notes)],
        "costs": list(context.costs),
        "cautions": list(CAUTIONS),
        "evidence": draft.key,
        "chosen_on": draft.choice.chosen_on,
        "method": case.method,
        "grammar": case.grammar,
        "held_on": draft.statement.held_on.isoformat(),
        "day": draft.day.isoformat(),
        "retest_on": (draft.day + timedelta(days=context.retest_days)).isoformat(),
        "house": context.house,
    }


def _figure(figure: Figure, verdict: str = "") -> dict[str, Any]:
    return {**figure.to_dict(), "verdict": verdict}
