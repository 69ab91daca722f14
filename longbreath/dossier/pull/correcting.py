"""A source that was read wrong: its present columns, other ones tried on them, and all its pulls of a session read anew."""

from __future__ import annotations

from collections.abc import Mapping as Texts
from dataclasses import dataclass, field

from longbreath.core.basis.errors import InputError
from longbreath.dossier.pull import logs
from longbreath.dossier.pull.verbs import Again, read_again
from longbreath.dossier.sources import remember
from longbreath.formats import mapping as formats_mapping
from longbreath.formats import pull_read as reading
from longbreath.formats.log import LogTable
from longbreath.store.models import Application, DynoSession, Pull, RawFile
from longbreath.store.unit_of_work import UnitOfWork


@dataclass
class Recorded:
    """A source of recorded pulls: its table, how it is read and how it is to be read, the pulls, what is wrong with the choice."""

    fingerprint: str
    key: str
    table: LogTable
    chosen: formats_mapping.Mapping
    pulls: list[Pull]
    errors: dict[str, str] = field(default_factory=dict)
    departs: tuple[str, ...] = ()
    said: dict[str, str] = field(default_factory=dict)


def table_of(work: UnitOfWork, pull: Pull) -> LogTable:
    """The table of its file that a pull was read from. Raises InputError if the file cannot be read any more."""
    file: RawFile = pull.read.file
    log = logs.known(work, file) or logs.read(work, file)
    return log.tables[int(pull.read.part.get("table", 0))]


def _fingerprint(work: UnitOfWork, pull: Pull) -> str:
    return table_of(work, pull).table.fingerprint


def source_of(work: UnitOfWork, session: DynoSession, fingerprint: str, texts: Texts[str, str]) -> Recorded | None:
    """A source of a session's pulls with the columns as a person chose them; None where no pull is of it."""
    pulls = [p for p in session.pulls if (p.read.told.get("source") or _fingerprint(work, p)) == fingerprint]
    if not pulls:
        return None
    table = table_of(work, pulls[0])
    present = formats_mapping.from_json(pulls[0].read.columns)
    chosen = formats_mapping.chosen(table.table, present, texts, "g0-", reading.sought_for(present))
    sought = reading.sought_for(present)
    found = Recorded(fingerprint, "g0", table, chosen, pulls)
    if texts:
        found.departs = formats_mapping.departures(table.table, chosen, texts, "g0-", sought)
        found.errors = formats_mapping.contradictions(table.table, chosen, texts, "g0-", sought)
    try:
        reading.columns_of(table.table, chosen)
    except InputError as error:
        found.errors[error.field] = error.message
    return found


def read_anew(work: UnitOfWork, application: Application, source: Recorded, why: str) -> int:
    """Read all pulls of a source by the chosen columns, in their order, and remember them for the next files. Returns how many.

    Raises InputError where the choice cannot be read, or changes nothing.
    """
    if source.errors:
        raise InputError(next(iter(source.errors.values())), "why")
    changed = [p for p in source.pulls if p.read.columns != formats_mapping.to_json(source.chosen)]
    if not changed:
        raise InputError("They are read that way already: change a column or a unit.", "why")
    left = {pull.sequence for pull in changed}
    for pull in sorted(changed, key=lambda p: p.sequence):
        left.discard(pull.sequence)
        read_again(work, application, Again(pull, source.chosen, why.strip(), None, source.departs, frozenset(left)))
    name = changed[0].read.file.filename
    remember(work, source.fingerprint, name, formats_mapping.to_json(source.chosen))
    return len(changed)
