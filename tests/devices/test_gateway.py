"""The gateway: what it passes on, what it opens and lets go, who owns a line, and a database that goes away meanwhile."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from sqlalchemy import delete, func, select, text, update

from longbreath.devices.standin import StandIn
from longbreath.devices.standin_bench import INCH, SimulatedBench
from longbreath.devices.status import CONNECTING, LIVE, LOST
from longbreath.dossier import instruments
from longbreath.dossier.instruments import NewAddress, Wire
from longbreath.store.database import Database
from longbreath.store.models import InstrumentAddress, InstrumentLine, InstrumentSample
from longbreath.store.unit_of_work import working
from tests.databases import ready
from tests.jobs.cell_tools import gateway as running


@pytest.fixture(scope="module")
def passing(database_url: str) -> Iterator[Database]:
    """A database of its own, in which what is passed on is really kept."""
    found = Database(ready(database_url, "longbreath_gateway"))
    yield found
    found.engine.dispose()


@pytest.fixture
def stand_in(passing: Database) -> Iterator[StandIn]:
    """A stand-in bench whose address is listed, and a database that knows no line."""
    found = StandIn(SimulatedBench()).start()
    with working(passing.session) as work:
        for model in (InstrumentSample, InstrumentLine):
            work.execute(delete(model))
        work.execute(update(InstrumentAddress).values(is_listed=False))
        instruments.list_address(work, NewAddress(found.url))
    yield found
    found.stop()


def wait(wire: Wire, wanted: Callable[[Any], bool], seconds: float = 60.0) -> Any:
    """Look at a line until something is so."""
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        look = wire.look(1.2)
        if wanted(look):
            return look
        time.sleep(0.05)
    raise AssertionError(f"not within {seconds} s: {look.status}")


def test_values_come_through_the_database_and_words_go_back(passing: Database, stand_in: StandIn) -> None:
    wire = Wire(passing.session, stand_in.url)
    with running(passing):
        look = wait(wire, lambda x: x.status.state == LIVE and x.status.device == "stand-in bench")
        assert abs(look.now - time.time()) < 5
        wire.send("motor 0.8")
        wire.send("lift 5")
        wait(wire, lambda x: x.status.newest and x.status.newest.line.column > 15 * INCH)
        assert stand_in.device.lift == 5.0
        look = wait(wire, lambda x: len(x.samples) >= 8)
    moments = [sample.at for sample in look.samples]
    assert moments == sorted(moments)
    assert look.now - 1.2 <= moments[0]
    assert moments[-1] <= look.now + 0.05


def test_a_real_device_is_never_told_anything(
    passing: Database, stand_in: StandIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    wire = Wire(passing.session, stand_in.url)
    monkeypatch.setattr("longbreath.jobs.gateway.STAND_IN", "another name")
    with running(passing):
        wait(wire, lambda x: x.status.state == LIVE and x.status.device == "stand-in bench")
        wire.send("lift 5")
        time.sleep(0.5)
        assert stand_in.device.lift != 5.0


def test_two_processes_see_the_same_values(passing: Database, stand_in: StandIn) -> None:
    other = Database(passing.engine.url.render_as_string(hide_password=False))
    with running(passing):
        wait(Wire(passing.session, stand_in.url), lambda x: x.status.state == LIVE)
        look = Wire(other.session, stand_in.url).look(1.2)
        assert look.status.state == LIVE
        assert look.samples
    other.engine.dispose()


def test_without_a_gateway_the_page_says_which_command_starts_it(passing: Database, stand_in: StandIn) -> None:
    wire = Wire(passing.session, stand_in.url)
    assert wire.look(1.0).status.state == CONNECTING
    with working(passing.session) as work:
        work.execute(update(InstrumentLine).values(began_at=func.now() - text("interval '4 s'")))
    look = wire.look(1.0)
    assert look.status.state == LOST
    assert "longbreath gateway" in look.status.words


def test_an_address_that_is_not_listed_is_never_opened(passing: Database, stand_in: StandIn) -> None:
    with working(passing.session) as work:
        work.execute(update(InstrumentAddress).values(is_listed=False))
    wire = Wire(passing.session, stand_in.url)
    with running(passing):
        look = wait(wire, lambda x: x.status.state == LOST)
    assert "No admin has listed" in look.status.words
    assert not look.samples


def test_an_address_that_is_struck_off_is_let_go(passing: Database, stand_in: StandIn) -> None:
    wire = Wire(passing.session, stand_in.url)
    with running(passing):
        wait(wire, lambda x: x.status.state == LIVE)
        with working(passing.session) as work:
            instruments.strike_off(work, work.scalars(select(InstrumentAddress).filter_by(is_listed=True)).one())
        wait(wire, lambda x: "No admin has listed" in x.status.words)


def test_a_line_belongs_to_one_gateway_and_goes_to_the_other_when_that_ends(
    passing: Database, stand_in: StandIn
) -> None:
    wire = Wire(passing.session, stand_in.url)
    counting = select(func.count()).select_from(InstrumentSample)

    def written(seconds: float) -> int:
        with passing.session() as work:
            before = work.scalar(counting) or 0
            time.sleep(seconds)
            work.rollback()
            return (work.scalar(counting) or 0) - before

    with running(passing):
        wait(wire, lambda x: x.status.state == LIVE)
        with running(passing):
            time.sleep(1.5)
            assert written(1.0) < 18  # twelve a second from one, not from two
    with running(passing):
        time.sleep(0.6)
        wait(wire, lambda x: x.status.state == LIVE and len(x.samples) > 3)


def test_a_gateway_opens_only_what_it_is_told(passing: Database, stand_in: StandIn) -> None:
    other = StandIn(SimulatedBench()).start()
    with working(passing.session) as work:
        instruments.list_address(work, NewAddress(other.url))
    told, wire = Wire(passing.session, other.url), Wire(passing.session, stand_in.url)
    with running(passing, other.url):
        wire.look(1.0)
        wait(told, lambda x: x.status.state == LIVE)
        assert wire.look(1.0).status.state != LIVE
        assert not wire.look(1.0).samples
    other.stop()


@pytest.mark.slow
def test_it_lives_through_a_database_that_goes_away(passing: Database, stand_in: StandIn, database_url: str) -> None:
    wire = Wire(passing.session, stand_in.url)
    admin = Database(database_url)
    with running(passing):
        wait(wire, lambda x: x.status.state == LIVE)
        with admin.engine.connect() as connection:
            ending = "select pg_terminate_backend(pid) from pg_stat_activity where datname = 'longbreath_gateway'"
            connection.execute(text(ending))
        time.sleep(0.3)
        newest = wait(wire, lambda x: True).now
        wait(wire, lambda x: x.status.state == LIVE and any(s.at > newest + 1 for s in x.samples), 15.0)
        stand_in.device.lift = 1.0
        wire.send("lift 7")
        ends = time.monotonic() + 8
        while stand_in.device.lift != 7.0 and time.monotonic() < ends:
            wire.send("lift 7")
            time.sleep(0.3)
        assert stand_in.device.lift == 7.0
    admin.engine.dispose()
