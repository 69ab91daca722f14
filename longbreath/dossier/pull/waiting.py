"""The mapping screen: what is known of the files that wait, what the person chose, and what it would make of them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from collections.abc import Mapping as Texts
from dataclasses import dataclass, field
from itertools import count

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.dyno import pulls
from longbreath.dossier import sources as dossier_sources
from longbreath.dossier.plan.cards import rules_of
from longbreath.dossier.pull.verbs import NewPull
from longbreath.formats import mapping as formats_mapping
from longbreath.formats.table import Table, read_table
from longbreath.store.models import DynoSession, RawFile, Vehicle

LEAVE = "leave"


@dataclass
class FileChoice:
    """One waiting file: its place and label as chosen, what the label was guessed by, and what the mapping makes of it."""

    file: RawFile
    place: str
    label: str
    by: str = ""
    checks: tuple[pulls.Check, ...] = ()
    error: str = ""

    def command(self, mapping: formats_mapping.Mapping) -> NewPull:
        """The pull it makes by its source's mapping."""
        return NewPull(self.file, mapping, int(self.place), self.label)

    @property
    def counts(self) -> bool:
        """Whether it would count."""
        return not self.error and pulls.is_valid(self.checks)


@dataclass
class Source:
    """The waiting files of one source (same header), with its mapping."""

    key: str
    fingerprint: str
    table: Table
    chosen: formats_mapping.Mapping
    remembered: bool
    files: list[FileChoice] = field(default_factory=list)
    errors: dict[str, str] = field(default_factory=dict)
    preview: list[dict[str, float]] = field(default_factory=list)


def waiting(session: DynoSession) -> list[RawFile]:
    """Files of a session that no pull was made from."""
    return sorted((f for f in session.files if f.pull is None), key=lambda f: f.filename.lower())


def waiting_sources(db: Session, session: DynoSession, vehicle: Vehicle, texts: Texts[str, str]) -> list[Source]:
    """The sources that wait, with the person's choices (or remembered and guessed ones) tried on each file."""
    found: dict[str, Source] = {}
    files = waiting(session)
    ours = _words(session.card.called("B"))
    free = _free_places(session)
    numbers = _numbered(session, files)
    for file in files:
        table = read_table(file.content, file.filename)
        source = found.get(file.fingerprint)
        if source is None:
            source = _source(db, f"g{len(found)}", file.fingerprint, table, texts)
            found[file.fingerprint] = source
        place = numbers[file.id] if numbers else next(free)
        planned = _planned(session, place)
        named = label_in(file.filename, ours)
        chosen = FileChoice(
            file,
            texts.get(f"f{file.id}-place", str(place)),
            texts.get(f"f{file.id}-label", named or planned),
            _guessed_by(named, planned),
        )
        source.files.append(chosen)
        _try(source, chosen, table, session, vehicle)
    return list(found.values())


A_WORDS = {"a", "stock", "std", "base", "baseline", "before"}
B_WORDS = {"b", "product", "proto", "prototype", "after"}
"""Words in a file's name that tell what was pulled; the words of the product's own name tell B as well."""


def _words(text: str) -> set[str]:
    return set(re.findall(r"[a-z]+", text.rsplit(".", 1)[0].lower()))


def label_in(filename: str, ours: set[str]) -> str:
    """A or B, where the name of a file says one of them and not the other; nothing otherwise. ours: words of the product."""
    words = _words(filename)
    is_a = bool(words & A_WORDS)
    is_b = bool(words & B_WORDS) or (not is_a and any(len(word) > 3 and word in ours for word in words))
    return "" if is_a == is_b else "A" if is_a else "B"


def _guessed_by(named: str, planned: str) -> str:
    if not named:
        return "by its place on the card"
    return "so its name says" if named == planned else f"so its name says; the card plans {planned} here"


def _numbered(session: DynoSession, files: Sequence[RawFile]) -> dict[int, int]:
    """Places by file id where every file's name has one number, all different and free; empty otherwise."""
    taken = {pull.sequence for pull in session.pulls}
    found = {}
    for file in files:
        numbers = re.findall(r"\d+", file.filename.rsplit(".", 1)[0])
        if len(numbers) != 1 or len(numbers[0]) > 3 or not 1 <= int(numbers[0]) <= 99:
            return {}
        found[file.id] = int(numbers[0])
    return found if len(set(found.values())) == len(files) and not taken & set(found.values()) else {}


def _planned(session: DynoSession, place: int) -> str:
    """The label that the card plans for a place (A once the card is fulfilled)."""
    order = session.card.order
    return order[place - 1] if place <= len(order) else "A"


def _free_places(session: DynoSession) -> Iterator[int]:
    """Places not taken yet."""
    taken = {pull.sequence for pull in session.pulls}
    return (place for place in count(1) if place not in taken)


def _source(db: Session, key: str, fingerprint: str, table: Table, texts: Texts[str, str]) -> Source:
    kept = dossier_sources.remembered(db, fingerprint)
    chosen = formats_mapping.chosen(table, kept, texts, f"{key}-", formats_mapping.PULL_CHANNELS)
    source = Source(key, fingerprint, table, chosen, kept is not None)
    try:
        channels = formats_mapping.apply(table, chosen)
        source.preview = [
            {name: float(values[i]) for name, values in channels.items()} for i in range(0, min(5, len(table.values)))
        ]
    except InputError as error:
        source.errors[error.field] = error.message
    return source


def _try(source: Source, chosen: FileChoice, table: Table, session: DynoSession, vehicle: Vehicle) -> None:
    """Check a file under the present mapping; a pull wholly outside the band is refused, not recorded."""
    if source.errors or chosen.label == LEAVE:
        return
    rules = rules_of(session.card, vehicle)
    try:
        if not re.fullmatch(r"[1-9][0-9]{0,2}", chosen.place):
            raise InputError(f"“{chosen.place[:12]}” is no place in the order: write a whole number from 1.", "place")
        if chosen.label not in session.card.letters:
            told = " or ".join(session.card.letters)
            raise InputError(f"A pull is of {told}, or its file is left out.", "label")
        sweep = pulls.make_sweep(formats_mapping.apply(table, source.chosen))
        chosen.checks = pulls.checks_of(sweep, rules)
        if sweep.speed.max() < rules.low or sweep.speed.min() > rules.high:
            outside = next(c for c in chosen.checks if c.key == "coverage")
            raise InputError(
                f"{outside.sentence} Check the column and unit of engine speed, or leave the file out.", "speed"
            )
    except InputError as error:
        chosen.error = error.message


def collisions(sources: list[Source], session: DynoSession) -> None:
    """Mark files that claim a place twice."""
    taken = {str(pull.sequence) for pull in session.pulls}
    for source in sources:
        for chosen in source.files:
            if chosen.label == LEAVE or chosen.error:
                continue
            if chosen.place in taken:
                chosen.error = f"Place {chosen.place} is taken: each pull has its own place in the order."
            taken.add(chosen.place)


def has_errors(sources: list[Source]) -> bool:
    """Whether anything keeps the files from being recorded."""
    return any(source.errors or any(f.error for f in source.files) for source in sources)
