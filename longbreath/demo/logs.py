"""Taking logs in as a person would: received, mapped by what the software proposes, recorded at a place under a letter."""

from __future__ import annotations

from dataclasses import replace

from longbreath.dossier.pull import logs, verbs
from longbreath.dossier.sources import remember
from longbreath.formats.mapping import AFR, to_json
from longbreath.formats.numbers import propose
from longbreath.formats.sought import PULL_CHANNELS
from longbreath.store.models import Application, DynoSession, Pull
from longbreath.store.unit_of_work import UnitOfWork

PETROL = 14.7
"""What the shop's meters call λ = 1."""


def take(
    db: UnitOfWork, application: Application, session: DynoSession, name: str, data: bytes, place: int, label: str
) -> Pull:
    """One file that holds one pull."""
    file = verbs.receive(db, session, name, data)
    table = (logs.known(db, file) or logs.read(db, file)).tables[0].table
    columns, _ = propose(table, PULL_CHANNELS)
    columns = {k: replace(c, scale=PETROL) if c.unit == AFR else c for k, c in columns.items()}
    remember(db, table.fingerprint, name, to_json(columns))
    return verbs.record(db, application, verbs.NewPull(verbs.whole_of(db, file, columns), place, label))
