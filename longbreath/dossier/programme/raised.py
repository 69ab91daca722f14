"""What the software finds owed in an application or the house, and closes when the thing is recorded."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.plan.conditions import intended
from longbreath.dossier.evidence.reasons import builds_of
from longbreath.dossier.owed import DONE, STALE, Summary, summaries
from longbreath.dossier.plan.cards import ticks_of
from longbreath.dossier.plan.day import hours_of
from longbreath.dossier.plan.variants import build_of, own_build, unproven_tune
from longbreath.dossier.programme.register import all_after
from longbreath.dossier.records.cards import card_of
from longbreath.store.models import (
    Application,
    Bench,
    Dyno,
    DynoSession,
    Element,
    Owed,
    OwedLink,
    Sensor,
    TestCard,
    User,
)
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Raised:
    """A thing found owed: what it is found by, its kind, in words; hours of work; what it waits for, by the same marks."""

    mark: str
    kind: str
    what: str
    blocks: str = ""
    hours: float = 0.0
    after: tuple[str, ...] = ()
    cell_id: int | None = None
    due_on: date | None = None
    outside: str = ""
    card_id: int | None = None


HOURS = {"measure": 3.0, "reckon": 1.0, "plan": 1.0, "weigh": 1.0, "claim": 1.0}
"""Hours that a step takes where nothing better is known. Ours, no source."""
STEPS = {
    "measure": ("measurement", "Measure", "what the prediction rests on"),
    "reckon": ("figure", "Predict", "the first pull: a prediction made later must say so"),
    "plan": ("other", "Write the card", "the dyno day"),
    "pull": ("dyno", "Dyno day", "weighing"),
    "weigh": ("weighing", "Weigh", "the claim"),
    "claim": ("approval", "Claim", "publishing"),
}


def found_owed(db: Session, application: Application) -> list[Raised]:
    """Everything the software finds owed for an application now."""
    summary = summaries(db, [application.id])[application.id]
    card = card_of(db, application.id)
    own = _beside(db, application, card, any(s.name == "pull" and s.state == DONE for s in summary.steps))
    return [*_steps(application, summary, card, tuple(r.mark for r in own if r.blocks == "the dyno day")), *own]


def _steps(application: Application, summary: Summary, card: TestCard | None, needed: Sequence[str]) -> list[Raised]:
    """The steps that are not done, each after the one before, and the publishing day at their end."""
    found: list[Raised] = []
    name = f"{application.product.name} on {application.vehicle.name}"
    for step in summary.steps:
        if step.state == DONE:
            continue
        kind, verb, blocks = STEPS[step.name]
        hours = hours_of(card) if step.name == "pull" and card is not None else HOURS.get(step.name, 6.0)
        cell = card.dyno.cell_id if step.name == "pull" and card is not None else None
        after = tuple(r.mark for r in found[-1:]) + (tuple(needed) if step.name == "pull" else ())
        words = f"{verb}: {step.owed}" if step.owed else verb
        if step.state == STALE and step.name == "claim":
            kind, words = "retest", f"{name}: {step.owed}"
        found.append(Raised(f"{application.id}:{step.name}", kind, words, blocks, round(hours, 2), after, cell))
    if found:
        mark = f"{application.id}:publish"
        found.append(Raised(mark, "publishing", f"Publish {name}", "", 0.0, (found[-1].mark,)))
    return found


def _beside(db: Session, application: Application, card: TestCard | None, pulled: bool) -> list[Raised]:
    """What is owed beside the steps; what a card wants before its first pull only as long as pulls are owed."""
    found = [*_nominal(db, application), *_retests(db, application)]
    if card is not None:
        is_own = card.application_id == application.id
        found += [*(() if pulled or not is_own else _of_card(db, card)), *_of_builds(db, application, card, is_own)]
    return found


def _nominal(db: Session, application: Application) -> Iterable[Raised]:
    """Nominal or guessed sizes of the path that are to be measured."""
    query = select(Element).where(Element.application_id == application.id, Element.out_reason == "")
    for e in db.scalars(query.options(selectinload(Element.readings))):
        if e.provenance == "nominal" or e.nominal_sizes:
            words = f"Measure {e.name}: its sizes are nominal"
            yield Raised(f"{application.id}:element:{e.id}", "measurement", words, "the figures of the path", 0.25)


def _retests(db: Session, application: Application) -> Iterable[Raised]:
    """Sessions on a dyno whose calibration had lapsed."""
    query = (
        select(DynoSession, Dyno)
        .join(TestCard, TestCard.id == DynoSession.card_id)
        .join(Dyno, Dyno.id == TestCard.dyno_id)
        .where(DynoSession.application_id == application.id, Dyno.calibration_due < DynoSession.held_on)
    )
    for session, dyno in db.execute(query):
        words = f"Retest: {dyno.name} was out of calibration on {session.held_on:%d %b %Y}"
        yield Raised(f"{application.id}:lapsed:{session.id}", "retest", words, "the claim", 6.0, cell_id=dyno.cell_id)


def _of_card(db: Session, card: TestCard) -> Iterable[Raised]:
    """Lines not ticked, things to bring, torque values to look up."""
    ticked = ticks_of(db, card)
    for line in card.checklist:
        if line not in ticked:
            yield Raised(_of_line(card, "tick", line), "other", f"Check: {line}", "the dyno day", card_id=card.id)
    for who, what in card.brings:
        yield Raised(
            _of_line(card, "bring", f"{who}: {what}"),
            "part",
            f"Bring: {what}",
            "the dyno day",
            outside=who,
            card_id=card.id,
        )
    for line in card.consumables.splitlines():
        if "?" in line or re.search(r"look\s*(it\s*)?up", line, re.IGNORECASE):
            yield Raised(
                _of_line(card, "look", line),
                "figure",
                f"Look up: {line.strip()}",
                "the dyno day",
                0.25,
                card_id=card.id,
            )


def _of_line(card: TestCard, what: str, text: str) -> str:
    """A mark that stays the same from one version of a card to the next."""
    return f"{card.application_id}:{what}:{hashlib.sha256(text.encode()).hexdigest()[:16]}"


def _of_builds(db: Session, application: Application, card: TestCard, is_own: bool) -> Iterable[Raised]:
    """Build sheets that are missing, what differs without a reason, tunes whose parts nobody wrote down."""
    pair = card.planned_pair(application.id)
    for row in card.variants if is_own else ():
        build = build_of(db, row.variant)
        if build is None or (row.letter in pair and own_build(db, row.variant) is None):
            words = f"Build sheet of {row.letter}, {row.called}"
            yield Raised(f"{application.id}:build:{row.letter}", "measurement", words, "the dyno day", 0.5)
        for word in unproven_tune(row.variant, build):
            asks = row.variant.tune.name if row.variant.tune else ""
            words = f"Write down the {word} fitted with {row.letter}: tune {asks} asks for it"
            yield Raised(f"{application.id}:tune:{row.letter}:{word}", "tune", words, "the dyno day", 0.25)
    meant = intended(card.tune_mode, card.control_mode)
    for item in builds_of(db, application.id, date.today(), card.also_changed, pair, meant).differing:
        if not item.reason:
            words = f"{item.label} differs: measure it alone, bound it, or say why it does not matter"
            yield Raised(f"{application.id}:differs:{item.line}", "reason", words, "the claim", 0.5)


def house_owed(db: Session, today: date) -> list[Raised]:
    """What the house owes: calibrations of dynos and sensors that lapse within a month, plate checks of benches."""
    soon, found = today + timedelta(days=30), []
    for dyno in db.scalars(select(Dyno).where(Dyno.calibration_due <= soon)):
        found.append(
            Raised(
                f"dyno:{dyno.id}:{dyno.calibration_due}",
                "retest",
                f"Calibrate {dyno.name}",
                "its sessions from then on",
                2.0,
                cell_id=dyno.cell_id,
                due_on=dyno.calibration_due,
            )
        )
    for sensor in db.scalars(select(Sensor).where(Sensor.due_on <= soon)):
        found.append(
            Raised(
                f"sensor:{sensor.id}:{sensor.due_on}",
                "retest",
                f"Calibrate the sensor {sensor.name}",
                "its channel",
                0.5,
                due_on=sensor.due_on,
            )
        )
    for bench in db.scalars(select(Bench).options(selectinload(Bench.calibrations))):
        last = max((c.held_on for c in bench.calibrations), default=None)
        due = last + timedelta(days=bench.check_days) if last is not None else today
        if due <= soon:
            found.append(
                Raised(
                    f"bench:{bench.id}:{due}",
                    "retest",
                    f"Plate check of {bench.name}",
                    "its readings from then on",
                    0.5,
                    due_on=due,
                )
            )
    return found


def settle(work: UnitOfWork, application: Application) -> None:
    """Raise what is owed for an application now and close what is there by now; what a person closed stays closed."""
    work.flush()
    people = {u.name.casefold(): u.id for u in work.scalars(select(User).where(User.is_active))}
    work.lock_row(application)
    _settle(work, found_owed(work, application), f"{application.id}:", application, people)


def settle_house(work: UnitOfWork, today: date) -> None:
    """Raise what the house owes now, and close what is done."""
    for prefix in ("dyno:", "sensor:", "bench:"):
        _settle(work, [r for r in house_owed(work, today) if r.mark.startswith(prefix)], prefix, None, {})


def _settle(
    work: UnitOfWork, raised: list[Raised], prefix: str, application: Application | None, people: dict[str, int]
) -> None:
    kept = {
        t.raised_by: t for t in work.scalars(select(Owed).where(Owed.raised_by.startswith(prefix, autoescape=True)))
    }
    marks = {r.mark for r in raised}
    for mark, thing in kept.items():
        if mark not in marks and thing.closed_at is None:
            thing.closed_at, thing.closed_with = work.clock(), "recorded"
    by_mark: dict[str, Owed] = {}
    for r in raised:
        by_mark[r.mark] = _raise(work, kept.get(r.mark), r, application, people)
    work.flush()
    _link(work, raised, by_mark)


def _raise(
    work: UnitOfWork, kept: Owed | None, r: Raised, application: Application | None, people: dict[str, int]
) -> Owed:
    """Write a thing that is found owed, or bring the one that is kept up to date."""
    if kept is not None:
        if kept.closed_at is not None and kept.closed_by_id is None:
            kept.closed_at, kept.closed_with = None, ""
        if kept.what != r.what:
            kept.what = r.what
        if r.kind == "dyno" and kept.slot is None and kept.hours != r.hours:
            kept.hours, kept.cell_id = r.hours, r.cell_id
        return kept
    who = people.get(r.outside.casefold())
    thing = Owed(application_id=application.id if application else None, card_id=r.card_id, kind=r.kind, what=r.what)
    thing.blocks, thing.hours, thing.cell_id, thing.due_on, thing.raised_by = (
        r.blocks,
        r.hours,
        r.cell_id,
        r.due_on,
        r.mark,
    )
    thing.who_id, thing.outside = who, "" if who else r.outside
    work.add(thing)
    return thing


def _link(work: UnitOfWork, raised: Sequence[Raised], by_mark: dict[str, Owed]) -> None:
    wanted = {(by_mark[m].id, by_mark[r.mark].id) for r in raised for m in r.after if m in by_mark}
    if not wanted:
        return
    ends = [after for _, after in wanted]
    have = {(x.before_id, x.after_id) for x in work.scalars(select(OwedLink).where(OwedLink.after_id.in_(ends)))}
    for before, after in sorted(wanted - have):
        if before in all_after(work, after):  # somebody said the opposite by hand: that stands
            continue
        work.add(OwedLink(before_id=before, after_id=after))
    work.flush()
