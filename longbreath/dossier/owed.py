"""How far each application is: one state and one summing figure for each of the six steps, for many at once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import exists, func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from longbreath.core.basis.sentence import counted
from longbreath.core.path.needs import Need, need_of
from longbreath.core.plan.designs import ALTERNATION, LADDER
from longbreath.dossier.claim.changed import changed
from longbreath.dossier.evidence.verdict import keys_of
from longbreath.dossier.records.sessions import NEWEST_FIRST
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import (
    Application,
    BenchSession,
    CardPair,
    Claim,
    ClaimAct,
    DynoSession,
    Element,
    Prediction,
    Product,
    Pull,
    PullJudgement,
    Reading,
    ReadingMark,
    Revision,
    TestCard,
    Trace,
    Vehicle,
    Verdict,
    WheelSheet,
)
from longbreath.store.models.claim import PUBLISHED, STATES
from longbreath.store.models.dyno import FILLED_OVER_DAYS

STEPS = ("measure", "reckon", "plan", "pull", "weigh", "claim")
NOTHING, STARTED, OWED, DONE, STALE = "nothing", "started", "owed", "done", "stale"


MANY = 99
"""Lifts that the one flow of a fixed part is worth: it has no others."""


@dataclass(frozen=True)
class StepState:
    """State of one step; `figure` sums it up, `owed` says what is missing (empty if nothing is)."""

    name: str
    state: str
    figure: str
    owed: str = ""


@dataclass(frozen=True)
class KeptVerdict:
    """The kept verdict of an application: its headline, and name, verdict, value, half_width, kind of each band (SI)."""

    headline: str
    bands: tuple[dict[str, Any], ...]


@dataclass(frozen=True)
class Summary:
    """All six steps of one application, with its kept verdict."""

    steps: tuple[StepState, ...]
    verdict: KeptVerdict | None

    def is_stale(self, step: str) -> bool:
        """Whether what a step holds is of evidence that changed."""
        return any(found.name == step and found.state == STALE for found in self.steps)

    @property
    def next_owed(self) -> StepState | None:
        """The first step that is not done."""
        return next((step for step in self.steps if step.state != DONE), None)


@dataclass
class _Counts:
    lifts: dict[str, int]
    need: Need
    wheels: int = 0
    traces: int = 0
    elements: int = 0
    planned: Counter[str] = field(default_factory=Counter)
    card: str = ""
    taken: int = 0
    valid: Counter[str] = field(default_factory=Counter)
    predictions: int = 0
    in_words: bool = False


def _summaries(db: Session, ids: Sequence[int]) -> dict[int, Summary]:
    counts = {i: _Counts({}, need) for i, need in _needs(db, ids).items()}
    _count_measured(db, ids, counts)
    _count_planned(db, ids, counts)
    verdicts = {v.application_id: v for v in db.scalars(select(Verdict).where(Verdict.application_id.in_(ids)))}
    _count_pulls(db, _sessions_in_hand(db, ids, verdicts), counts)
    rows = _newest_acts(db, ids)
    acts: dict[int, list[str]] = {}
    for row in rows:
        acts.setdefault(row.application_id, []).append(str(row.act))
    out = [row.id for row in rows if STATES.get(row.act, row.act) == PUBLISHED]
    published = list(db.scalars(select(Claim).where(Claim.id.in_(out)))) if out else []
    changes = changed(db, published)
    stale = {claim.application_id for claim in published if claim.id in changes and changes[claim.id].causes}
    present = keys_of(db, verdicts.values())
    return {
        i: Summary(
            (
                _measure(counts[i]),
                _reckon(counts[i]),
                _plan(counts[i]),
                _pull(counts[i]),
                _weigh(verdicts.get(i), present.get(i, "")),
                _claim(acts.get(i, []), i in stale),
            ),
            KeptVerdict(verdicts[i].headline, tuple(verdicts[i].bands)) if i in verdicts else None,
        )
        for i in ids
    }


summaries = Remembered(_summaries, name="summary", kind=Summary)
"""Summaries by application id, in a fixed number of queries, kept while nothing of an application changes."""


def _needs(db: Session, ids: Sequence[int]) -> dict[int, Need]:
    """What each application's family of part needs to be measured."""
    query = (
        select(Application.id, Product.family, Vehicle.cycle)
        .join(Revision, Revision.id == Application.revision_id)
        .join(Product, Product.id == Revision.product_id)
        .join(Vehicle, Vehicle.id == Application.vehicle_id)
        .where(Application.id.in_(ids))
    )
    return {number: need_of(family, cycle) for number, family, cycle in db.execute(query)}


def _count_measured(db: Session, ids: Sequence[int], counts: dict[int, _Counts]) -> None:
    marked = select(ReadingMark.reading_id)
    lifts = (
        select(BenchSession.application_id, Trace.label, Trace.kind, func.count(func.distinct(Reading.lift)))
        .join(Trace, Trace.session_id == BenchSession.id)
        .join(Reading, Reading.trace_id == Trace.id)
        .where(BenchSession.application_id.in_(ids), Reading.id.not_in(marked), Trace.label != "")
        .group_by(Trace.id, BenchSession.application_id)
    )
    for application_id, label, kind, number in db.execute(lifts):
        kept = counts[application_id].lifts
        counts[application_id].traces += 1
        kept[label] = max(kept.get(label, 0), MANY if kind == "fixed" else number)
    elements = select(Element.application_id, func.count())
    elements = elements.where(Element.application_id.in_(ids), Element.out_reason == "")
    for application_id, number in db.execute(elements.group_by(Element.application_id)):
        counts[application_id].elements = number
    wheels = select(WheelSheet.application_id, func.count(func.distinct(WheelSheet.label)))
    wheels = wheels.where(WheelSheet.application_id.in_(ids), WheelSheet.label.in_(("A", "B")))
    for application_id, number in db.execute(wheels.group_by(WheelSheet.application_id)):
        counts[application_id].wheels = number


def _count_planned(db: Session, ids: Sequence[int], counts: dict[int, _Counts]) -> None:
    newer = select(Prediction.supersedes_id).where(Prediction.supersedes_id.is_not(None))
    said = select(Prediction.application_id, Prediction.quantity)
    for application_id, quantity in db.execute(
        said.where(Prediction.application_id.in_(ids), Prediction.id.not_in(newer))
    ):
        counts[application_id].predictions += quantity != ""
        counts[application_id].in_words = True
    cards = select(CardPair.application_id, TestCard.design, TestCard.sets)
    cards = cards.join(TestCard, TestCard.id == CardPair.card_id).where(CardPair.application_id.in_(ids))
    for application_id, design, sets in db.execute(cards.order_by(TestCard.id)):
        planned: Counter[str] = Counter()
        for letter, pulls in sets:
            planned[letter] += pulls
        counts[application_id].planned = planned
        by_letters = "-".join(letter for letter, _ in sets)
        counts[application_id].card = by_letters if design in (ALTERNATION, LADDER) else f"{design} of {len(planned)}"


def _newest_acts(db: Session, ids: Sequence[int]) -> Sequence[Any]:
    """Each claim with the newest thing done with it, oldest claim first."""
    query = (
        select(Claim.id, Claim.application_id, ClaimAct.act)
        .join(ClaimAct, ClaimAct.claim_id == Claim.id)
        .where(Claim.application_id.in_(ids))
        .ext(distinct_on(Claim.id))
        .order_by(Claim.id, ClaimAct.number.desc())
    )
    return db.execute(query).all()


def _sessions_in_hand(db: Session, ids: Sequence[int], verdicts: dict[int, Verdict]) -> list[int]:
    """The dyno sessions whose pulls are counted: the newest that the kept verdict counts, and all of a card that is filled over days;
    else the newest with pulls."""
    without = [i for i in ids if i not in verdicts]
    newest = (
        select(DynoSession.id)
        .join(CardPair, CardPair.card_id == DynoSession.card_id)
        .where(CardPair.application_id.in_(without), exists().where(Pull.session_id == DynoSession.id))
        .ext(distinct_on(CardPair.application_id))
        .order_by(CardPair.application_id, *NEWEST_FIRST)
    )
    every = [n for v in verdicts.values() for n in v.session_ids]
    cards = select(DynoSession.id).join(TestCard, TestCard.id == DynoSession.card_id)
    filled = set(db.scalars(cards.where(DynoSession.id.in_(every), TestCard.design.in_(FILLED_OVER_DAYS))))
    mine = [n for v in verdicts.values() for n in v.session_ids if n == v.session_ids[0] or n in filled]
    return mine + (list(db.scalars(newest)) if without else [])


def _count_pulls(db: Session, sessions: Sequence[int], counts: dict[int, _Counts]) -> None:
    latest = select(func.max(PullJudgement.id)).group_by(PullJudgement.pull_id)
    query = (
        select(CardPair.application_id, Pull.label, PullJudgement.valid, func.count())
        .join(DynoSession, DynoSession.card_id == CardPair.card_id)
        .join(Pull, Pull.session_id == DynoSession.id)
        .join(PullJudgement, PullJudgement.pull_id == Pull.id)
        .where(DynoSession.id.in_(sessions), PullJudgement.id.in_(latest), CardPair.application_id.in_(counts))
        .group_by(CardPair.application_id, Pull.label, PullJudgement.valid)
    )
    for application_id, label, valid, number in db.execute(query):
        found = counts[application_id]
        found.taken += number
        if valid:
            found.valid[label] += number


def _measure(counts: _Counts) -> StepState:
    lifts = counts.lifts
    figure = (
        f"{counted(counts.traces, 'trace')}, {counted(counts.elements, 'element')}" if lifts or counts.elements else ""
    )
    need = counts.need
    short = [label for label in ("A", "B") if lifts.get(label, 0) < need.lifts]
    if not lifts and not counts.elements and not counts.wheels:
        first = "a bench session with a trace of A and of B" if need.lifts else "the timing of A and B by the wheel"
        return StepState("measure", NOTHING, "", first)
    if short:
        return StepState("measure", STARTED, figure, f"{need.bench_words} of {' and '.join(short)} on the bench")
    if need.wheel and counts.wheels < 2:
        return StepState("measure", STARTED, figure, "the timing of A and of B by the wheel")
    if not counts.elements:
        return StepState("measure", OWED, figure, "lengths, sections and volumes of the path")
    return StepState("measure", DONE, figure)


def _reckon(counts: _Counts) -> StepState:
    if counts.predictions:
        return StepState("reckon", DONE, counted(counts.predictions, "prediction"))
    if counts.in_words:
        return StepState("reckon", DONE, "a prediction in words")
    return StepState("reckon", NOTHING, "", "a prediction before the first pull")


def _plan(counts: _Counts) -> StepState:
    if counts.planned:
        return StepState("plan", DONE, f"{counts.card}, {counted(counts.planned.total(), 'pull')}")
    return StepState("plan", NOTHING, "", "a test card")


def _pull(counts: _Counts) -> StepState:
    out = counts.taken - counts.valid.total()
    figure = f"{counts.taken} taken, {out} out" if counts.taken else ""
    if not counts.taken:
        return StepState("pull", NOTHING, "", "a dyno session with pulls of A and B")
    missing = [f"{n} of {label}" for label, n in (counts.planned - counts.valid).items()]
    if len(missing) > 4:
        short = counts.planned - counts.valid
        missing = [f"{short.total()} of {counts.planned.total()}, of {len(missing)} variants"]
    if missing:
        return StepState("pull", OWED, figure, "valid pulls: " + ", ".join(missing))
    return StepState("pull", DONE, figure)


def _weigh(verdict: Verdict | None, present: str) -> StepState:
    if verdict is None:
        return StepState("weigh", NOTHING, "", "valid pulls of A and B to weigh")
    if verdict.evidence_key != present:
        return StepState("weigh", STALE, "evidence changed", "weighing anew")
    found: dict[str, Any] = max(verdict.bands, key=lambda band: abs(band["value"]))
    return StepState("weigh", DONE, f"{found['name']}: {found['verdict']}")


def _claim(acts: Sequence[str], stale: bool) -> StepState:
    """By the newest thing done with each claim, oldest first, and whether a published one lost its evidence."""
    if not acts:
        return StepState("claim", NOTHING, "", "a claim drafted from the verdict")
    if stale:
        return StepState("claim", STALE, "evidence changed", "withdraw the claim, or confirm it anew")
    states = [STATES.get(act, act) for act in acts]
    state, out = states[-1], states.count(PUBLISHED)
    if state == PUBLISHED:
        return StepState("claim", DONE, "published" if out == 1 else f"{out} published")
    owed = {"draft": "submitting the draft for approval", "submitted": "approval by a second person"}
    return StepState("claim", OWED, state, owed.get(state, "a new claim, if the evidence allows one"))
