"""Taking logs in as a person would: received, mapped by what the software proposes, recorded at a place under a letter."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from longbreath.dossier.pull import logs, recording, verbs, waiting
from longbreath.dossier.sources import remember
from longbreath.formats.log import Log, Part
from longbreath.formats.mapping import AFR, to_json
from longbreath.formats.numbers import propose
from longbreath.formats.sought import PULL_CHANNELS
from longbreath.store.models import Application, DynoSession, Pull, RawFile
from longbreath.store.unit_of_work import UnitOfWork

PETROL = 14.7
"""What the shop's meters call λ = 1."""


def take(
    db: UnitOfWork, application: Application, session: DynoSession, name: str, data: bytes, place: int, label: str
) -> Pull:
    """One file that holds one pull."""
    file = verbs.receive(db, session, name, data)
    return take_table(db, application, file, 0, place, label)


def take_table(db: UnitOfWork, application: Application, file: RawFile, table: int, place: int, label: str) -> Pull:
    """One table of a file that was received, as one pull."""
    found = _log(db, file).tables[table]
    columns, _ = propose(found.table, PULL_CHANNELS)
    columns = {k: replace(c, scale=PETROL) if c.unit == AFR else c for k, c in columns.items()}
    remember(db, found.table.fingerprint, file.filename, to_json(columns))
    source = verbs.Source(file, Part(table, 0, found.rows - 1), columns)
    return verbs.record(db, application, verbs.NewPull(source, place, label))


def _log(db: UnitOfWork, file: RawFile) -> Log:
    return logs.known(db, file) or logs.read(db, file)


def take_all(
    db: UnitOfWork,
    application: Application,
    session: DynoSession,
    files: Mapping[str, bytes],
    texts: Mapping[str, str] | None = None,
) -> int:
    """Files as they come, many pulls in one or one in many: what the software makes of them by itself, in the order of the card.

    Returns how many pulls were recorded.
    """
    for name, data in files.items():
        verbs.receive(db, session, name, data)
    db.expire(session, ["files"])
    said = {f"g{n}-mixture-scale": str(PETROL) for n in range(6)}
    found = waiting.what_waits(db, application, session, {**said, **(texts or {})})
    number = recording.record_waiting(db, application, session, found)
    db.expire(session, ["pulls", "files"])
    return number
