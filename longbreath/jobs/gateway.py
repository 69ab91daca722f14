"""The instrument gateway: the one process that owns the devices of a bench or cell.

It opens the lines that somebody looks at and an admin has listed, writes what they say where everybody may read it, and wakes those
who wait. Several gateways on several machines share the work: a lock in the database gives each line to one of them.
"""

from __future__ import annotations

import json
import logging
import threading
import time
from contextlib import suppress
from dataclasses import asdict, dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import Connection, delete, func, insert, select, text, update
from sqlalchemy.exc import SQLAlchemyError

from longbreath.devices.bench_line import BenchLine
from longbreath.devices.link import BenchLink, bench_link
from longbreath.devices.standin_bench import STAND_IN
from longbreath.devices.status import LOST
from longbreath.dossier.instruments import WANTED_FOR
from longbreath.store.database import Database
from longbreath.store.models import InstrumentAddress, InstrumentLine, InstrumentSample
from longbreath.store.notices import COMMANDS, LINES, Notices, tell
from longbreath.store.unit_of_work import UnitOfWork

TICK = 0.05
"""Seconds between two looks at the lines."""
FOLLOW_EVERY = 0.5
"""Seconds between two looks at which lines are wanted."""
SAMPLES_KEPT = 10.0
"""Seconds that a sample is kept."""
AGAIN = 1.0
LOCK = 20260507
"""First key of the locks by which lines are shared out among gateways."""
UNLISTED = "No admin has listed the address of this bench, so nobody looks there. Capture by hand meanwhile."

_log = logging.getLogger(__name__)


@dataclass
class _Open:
    """A line that this gateway has open: its row, the link, and the moment up to which its samples are written [s, monotonic]."""

    line_id: int
    link: BenchLink
    written: float = 0.0


class Gateway:
    """Owns devices for as long as it runs. `only`: the addresses it may open; all without it."""

    def __init__(self, database: Database, only: tuple[str, ...] = ()) -> None:
        self._database, self._only = database, only
        self._open: dict[str, _Open] = {}
        self._locks: Connection | None = None
        self._followed, self._ahead = 0.0, 0.0

    def run(self, stopping: threading.Event) -> None:
        """Run until told to stop. When the database goes away the devices are let go, and both are looked for again."""
        commands = Notices(self._database.engine, COMMANDS, self._command)
        try:
            while not stopping.is_set():
                try:
                    self._turn()
                    stopping.wait(TICK)
                except SQLAlchemyError as error:
                    _log.warning("the database is away: %s", type(error).__name__)
                    self._drop_locks()
                    stopping.wait(AGAIN)
        finally:
            commands.close()
            self._drop_locks()

    def _turn(self) -> None:
        with self._database.session() as work:
            follows = time.monotonic() - self._followed > FOLLOW_EVERY
            if follows:
                self._follow(work)
            for line in self._open.values():
                self._pass_on(work, line, follows)
            work.commit()
        if follows:
            self._followed = time.monotonic()

    def _follow(self, work: UnitOfWork) -> None:
        """Open what is wanted, let go of the rest; learn how far the clock of the database is ahead of ours."""
        if self._locks is not None:
            self._locks.execute(text("select 1"))  # with its connection the locks would be lost unnoticed
        now = work.execute(select(func.clock_timestamp())).scalar_one()
        self._ahead = now.timestamp() - time.monotonic()
        wanted = work.execute(
            select(InstrumentLine.id, InstrumentLine.address, InstrumentAddress.is_listed)
            .outerjoin(InstrumentAddress, InstrumentAddress.address == InstrumentLine.address)
            .where(InstrumentLine.wanted_at > now - WANTED_FOR)
        ).all()
        may = {address for _, address, is_listed in wanted if is_listed}
        for address in [address for address in self._open if address not in may]:
            self._let_go(address)
        for line_id, address, is_listed in wanted:
            if self._only and address not in self._only:
                continue
            if not is_listed:
                self._write(work, line_id, state=LOST, words=UNLISTED, told_at=now)
            elif address not in self._open and self._is_ours(line_id):
                self._open[address] = _Open(line_id, bench_link(address))
        work.execute(delete(InstrumentSample).where(InstrumentSample.at < now.timestamp() - SAMPLES_KEPT))
        work.execute(delete(InstrumentLine).where(InstrumentLine.wanted_at < now - timedelta(days=1)))

    def _pass_on(self, work: UnitOfWork, line: _Open, follows: bool) -> None:
        """Write what a line said since, and how it stands."""
        samples = line.link.since(line.written)
        if samples:
            rows = [
                {"line_id": line.line_id, "at": sample.at + self._ahead, "spoken": _spoken(sample.line)}
                for sample in samples
            ]
            work.execute(insert(InstrumentSample), rows)
            line.written = samples[-1].at
            tell(work, LINES, str(line.line_id))
        if follows:
            status = line.link.status()
            told: dict[str, Any] = {"state": status.state, "words": status.words, "device": status.device}
            self._write(work, line.line_id, refused=status.refused, told_at=func.clock_timestamp(), **told)

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
        """Without its connection a gateway holds no lock: it lets go of its lines, and takes them anew."""
        if self._locks is not None:
            with suppress(SQLAlchemyError):
                self._locks.invalidate()
                self._locks.close()
        self._locks = None
        for address in list(self._open):
            self._open.pop(address).link.close()

    def _command(self, payload: str) -> None:
        try:
            told = json.loads(payload)
            line = self._open.get(told["address"])
            if line is not None and STAND_IN in line.link.status().device:  # a real device is never told anything
                line.link.send(str(told["words"]))
        except (ValueError, KeyError, TypeError):
            _log.warning("a command was not understood")


def _spoken(line: BenchLine) -> dict[str, Any]:
    return {name: value for name, value in asdict(line).items() if value is not None}
