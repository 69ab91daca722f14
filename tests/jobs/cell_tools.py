"""A dyno cell for tests: stand-ins on loopback, a session that is pulled live, a gateway in a thread or a process."""

from __future__ import annotations

import itertools
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from sqlalchemy import delete, select, update

from longbreath.devices.made_engine import Day
from longbreath.devices.standin import StandIn
from longbreath.devices.standin_cell import Instrument, SimulatedCell
from longbreath.dossier import instruments
from longbreath.dossier.instruments import NewAddress
from longbreath.dossier.pull import cell, verbs
from longbreath.dossier.pull.cell import Heard
from longbreath.jobs.gateway import Gateway
from longbreath.store.database import Database
from longbreath.store.models import (
    Application,
    CellBlock,
    CellRun,
    DynoSession,
    InstrumentAddress,
    InstrumentLine,
    InstrumentSample,
    Pull,
    TestCard,
    User,
)
from longbreath.store.unit_of_work import UnitOfWork, working
from tests import factories

PACE = 6.0
QUIET = Heard({})


@dataclass
class Place:
    """A database that keeps what is written, a session whose dyno answers at the stand-ins, and the stand-ins."""

    url: str
    database: Database
    person: User
    application_id: int
    session_id: int
    simulated: SimulatedCell
    servers: dict[str, StandIn]
    run_id: int = 0
    owner_url: str = ""

    @contextmanager
    def work(self) -> Iterator[UnitOfWork]:
        """A unit of work of the person who stands in the cell."""
        with working(self.database.session) as unit:
            unit.act_as(unit.get_one(User, self.person.id), self.application_id)
            yield unit

    def run(self, work: UnitOfWork) -> CellRun:
        """The live run."""
        return work.get_one(CellRun, self.run_id, populate_existing=True)

    def begin(self) -> None:
        """Open the session live."""
        with self.work() as work:
            self.run_id = cell.open_run(work, work.get_one(DynoSession, self.session_id)).id

    def press(self, heard: Heard = QUIET, anyway: bool = False) -> str:
        """Press the one key for whatever is next; returns the key of what was done."""
        with self.work() as work:
            run = self.run(work)
            return cell.press(work, run, cell.doing(work, run, heard).mark, heard, anyway).key

    def arm(self) -> None:
        """Press the key until the next pull is armed."""
        while self.next_key() != "armed":
            self.press()

    def next_key(self) -> str:
        """What is next."""
        with self.work() as work:
            return cell.doing(work, self.run(work), QUIET).key

    def pulls(self) -> list[Pull]:
        """The pulls so far, with readings and judgements loaded."""
        with self.database.session() as work:
            found = list(work.scalars(select(Pull).where(Pull.session_id == self.session_id).order_by(Pull.sequence)))
            for pull in found:
                _ = (pull.is_valid, pull.read.told, pull.session.card.letters)
            return found

    def until(self, wanted: Callable[[], Any], seconds: float = 90.0) -> float:
        """Wait until something is so; returns how long it took [s]. Raises AssertionError where it never is."""
        began = time.monotonic()
        while time.monotonic() < began + seconds:
            if wanted():
                return time.monotonic() - began
            time.sleep(0.05)
        raise AssertionError("it never came about")

    def pulled(self, fault: str = "none", seconds: float = 90.0) -> Pull:
        """Have one pull made and wait until it is recorded."""
        before = len(self.pulls())
        self.simulated.take(f"fault {fault}")
        self.until(lambda: not self.simulated.pulling)
        assert self.simulated.take("pull") == "pulled"
        self.until(lambda: len(self.pulls()) > before, seconds)
        return max(self.pulls(), key=lambda p: p.id)

    def alive(self) -> None:
        """Wait until the gateway hears the dyno."""

        def hears() -> bool:
            with self.database.session() as work:
                states = dict(work.execute(select(InstrumentLine.kind, InstrumentLine.state)).all())
            return states.get("dyno") == "live" and states.get("logger") == "live"

        self.until(hears)

    def clear(self) -> None:
        """Forget lines and runs, let go of the stand-ins."""
        for server in self.servers.values():
            server.stop()
        with self.database.session() as work:
            for model in (InstrumentSample, InstrumentLine, CellBlock):
                work.execute(delete(model))
            work.execute(update(InstrumentAddress).values(is_listed=False))
            work.commit()


def stand_ins(simulated: SimulatedCell) -> dict[str, StandIn]:
    """Dyno, logger and weather station around one engine."""
    return {kind: StandIn(Instrument(kind, simulated)).start() for kind in ("dyno", "logger", "weather")}


_SEEDS = itertools.count(7, 10_007)
"""The noise of each place is its own: what was pulled before, in the same database, would be the pull that stands there."""


def lay(url: str, database: Database, shop: Any, owner_url: str = "") -> Place:
    """A session of the shop's card whose dyno answers at stand-ins."""
    simulated = SimulatedCell(pace=PACE, day=Day(intake=22.0), room=100.6, seed=next(_SEEDS))
    servers = stand_ins(simulated)
    with working(database.session) as work:
        tester = work.merge(shop.people["tester"], load=False)
        application = work.get_one(Application, shop.application.id)
        work.act_as(tester, application.id)
        card = work.scalars(select(TestCard).order_by(TestCard.id)).first()
        assert card is not None
        listed(work, servers)
        dyno = card.dyno
        dyno.device_url, dyno.logger_url, dyno.weather_url = (servers[k].url for k in ("dyno", "logger", "weather"))
        session = verbs.open_session(work, application, card, factories.VISIT)
        place = Place(url, database, tester, application.id, session.id, simulated, servers, owner_url=owner_url)
    return place


def listed(work: UnitOfWork, servers: dict[str, StandIn]) -> None:
    """List the addresses of stand-ins."""
    for kind, server in servers.items():
        instruments.list_address(work, NewAddress(server.url, f"stand-in {kind}", kind))


@contextmanager
def gateway(database: Database, *only: str) -> Iterator[None]:
    """A gateway in a thread."""
    stopping = threading.Event()
    thread = threading.Thread(target=Gateway(database, only).run, args=(stopping,))
    thread.start()
    try:
        yield
    finally:
        stopping.set()
        thread.join()


def gateway_process(url: str) -> subprocess.Popen[bytes]:
    """A gateway in a process of its own, to be killed."""
    told = {**os.environ, "LONGBREATH_DATABASE_URL": url}
    return subprocess.Popen([sys.executable, "-m", "longbreath.cli.main", "gateway"], env=told)
