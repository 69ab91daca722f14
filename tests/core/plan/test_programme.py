"""What can begin when: what waits for what, people and cells that cannot be in two places, clocks that change."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.plan.programme import BUSY, DAY, SLOT, WAITS, Hours, Job, chain, in_order, moved_by, schedule

ZONE = ZoneInfo("Europe/London")
NOW = datetime(2026, 3, 23, 9, tzinfo=ZONE)  # a Monday


def test_the_chain_is_what_decides_the_day() -> None:
    jobs = [
        Job(1, "gasket", not_before=date(2026, 3, 27)),
        Job(2, "measure", 3.0, needs=("mara",)),
        Job(3, "dyno day", 6.0, (1, 2), needs=("cell", "mara")),
        Job(4, "publish", 0.0, (3,), is_end=True),
    ]
    placed = schedule(jobs, NOW, {}, ZONE)
    assert [p.job.name for p in chain(placed, 4)] == ["gasket", "dyno day", "publish"]
    assert placed[1].because == DAY
    assert placed[3].because == WAITS
    assert placed[3].of == 1
    assert placed[4].ends == datetime(2026, 3, 27, 14, tzinfo=ZONE)
    moved = moved_by(jobs, 1, 3, NOW, {}, ZONE)
    assert [(m.job.id, m.days) for m in moved] == [(4, 3)]
    assert moved_by(jobs, 2, 2, NOW, {}, ZONE) == (), "it has days to spare"


def test_nobody_is_in_two_places() -> None:
    jobs = [Job(1, "a", 6.0, needs=("cell",)), Job(2, "b", 6.0, needs=("cell",))]
    placed = schedule(jobs, NOW, {"cell": Hours(480, 1020, "1245")}, ZONE)
    assert placed[2].because == BUSY
    assert placed[2].of == 1
    assert placed[2].begins == datetime(2026, 3, 23, 15, tzinfo=ZONE)
    assert placed[2].ends == datetime(2026, 3, 24, 12, tzinfo=ZONE), "the rest goes on the next open day"


def test_a_booked_slot_is_kept_unless_what_it_waits_for_is_late() -> None:
    slot = datetime(2026, 3, 26, 9, tzinfo=ZONE)
    part = Job(1, "part", not_before=date(2026, 3, 25))
    booked = Job(2, "dyno", 4.0, (1,), slot=slot, needs=("cell",))
    other = Job(3, "other", 30.0, needs=("cell",))
    placed = schedule([part, booked, other], NOW, {}, ZONE)
    assert placed[2].because == SLOT
    assert placed[2].begins == slot
    assert not placed[2].missed
    assert not (placed[3].begins < placed[2].ends and placed[3].ends > placed[2].begins)
    late = schedule([Job(1, "part", not_before=date(2026, 3, 30)), booked], NOW, {}, ZONE)
    assert late[2].missed
    assert late[2].begins.date() == date(2026, 3, 30)
    twice = schedule([booked, Job(4, "double", 2.0, slot=slot + timedelta(hours=1), needs=("cell",))], NOW, {}, ZONE)
    assert twice[4].clash == 2


def test_what_ends_after_its_due_day_is_late() -> None:
    monday = NOW.date()
    jobs = [Job(1, "in time", 6.0, due=monday), Job(2, "too long", 20.0, due=monday), Job(3, "any day", 20.0)]
    placed = schedule(jobs, NOW, {}, ZONE)
    assert [placed[n].is_late for n in (1, 2, 3)] == [False, True, False]


def test_of_what_is_ready_the_earliest_due_day_comes_first_and_what_is_due_no_day_last() -> None:
    jobs = [Job(1, "any day"), Job(2, "later", due=date(2026, 4, 2)), Job(3, "sooner", due=date(2026, 3, 30))]
    assert [job.id for job in in_order(jobs)] == [3, 2, 1]


def test_the_clock_on_the_wall_stays_when_the_clocks_change() -> None:
    before = Job(1, "Friday", 9.0)
    after = Job(2, "Monday", 2.0, (1,))
    placed = schedule([before, after], datetime(2026, 3, 27, 8, tzinfo=ZONE), {}, ZONE)
    assert placed[2].begins.isoformat() == "2026-03-30T08:00:00+01:00"
    autumn = schedule([Job(1, "x", 12.0)], datetime(2026, 10, 23, 8, tzinfo=ZONE), {}, ZONE)
    assert autumn[1].ends.isoformat() == "2026-10-26T11:00:00+00:00", "nine hours on Friday and three on Monday"
    night = Hours(0, 1440, "1234567")
    through = schedule(
        [Job(1, "soak", 24.0, needs=("rig",))], datetime(2026, 3, 29, 0, tzinfo=ZONE), {"rig": night}, ZONE
    )
    assert through[1].ends.isoformat() == "2026-03-30T01:00:00+01:00", "that day has 23 hours"


def test_what_cannot_be_placed_says_so_and_stops_nothing_else() -> None:
    ring = [Job(1, "a", 1.0, (2,)), Job(2, "b", 1.0, (1,))]
    never = [Job(3, "shut", 2.0, needs=("cellar",)), Job(4, "evening", 2.0, needs=("late", "early"))]
    hours = {"cellar": Hours(480, 1020, ""), "late": Hours(1080, 1320), "early": Hours(360, 720)}
    placed = schedule([*ring, *never, Job(5, "fine", 1.0, (4,))], NOW, hours, ZONE)
    assert [n for n, p in placed.items() if p.trouble] == [3, 4, 1]
    assert "waits for it" in placed[1].trouble
    assert "No day is found" in placed[3].trouble
    assert placed[5].ends == NOW + timedelta(hours=1)
    assert [job.id for job in in_order(ring)] == [1, 2]


@given(st.lists(st.tuples(st.floats(0.0, 20.0), st.integers(0, 3), st.integers(0, 6)), min_size=1, max_size=25))
def test_whatever_is_owed_nothing_overlaps_and_nothing_begins_early(rows: list[tuple[float, int, int]]) -> None:
    jobs = [
        Job(k, str(k), hours, tuple(n for n in (k - back,) if back and n >= 0), needs=(f"p{person}",))
        for k, (hours, person, back) in enumerate(rows)
    ]
    placed = schedule(jobs, NOW, {}, ZONE)
    for job in jobs:
        assert all(placed[n].ends <= placed[job.id].begins for n in job.after)
        assert placed[job.id].begins >= NOW
    for a in placed.values():
        for b in placed.values():
            if a.job.id < b.job.id and a.job.needs == b.job.needs and a.job.hours and b.job.hours:
                assert a.ends <= b.begins or b.ends <= a.begins
