"""The programme as a line of dates: what is owed, placed as early as people, cells and what it waits for allow."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from threading import Lock
from zoneinfo import ZoneInfo

from cachetools import LRUCache
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.plan import programme
from longbreath.core.plan.programme import Hours, Job, Moved, Placed
from longbreath.dossier.programme.register import COMES
from longbreath.store.models import AuditEntry, Cell, Owed, OwedLink


@dataclass(frozen=True)
class Programme:
    """Everything that is open, placed; with what it was placed by, so that it can be placed anew when something is late."""

    placed: Mapping[int, Placed]
    jobs: tuple[Job, ...]
    calendars: Mapping[str, Hours]
    now: datetime
    zone: ZoneInfo

    def of(self, dossier: int | None) -> list[Placed]:
        """What is placed for an application, in order of time."""
        own = [p for p in self.placed.values() if dossier is None or p.job.dossier == dossier]
        return sorted(own, key=lambda p: (p.begins, p.ends, p.job.id))

    @property
    def ends(self) -> list[Placed]:
        """The publishing days, the earliest first."""
        return sorted((p for p in self.placed.values() if p.job.is_end), key=lambda p: (p.ends, p.job.id))

    def chain(self, number: int) -> tuple[Placed, ...]:
        """What decides when a thing ends."""
        return programme.chain(self.placed, number)

    def moved_by(self, number: int, days: int) -> tuple[Moved, ...]:
        """The publishing days that move when a thing comes so many days later."""
        return programme.moved_by(self.jobs, number, days, self.now, self.calendars, self.zone)


def job_of(thing: Owed, after: tuple[int, ...]) -> Job:
    """An owed thing as a job: what is waited for comes on its day, the rest is done by somebody, somewhere."""
    needs = ((f"person {thing.who_id}",) if thing.who_id else ()) + (
        (f"cell {thing.cell_id}",) if thing.cell_id else ()
    )
    comes = thing.due_on if thing.kind in COMES else None
    days = [d for d in (thing.not_before, comes) if d is not None]
    return Job(
        thing.id,
        thing.what,
        thing.hours,
        after,
        max(days) if days else None,
        thing.slot,
        needs,
        thing.application_id,
        thing.kind == "publishing",
        thing.due_on,
    )


_kept: LRUCache[tuple[str, int, str, str], Programme] = LRUCache(8)
_lock = Lock()


def programme_of(db: Session, now: datetime, zone: ZoneInfo) -> Programme:
    """The programme from a moment on; kept while nothing that is owed changes within the same quarter of an hour."""
    hour = now.replace(minute=now.minute - now.minute % 15, second=0, microsecond=0)
    stamp = db.scalar(select(func.count()).where(AuditEntry.entity.in_(("owed", "cell")))) or 0
    links = db.scalar(select(func.count()).select_from(OwedLink)) or 0
    key = (str(db.get_bind().engine.url), stamp * 1_000_003 + links, hour.isoformat(), zone.key)
    with _lock:
        if key in _kept:
            return _kept[key]
    things = list(db.scalars(select(Owed).where(Owed.closed_at.is_(None))))
    after: dict[int, list[int]] = {}
    for before, number in db.execute(select(OwedLink.before_id, OwedLink.after_id)):
        after.setdefault(number, []).append(before)
    jobs = tuple(job_of(t, tuple(after.get(t.id, ()))) for t in things)
    calendars = {f"cell {c.id}": Hours(c.opens, c.closes, c.days) for c in db.scalars(select(Cell))}
    found = Programme(programme.schedule(jobs, hour, calendars, zone), jobs, calendars, hour, zone)
    with _lock:
        _kept[key] = found
    return found
