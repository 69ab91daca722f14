"""A dyno day live: pulls found, recorded and judged while the instruments speak; faults, killed gateways, pulled cables."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Iterator

import numpy as np
import pytest
from sqlalchemy import create_engine, select, text
from sqlalchemy.engine import make_url

from longbreath.core.basis.errors import Conflict, EvidenceError
from longbreath.devices import standin_cell
from longbreath.devices.cell_line import read_cell_line, write_cell_line
from longbreath.devices.made_torque import wave_torque
from longbreath.devices.standin_cell import Instrument
from longbreath.dossier.pull import cell
from longbreath.dossier.pull.verbs import open_session
from longbreath.dossier.records.sessions import verdict_of
from longbreath.jobs.cell_watch import CellWatch
from longbreath.store.database import Database
from longbreath.store.models import Application, CellBlock, DynoSession, InstrumentLine
from longbreath.store.models.cell import JUDGING, PULLING
from tests import factories
from tests.conftest import shop_on
from tests.databases import ready
from tests.jobs.cell_tools import Place, gateway, gateway_process, lay


@pytest.fixture
def place(database_url: str) -> Iterator[Place]:
    url = ready(database_url, f"longbreath_cell_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}")
    database = Database(url)
    found = lay(url, database, shop_on(database), owner_url=database_url)
    yield found
    found.clear()
    database.engine.dispose()


@pytest.mark.slow
def test_a_set_is_pulled_live_with_one_key(place: Place) -> None:
    place.begin()
    with gateway(place.database):
        place.alive()
        assert place.press() == "fit"
        for number in (1, 2, 3):
            assert place.press() == "arm"
            pull = place.pulled()
            assert (pull.sequence, pull.label, pull.is_valid) == (number, "A", True)
        assert place.next_key() == "fit"  # the next set is of B
    told = pull.read.told
    assert told["operator"] == place.person.name
    assert told["weather"]["pressure"] == pytest.approx(100_600.0)
    assert abs(pull.read.lag or 9.9) < 0.05
    assert pull.read.logger_file is not None


def test_what_is_not_armed_is_not_recorded(place: Place) -> None:
    place.begin()
    with gateway(place.database):
        place.alive()
        assert place.simulated.take("pull") == "pulled"

        def told() -> bool:
            with place.work() as work:
                return "not armed" in place.run(work).words

        place.until(told)
        assert place.pulls() == []


def test_a_press_that_comes_late_or_twice_does_nothing(place: Place) -> None:
    place.begin()
    with place.work() as work:
        mark = cell.doing(work, place.run(work), cell.Heard({})).mark
    assert place.press() == "fit"
    with pytest.raises(Conflict, match="moved on"), place.work() as work:
        cell.press(work, place.run(work), mark, cell.Heard({}))
    assert place.next_key() == "arm"
    waiting = cell.Heard({"coolant": 320.0})
    with place.work() as work:
        session = place.run(work).session
        session.card.window = {"coolant": [355.0, 368.0]}
        assert cell.doing(work, place.run(work), waiting).key == "wait"
        with pytest.raises(EvidenceError, match="47"):
            cell.press(work, place.run(work), cell.doing(work, place.run(work), waiting).mark, waiting)
        assert (
            cell.press(work, place.run(work), cell.doing(work, place.run(work), waiting).mark, waiting, anyway=True).key
            == "wait"
        )
        assert place.run(work).armed_place == 1


SEEN = {
    "slip": "ratio",
    "frozen": "frozen",
    "short": "coverage",
    "creep": "creep",
    "boost cut": "boost_cut",
    "gear": "gear",
    "converter": "ratio",
    "sensor at its ceiling": "ceiling",
    "lean": "lean",
    "contradiction": "identity",
}
"""Faults that show in one pull, and the check that names each first."""
SLOW = [pytest.param(fault, marks=pytest.mark.slow) for fault in list(SEEN)[:3]]
LONG = [pytest.param(fault, marks=pytest.mark.long) for fault in list(SEEN)[3:]]
BOOSTED = ("creep", "boost cut", "sensor at its ceiling")


@pytest.mark.parametrize("fault", [*SLOW, *LONG])
def test_each_fault_is_caught_live(place: Place, fault: str) -> None:
    place.simulated.bed, place.simulated.setting = ("turbo", 1) if fault in BOOSTED else ("heron", 0)
    with place.work() as work:
        session = work.get_one(DynoSession, place.session_id)
        session.card.mixture_target = 0.82 if fault in BOOSTED else 0.88
        session.card.limits = {"lean": 0.97}
    place.begin()
    with gateway(place.database):
        place.alive()
        place.arm()
        assert place.pulled().is_valid
        place.arm()
        pull = place.pulled(fault)
    first = verdict_of(pull).first
    assert not pull.is_valid
    assert first is not None
    assert first.key == SEEN[fault]


@pytest.mark.long
@pytest.mark.parametrize(("fault", "key"), [("fading coil", "fading"), ("heat soak", "start")])
def test_faults_that_grow_from_pull_to_pull_are_caught_live(place: Place, fault: str, key: str) -> None:
    with place.work() as work:
        work.get_one(DynoSession, place.session_id).card.window = {"coolant": [358.15, 365.15]}
    place.begin()
    with gateway(place.database):
        place.alive()
        place.arm()
        assert place.pulled().is_valid
        place.simulated.take(f"fault {fault}")
        for _ in range(4):
            place.arm()
            before = len(place.pulls())
            place.until(lambda: not place.simulated.pulling)
            place.simulated.take("pull")
            place.until(lambda before=before: len(place.pulls()) > before)
            first = verdict_of(max(place.pulls(), key=lambda p: p.id)).first
            if first is not None:
                break
    assert first is not None
    assert first.key == key


@pytest.mark.long
def test_a_clock_that_runs_off_is_told(place: Place) -> None:
    place.begin()
    place.simulated.pace = 2.0
    place.simulated.take("fault clock")
    with gateway(place.database):
        place.alive()
        time.sleep(16.0)
        place.press()
        place.press()
        before = len(place.pulls())
        assert place.simulated.take("pull") == "pulled"
        place.until(lambda: len(place.pulls()) > before)
    (pull,) = place.pulls()
    clocks = pull.read.told["clocks"]  # the stand-in runs twice as fast as time: the logger is seen against its dyno
    assert clocks["logger"] == pytest.approx(0.03, abs=0.004)
    assert clocks["dyno"] == 0.0
    first = verdict_of(pull).first
    assert first is not None
    assert first.key == "clocks"


@pytest.mark.slow
def test_a_gateway_killed_in_a_pull_loses_nothing_that_was_recorded(place: Place) -> None:
    place.simulated.pace = 1.0
    place.begin()
    first = gateway_process(place.url)
    try:
        place.alive()
        place.press()
        place.press()
        assert place.simulated.take("pull") == "pulled"

        place.until(lambda: phase(place) == PULLING)
        time.sleep(4.5)  # far enough up that what there is of it is more than a blip
    finally:
        first.send_signal(signal.SIGKILL)
        first.wait()
    with place.work() as work:
        kept = work.scalars(select(CellBlock).where(CellBlock.role == "dyno")).all()
        assert sum(block.last_at > 0 for block in kept) > 3  # what was said up to then stands in the database
    second = gateway_process(place.url)
    try:
        place.until(lambda: len(place.pulls()) == 1, 40.0)
    finally:
        second.terminate()
        second.wait()
    (pull,) = place.pulls()
    told = {check["key"]: check for check in pull.checks}
    # the seconds without a gateway are missing, in the middle or, where the second began late, at the end; and it says so
    assert False in (told["gaps"]["passed"], told["coverage"]["passed"])
    assert not pull.is_valid


def phase(place: Place) -> str:
    """What the live run is at."""
    with place.work() as work:
        return place.run(work).phase


@pytest.mark.slow
def test_a_gateway_killed_after_the_pull_but_before_it_was_recorded(
    place: Place, monkeypatch: pytest.MonkeyPatch
) -> None:
    place.begin()
    with gateway(place.database):
        place.alive()
        place.press()
        place.press()
        monkeypatch.setattr(CellWatch, "_record", lambda self, capture, ends: time.sleep(0.1))  # it dies instead
        assert place.simulated.take("pull") == "pulled"
        place.until(lambda: phase(place) == JUDGING)  # from here on nothing that it heard may be lost
        assert place.pulls() == []
    monkeypatch.undo()
    with gateway(place.database):
        place.until(lambda: len(place.pulls()) == 1)
        time.sleep(2.0)
    (pull,) = place.pulls()  # once, and whole
    assert pull.is_valid, verdict_of(pull)


@pytest.mark.slow
def test_a_cable_pulled_and_put_back(place: Place) -> None:
    place.simulated.pace = 1.0
    place.begin()
    with gateway(place.database):
        place.alive()
        place.servers["logger"].device.unplugged_until = time.monotonic() + 60.0

        def lost() -> bool:
            with place.work() as work:
                return work.scalar(select(InstrumentLine.state).where(InstrumentLine.kind == "logger")) in (
                    "lost",
                    "silent",
                )

        place.until(lost)
        place.press()
        place.press()
        pull = place.pulled()  # the dyno's own lines are enough; that the logger was down stands with it
        assert pull.read.logger_file is None
        assert "logger" in pull.read.told["live"]


@pytest.mark.slow
def test_the_database_away_for_a_while(place: Place) -> None:
    """Its connections are cut in a pull, again and again; what was said meanwhile is not lost."""
    place.begin()
    place.simulated.pace = 2.0
    with gateway(place.database):
        place.alive()
        place.press()
        place.press()
        assert place.simulated.take("pull") == "pulled"
        for _ in range(8):
            cut_connections(place)
            time.sleep(0.7)
        place.until(lambda: len(place.pulls()) == 1, 30.0)
    (pull,) = place.pulls()
    told = {check["key"]: check["passed"] for check in pull.checks}
    assert told["gaps"]
    assert told["coverage"]


def cut_connections(place: Place) -> None:
    """End every connection to the test's database but this one."""
    url = make_url(place.owner_url)
    admin = create_engine(url.set(database="postgres"), isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        name = make_url(place.url).database
        connection.execute(
            text("select pg_terminate_backend(pid) from pg_stat_activity where datname = :name"), {"name": name}
        )
    admin.dispose()


def test_only_one_session_is_pulled_live_on_a_dyno(place: Place) -> None:
    place.begin()
    with place.work() as work:
        session = work.get_one(DynoSession, place.session_id)
        again = cell.open_run(work, session)
        assert again.id == place.run_id  # the same session: the same run
        other = open_session(work, work.get_one(Application, place.application_id), session.card, factories.VISIT)
        with pytest.raises(Conflict, match="Another session"):
            cell.open_run(work, other)
        cell.end_run(work, place.run(work))
        assert cell.open_run(work, other).id != place.run_id


@pytest.mark.slow
def test_a_force_at_the_roller_is_enough(place: Place, monkeypatch: pytest.MonkeyPatch) -> None:
    """A dyno that sends force alone: torque is force × radius × roller speed ÷ engine speed."""
    monkeypatch.delitem(standin_cell.DYNO_WORDS, "power")
    said = Instrument._told

    def force_alone(self: Instrument, at: float, frame: dict[str, float]) -> bytes:
        data = said(self, at, frame)
        if self.kind != "dyno":
            return data
        values = {k: v for k, v in read_cell_line("dyno", data).values.items() if k != "torque"}
        return write_cell_line("dyno", values)

    monkeypatch.setattr(Instrument, "_told", force_alone)
    with place.work() as work:
        work.get_one(DynoSession, place.session_id).card.dyno.roller_radius = standin_cell.RADIUS
    place.begin()
    with gateway(place.database):
        place.alive()
        place.press()
        place.press()
        pull = place.pulled()
    assert pull.is_valid, verdict_of(pull)
    facts = pull.read.told["facts"]
    assert facts["mean"] == pytest.approx(float(np.mean(wave_torque(np.linspace(1800, 7000, 100)))), rel=0.03)
