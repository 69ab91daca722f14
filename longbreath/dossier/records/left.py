"""Full pulls that a file of a session holds and nobody recorded: they were seen, and until they are recorded nothing is stated."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from sqlalchemy import and_, exists, or_, select
from sqlalchemy.orm import Session, aliased

from longbreath.core.pull.ramps import SWEEP
from longbreath.store.models import LogRead, PullReading, RawFile, StretchKnown, StretchLeft
from longbreath.store.unit_of_work import UnitOfWork

Stretch = tuple[RawFile, int, int, int, str]
"""File, number of its table, first and last row, kind."""


def note(work: UnitOfWork, left: Iterable[Stretch]) -> None:
    """Keep that somebody mapped these stretches and left them; once for each."""
    for file, table, first, last, kind in left:
        row = StretchLeft(file_id=file.id, table_no=table, first=first, last=last, kind=kind, left_by_id=work.actor.id)
        same = StretchLeft.file_id == row.file_id, StretchLeft.table_no == table, StretchLeft.first == first
        if not work.scalar(select(exists().where(*same))):
            row.file, row.left_by = file, work.actor
            work.add(row)
    work.flush()


def open_files(db: Session, session_ids: Collection[int]) -> dict[int, list[RawFile]]:
    """The files of sessions, by session, that hold full pulls which nobody recorded, or that nobody mapped yet."""
    if not session_ids:
        return {}
    read, joined = aliased(PullReading), aliased(PullReading)
    whole = exists().where(read.file_id == RawFile.id, read.part == {})
    mapped = or_(
        exists().where(read.file_id == RawFile.id),
        exists().where(joined.logger_file_id == RawFile.id),
        exists().where(StretchKnown.file_id == RawFile.id),
        exists().where(StretchLeft.file_id == RawFile.id),
        exists().where(LogRead.file_id == RawFile.id, LogRead.facts.has_key("refused")),
    )
    part = read.part
    covered = exists().where(
        read.file_id == StretchLeft.file_id,
        part["table"].as_integer() == StretchLeft.table_no,
        part["first"].as_integer() <= StretchLeft.last,
        part["last"].as_integer() >= StretchLeft.first,
    )
    known = exists().where(
        StretchKnown.file_id == StretchLeft.file_id,
        StretchKnown.table_no == StretchLeft.table_no,
        StretchKnown.first <= StretchLeft.last,
        StretchKnown.last >= StretchLeft.first,
    )
    waits = exists().where(StretchLeft.file_id == RawFile.id, StretchLeft.kind == SWEEP, ~covered, ~known)
    query = select(RawFile).where(RawFile.session_id.in_(session_ids), or_(~mapped, and_(waits, ~whole)))
    found: dict[int, list[RawFile]] = {}
    for file in db.scalars(query.order_by(RawFile.filename)):
        found.setdefault(file.session_id, []).append(file)
    return found
