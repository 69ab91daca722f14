"""A person's calendar: booked slots and due days as iCalendar, and the private address under which it is read."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache

from icalendar import Alarm, Calendar, Event
from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from longbreath.store.models import AuditEntry, CalendarKey, Owed, User
from longbreath.store.unit_of_work import UnitOfWork

DOMAIN = "long-breath"
END = b"END:VCALENDAR"
BEFORE_SLOT, BEFORE_DAY = timedelta(hours=-2), timedelta(hours=-15)
"""An alarm comes two hours before a slot, and at nine of the day before a due day."""


def things_of(db: Session, person: User) -> list[Owed]:
    """What a person owes and has a day: open things with a slot or a due day, and what was closed within a month, as done."""
    recent = func.now() - timedelta(days=31)
    query = select(Owed).where(
        Owed.who_id == person.id,
        or_(Owed.slot.is_not(None), Owed.due_on.is_not(None)),
        or_(Owed.closed_at.is_(None), Owed.closed_at > recent),
    )
    return list(db.scalars(query.order_by(func.coalesce(Owed.slot, Owed.due_on), Owed.id)))


def changed_at(db: Session, things: Iterable[Owed]) -> dict[int, datetime]:
    """When each thing was changed last, by the log."""
    ids = [t.id for t in things]
    query = select(AuditEntry.entity_id, func.max(AuditEntry.at)).where(
        AuditEntry.entity == "owed", AuditEntry.entity_id.in_(ids)
    )
    return {number: at for number, at in db.execute(query.group_by(AuditEntry.entity_id))}


def as_calendar(things: Iterable[Owed], changed: dict[int, datetime], title: str) -> bytes:
    """Owed things as an iCalendar file (RFC 5545): a slot with its hours, a due day as a whole day, each under an identity that
    stays, with a number that rises with each change, and an alarm."""
    calendar = Calendar()
    calendar.add("prodid", "-//Long Breath//Programme//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", title)
    calendar.add("refresh-interval", timedelta(hours=1), parameters={"VALUE": "DURATION"})
    head, end = bytes(calendar.to_ical()).split(END)
    return b"".join((head, *(_event(_shown(t, changed.get(t.id, t.raised_at))) for t in things), END, end))


@dataclass(frozen=True)
class CalendarShown:
    """An owed thing as a calendar shows it: number, version, when it was changed, what, details, cell, slot with its hours, due day,
    whether it is closed."""

    number: int
    version: int
    at: datetime
    what: str
    told: str
    cell: str
    slot: datetime | None
    hours: float
    due_on: date | None
    closed: bool


def _shown(thing: Owed, at: datetime) -> CalendarShown:
    told = [thing.application.audit_title] if thing.application is not None else []
    told += [f"blocks: {thing.blocks}"] if thing.blocks else []
    cell, closed = thing.cell.name if thing.cell is not None else "", thing.closed_at is not None
    what = " ".join(thing.what.split())
    return CalendarShown(
        thing.id, thing.version, at, what, "\n".join(told), cell, thing.slot, thing.hours, thing.due_on, closed
    )


@lru_cache(8192)
def _event(thing: CalendarShown) -> bytes:
    """One event of the file, made once: most of a calendar is as it was when it was last asked for."""
    event = Event()
    event.add("uid", f"owed-{thing.number}@{DOMAIN}")
    event.add("sequence", thing.version - 1)
    event.add("dtstamp", thing.at.astimezone(UTC))
    event.add("last-modified", thing.at.astimezone(UTC))
    event.add("summary", thing.what)
    event.add("description", thing.told)
    if thing.cell:
        event.add("location", thing.cell)
    if thing.slot is not None:
        begins = thing.slot.astimezone(UTC)  # moments: what a program makes of a zone over a change of clocks differs
        event.add("dtstart", begins)
        event.add("dtend", begins + timedelta(hours=thing.hours))
    else:
        event.add("dtstart", thing.due_on)
        event.add("dtend", thing.due_on + timedelta(days=1) if thing.due_on else None)
    if thing.closed:
        event.add("status", "CANCELLED")
        return bytes(event.to_ical())
    event.add("status", "CONFIRMED" if thing.slot is not None else "TENTATIVE")
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", thing.what)
    alarm.add("trigger", BEFORE_SLOT if thing.slot is not None else BEFORE_DAY)
    event.add_component(alarm)
    return bytes(event.to_ical())


def give_key(work: UnitOfWork, person: User) -> str:
    """A new private address key of a person; the ones before are revoked. It is shown once: only its hash is kept."""
    revoke(work, person)
    key = secrets.token_urlsafe(24)
    row = CalendarKey(user_id=person.id, digest=hashlib.sha256(key.encode()).hexdigest())
    row.user = person
    work.add(row)
    work.flush()
    return key


def revoke(work: UnitOfWork, person: User) -> int:
    """Revoke a person's addresses; how many there were."""
    rows = list(
        work.scalars(select(CalendarKey).where(CalendarKey.user_id == person.id, CalendarKey.revoked_at.is_(None)))
    )
    for row in rows:
        row.revoked_at = work.clock()
    work.flush()
    return len(rows)


def person_of(db: Session, key: str) -> User | None:
    """Whose calendar a key opens; None for one that is unknown, revoked, or of somebody who left."""
    digest = hashlib.sha256(key.encode()).hexdigest()
    row = db.scalar(select(CalendarKey).where(CalendarKey.digest == digest, CalendarKey.revoked_at.is_(None)))
    return row.user if row is not None and row.user.is_active else None


def has_key(db: Session, person: User) -> bool:
    """Whether a person has an address."""
    query = select(CalendarKey.id).where(CalendarKey.user_id == person.id, CalendarKey.revoked_at.is_(None))
    return db.scalar(query.limit(1)) is not None
