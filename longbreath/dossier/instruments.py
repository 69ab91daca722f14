"""Instruments: the addresses an admin has listed, and the line of a live bench as the gateway passes it on."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.devices.address import check_address
from longbreath.devices.kinds import BENCH, KINDS
from longbreath.devices.status import CONNECTING, LOST, Sample, Status
from longbreath.store.models import Bench, InstrumentAddress, InstrumentLine, InstrumentSample
from longbreath.store.notices import COMMANDS, tell
from longbreath.store.unit_of_work import UnitOfWork

WANTED_EVERY = timedelta(seconds=5)
"""How often whoever looks says so."""
WANTED_FOR = timedelta(seconds=60)
"""How long the gateway keeps a line that nobody looks at any more."""
TOLD_WITHIN = timedelta(seconds=3)
"""How long the gateway may say nothing before it is taken to be gone."""
NO_GATEWAY = "The instrument gateway does not run. Start it with: longbreath gateway. Capture by hand meanwhile."


@dataclass(frozen=True)
class NewAddress:
    """An address to list, and what stands there."""

    address: str
    what: str = ""
    kind: str = ""


def addresses(db: Session) -> list[InstrumentAddress]:
    """All addresses that were ever listed, by address."""
    return list(db.scalars(select(InstrumentAddress).order_by(InstrumentAddress.address)))


def listed(db: Session, kind: str = "") -> list[str]:
    """The addresses at which instruments may be looked for; those of one kind, and those whose kind nobody said."""
    return [a.address for a in addresses(db) if a.is_listed and (not kind or a.kind in ("", kind))]


def list_address(work: UnitOfWork, new: NewAddress) -> InstrumentAddress:
    """List an address, or one again that was struck off. Raises InputError for what is none, and for one that is listed."""
    address = check_address(new.address)
    found = work.scalar(select(InstrumentAddress).where(InstrumentAddress.address == address))
    if found is not None and found.is_listed:
        raise InputError("This address is listed already.", "address")
    if found is None:
        found = InstrumentAddress(address=address)
        work.add(found)
    found.what, found.kind, found.is_listed = new.what or "", new.kind or "", True
    try:
        with work.savepoint():
            work.flush()
    except IntegrityError:
        raise InputError("This address is listed already.", "address") from None
    return found


def strike_off(work: UnitOfWork, address: InstrumentAddress) -> None:
    """Strike an address off: the gateway lets go of it, and no bench finds it any more."""
    address.is_listed = False
    work.flush()


def check_listed(db: Session, address: str, field: str = "device_url") -> None:
    """Raises InputError (beside `field`) for an address that no admin has listed."""
    if address and address not in (known := listed(db)):
        have = f" Listed are: {', '.join(known)}." if known else ""
        raise InputError(f"No admin has listed this address under Library, Instruments.{have}", field)


@dataclass(frozen=True)
class Look:
    """A line at one moment: how it stands, its last samples, and the moment itself [s by the clock of the database]."""

    status: Status[Any]
    samples: list[Sample[Any]]
    now: float


class Wire:
    """The line of a live device, as the gateway passes it on. Each look is a short transaction of its own."""

    def __init__(self, sessions: Callable[[], UnitOfWork], address: str, kind: str = BENCH) -> None:
        self._sessions, self.address, self.kind = sessions, address, KINDS[kind]

    def look(self, seconds: float) -> Look:
        """The line now, with the samples of the last seconds; looking keeps it open."""
        with self._sessions() as work:
            now: datetime = work.execute(select(func.clock_timestamp())).scalar_one()
            line = work.scalar(select(InstrumentLine).where(InstrumentLine.address == self.address))
            if line is None or now - line.wanted_at > WANTED_EVERY:
                line = self._want(work, now, line)
            rows = work.scalars(
                select(InstrumentSample)
                .where(InstrumentSample.line_id == line.id, InstrumentSample.at > now.timestamp() - max(seconds, 2.0))
                .order_by(InstrumentSample.at)
            ).all()
            samples = [Sample(row.at, self.kind.again(row.spoken)) for row in rows]
            status = _status(line, samples, now, self._looking)
            work.commit()
        recent = [sample for sample in samples if sample.at >= now.timestamp() - seconds]
        return Look(status, recent, now.timestamp())

    def want(self, work: UnitOfWork) -> None:
        """Say that the line is wanted."""
        now: datetime = work.execute(select(func.clock_timestamp())).scalar_one()
        line = work.scalar(select(InstrumentLine).where(InstrumentLine.address == self.address))
        if line is None or now - line.wanted_at > WANTED_EVERY:
            self._want(work, now, line)

    @property
    def _looking(self) -> str:
        return f"Looking for the {self.kind.called}."

    def _want(self, work: UnitOfWork, now: datetime, line: InstrumentLine | None) -> InstrumentLine:
        is_new = line is None or now - line.wanted_at > WANTED_FOR
        begun = {"began_at": now, "state": CONNECTING, "words": self._looking}
        told = {"wanted_at": now, "kind": self.kind.name} | (begun if is_new else {})
        values = {**begun, "device": "", "refused": 0, **told}
        adding = insert(InstrumentLine).values(address=self.address, **values)
        made = adding.on_conflict_do_update(index_elements=["address"], set_=told).returning(InstrumentLine)
        found: InstrumentLine = work.scalars(made, execution_options={"populate_existing": True}).one()
        return found

    def send(self, words: str) -> None:
        """Have words sent to the device."""
        with self._sessions() as work:
            tell(work, COMMANDS, json.dumps({"address": self.address, "words": words}))
            work.commit()


def _status(line: InstrumentLine, samples: Sequence[Sample[Any]], now: datetime, looking: str) -> Status[Any]:
    is_told = line.told_at is not None and now - line.told_at < TOLD_WITHIN
    if not is_told and now - line.began_at < TOLD_WITHIN:
        return Status(CONNECTING, looking, None, 0, "")
    if not is_told:
        return Status(LOST, NO_GATEWAY, None, 0, "")
    return Status(line.state, line.words, samples[-1] if samples else None, line.refused, line.device)


def line_of(sessions: Callable[[], UnitOfWork], bench: Bench) -> Wire | None:
    """The line of a bench, or None if it has no live one."""
    return Wire(sessions, bench.device_url) if bench.device_url else None
