"""Test cards as they stand: their sets, factors and times."""

from __future__ import annotations

from sqlalchemy import exists, select
from sqlalchemy.orm import Session

from longbreath.core.plan.designs import Factor, PullSet
from longbreath.core.plan.timetable import Times
from longbreath.store.models import CardPair, Dyno, DynoSession, Pull, TestCard


def card_of(db: Session, application_id: int) -> TestCard | None:
    """The newest test card that serves an application."""
    serves = select(CardPair.card_id).where(CardPair.application_id == application_id)
    return db.scalar(select(TestCard).where(TestCard.id.in_(serves)).order_by(TestCard.id.desc()).limit(1))


def own_card_of(db: Session, application_id: int) -> TestCard | None:
    """The newest card that was written in an application; one of another application that serves it is not its own to change."""
    query = select(TestCard).where(TestCard.application_id == application_id)
    return db.scalar(query.order_by(TestCard.id.desc()).limit(1))


def cards_of(db: Session, application_id: int) -> list[TestCard]:
    """All cards that serve an application, newest first."""
    serves = select(CardPair.card_id).where(CardPair.application_id == application_id)
    return list(db.scalars(select(TestCard).where(TestCard.id.in_(serves)).order_by(TestCard.id.desc())))


def dynos(db: Session) -> list[Dyno]:
    """All dynos by name."""
    return list(db.scalars(select(Dyno).order_by(Dyno.name)))


def sets_of(card: TestCard) -> tuple[PullSet, ...]:
    """The sets of a card in order."""
    return tuple(PullSet(letter, count) for letter, count in card.sets)


def factors_of(card: TestCard) -> tuple[Factor, ...]:
    """The factors of a card; none where it is no factorial and no series."""
    return tuple(Factor(f["name"], float(f["minutes"]), tuple(f["levels"])) for f in card.factors)


def times_of(card: TestCard) -> Times:
    """The times of a card; the usual ones where it says nothing."""
    return Times(**card.times)


def was_pulled(db: Session, application_id: int) -> bool:
    """Whether the part of an application was pulled under any card: its outcome could be seen from then on."""
    query = select(Pull.id).join(DynoSession, DynoSession.id == Pull.session_id)
    query = query.join(CardPair, CardPair.card_id == DynoSession.card_id)
    query = query.where(CardPair.application_id == application_id, Pull.label == CardPair.b, Pull.kind == "sweep")
    return bool(db.scalar(select(exists(query))))


def has_pulls(db: Session, card: TestCard | None) -> bool:
    """Whether pulls were taken under a card: it then stays as it was, and what is written next makes the next card."""
    if card is None:
        return False
    taken = select(Pull.id).join(DynoSession, DynoSession.id == Pull.session_id).where(DynoSession.card_id == card.id)
    return bool(db.scalar(select(exists(taken))))
