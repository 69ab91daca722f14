"""The mapping screen: what is known of the files that wait, what the person chose, and what it would make of them."""

from __future__ import annotations

import re
from collections.abc import Mapping as Texts

from sqlalchemy import select
from sqlalchemy.orm import Session, aliased

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.channels import POWER, SPEED, THROTTLE, TIME, TORQUE
from longbreath.core.pull.ramps import SWEEP, Stretch, find_stretches
from longbreath.dossier import sources as dossier_sources
from longbreath.dossier.pull import logs, naming, twins
from longbreath.dossier.pull.chosen import LEAVE, NAMES, NO_LOGGER, PartChoice, Waiting, WaitingSource
from longbreath.dossier.pull.verbs import TOLD_ONCE, judged
from longbreath.formats import mapping as formats_mapping
from longbreath.formats import pull_read as reading
from longbreath.formats.log import Log, LogTable
from longbreath.formats.numbers import propose
from longbreath.formats.pull_read import Read
from longbreath.formats.sought import PULL_CHANNELS
from longbreath.formats.table import Table
from longbreath.store.models import Application, DynoSession, Pull, PullReading, RawFile, StretchKnown, Vehicle
from longbreath.store.unit_of_work import UnitOfWork


def waiting(db: Session, session: DynoSession) -> list[RawFile]:
    """Files of a session that no pull was made from, and that hold none which stands elsewhere, by name."""
    read, joined = aliased(PullReading), aliased(PullReading)
    query = select(RawFile).where(
        RawFile.session_id == session.id,
        ~select(read.id).where(read.file_id == RawFile.id).exists(),
        ~select(joined.id).where(joined.logger_file_id == RawFile.id).exists(),
        ~select(StretchKnown.id).where(StretchKnown.file_id == RawFile.id).exists(),
    )
    return sorted(db.scalars(query), key=lambda f: f.filename.lower())


def what_waits(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    texts: Texts[str, str],
    again: RawFile | None = None,
) -> Waiting:
    """What waits in a session, with the person's choices (or remembered and guessed ones) tried on each part.

    again: a file of which some was recorded already; what is left of it waits as well.
    """
    found = Waiting()
    for file in [*waiting(work, session), *([again] if again is not None and again.is_used else [])]:
        try:
            log = logs.log_of(work, file)
        except InputError as error:
            found.refused.append((file, error.message))
            continue
        if log is None:
            found.being_read.append((file, logs.task_of(work, file)))
            continue
        found.skipped += log.skipped
        _sort_in(work, found, file, log, session, texts)
    _place(session, found, texts)
    _pair(found, texts)
    for part in found.pulls:
        _try(work, application, session, found, part)
    _collide(found, session)
    return found


def _sort_in(
    work: UnitOfWork, found: Waiting, file: RawFile, log: Log, session: DynoSession, texts: Texts[str, str]
) -> None:
    """Put each table of a file to its source, with the stretches found in it."""
    count = 0
    for number, table in enumerate(log.tables):
        source = next((s for s in found.sources if s.fingerprint == table.table.fingerprint), None)
        if source is None:
            source = _source(work, f"g{len(found.sources)}", table, texts, session)
            found.sources.append(source)
        source.files.add(file.id)
        known = twins.known_stretches(work, [file]).get(file.id, [])
        for stretch in _stretches(source, table):
            if _is_taken(file, known, number, stretch, table.stride):
                continue
            key = f"f{file.id}" if count == 0 else f"f{file.id}-{count}"
            count += 1
            source.parts.append(PartChoice(key, file, source, table, number, stretch))


def _is_taken(file: RawFile, known: list[StretchKnown], table: int, stretch: Stretch, stride: int) -> bool:
    """Whether a pull was made from a stretch of a file already, or from a part of it, or it stands elsewhere."""
    first, last = stretch.first * stride, (stretch.last + 1) * stride
    parts = [made.part for made in file.readings]
    parts += [{"table": row.table_no, "first": row.first, "last": row.last} for row in known]
    return any(not p or (p["table"] == table and p["first"] < last and p["last"] >= first) for p in parts)


def _source(work: UnitOfWork, key: str, table: LogTable, texts: Texts[str, str], session: DynoSession) -> WaitingSource:
    fingerprint = table.table.fingerprint
    kept = dossier_sources.remembered(work, fingerprint)
    start, said = (formats_mapping.from_json(kept), {}) if kept else propose(table.table, PULL_CHANNELS)
    sought, prefix = reading.sought_for(start), f"{key}-"
    start, before = formats_mapping.with_stated_units(table.table, start, sought) if kept else (start, {})
    chosen = formats_mapping.chosen(table.table, start, texts, prefix, sought)
    source = WaitingSource(key, fingerprint, table, chosen, kept is not None, said)
    source.errors = formats_mapping.contradictions(table.table, chosen, texts, prefix, sought)
    source.departs = formats_mapping.departures(table.table, chosen, texts, prefix, sought)
    for name, unit in before.items():
        if f"{prefix}{name}-unit" not in texts:
            words = f"The header says {start[name].unit}; last time it was read as {unit or 'a plain number'}."
            source.errors[name + formats_mapping.AGAINST] = f"{words} Which is right?"
    before = dossier_sources.told_once(work, fingerprint)
    source.told = {name: written(texts.get(f"{key}-{name}", before.get(name, ""))) for name in TOLD_ONCE}
    try:
        source.smoothing = _smoothing(texts.get(f"{key}-smoothing", ""))
        reading.columns_of(table.table, chosen)
    except InputError as error:
        source.errors[error.field] = error.message
    source.is_logger = not source.is_unreadable and not reading.can_make_torque(source.readable, session.card.dyno)
    return source


def written(text: str) -> str:
    """What a person wrote in a line, without signs that nobody sees and nothing can keep."""
    return "".join(sign for sign in text if sign.isprintable()).strip()[:200]


def _smoothing(text: str) -> float | None:
    if not text.strip():
        return None
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = 0.0
    if not 0.02 <= value <= 5.0:
        raise InputError("Write a width in seconds from 0.02 to 5.", "smoothing")
    return value


def _stretches(source: WaitingSource, table: LogTable) -> tuple[Stretch, ...]:
    """The stretches of a table by the source's mapping: all of it where no ramp shows, so that the person sees why it is none."""
    if source.is_unreadable:
        return (Stretch(SWEEP, 0, table.table.values.shape[0] - 1, 0.0, 0.0),)
    try:
        channels = reading.columns_of(table.table, source.readable).channels
    except InputError as error:
        source.errors[error.field] = error.message
        return (Stretch(SWEEP, 0, table.table.values.shape[0] - 1, 0.0, 0.0),)
    load = channels.get(TORQUE, channels.get(POWER))
    found = find_stretches(channels[SPEED], channels.get(TIME), load, channels.get(THROTTLE))
    if not found:
        speed = channels[SPEED]
        return (Stretch(SWEEP, 0, speed.size - 1, float(speed[0]), float(speed[-1])),)
    return found


def _place(session: DynoSession, found: Waiting, texts: Texts[str, str]) -> None:
    """Places and letters: by numbers in the names where each file is one pull, else in order of the card."""
    pulls = found.pulls
    ours = naming.words_of(session.card.called("B")) - naming.words_of(session.card.called("A"))
    free = naming.free_places(session)
    full = [p for p in pulls if p.stretch.kind == SWEEP]
    single = len({p.file.id for p in full}) == len(full) and len(full) == len(pulls)
    numbers = naming.numbered(session, [p.file for p in full]) if single else {}
    for part in pulls:
        aside = bool(full) and part.stretch.kind != SWEEP
        place = numbers.get(part.file.id) or ("" if aside else next(free))
        planned = naming.planned(session, int(place)) if place else LEAVE
        named = naming.label_in(part.file.filename, ours) if single else ""
        part.place = texts.get(f"{part.key}-place", str(place))
        part.label = texts.get(f"{part.key}-label", named or planned)
        part.named = named if named in session.card.letters else ""
        part.why_named = written(texts.get(NAMES, ""))
        part.by = naming.guessed_by(named, planned) if place else "left out: the card plans full pulls"


def _pair(found: Waiting, texts: Texts[str, str]) -> None:
    """Which stretch of a logger belongs to which pull: by order where there are as many, else none until the person says."""
    pulls = [p for p in found.pulls if p.stretch.kind == SWEEP]
    loggers = [p for p in found.loggers.values() if p.stretch.kind == SWEEP]
    by_order = dict(zip((p.key for p in pulls), loggers, strict=True)) if len(pulls) == len(loggers) else {}
    for part in found.pulls:
        default = by_order[part.key].key if part.key in by_order else NO_LOGGER
        part.logger = texts.get(f"{part.key}-logger", default)


def _try(work: UnitOfWork, application: Application, session: DynoSession, found: Waiting, part: PartChoice) -> None:
    """Check a part under the present mapping; a pull wholly outside the band is refused, not recorded."""
    if part.label == LEAVE:
        return
    try:
        if not re.fullmatch(r"[1-9][0-9]{0,2}", part.place):
            raise InputError(f"“{part.place[:12]}” is no place in the order: write a whole number from 1.", "place")
        if part.label not in session.card.letters:
            told = " or ".join(session.card.letters)
            raise InputError(f"A pull is of {told}, or its file is left out.", "label")
        if part.logger != NO_LOGGER and part.logger not in found.loggers:
            raise InputError("That second file is not waiting any more.", "logger")
        if part.source.is_unreadable:
            return
        read = _looked_at(part)
        if part.logger in found.loggers:
            logger = found.loggers[part.logger]
            read, _ = reading.joined(read, _looked_at(logger))
            part.joined = str(read.told.get("joined", ""))
        if part.stretch.kind == SWEEP:
            read = reading.with_torque(read, session.card.dyno, part.source.smoothing)
        part.twin = _twin(work, part, found.loggers.get(part.logger))
        part.checks, _ = judged(work, application, session, part.command(found.loggers), read)
        _check_covers(part, read, application.vehicle)
    except InputError as error:
        part.error = error.message


def _check_covers(part: PartChoice, read: Read, vehicle: Vehicle) -> None:
    """Raise InputError for a full pull that lies wholly outside the band of use."""
    speed = read.channels[SPEED]
    if part.stretch.kind == SWEEP and (speed.max() < vehicle.band_low or speed.min() > vehicle.band_end):
        outside = next(c for c in part.checks if c.key == "coverage")
        words = f"{outside.sentence} Check the column and unit of engine speed, or leave the file out."
        raise InputError(words, "speed")


def _twin(work: UnitOfWork, part: PartChoice, logger: PartChoice | None) -> Pull | None:
    """The pull that a part already is; of a large file the worker looks, who has all its rows."""
    parts = [p for p in (part, logger) if p is not None and p.table.stride == 1]
    if part.stretch.kind != SWEEP:
        return None
    return twins.known_as(work, [twins.content_of(p.file, p.part, _table(p), p.source.readable) for p in parts])


def _table(part: PartChoice) -> Table:
    """The rows of a part as they are at hand."""
    table, rows = part.table.table, part.table.table.values[part.stretch.first : part.stretch.last + 1]
    return type(table)(table.headers, table.units, rows, table.delimiter, table.decimal, table.remarks)


def _looked_at(part: PartChoice) -> Read:
    """The channels of a part by its thinned figures: all of them where the file is small."""
    return reading.columns_of(_table(part), part.source.readable)


def _collide(found: Waiting, session: DynoSession) -> None:
    """Mark parts that claim a place twice, or one second file for two pulls."""
    taken = {str(pull.sequence) for pull in session.pulls}
    joined: set[str] = set()
    for part in found.pulls:
        if part.label == LEAVE or part.error or part.twin is not None:
            continue
        if part.place in taken:
            part.error = f"Place {part.place} is taken: each pull has its own place in the order."
        elif part.logger and part.logger in joined:
            part.error = "That second file is joined to another pull already."
        taken.add(part.place)
        joined.add(part.logger)
