"""The days on which the demo's story was told: what is written then carries that day, not the day it is loaded."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from itertools import count

from longbreath.store.unit_of_work import UnitOfWork


def work_day(work: UnitOfWork, day: date, hour: int = 9) -> None:
    """From now on it is that day: each row is written half a minute after the one before."""
    begin, turn = datetime(day.year, day.month, day.day, hour, tzinfo=UTC), count()
    work.clock = lambda: begin + timedelta(seconds=30 * next(turn))
