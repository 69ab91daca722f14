"""What a person chose of files that wait: each stretch found in them, its source with the mapping, and all of it together."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from longbreath.core.judge.check import Check
from longbreath.core.judge.pull import first_of, is_valid
from longbreath.core.pull.ramps import Stretch
from longbreath.dossier.pull.verbs import FileStretch, NewPull
from longbreath.formats import mapping as formats_mapping
from longbreath.formats.log import LogTable, Part
from longbreath.store.models import Pull, RawFile, WorkTask

LEAVE = "leave"
NAMES = "names"
"""The field that says why files are called otherwise than they are taken: one answer for all of them."""
NO_LOGGER = ""
KINDS = {"sweep": "full pull", "steady": "steady point", "idle": "idle"}


@dataclass
class PartChoice:
    """One pull, steady point or idle found in a waiting file: its place and letter as chosen, what they were guessed by, a second
    file that belongs to it, and what the mapping makes of it."""

    key: str
    file: RawFile
    source: WaitingSource
    table: LogTable
    number: int
    stretch: Stretch
    place: str = ""
    label: str = ""
    by: str = ""
    logger: str = NO_LOGGER
    joined: str = ""
    checks: tuple[Check, ...] = ()
    error: str = ""
    twin: Pull | None = None
    named: str = ""
    why_named: str = ""

    @property
    def part(self) -> Part:
        """The rows of the file that it takes."""
        last = min((self.stretch.last + 1) * self.table.stride - 1, self.table.rows - 1)
        return Part(self.number, self.stretch.first * self.table.stride, last)

    @property
    def kind(self) -> str:
        """What it is, in words."""
        return KINDS[self.stretch.kind]

    @property
    def origin(self) -> FileStretch:
        """Where its channels come from."""
        return FileStretch(self.file, self.part, self.source.chosen)

    def command(self, loggers: dict[str, PartChoice]) -> NewPull:
        """The pull it makes."""
        logger = loggers[self.logger].origin if self.logger in loggers else None
        source, departs = self.source, list(self.source.departs)
        if self.is_misnamed:
            departs.append(f"{self.file.filename} taken as {self.label}: {self.why_named}")
        told = {**source.told, "departs": departs} if departs else source.told
        return NewPull(self.origin, int(self.place), self.label, self.stretch.kind, logger, source.smoothing, told)

    @property
    def is_misnamed(self) -> bool:
        """Whether its name says another letter than was chosen."""
        return self.named not in ("", self.label) and self.label != LEAVE

    @property
    def counts(self) -> bool:
        """Whether it would count."""
        return not self.error and is_valid(self.checks)

    @property
    def first(self) -> Check | None:
        """The failed check to look at."""
        return first_of(self.checks)


@dataclass
class WaitingSource:
    """The waiting tables of one source (same header), with its mapping and what it was asked once."""

    key: str
    fingerprint: str
    table: LogTable
    chosen: formats_mapping.Mapping
    remembered: bool
    said: dict[str, str] = field(default_factory=dict)
    told: dict[str, Any] = field(default_factory=dict)
    smoothing: float | None = None
    is_logger: bool = False
    files: set[int] = field(default_factory=set)
    parts: list[PartChoice] = field(default_factory=list)
    errors: dict[str, str] = field(default_factory=dict)
    departs: tuple[str, ...] = ()

    @property
    def readable(self) -> formats_mapping.Mapping:
        """The mapping as far as it can be read: without a mixture whose scale nobody said yet."""
        return {name: c for name, c in self.chosen.items() if f"{name}-scale" not in self.errors}

    @property
    def is_unreadable(self) -> bool:
        """Whether a column or unit is chosen wrong, so that nothing can be shown of it."""
        return any(not name.endswith(("-scale", formats_mapping.AGAINST)) for name in self.errors)

    @property
    def name(self) -> str:
        """What it was first seen in."""
        return self.parts[0].file.filename if self.parts else self.table.name


@dataclass
class Waiting:
    """Everything that waits: sources with what was found in them, files that a worker still reads, files that cannot be read."""

    sources: list[WaitingSource] = field(default_factory=list)
    being_read: list[tuple[RawFile, WorkTask | None]] = field(default_factory=list)
    refused: list[tuple[RawFile, str]] = field(default_factory=list)
    skipped: list[str] = field(default_factory=list)

    @property
    def pulls(self) -> list[PartChoice]:
        """What may become a pull, in order."""
        return [part for source in self.sources if not source.is_logger for part in source.parts]

    @property
    def loggers(self) -> dict[str, PartChoice]:
        """What may be joined to a pull, by key."""
        return {part.key: part for source in self.sources if source.is_logger for part in source.parts}

    @property
    def chosen(self) -> list[PartChoice]:
        """What is to be recorded."""
        taken = (p for p in self.pulls if p.label != LEAVE and not p.error and p.twin is None)
        return sorted(taken, key=lambda p: int(p.place))

    @property
    def misnamed(self) -> list[PartChoice]:
        """What is taken as another letter than its name says."""
        return [part for part in self.chosen if part.is_misnamed]

    @property
    def has_errors(self) -> bool:
        """Whether anything keeps the files from being recorded."""
        unsaid = any(not part.why_named for part in self.misnamed)
        return unsaid or any(source.errors or any(p.error for p in source.parts) for source in self.sources)
