"""A day of a card: its timetable, what to leave out first, and what card and application cost."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.plan.designs import PullSet, change_minutes
from longbreath.core.plan.timetable import DayLine, LeftOut, leave_out, length, timetable
from longbreath.dossier.plan.promise import level_of, provable
from longbreath.dossier.records.cards import factors_of, sets_of, times_of
from longbreath.dossier.records.scatter import scatter_of
from longbreath.store.models import Application, Owed, Product, Revision, TestCard, User


@dataclass(frozen=True)
class Day:
    """The lines of a dyno day with the clock time each begins at; minutes over the cell's closing time; what to leave out first."""

    lines: tuple[tuple[str, DayLine], ...]
    ends: str
    minutes: float
    over: float
    choices: tuple[LeftOut, ...]


def changes_of(card: TestCard) -> Callable[[str, str], float]:
    """Minutes of a change between two letters of a card."""
    cells = {v.letter: tuple(v.levels) for v in card.variants if v.levels}
    return change_minutes(factors_of(card), cells, times_of(card).swap)


def lines_of(card: TestCard, sets: Sequence[PullSet] | None = None) -> tuple[DayLine, ...]:
    """The lines of a card's day."""
    return timetable(sets or sets_of(card), times_of(card), changes_of(card))


def hours_of(card: TestCard) -> float:
    """Hours that the whole card takes."""
    return length(lines_of(card)) / 60.0


def day_of(db: Session, application: Application, card: TestCard, day: date, begins: int | None = None) -> Day:
    """The day of a card, from the cell's opening (or `begins`, minutes after midnight) on."""
    cell = card.dyno.cell
    opens = begins if begins is not None else cell.opens if cell is not None else 480
    closes = cell.closes if cell is not None else 1020
    lines = lines_of(card)
    clock = [(_clock(opens + line.begins), line) for line in lines]
    minutes = length(lines)
    scatter, level, pair = scatter_of(db, card.dyno, day), level_of(application), card.planned_pair(application.id)

    def promise(sets: Sequence[PullSet]) -> float | None:
        figure = provable(scatter, sets, level, pair)
        returned = len({k for k, s in enumerate(sets) if s.letter in pair}) >= 3
        return figure.value if figure is not None and returned else None

    choices = leave_out(sets_of(card), lambda sets: length(lines_of(card, sets)), promise)
    return Day(tuple(clock), _clock(opens + minutes), minutes, max(opens + minutes - closes, 0.0), choices)


def _clock(minutes: float) -> str:
    days, rest = divmod(round(minutes), 1440)
    at = (datetime.combine(date.min, time()) + timedelta(minutes=rest)).strftime("%H:%M")
    return f"{at} (+{days} d)" if days else at


@dataclass(frozen=True)
class Cost:
    """One line of what a test costs: what, the sum [money of the house], and how it comes about."""

    what: str
    amount: float
    how: str


def costs_of(db: Session, application: Application, card: TestCard | None) -> tuple[Cost, ...]:
    """What the open card and everything owed for an application cost: cell hours, hours of work, parts and others."""
    found = []
    if card is not None:
        hours, cell = hours_of(card), card.dyno.cell
        rate = cell.rate if cell is not None else 0.0
        where = cell.name if cell is not None else "no cell is named for this dyno"
        found.append(Cost("cell", hours * rate, f"{hours:.1f} h in {where} at {rate:.0f} an hour"))
    query = select(Owed, User).outerjoin(User, User.id == Owed.who_id).where(Owed.application_id == application.id)
    work = others = hours_done = 0.0
    for thing, person in db.execute(query.where(Owed.closed_at.is_(None))):
        work += thing.hours * (person.rate if person is not None else 0.0)
        hours_done += thing.hours
        others += thing.cost
    found.append(Cost("work", work, f"{hours_done:.1f} h that are owed, at the rate of who owes them"))
    found.append(Cost("other", others, "what is written beside owed things"))
    parts = _parts(db, card)
    found.append(
        Cost(
            "parts",
            sum(price for _, price in parts),
            "; ".join(f"{n} {p:.0f}" for n, p in parts) or "none with a price",
        )
    )
    return tuple(found)


def _parts(db: Session, card: TestCard | None) -> list[tuple[str, float]]:
    """The parts on a card that have a price, each once."""
    if card is None:
        return []
    ids = {p.revision_id for v in card.variants for p in v.variant.parts}
    rows = db.execute(
        select(Product.name, Product.price).join(Revision).where(Revision.id.in_(ids), Product.price.is_not(None))
    )
    return [(name, float(price or 0.0)) for name, price in rows.unique()]
