"""The instrument gateway: the one process that owns the devices of a bench or cell.

It opens the lines that somebody looks at and an admin has listed, writes what they say where everybody may read it, and wakes those
who wait. Several gateways on several machines share the work: a lock in the database gives each line to one of them.
"""

from __future__ import annotations

import json
import logging
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import Connection, delete, func, insert, select, text, update
from sqlalchemy.exc import SQLAlchemyError

from longbreath.devices.kinds import BENCH, DYNO, KINDS
from longbreath.devices.link import DeviceLink
from longbreath.devices.standin import STAND_IN
from longbreath.devices.status import LOST
from longbreath.dossier import subscribers
from longbreath.dossier.instruments import WANTED_FOR, Wire
from longbreath.dossier.pull.cell import addresses_of
from longbreath.jobs.cell_watch import CellWatch
from longbreath.store.database import Database
from longbreath.store.models import CellRun, InstrumentAddress, InstrumentLine, InstrumentSample
from longbreath.store.notices import COMMANDS, LINES, Notices, tell
from longbreath.store.unit_of_work import UnitOfWork

TICK = 0.05
"""Seconds between two looks at the lines."""
FOLLOW_EVERY = 0.5
"""Seconds between two looks at which lines are wanted."""
SAMPLES_KEPT = 45.0
"""Seconds that a sample is kept."""
AGAIN = 1.0
LOCK = 20260507
"""First key of the locks by which lines are shared out among gateways."""
UNLISTED = "No admin has listed this address, so nobody looks there. Take readings by hand or from files meanwhile."

_log = logging.getLogger(__name__)


@dataclass
class _Open:
    """A line that this gateway has open: its row, the link, and the moment up to which its samples are written [s, monotonic]."""

    line_id: int
    link: DeviceLink
    written: float = 0.0
    watched: float = 0.0
    is_ours: bool = True


class Gateway:
    """Owns devices for as long as it runs. `only`: the addresses it may open; all without it."""

    def __init__(self, database: Database, only: tuple[str, ...] = ()) -> None:
        subscribers.attach()
        self._database, self._only = database, only
        self._open: dict[str, _Open] = {}
        self._watches: dict[int, CellWatch] = {}
        self._roles: dict[str, tuple[int, str]] = {}
        self._locks: Connection | None = None
        self._followed, self._ahead = 0.0, 0.0

    def run(self, stopping: threading.Event) -> None:
        """Run until told to stop. While the database is away the devices are still heard, and what they say waits for it."""
        commands = Notices(self._database.engine, COMMANDS, self._command)
        try:
            while not stopping.is_set():
                try:
                    self._turn()
                    stopping.wait(TICK)
                except SQLAlchemyError as error:
                    _log.warning("the database is away: %s", type(error).__name__)
                    self._drop_locks()
                    self._hear()
                    stopping.wait(AGAIN)
        finally:
            commands.close()
            self._drop_locks()
            for line in self._open.values():
                line.link.close()

    def _turn(self) -> None:
        after: list[Callable[[], None]] = []
        self._hear()
        with self._database.session() as work:
            follows = time.monotonic() - self._followed > FOLLOW_EVERY
            if follows:
                self._follow_runs(work)
                self._follow(work)
                after += [watch.keep(work) for watch in self._watches.values() if not watch.is_recording]
            for line in self._open.values():
                after.append(self._pass_on(work, line, follows))
            work.commit()
            for done in after:
                done()
            for watch in self._watches.values():
                watch.turn(work)
            work.commit()
        if follows:
            self._followed = time.monotonic()

    def _hear(self) -> None:
        """Give the lines of a live run to whoever follows it, whether the database is there or not."""
        for address, (run_id, role) in self._roles.items():
            line, watch = self._open.get(address), self._watches.get(run_id)
            if line is None or watch is None or not self._ahead:
                continue
            samples = line.link.since(line.watched)
            if samples:
                watch.stand_in = watch.stand_in or STAND_IN in line.link.status().device
                watch.take(role, samples, self._ahead)
                line.watched = samples[-1].at

    def _follow_runs(self, work: UnitOfWork) -> None:
        """Learn which sessions are pulled live, and want the lines of their instruments."""
        runs = {run.id: run for run in work.scalars(select(CellRun).where(CellRun.closed_at.is_(None)))}
        self._roles = {}
        for run in runs.values():
            for role, address in addresses_of(run.session).items():
                if not self._only or address in self._only:
                    self._roles[address] = (run.id, role)
                    Wire(self._database.session, address, role).want(work)
        for run_id in [number for number in self._watches if number not in runs]:
            if not self._watches[run_id].is_recording:
                del self._watches[run_id]
        for run_id in {run_id for run_id, _ in self._roles.values() if self._has_dyno(run_id)} - set(self._watches):
            self._watches[run_id] = watch = CellWatch(self._database, runs[run_id])
            watch.load(work)

    def _has_dyno(self, run_id: int) -> bool:
        """Whether the dyno of a run is on a line of ours."""
        found = next((a for a, told in self._roles.items() if told == (run_id, DYNO)), None)
        return found is not None and found in self._open and self._open[found].is_ours

    def _follow(self, work: UnitOfWork) -> None:
        """Open what is wanted, let go of the rest; learn how far the clock of the database is ahead of ours."""
        if self._locks is not None:
            self._locks.execute(text("select 1"))  # with its connection the locks would be lost unnoticed
        now = work.execute(select(func.clock_timestamp())).scalar_one()
        self._ahead = now.timestamp() - time.monotonic()
        wanted = work.execute(
            select(InstrumentLine.id, InstrumentLine.address, InstrumentLine.kind, InstrumentAddress.is_listed)
            .outerjoin(InstrumentAddress, InstrumentAddress.address == InstrumentLine.address)
            .where(InstrumentLine.wanted_at > now - WANTED_FOR)
        ).all()
        may = {address for _, address, _, is_listed in wanted if is_listed}
        for address in [address for address in self._open if address not in may]:
            self._let_go(address)
        for line_id, address, kind, is_listed in wanted:
            if self._only and address not in self._only:
                continue
            if not is_listed:
                self._write(work, line_id, state=LOST, words=UNLISTED, told_at=now)
            elif address not in self._open and self._is_ours(line_id):
                self._open[address] = _Open(line_id, DeviceLink(address, KINDS.get(kind, KINDS[BENCH])))
            elif address in self._open and not self._open[address].is_ours:
                self._open[address].is_ours = self._is_ours(line_id)
                if not self._open[address].is_ours:
                    self._let_go(address)
        work.execute(delete(InstrumentSample).where(InstrumentSample.at < now.timestamp() - SAMPLES_KEPT))
        work.execute(delete(InstrumentLine).where(InstrumentLine.wanted_at < now - timedelta(days=1)))

    def _pass_on(self, work: UnitOfWork, line: _Open, follows: bool) -> Callable[[], None]:
        """Write what a line said since, and how it stands; what is returned is called once it is committed."""
        samples = line.link.since(line.written)
        if samples:
            rows = [
                {"line_id": line.line_id, "at": sample.at + self._ahead, "spoken": line.link.kind.told(sample.line)}
                for sample in samples
            ]
            work.execute(insert(InstrumentSample), rows)
            tell(work, LINES, str(line.line_id))
        if follows:
            status = line.link.status()
            told: dict[str, Any] = {"state": status.state, "words": status.words, "device": status.device}
            self._write(work, line.line_id, refused=status.refused, told_at=func.clock_timestamp(), **told)

        def passed() -> None:
            line.written = samples[-1].at if samples else line.written

        return passed

    def _write(self, work: UnitOfWork, line_id: int, **values: Any) -> None:
        work.execute(update(InstrumentLine).where(InstrumentLine.id == line_id).values(**values))

    def _is_ours(self, line_id: int) -> bool:
        if self._locks is None:
            self._locks = self._database.engine.connect().execution_options(isolation_level="AUTOCOMMIT")
        taking = text("select pg_try_advisory_lock(:lock, :line)")
        return bool(self._locks.execute(taking, {"lock": LOCK, "line": line_id}).scalar())

    def _let_go(self, address: str) -> None:
        line = self._open.pop(address)
        line.link.close()
        if self._locks is not None:
            self._locks.execute(text("select pg_advisory_unlock(:lock, :line)"), {"lock": LOCK, "line": line.line_id})

    def _drop_locks(self) -> None:
        """Without its connection a gateway holds no lock: it goes on hearing its lines, and asks for each anew."""
        if self._locks is not None:
            with suppress(SQLAlchemyError):
                self._locks.invalidate()
                self._locks.close()
        self._locks = None
        for line in self._open.values():
            line.is_ours = False

    def _command(self, payload: str) -> None:
        try:
            told = json.loads(payload)
            line = self._open.get(told["address"])
            if line is not None and STAND_IN in line.link.status().device:  # a real device is never told anything
                line.link.send(str(told["words"]))
        except (ValueError, KeyError, TypeError):
            _log.warning("a command was not understood")
