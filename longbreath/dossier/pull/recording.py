"""Recording what waits: at once where the files are small, by a worker where one of them is large."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, EvidenceError
from longbreath.core.basis.sentence import counted
from longbreath.dossier import work as tasks
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.pull import twins, verbs, waiting
from longbreath.dossier.pull.chosen import LEAVE, NAMES, Waiting
from longbreath.dossier.records import left
from longbreath.dossier.sources import remember
from longbreath.formats.log import is_large
from longbreath.formats.mapping import to_json
from longbreath.store.models import Application, DynoSession, RawFile, WorkTask
from longbreath.store.unit_of_work import UnitOfWork

KIND = "pull_record"
Tell = Callable[[float, str], None]


@dataclass(frozen=True)
class Recorded:
    """What came of files: how many pulls are new, and how many stood already."""

    pulls: int
    again: int

    @property
    def words(self) -> str:
        """In a sentence."""
        stood = f" {counted(self.again, 'pull')} stood already: nothing is recorded twice." if self.again else ""
        return f"{counted(self.pulls, 'pull')} recorded and judged.{stood}"


def quiet(share: float, words: str) -> None:
    """Tell nobody."""


def is_long(found: Waiting) -> bool:
    """Whether a worker has to record it: a large file is opened again for every row of it."""
    return any(is_large(part.file.size) for part in (*found.chosen, *found.loggers.values()))


def record_waiting(
    work: UnitOfWork, application: Application, session: DynoSession, found: Waiting, tell: Tell = quiet
) -> Recorded:
    """Record what was chosen of what waits, remember the mappings, make the verdicts anew. What stands already, anywhere in the
    house, is left where it stands.

    All of it or nothing. Raises EvidenceError where something of it cannot be read as it was chosen.
    """
    if found.has_errors:
        raise EvidenceError("Something changed since the files were mapped: look at the mapping again.")
    for source in found.sources:
        remember(work, source.fingerprint, source.name, to_json(source.chosen), source.told)
    loggers, chosen = found.loggers, found.chosen
    again = [(part, part.twin) for part in found.pulls if part.twin is not None]
    for number, part in enumerate(chosen):
        tell(number / len(chosen), f"pull {part.place} of {part.file.filename}")
        try:
            verbs.record(work, application, part.command(loggers))
        except twins.StandsAlready as error:
            again.append((part, error.pull))
    for part, pull in again:
        for content in verbs.contents_of(work, part.command(loggers)):
            twins.know(work, content, pull)
    left.note(work, _left(found))
    say(work, PullsChanged(session))
    return Recorded(len(chosen) + sum(part.twin is not None for part, _ in again) - len(again), len(again))


def _left(found: Waiting) -> Iterator[left.Stretch]:
    """What was mapped and not recorded."""
    loggers = {part.logger for part in found.chosen}
    for part in found.pulls:
        if part.label == LEAVE:
            yield part.file, part.part.table, part.part.first, part.part.last, part.stretch.kind
    for key, part in found.loggers.items():
        if key not in loggers:
            yield part.file, part.part.table, part.part.first, part.part.last, ""


def ask(work: UnitOfWork, session: DynoSession, texts: Mapping[str, str], again: RawFile | None = None) -> WorkTask:
    """Ask a worker to record what waits in a session, as a person chose it."""
    files = sorted(file.id for file in waiting.waiting(work, session))
    chosen = {name: waiting.written(text) for name, text in texts.items() if name[:1] in ("g", "f") or name == NAMES}
    inputs = {"session": session.id, "files": files, "texts": chosen, "again": again.id if again is not None else None}
    return tasks.ask(work, KIND, inputs, "Recording pulls of large files", session.application_id)


def open_tasks(db: Session, session: DynoSession) -> list[WorkTask]:
    """The work on files of a session that was asked for and is not over: reading them, recording their pulls."""
    own = {f.id for f in session.files}
    open_ones = (
        t for t in tasks.recent_tasks(db, session.application_id, 50) if t.state in (tasks.WAITING, tasks.RUNNING)
    )
    return [t for t in open_ones if t.inputs.get("session") == session.id or t.inputs.get("file") in own]


def open_task(db: Session, session: DynoSession) -> WorkTask | None:
    """The recording that was asked for in a session and is not over."""
    return next((t for t in open_tasks(db, session) if t.kind == KIND), None)


def do_asked(work: UnitOfWork, inputs: Mapping[str, Any], tell: Tell) -> Recorded:
    """Record what was asked for. Raises Conflict where other files wait by now."""
    session = work.get_one(DynoSession, inputs["session"])
    application = work.get_one(Application, session.application_id)
    if sorted(file.id for file in waiting.waiting(work, session)) != inputs["files"]:
        raise Conflict("Other files wait by now: map them again.")
    again = work.get(RawFile, inputs["again"]) if inputs.get("again") else None
    found = waiting.what_waits(work, application, session, inputs["texts"], again)
    if found.being_read:
        raise Conflict("A file is still being read: map them once it is.")
    return record_waiting(work, application, session, found, tell)
