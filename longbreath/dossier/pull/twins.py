"""The content of each pull belongs to the house once: what comes again, in any file, session or dossier, is the pull that stands."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from threading import Lock

from cachetools import LRUCache
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.channels import SPEED
from longbreath.core.pull.likeness import Stretch, Trace, is_same, may_be_same, traces_of
from longbreath.dossier.pull import logs
from longbreath.formats.log import Part
from longbreath.formats.mapping import Mapping, from_json
from longbreath.formats.table import Table
from longbreath.store.models import Pull, PullReading, PullTrace, RawFile, StretchKnown
from longbreath.store.unit_of_work import UnitOfWork

MOST_LOOKED_AT = 400
"""Traces that share a mark and are laid over a new one, those with the most shared marks first."""
OVERLAP = 0.5
"""Share of the rows of a stretch [1] that a pull of the same file has to hold to be the same."""
_known: LRUCache[tuple[str, int, int, int, int | None], list[Trace]] = LRUCache(512)
_lock = Lock()


@dataclass(frozen=True)
class Content:
    """What a stretch of a file holds, as it was written."""

    file: RawFile
    part: Part
    table: Table
    speed: int | None

    @property
    def stretch(self) -> Stretch:
        """Its figures, to be compared."""
        return Stretch(self.table.values, self.speed)

    @cached_property
    def traces(self) -> list[Trace]:
        """What it is known by, made once for each stretch of the same bytes."""
        key = self.file.sha256, self.part.table, self.part.first, self.part.last, self.speed
        with _lock:
            found = _known.get(key)
        if found is None:
            found = traces_of(self.stretch)
            with _lock:
                _known[key] = found
        return found


def content_of(file: RawFile, part: Part, table: Table, columns: Mapping) -> Content:
    """The content of a stretch whose rows are at hand."""
    speed = columns[SPEED].header if SPEED in columns else ""
    return Content(file, part, table, table.headers.index(speed) if speed in table.headers else None)


def known_as(db: Session, contents: Sequence[Content]) -> Pull | None:
    """The pull that one of these stretches already is, wherever it stands."""
    return next(
        (pull for content in contents if (pull := _same_bytes(db, content) or _same_content(db, content))), None
    )


def _same_bytes(db: Session, content: Content) -> Pull | None:
    """A pull made from the same rows of the same bytes."""
    joined = PullReading.file_id == RawFile.id
    query = (
        select(PullReading).join(RawFile, joined).where(RawFile.sha256 == content.file.sha256).order_by(PullReading.id)
    )
    return next((read.pull for read in db.scalars(query) if _overlaps(read.part, content.part)), None)


def _overlaps(kept: dict[str, int], part: Part) -> bool:
    if not kept:
        return True
    shared = min(kept["last"], part.last) - max(kept["first"], part.first) + 1
    return kept["table"] == part.table and shared >= OVERLAP * (part.last - part.first + 1)


def _same_content(db: Session, content: Content) -> Pull | None:
    """A pull of which a column is a column of this, written again."""
    tried: set[int] = set()
    for trace in content.traces:
        for row in _candidates(db, trace):
            if row.pull_id in tried or not may_be_same(trace, _trace(row)):
                continue
            tried.add(row.pull_id)
            if any(is_same(content.stretch, other.stretch) for other in _contents(db, row.pull_id)):
                return db.get_one(Pull, row.pull_id)
    return None


def _candidates(db: Session, trace: Trace) -> list[PullTrace]:
    if not trace.marks:
        return []
    rows = list(db.scalars(select(PullTrace).where(PullTrace.marks.overlap(list(trace.marks))).order_by(PullTrace.id)))
    marks = set(trace.marks)
    return sorted(rows, key=lambda row: -len(marks.intersection(row.marks)))[:MOST_LOOKED_AT]


def _trace(row: PullTrace) -> Trace:
    return Trace(row.column_no, row.by_speed, tuple(row.marks), bytes(row.rough))


def _contents(db: Session, pull_id: int) -> Iterator[Content]:
    """The stretches of files that a pull was first read from."""
    read = db.get_one(Pull, pull_id).readings[0]
    sources = [(read.file, read.part, read.columns)]
    if read.logger_file is not None:
        sources.append((read.logger_file, read.told["logger"]["part"], read.told["logger"]["columns"]))
    for file, part, columns in sources:
        log = logs.known(db, file)
        if log is not None:
            rows = Part(**part) if part else Part(0, 0, log.tables[0].rows - 1)
            (table,) = logs.parts(db, file, log, [rows])
            yield content_of(file, rows, table, from_json(columns))


def hold(work: UnitOfWork, contents: Sequence[Content]) -> None:
    """Go on alone with this content: the same pull may come in two sessions at once."""
    marks = {trace.marks[0] for content in contents for trace in content.traces if trace.marks}
    for mark in sorted(marks):
        work.execute(select(func.pg_advisory_xact_lock(mark)))


def keep_traces(work: UnitOfWork, pull: Pull, contents: Sequence[Content]) -> None:
    """Keep what a pull is known by."""
    for content in contents:
        for trace in content.traces:
            work.add(
                PullTrace(
                    pull_id=pull.id,
                    file_id=content.file.id,
                    column_no=trace.column,
                    by_speed=trace.by_speed,
                    marks=list(trace.marks),
                    rough=trace.rough,
                )
            )


def know(work: UnitOfWork, content: Content, pull: Pull) -> StretchKnown:
    """Keep that a stretch of a file is a pull which stands already."""
    part = content.part
    found = StretchKnown(
        file=content.file,
        file_id=content.file.id,
        table_no=part.table,
        first=part.first,
        last=part.last,
        pull=pull,
        pull_id=pull.id,
        seen_by_id=work.actor.id,
    )
    work.add(found)
    work.flush()
    return found


def known_stretches(db: Session, files: Sequence[RawFile]) -> dict[int, list[StretchKnown]]:
    """Stretches of files that are pulls which stand already, by file."""
    query = select(StretchKnown).where(StretchKnown.file_id.in_([file.id for file in files])).order_by(StretchKnown.id)
    found: dict[int, list[StretchKnown]] = {}
    for row in db.scalars(query):
        found.setdefault(row.file_id, []).append(row)
    return found


def where(pull: Pull) -> str:
    """Where a pull stands, in words."""
    session = pull.session
    return f"pull {pull.sequence} ({pull.label}) of {session.application.audit_title}, {session.held_on:%d %b %Y}"


class StandsAlready(InputError):
    """A pull that comes again: it makes no second one."""

    def __init__(self, pull: Pull, field: str) -> None:
        words = f"It stands already: {where(pull)}. One pull counts once."
        super().__init__(words, field)
        self.pull = pull


def mark_all(work: UnitOfWork) -> int:
    """Keep what pulls are known by that were recorded before it was kept; returns how many were marked."""
    marked = select(PullTrace.id).where(PullTrace.pull_id == Pull.id).exists()
    bare = list(work.scalars(select(Pull).where(~marked).order_by(Pull.id)))
    for pull in bare:
        keep_traces(work, pull, list(_contents(work, pull.id)))
    work.flush()
    return len(bare)
