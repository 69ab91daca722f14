"""The register of owed things: written by hand or raised by the software, closed when the thing is there."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.dossier.commands import put
from longbreath.store.models import Application, Owed, OwedLink
from longbreath.store.unit_of_work import UnitOfWork

PAGE = 60
YEARS = (2000, 2100)
KIND_WORDS = {
    "measurement": "a measurement",
    "figure": "a figure to look up",
    "part": "a part",
    "sample": "a sample",
    "slot": "a slot",
    "tune": "a tune",
    "certificate": "a certificate",
    "person": "a person",
    "retest": "a retest",
    "bench": "a bench session",
    "swap": "a swap",
    "dyno": "a dyno day",
    "reason": "a reason",
    "weighing": "a weighing",
    "approval": "an approval",
    "publishing": "publishing",
    "other": "something else",
}
COMES = ("part", "sample", "slot", "tune", "certificate", "person")
"""Kinds that are waited for: their day is the day they come."""


@dataclass(frozen=True)
class OwedCard:
    """A thing owed: kind, what, who (a person here or somebody outside), days, hours of work, other cost, cell and slot, what
    waits."""

    kind: str
    what: str
    application_id: int | None = None
    who_id: int | None = None
    outside: str = ""
    due_on: date | None = None
    not_before: date | None = None
    hours: float = 0.0
    cost: float = 0.0
    cell_id: int | None = None
    slot: datetime | None = None
    blocks: str = ""


@dataclass(frozen=True)
class Sought:
    """Which owed things are asked for: of an application, a person, a kind; overdue ones alone; closed ones instead."""

    application_id: int | None = None
    who_id: int | None = None
    kind: str = ""
    overdue: bool = False
    closed: bool = False


def _chosen(sought: Sought, today: date) -> Select[Owed]:
    query = select(Owed).where(Owed.closed_at.is_not(None) if sought.closed else Owed.closed_at.is_(None))
    if sought.application_id is not None:
        query = query.where(Owed.application_id == sought.application_id)
    if sought.who_id is not None:
        query = query.where(Owed.who_id == sought.who_id)
    if sought.kind:
        query = query.where(Owed.kind == sought.kind)
    return query.where(Owed.due_on < today) if sought.overdue else query


def owed_page(db: Session, sought: Sought, today: date, page: int) -> tuple[list[Owed], int, int]:
    """A page of owed things, the earliest due first; how many pages, and how many things in all."""
    query = _chosen(sought, today)
    total = db.scalar(select(func.count()).select_from(query.subquery())) or 0
    pages = max(1, -(-total // PAGE))
    number = min(max(page, 1), pages)
    order = (Owed.closed_at.desc(),) if sought.closed else (Owed.due_on.asc().nulls_last(), Owed.id)
    rows = db.scalars(query.order_by(*order).offset((number - 1) * PAGE).limit(PAGE))
    return list(rows), pages, total


def share_of(db: Session, application_id: int, kinds: Sequence[str] = (), limit: int = 8) -> list[Owed]:
    """What is owed next for an application, the earliest due first; only of some kinds where they are named."""
    query = select(Owed).where(Owed.application_id == application_id, Owed.closed_at.is_(None))
    if kinds:
        query = query.where(Owed.kind.in_(kinds))
    return list(db.scalars(query.order_by(Owed.due_on.asc().nulls_last(), Owed.id).limit(limit)))


def due_soon(db: Session, limit: int = 6) -> list[Owed]:
    """What is due first over all applications."""
    query = select(Owed).where(Owed.closed_at.is_(None), Owed.due_on.is_not(None))
    return list(db.scalars(query.order_by(Owed.due_on, Owed.id).limit(limit)))


def save_owed(work: UnitOfWork, thing: Owed | None, card: OwedCard, waits_for: Iterable[int] | None = None) -> Owed:
    """Write an owed thing by hand, or change one; what the software raised keeps its kind and what it is.

    waits_for: numbers of the things it waits for; None leaves them. Raises InputError for words that are missing, a slot without
    hours, or things that wait for one another.
    """
    if not card.what.strip():
        raise InputError("Say what is owed.", "what")
    if card.slot is not None and card.hours <= 0.0:
        raise InputError("A booked slot has a length: say how many hours.", "hours")
    for name in ("due_on", "not_before", "slot"):
        day = getattr(card, name)
        if day is not None and not YEARS[0] <= day.year <= YEARS[1]:
            raise InputError(
                f"The year {day.year} is out of reach of a programme.", "slot_at" if name == "slot" else name
            )
    if card.application_id is not None and work.get(Application, card.application_id) is None:
        raise InputError("There is no such application.", "application_id")
    if thing is not None and thing.closed_at is not None:
        raise InputError("This was closed; open it again before changing it.", "what")
    saved = thing or Owed(raised_by_id=work.actor.id)
    kept = {"kind": saved.kind, "what": saved.what, "application_id": saved.application_id} if saved.raised_by else {}
    put(saved, card, **{"what": " ".join(card.what.split()), "blocks": " ".join(card.blocks.split()), **kept})
    work.add(saved)
    work.flush()
    if waits_for is not None:
        _link(work, saved, set(waits_for))
    return saved


def _link(work: UnitOfWork, thing: Owed, before: set[int]) -> None:
    rows = {row.before_id: row for row in work.scalars(select(OwedLink).where(OwedLink.after_id == thing.id))}
    for number in before - set(rows):
        if work.get(Owed, number) is None:
            raise InputError("There is no such thing to wait for.", "waits_for")
        if thing.id == number or number in all_after(work, thing.id):
            raise InputError("These would wait for each other.", "waits_for")
        work.add(OwedLink(before_id=number, after_id=thing.id))
    for number in set(rows) - before:
        work.delete(rows[number])
    work.flush()


def all_after(work: Session, number: int) -> set[int]:
    """Everything that waits for a thing, directly or not."""
    then: dict[int, list[int]] = {}
    for before, after in work.execute(select(OwedLink.before_id, OwedLink.after_id)).all():
        then.setdefault(before, []).append(after)
    found: set[int] = set()
    look = [number]
    while look:
        for after in then.get(look.pop(), ()):
            if after not in found:
                found.add(after)
                look.append(after)
    return found


def close(work: UnitOfWork, thing: Owed, words: str) -> None:
    """Close an owed thing by hand. Raises InputError without words, Conflict where it is closed."""
    if not words.strip():
        raise InputError("Say what closed it.", "closed_with")
    if thing.closed_at is not None:
        raise Conflict("Somebody closed it already.")
    thing.closed_at, thing.closed_by_id, thing.closed_with = work.clock(), work.actor.id, words.strip()
    work.flush()


def reopen(work: UnitOfWork, thing: Owed) -> None:
    """Open a closed thing again."""
    thing.closed_at, thing.closed_by_id, thing.closed_with = None, None, ""
    work.flush()


def waits_for(db: Session, thing: Owed) -> list[Owed]:
    """What a thing waits for."""
    query = select(Owed).join(OwedLink, OwedLink.before_id == Owed.id).where(OwedLink.after_id == thing.id)
    return list(db.scalars(query.order_by(Owed.id)))


def choices_for(db: Session, thing: Owed | None, application_id: int | None) -> list[Owed]:
    """What a thing could wait for: what is open in the same application or in the house."""
    query = select(Owed).where(
        Owed.closed_at.is_(None), Owed.application_id.in_((application_id,)) | Owed.application_id.is_(None)
    )
    if thing is not None:
        query = query.where(Owed.id != thing.id)
    return list(db.scalars(query.order_by(Owed.id.desc()).limit(120)))
