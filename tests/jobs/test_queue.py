"""Background work on a database of its own: done once, told, stopped, taken up after a killed worker; short never waits for long."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

import pytest
from sqlalchemy import select, text

from longbreath.dossier import work as background
from longbreath.dossier.plan.forecast import inputs_of
from longbreath.dossier.programme import raised
from longbreath.jobs import tasks
from longbreath.jobs.queue import work_off
from longbreath.store.database import Database
from longbreath.store.models import Application, Owed, TestCard, WorkTask
from longbreath.store.unit_of_work import UnitOfWork, working
from tests.conftest import shop_on
from tests.databases import ready
from tests.made import dyno_day

PATIENCE = 60.0


@pytest.fixture(scope="module")
def place(database_url: str) -> Iterator[SimpleNamespace]:
    url = ready(database_url, f"longbreath_queue_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}")
    database = Database(url)
    shop = shop_on(database)
    with working(database.session, shop.people["tester"]) as work:
        application = work.get_one(Application, shop.application.id)
        work.act_as(shop.people["tester"], application.id)
        dyno_day.predicted(work, application, "a little more in the middle")
    yield SimpleNamespace(url=url, sessions=database.session, shop=shop)
    database.engine.dispose()


def asked(place: SimpleNamespace, **more: object) -> int:
    """A simulation asked for, with something in it that makes it another one."""
    with working(place.sessions, place.shop.people["tester"]) as work:
        application = work.get_one(Application, place.shop.application.id)
        card = work.scalars(select(TestCard)).first()
        assert card is not None
        inputs = {**inputs_of(work, application, card, datetime.now(UTC).date()), **more}
        return background.ask(work, "card_forecast", inputs, "a simulation", application.id).id


def seen(place: SimpleNamespace, number: int) -> WorkTask:
    with place.sessions() as work:
        return work.get_one(WorkTask, number)


def wait_for(place: SimpleNamespace, number: int, *states: str) -> WorkTask:
    until = time.monotonic() + PATIENCE
    while time.monotonic() < until:
        task = seen(place, number)
        if task.state in states:
            return task
        time.sleep(0.1)
    raise AssertionError(f"task {number} is still {task.state}, {task.told}")


def worker(place: SimpleNamespace, queue: str) -> subprocess.Popen[bytes]:
    told = {**os.environ, "LONGBREATH_DATABASE_URL": place.url}
    return subprocess.Popen([sys.executable, "-m", "longbreath.cli.main", "worker", "--queue", queue], env=told)


def test_work_is_done_once_and_kept_by_what_went_in(place: SimpleNamespace) -> None:
    number = asked(place, draws=60)
    assert asked(place, draws=60) == number
    work_off(place.url, ["short", "long"], wait=False)
    task = seen(place, number)
    assert task.state == "done", task.told
    assert task.tries == 1
    assert task.result is not None
    name, bands = task.result["designs"][0]
    assert (name, bands[0][0]) == ("the card as it stands", "low")
    assert sum(share for _, share in bands[0][1]) == pytest.approx(1.0)
    assert asked(place, draws=60) == number
    work_off(place.url, ["long"], wait=False)
    assert seen(place, number).begun_at == task.begun_at, "nothing runs twice"


def test_rolled_back_work_is_never_begun(place: SimpleNamespace) -> None:
    with place.sessions() as work:
        work.act_as(place.shop.people["tester"])
        background.ask(work, "card_forecast", {"never": 1}, "never")
        work.rollback()
        assert work.scalar(text("select count(*) from jobs.procrastinate_jobs where status = 'todo'")) == 0


def test_a_failure_is_told_and_may_be_asked_for_again(place: SimpleNamespace) -> None:
    number = asked(place, designs=[["impossible", ["A", "B"]]])
    work_off(place.url, ["long"], wait=False)
    task = seen(place, number)
    assert task.state == "failed"
    assert "At least two pulls" in task.told
    assert asked(place, designs=[["impossible", ["A", "B"]]]) == number
    assert seen(place, number).state == "waiting"
    work_off(place.url, ["long"], wait=False)


@pytest.mark.slow
def test_it_stops_when_somebody_asks(place: SimpleNamespace) -> None:
    number = asked(place, draws=400_000)
    process = worker(place, "long")
    try:
        running = wait_for(place, number, "running")
        until = time.monotonic() + PATIENCE
        while running.share == 0.0 and time.monotonic() < until:
            running = seen(place, number)
        assert running.told == "the card as it stands"
        with working(place.sessions, place.shop.people["tester"]) as work:
            background.cancel(work, work.get_one(WorkTask, number))
        assert wait_for(place, number, "cancelled").told == "stopped on request"
    finally:
        process.kill()
        process.wait()


@pytest.mark.slow
def test_short_work_does_not_wait_behind_long_and_a_killed_worker_loses_nothing(place: SimpleNamespace) -> None:
    number = asked(place, draws=300_000)
    long, short = worker(place, "long"), worker(place, "short")
    again = None
    try:
        wait_for(place, number, "running")
        with working(place.sessions, place.shop.people["tester"]) as work:
            background.settle_soon(work, place.shop.application.id)
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until and not _raised(place):
            time.sleep(0.1)
        assert _raised(place) > 3
        assert seen(place, number).state == "running", "the long work goes on meanwhile"
        long.send_signal(signal.SIGKILL)
        long.wait()
        with working(place.sessions, None) as work:  # as if it had been quiet for a minute
            work.execute(text("update jobs.procrastinate_workers set last_heartbeat = now() - interval '2 minutes'"))
            work.execute(
                text("update work_task set inputs = jsonb_set(inputs, '{draws}', '40') where id = :n"), {"n": number}
            )
            work.execute(
                text(
                    "select jobs.procrastinate_defer_periodic_job_v2('short', null, 'take-up-now', 'longbreath.take_up', "
                    "0, '', 1, '{\"timestamp\": 1}')"
                )
            )
        again = worker(place, "long")
        task = wait_for(place, number, "done")
        assert task.tries == 2
    finally:
        for process in filter(None, (long, short, again)):
            process.kill()
            process.wait()


def _raised(place: SimpleNamespace) -> int:
    with place.sessions() as work:
        return len(list(work.scalars(select(Owed.id).where(Owed.application_id == place.shop.application.id))))


def test_two_look_through_one_application_at_once(place: SimpleNamespace) -> None:
    """Both raise what is owed; the second waits for the first and finds it raised."""
    errors: list[BaseException] = []

    def look() -> None:
        try:
            tasks.settle(place.sessions, place.shop.application.id)
        except BaseException as error:
            errors.append(error)

    threads = [threading.Thread(target=look) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert errors == []
    with place.sessions() as work:
        marks = list(work.scalars(select(Owed.raised_by).where(Owed.raised_by != "")))
        assert len(marks) == len(set(marks))
        assert isinstance(work, UnitOfWork)
        raised.house_owed(work, (datetime.now(UTC) + timedelta(days=1)).date())
