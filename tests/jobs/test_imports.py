"""Large logs: read and recorded by a worker, with progress and a stop; taken up after a killed worker; nothing half kept."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from types import SimpleNamespace

import numpy as np
import pytest
from sqlalchemy import func, select

from longbreath.devices.made_engine import day_log
from longbreath.dossier import work as background
from longbreath.dossier.pull import logs, recording, verbs, waiting
from longbreath.jobs import tasks
from longbreath.jobs.queue import work_off
from longbreath.store.database import Database
from longbreath.store.models import Application, Channel, DynoSession, LogRead, Pull, RawFile, TestCard, WorkTask
from longbreath.store.unit_of_work import working
from tests import factories
from tests.conftest import shop_on
from tests.core.compare.made import BREATHING
from tests.databases import ready
from tests.made.habits import FULL, as_text

PATIENCE = 60.0


@pytest.fixture
def place(database_url: str) -> Iterator[SimpleNamespace]:
    url = ready(database_url, f"longbreath_imports_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}")
    database = Database(url)
    shop = shop_on(database)
    yield SimpleNamespace(url=url, sessions=database.session, shop=shop)
    database.engine.dispose()


def large_day() -> bytes:
    """Three pulls in a log of some 6 MB, the rest of it idle."""
    made = day_log(BREATHING, [3, 4, 5])
    idle = {name: np.full(60_000, values[0]) for name, values in made.items()}
    whole = {name: np.concatenate([values, idle[name]]) for name, values in made.items()}
    whole["time"] = np.arange(whole["rpm"].size) / BREATHING.rate
    return as_text(whole, FULL)


def received(place: SimpleNamespace, data: bytes) -> tuple[int, int]:
    """Numbers of the session and the task that reads the file."""
    with working(place.sessions, place.shop.people["tester"]) as work:
        application = work.get_one(Application, place.shop.application.id)
        work.act_as(place.shop.people["tester"], application.id)
        card = work.scalars(select(TestCard)).first()
        assert card is not None
        session = verbs.open_session(work, application, card, factories.VISIT)
        file = verbs.receive(work, session, "day.csv", data)
        task = logs.task_of(work, file)
        assert task is not None
        return session.id, task.id


def state_of(place: SimpleNamespace, number: int) -> WorkTask:
    with place.sessions() as work:
        return work.get_one(WorkTask, number)


def count(place: SimpleNamespace, model: type[Pull] | type[Channel] | type[LogRead]) -> int:
    with place.sessions() as work:
        return work.scalar(select(func.count(model.id))) or 0


@pytest.mark.slow
def test_a_large_log_is_read_and_its_pulls_recorded_by_a_worker(place: SimpleNamespace) -> None:
    session_id, number = received(place, large_day())
    assert state_of(place, number).state == "waiting"
    work_off(place.url, [background.SHORT], wait=False)
    assert state_of(place, number).state == "done"
    assert state_of(place, number).result["rows"] > 60_000
    with working(place.sessions, place.shop.people["tester"]) as work:
        session = work.get_one(DynoSession, session_id)
        application = work.get_one(Application, session.application_id)
        found = waiting.what_waits(work, application, session, {})
        assert [p.stretch.kind for p in found.pulls].count("sweep") == 3
        assert recording.is_long(found)
        task = recording.ask(work, session, {})
        assert recording.open_task(work, session) == task
    work_off(place.url, [background.SHORT], wait=False)
    assert state_of(place, task.id).state == "done", state_of(place, task.id).told
    with place.sessions() as work:
        pulls = work.scalars(select(Pull).order_by(Pull.sequence)).all()
        assert [(p.label, p.is_valid) for p in pulls] == [("A", True)] * 3
        assert pulls[0].readings[0].made_by_id == place.shop.people["tester"].id
        rows = work.scalars(select(Channel.values).where(Channel.name == "speed")).all()
        assert all(len(values) > 200 for values in rows)  # every row, not the thinned ones
    assert count(place, Pull) == 3


def test_a_large_file_that_is_no_log_says_why(place: SimpleNamespace) -> None:
    session_id, number = received(place, b"no table here, only words\n" * 150_000)
    work_off(place.url, [background.SHORT], wait=False)
    assert state_of(place, number).state == "done"
    with working(place.sessions, place.shop.people["tester"]) as work:
        session = work.get_one(DynoSession, session_id)
        found = waiting.what_waits(work, work.get_one(Application, session.application_id), session, {})
        assert [why for _, why in found.refused] == ["day.csv has no rows of numbers under a header."]


def test_reading_is_stopped_on_request_and_asked_for_again(place: SimpleNamespace) -> None:
    session_id, number = received(place, large_day())
    with working(place.sessions, place.shop.people["tester"]) as work:
        background.cancel(work, work.get_one(WorkTask, number))
    work_off(place.url, [background.SHORT], wait=False)
    assert state_of(place, number).state == "cancelled"
    assert count(place, LogRead) == 0
    with working(place.sessions, place.shop.people["tester"]) as work:
        session = work.get_one(DynoSession, session_id)
        waiting.what_waits(work, work.get_one(Application, session.application_id), session, {})
    work_off(place.url, [background.SHORT], wait=False)
    assert state_of(place, number).state == "done"


@pytest.mark.slow
def test_a_worker_killed_in_the_middle_of_an_import_leaves_nothing_half_done(place: SimpleNamespace) -> None:
    session_id, _number = received(place, large_day())
    work_off(place.url, [background.SHORT], wait=False)
    with working(place.sessions, place.shop.people["tester"]) as work:
        task = recording.ask(work, work.get_one(DynoSession, session_id), {})
    slow = (
        "import time, sys\n"
        "from longbreath.dossier.pull import verbs\n"
        "kept = verbs.record\n"
        "def record(*a):\n"
        "    kept(*a); print('one', flush=True); time.sleep(60)\n"
        "verbs.record = record\n"
        "from longbreath.jobs.queue import work_off\n"
        "work_off(sys.argv[1], ['short'], wait=False)\n"
    )
    worker = subprocess.Popen([sys.executable, "-c", slow, place.url], stdout=subprocess.PIPE, start_new_session=True)
    assert worker.stdout is not None
    assert worker.stdout.readline() == b"one\n"
    os.killpg(worker.pid, signal.SIGKILL)
    worker.wait(PATIENCE)
    assert count(place, Pull) == 0
    assert state_of(place, task.id).state == "running"
    tasks.run(place.sessions, task.id)  # as the worker does that takes it up
    assert state_of(place, task.id).state == "done", state_of(place, task.id).told
    assert count(place, Pull) == 3
    tasks.run(place.sessions, task.id)
    assert count(place, Pull) == 3


def test_a_recording_that_no_longer_fits_what_waits_is_refused(place: SimpleNamespace) -> None:
    session_id, _ = received(place, large_day())
    work_off(place.url, [background.SHORT], wait=False)
    with working(place.sessions, place.shop.people["tester"]) as work:
        session = work.get_one(DynoSession, session_id)
        task = recording.ask(work, session, {})
        verbs.receive(work, session, "more.csv", as_text(day_log(BREATHING, [9]), FULL))
    tasks.run(place.sessions, task.id)
    assert state_of(place, task.id).state == "failed"
    assert "map them again" in state_of(place, task.id).told
    assert count(place, Pull) == 0


def test_files_are_kept_with_the_hash_of_what_was_sent(place: SimpleNamespace) -> None:
    started = time.monotonic()
    received(place, large_day())
    with place.sessions() as work:
        file = work.scalars(select(RawFile)).one()
        assert file.size > 4_000_000
        assert file.blob.sha256 == file.sha256
    assert time.monotonic() - started < PATIENCE
