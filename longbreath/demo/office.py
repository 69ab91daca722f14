"""Candidates, predictions, trials, the ledger, claims and what is owed, as the demo tells them."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from sqlalchemy import select

from longbreath.core.reckon.forecast import AIRFLOW, POWER, TORQUE, Drawn, drawn_by_hand
from longbreath.core.weigh.trial_kinds import KINDS
from longbreath.demo.book import Book
from longbreath.dossier.claim import bundle
from longbreath.dossier.claim.backing import backing
from longbreath.dossier.claim.choices import CHOICES
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.reviews import sealer
from longbreath.dossier.claim.sheet import content, digest
from longbreath.dossier.claim.verbs import approve_claim, draft_claim, submit_claim
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.reasons import LineCard
from longbreath.dossier.evidence.verdict import keep_ledger
from longbreath.dossier.programme import raised, register
from longbreath.dossier.reckon import answers, predictions
from longbreath.dossier.reckon.predictions import HAND, SCHOOL, NewPrediction
from longbreath.dossier.reckon.questions import BY_KEY
from longbreath.dossier.reckon.records import records_of
from longbreath.dossier.weigh import trials
from longbreath.store.models import Application, Claim, DynoSession, Owed, Prediction, Trial, User
from longbreath.store.secret import installation_secret
from longbreath.store.unit_of_work import UnitOfWork

LIFT = 0.011
"""Lift [m] whose thirds are the bands of a prediction of airflow."""
Band = tuple[float, float, float]
"""Least, expected and most."""


def expect(
    work: UnitOfWork, application: Application, expects: str, bands: tuple[Band, ...], quantity: str = TORQUE
) -> Prediction:
    """A forecast drawn by hand: of torque or power over the vehicle's bands, of airflow over thirds of 11 mm of lift."""
    if quantity not in (TORQUE, POWER, AIRFLOW):
        raise ValueError(f"nothing can be expected of “{quantity}” by hand")
    ends = [(band.low, band.high) for band in bands_of(application.vehicle)]
    if quantity == AIRFLOW:
        ends = [(n * LIFT / 3, (n + 1) * LIFT / 3) for n in range(3)]
    drawn = [Drawn(low, high, *said) for (low, high), said in zip(ends, bands, strict=True)]
    new = NewPrediction(expects, quantity, HAND, "", drawn_by_hand(quantity, drawn))
    return predictions.keep_prediction(work, application, new)


def expect_by_school(work: UnitOfWork, application: Application, school: str, expects: str) -> Prediction:
    """What a school of reckoning says of torque, kept as a prediction."""
    curve, inputs = predictions.by_school(records_of(work, application), school)
    return predictions.keep_prediction(work, application, NewPrediction(expects, TORQUE, SCHOOL, school, curve, inputs))


def answer(work: UnitOfWork, application: Application, question: str, note: str, given: dict[str, str]) -> None:
    """Keep the answer to a question of Reckon, with what was typed for it."""
    records = records_of(work, application)
    found = answers.answer(records, BY_KEY[question], given, "metric")
    answers.keep_answer(work, records, found, note, "metric")


def trial(work: UnitOfWork, application: Application, table: Path, card: trials.TrialCard) -> Trial:
    """A trial, its rows as they are pasted from a sheet."""
    rows = trials.read_rows(KINDS[card.kind], table.read_text("utf-8"), "metric")
    return trials.save_trial(work, application, replace(card, rows=rows))


def ledger(book: Book, application: Application, session: DynoSession, lines: dict[str, LineCard]) -> None:
    """The lines of a ledger as they were answered."""
    found = gather(book.work, application, [session.id])
    keep_ledger(book.work, application, found.builds, lines)


def draft(work: UnitOfWork, application: Application, kind: str, place: int = 0) -> Claim:
    """Draft a claim of a kind on what may back it; `place` counts from the newest."""
    choice = CHOICES[kind](work, application)[place]
    return draft_claim(work, backing(work, application, kind, choice.session_ids, choice.sources))


def submit(work: UnitOfWork, application: Application, claim: Claim) -> None:
    """Hand a draft to a second person."""
    submit_claim(work, draft_of(work, application, claim))


def publish(work: UnitOfWork, application: Application, approver: User, kind: str, place: int = 0) -> Claim:
    """Draft, submit, and have a second person approve."""
    claim = draft(work, application, kind, place)
    read, writer = draft_of(work, application, claim), work.actor
    submit_claim(work, read)
    work.act_as(approver, application.id)
    listed = bundle.discloses(work, read)
    approve_claim(work, read, digest(content(read)))
    bundle.ask(work, claim, listed, "")
    work.act_as(writer, application.id)
    return claim


def make_bundle(work: UnitOfWork, claim: Claim) -> None:
    """Make the bundle of a claim at once: a worker could not any more where its evidence is questioned later in the story."""
    bundle.make(work, claim, "", sealer(installation_secret()), lambda share, words: None)


def settle(book: Book, day: date) -> None:
    """What every dossier and the house owe as things stand on a day."""
    work, person = book.work, book.person
    for application in work.scalars(select(Application).order_by(Application.id)).all():
        work.act_as(person, application.id)
        raised.settle(work, application)
    work.act_as(person)
    raised.settle_house(work, day)


def share_out(book: Book, day: date, days: dict[str, int], approver: User, later: int) -> None:
    """Who does what is owed by when: `days` from a day by kind, one dossier `later` days after the other."""
    work = book.work
    first = work.scalar(select(Application.id).order_by(Application.id).limit(1)) or 0
    is_open = (Owed.closed_at.is_(None), Owed.due_on.is_(None))
    for number, thing in enumerate(work.scalars(select(Owed).where(*is_open).order_by(Owed.id)).all()):
        thing.who_id = approver.id if thing.kind in ("approval", "publishing") else thing.who_id or work.actor.id
        if thing.kind in days:
            away = later * ((thing.application_id or first) - first)
            thing.due_on = day + timedelta(days=days[thing.kind] + number % 5 + away)
    work.flush()


def late_part(book: Book, outside: str, days: int, cost: float) -> None:
    """A part from outside comes so many days after the dyno was booked for it: it decides when its dossier is published."""
    work = book.work
    part = work.scalars(select(Owed).where(Owed.outside == outside).limit(1)).one()
    of_it = select(Owed).where(Owed.application_id == part.application_id)
    booked = max(one.due_on for one in work.scalars(of_it.where(Owed.kind == "part")) if one.due_on) + timedelta(days=2)
    booked += timedelta(days=(8 - booked.isoweekday()) if booked.isoweekday() > 5 else 0)
    card = register.OwedCard("part", part.what, part.application_id, outside=outside, cost=cost, blocks=part.blocks)
    register.save_owed(work, part, replace(card, due_on=booked + timedelta(days=days)))
    dyno = work.scalars(of_it.where(Owed.kind == "dyno")).first()
    if dyno is not None:
        card = register.OwedCard("dyno", dyno.what, dyno.application_id, dyno.who_id, blocks=dyno.blocks)
        begins = datetime(booked.year, booked.month, booked.day, 8, tzinfo=UTC)
        register.save_owed(
            work, dyno, replace(card, hours=dyno.hours, cell_id=dyno.cell_id, slot=begins, due_on=booked)
        )
