"""The programme of a shop: what can begin when, given what waits for what, and people and cells that cannot be in two places."""

from __future__ import annotations

import heapq
from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta, tzinfo

from longbreath.core.basis.errors import InputError

HORIZON = 730
"""Days ahead that are looked through for a free place."""


@dataclass(frozen=True)
class Hours:
    """When a person works or a cell is open: minutes after local midnight, and days of the week (1 Monday to 7)."""

    opens: int = 480
    closes: int = 1020
    days: str = "12345"

    @property
    def minutes(self) -> int:
        """Minutes of a day."""
        return self.closes - self.opens


@dataclass(frozen=True)
class Job:
    """A thing to be done: hours of work, what it waits for, a day before which it cannot begin, a booked beginning, and who and
    what it needs. An end is a publishing day."""

    id: int
    name: str
    hours: float = 0.0
    after: tuple[int, ...] = ()
    not_before: date | None = None
    slot: datetime | None = None
    needs: tuple[str, ...] = ()
    dossier: int | None = None
    is_end: bool = False
    due: date | None = None


NOW, DAY, SLOT, WAITS, BUSY = "now", "day", "slot", "waits", "busy"


@dataclass(frozen=True)
class Placed:
    """When a job begins and ends, and what decides that: today, its day, its slot, another job, or somebody who is busy with one.

    missed: its booked slot comes before what it waits for is ready; clash: its booked slot needs somebody who is booked elsewhere;
    trouble: why it cannot be placed at all, in a sentence (it then stands where it could first begin).
    """

    job: Job
    begins: datetime
    ends: datetime
    because: str
    of: int | None = None
    missed: bool = False
    clash: int | None = None
    trouble: str = ""

    @property
    def is_late(self) -> bool:
        """Whether it ends after its due day."""
        return self.job.due is not None and self.ends.date() > self.job.due


@dataclass
class _Calendar:
    """Hours, and what is booked: blocks in order that do not overlap, each with the job that ends it."""

    hours: Hours
    starts: list[datetime] = field(default_factory=list)
    ends: list[datetime] = field(default_factory=list)
    jobs: list[int] = field(default_factory=list)

    def conflict(self, begins: datetime, ends: datetime) -> int | None:
        """Place of the first block that overlaps a time."""
        k = bisect_right(self.ends, begins)
        return k if k < len(self.starts) and self.starts[k] < ends else None


class _Board:
    """Who and what is booked when."""

    def __init__(self, calendars: Mapping[str, Hours], zone: tzinfo) -> None:
        self.zone = zone
        self._by_name = {name: _Calendar(hours) for name, hours in calendars.items()}
        self._house = Hours()
        self._days: dict[tuple[date, tuple[Hours, ...]], tuple[datetime, datetime]] = {}

    def _of(self, needs: Sequence[str]) -> list[_Calendar]:
        return [self._by_name.setdefault(name, _Calendar(self._house)) for name in needs]

    def book(self, placed: Placed) -> None:
        """Book a job with everybody it needs; blocks with no working time between them become one."""
        if placed.ends <= placed.begins:
            return
        for calendar in self._of(placed.job.needs):
            k = bisect_right(calendar.ends, placed.begins)
            calendar.starts.insert(k, placed.begins)
            calendar.ends.insert(k, placed.ends)
            calendar.jobs.insert(k, placed.job.id)
            for at in (k + 1, k):
                if 0 < at < len(calendar.starts) and self._adjoin(calendar, at):
                    del calendar.starts[at], calendar.ends[at - 1], calendar.jobs[at - 1]

    def _adjoin(self, calendar: _Calendar, at: int) -> bool:
        return self._run(calendar.ends[at - 1], 0.01, [calendar])[0] >= calendar.starts[at]

    def clash(self, needs: Sequence[str], begins: datetime, ends: datetime) -> int | None:
        """A job that is booked in that time for one of these."""
        for calendar in self._of(needs):
            k = calendar.conflict(begins, ends)
            if k is not None:
                return calendar.jobs[k]
        return None

    def place(self, job: Job, earliest: datetime) -> tuple[datetime, datetime, int | None]:
        """The first working time from `earliest` on in which everybody is free, and the job that held it up, if one did.

        Work of more than a day goes on the next open day.
        """
        calendars = self._of(job.needs)
        held: int | None = None
        at = earliest
        while True:
            begins, ends = self._run(at, job.hours, calendars)
            met = [(c.ends[k], c.jobs[k]) for c in calendars if (k := c.conflict(begins, ends)) is not None]
            if not met:
                return begins, ends, held
            at, held = max(met)

    def _run(self, at: datetime, hours: float, calendars: Sequence[_Calendar]) -> tuple[datetime, datetime]:
        """Beginning and end of so many working hours from a moment on."""
        if hours <= 0.0:
            return at, at
        left, begins = timedelta(hours=hours), None
        day = at.astimezone(self.zone).date()
        for _ in range(HORIZON):
            start, end = self._open(day, calendars)
            start = max(start, at)
            if start < end:
                begins = begins or start
                if end - start >= left:
                    return begins, start + left
                left -= end - start
            day += timedelta(days=1)
        raise InputError("No day is found on which everybody and the cell it needs are open at one time.", "cell_id")

    def _open(self, day: date, calendars: Sequence[_Calendar]) -> tuple[datetime, datetime]:
        """Opening and closing of a local day for all of these, as moments; an empty span on a day that one of them has off."""
        spans = tuple(c.hours for c in calendars) or (self._house,)
        if (day, spans) not in self._days:
            self._days[day, spans] = self._opened(day, spans)
        return self._days[day, spans]

    def _opened(self, day: date, spans: Sequence[Hours]) -> tuple[datetime, datetime]:
        if any(str(day.isoweekday()) not in h.days for h in spans):
            return (midnight := _local(day, 0, self.zone)), midnight
        opens, closes = max(h.opens for h in spans), min(h.closes for h in spans)
        return _local(day, opens, self.zone), _local(day, max(closes, opens), self.zone)


def _local(day: date, minutes: int, zone: tzinfo) -> datetime:
    """A clock time of a local day as a moment (UTC): nine in the morning stays nine when the clocks change."""
    shift, rest = divmod(minutes, 1440)
    return datetime.combine(day + timedelta(days=shift), time(rest // 60, rest % 60), zone).astimezone(UTC)


def in_order(jobs: Sequence[Job]) -> list[Job]:
    """Jobs so that each comes after what it waits for; of those that are ready, the one with the earliest day first. Those that wait
    for one another in a ring come last.
    """
    by_id = {job.id: job for job in jobs}
    waits = {job.id: {n for n in job.after if n in by_id} for job in jobs}
    then: dict[int, list[int]] = {}
    for number, before in waits.items():
        for n in before:
            then.setdefault(n, []).append(number)
    never = date.max

    def key(job: Job) -> tuple[date, date, int]:
        return job.not_before or date.min, job.due or never, job.id

    ready = [(key(job), job.id) for job in jobs if not waits[job.id]]
    heapq.heapify(ready)
    found = []
    while ready:
        _, number = heapq.heappop(ready)
        found.append(by_id[number])
        for n in then.get(number, ()):
            waits[n].discard(number)
            if not waits[n]:
                heapq.heappush(ready, (key(by_id[n]), n))
    return [*found, *(by_id[n] for n, before in sorted(waits.items()) if before)]


def schedule(jobs: Sequence[Job], now: datetime, calendars: Mapping[str, Hours], zone: tzinfo) -> dict[int, Placed]:
    """The earliest time of each job by id. now: a moment with its zone; zone: of the house.

    What is booked keeps its slot unless what it waits for is not ready; the rest is placed in order, each in the first time in
    which everybody it needs is free. What cannot be placed (a cell that never opens, a ring) says so and stops nothing else.
    """
    board = _Board(calendars, zone)
    found: dict[int, Placed] = {}
    order, ids = in_order(jobs), {job.id for job in jobs}
    booked = [job for job in order if job.slot is not None]
    for job in sorted(booked, key=lambda j: (j.slot, j.id)):  # booked first: nobody else is placed over them
        begins, ends = _slot(job)
        if board.clash(job.needs, begins, ends) is None:
            board.book(Placed(job, begins, ends, SLOT))
    for job in order:
        try:
            placed = _place(job, found, board, now)
        except InputError as error:
            placed = Placed(job, now.astimezone(UTC), now.astimezone(UTC), NOW, trouble=error.message)
        if any(n in ids and n not in found for n in job.after):
            placed = replace(placed, trouble="It waits for something that waits for it.")
        found[job.id] = placed
        if job.slot is None or placed.missed:
            board.book(placed)
    return {n: replace(p, begins=p.begins.astimezone(zone), ends=p.ends.astimezone(zone)) for n, p in found.items()}


def _slot(job: Job) -> tuple[datetime, datetime]:
    assert job.slot is not None
    begins = job.slot.astimezone(UTC)
    return begins, begins + timedelta(hours=job.hours)


def _place(job: Job, found: Mapping[int, Placed], board: _Board, now: datetime) -> Placed:
    earliest, because, of = now.astimezone(UTC), NOW, None
    if job.not_before is not None:
        day = _local(job.not_before, 480, board.zone)
        if day > earliest:
            earliest, because = day, DAY
    for number in job.after:
        if number in found and found[number].ends > earliest:
            earliest, because, of = found[number].ends, WAITS, number
    if job.slot is not None:
        begins, ends = _slot(job)
        if begins >= earliest or because == NOW:
            other = board.clash(job.needs, begins, ends)
            return Placed(job, begins, ends, SLOT, clash=other if other != job.id else None)
    begins, ends, held = board.place(job, earliest)
    if held is not None:
        because, of = BUSY, held
    return Placed(job, begins, ends, because, of, missed=job.slot is not None)


def chain(placed: Mapping[int, Placed], end: int) -> tuple[Placed, ...]:
    """The jobs that decide when one ends, from the first to itself."""
    found, seen = [placed[end]], {end}
    while (of := found[-1].of) is not None and of in placed and of not in seen:
        found.append(placed[of])
        seen.add(of)
    return tuple(reversed(found))


@dataclass(frozen=True)
class Moved:
    """An end that moves: its job, its day now and its day then."""

    job: Job
    before: datetime
    after: datetime

    @property
    def days(self) -> int:
        """By how many days."""
        return (self.after.date() - self.before.date()).days


def moved_by(
    jobs: Sequence[Job], number: int, days: int, now: datetime, calendars: Mapping[str, Hours], zone: tzinfo
) -> tuple[Moved, ...]:
    """The ends that move when one job comes so many days later than it is placed now."""
    before = schedule(jobs, now, calendars, zone)
    if number not in before:
        return ()
    late = before[number].begins.astimezone(zone).date() + timedelta(days=days)
    slot = before[number].job.slot
    changed = [
        replace(job, not_before=late, slot=slot + timedelta(days=days) if slot is not None else None)
        if job.id == number
        else job
        for job in jobs
    ]
    after = schedule(changed, now, calendars, zone)
    ends = [job for job in jobs if job.is_end and after[job.id].ends.date() != before[job.id].ends.date()]
    return tuple(Moved(job, before[job.id].ends, after[job.id].ends) for job in ends)
