"""Test cards and days on the dyno, as the demo tells them: logs taken in, and what the instruments of a cell sent."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from longbreath.core.basis import units
from longbreath.core.build.variant import VariantCard
from longbreath.core.pull.ramps import SWEEP, Stretch
from longbreath.demo.book import Book
from longbreath.devices.cell_line import DIALECTS
from longbreath.devices.kinds import DYNO, LOGGER
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.plan import cards, variants
from longbreath.dossier.pull import closing, logs, recording, verbs, waiting
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.dossier.pull.live import AROUND, Capture, Rows, record_live
from longbreath.dossier.records.cards import card_of
from longbreath.dossier.sources import remember
from longbreath.formats.log import Part, reading_ahead
from longbreath.formats.mapping import AFR, to_json
from longbreath.formats.numbers import propose
from longbreath.formats.sought import PULL_CHANNELS
from longbreath.store.models import Application, DynoSession, Pull, Sensor, TestCard, Variant
from longbreath.store.unit_of_work import UnitOfWork

PETROL = 14.7
"""What the shop's meters call λ = 1."""
_LIVE = re.compile(r"pull-(\d+)-(\w)-dyno\.csv")


def card_of_test(
    work: UnitOfWork, application: Application, draft: cards.CardDraft, boost_sensor: Sensor | None = None
) -> TestCard:
    """A test card; `boost_sensor` is the sensor whose range bounds the boost."""
    if boost_sensor is not None:
        draft = replace(draft, limits={**draft.limits, "sensor_id": boost_sensor.id})
    return cards.save_card(work, application, None, draft)


def variant(work: UnitOfWork, application: Application, card: VariantCard, letter: str = "") -> Variant:
    """A variant, with the next free letter; with a letter, the one that has it is written anew."""
    found = next((v for v in variants.variants_of(work, application.id) if letter and v.letter == letter), None)
    return variants.save_variant(work, application, found, card)


def dyno_day(
    work: UnitOfWork, application: Application, card: verbs.DynoSessionCard, test: TestCard | None = None
) -> DynoSession:
    """A visit to the dyno, under the newest test card of the dossier or another one."""
    found = test or card_of(work, application.id)
    if found is None:
        raise ValueError("this dossier has no test card yet")
    return verbs.open_session(work, application, found, card)


def log(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    file: Path,
    place: int,
    letter: str,
    table: int = 0,
) -> Pull:
    """One table of a log as one pull, mapped by what the software proposes."""
    return take(work, application, session, file.name, file.read_bytes(), place, letter, table)


def take(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    name: str,
    data: bytes,
    place: int,
    letter: str,
    table: int = 0,
) -> Pull:
    """As `log`, of a file that is at hand; one that the session has by that name already is not taken in again."""
    received = next((one for one in session.files if one.filename == name), None)
    if received is None:
        received = verbs.receive(work, session, name, data)
        work.expire(session, ["files"])
    found = (logs.known(work, received) or logs.read(work, received)).tables[table]
    columns, _ = propose(found.table, PULL_CHANNELS)
    columns = {k: replace(c, scale=PETROL) if c.unit == AFR else c for k, c in columns.items()}
    remember(work, found.table.fingerprint, received.filename, to_json(columns))
    source = verbs.FileStretch(received, Part(table, 0, found.rows - 1), columns)
    return verbs.record(work, application, verbs.NewPull(source, place, letter))


def take_logs(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    files: tuple[Path, ...],
    said: Mapping[str, str] | None = None,
) -> int:
    """Logs as they come, many pulls in one or one in many: what the software makes of them by itself, in the order of the card.

    files: by name, or all that a pattern such as `day/*.csv` finds. Returns how many pulls were recorded.
    """
    return take_all(work, application, session, {path.name: path.read_bytes() for path in each_file(files)}, said)


def take_all(
    work: UnitOfWork,
    application: Application,
    session: DynoSession,
    files: Mapping[str, bytes],
    said: Mapping[str, str] | None = None,
) -> int:
    """As `take_logs`, of files that are at hand."""
    with reading_ahead(files.items()):
        for name, data in files.items():
            verbs.receive(work, session, name, data)
    work.expire(session, ["files"])
    scales = {f"g{n}-mixture-scale": str(PETROL) for n in range(6)}
    found = waiting.what_waits(work, application, session, {**scales, **(said or {})})
    number = recording.record_waiting(work, application, session, found).pulls
    work.expire(session, ["pulls", "files"])
    return number


def each_file(files: Iterable[Path]) -> Iterable[Path]:
    """Files by name, or all that a pattern finds, in the order of their names. Raises ValueError where there is none."""
    for path in files:
        found = sorted(path.parent.glob(path.name))
        if not found:
            raise ValueError(f"there is no file {path}")
        yield from found


def live_pulls(
    book: Book, application: Application, session: DynoSession, files: Path, clocks: dict[str, float]
) -> None:
    """A day pulled live, as its instruments sent it: `pull-01-A-dyno.csv` and `pull-01-A-logger.csv` in a folder, a pair a pull.

    The dyno's file holds as many lines before and after the pull as the cell keeps. clocks: by how much the clock of each
    instrument runs off.
    """
    air = {name: getattr(session, name) for name in ("temperature", "pressure", "humidity")}
    for path in each_file([files / "pull-*-dyno.csv"]):
        named = _LIVE.fullmatch(path.name)
        if named is None:
            raise ValueError(f"{path.name} is not called like pull-01-A-dyno.csv")
        dyno = said_by(DYNO, path)
        beside = path.with_name(path.name.replace("-dyno", "-logger"))
        logger = said_by(LOGGER, beside) if beside.exists() else []
        pull = Stretch(SWEEP, AROUND[0], len(dyno) - 1 - AROUND[1], dyno[0]["speed"], dyno[-1]["speed"])
        record_live(book.work, session, Capture(dyno, pull, logger, clocks, air), named[2], int(named[1]))


def said_by(device: str, path: Path) -> Rows:
    """What an instrument of the cell said, line by line [SI by word]; an empty cell is a word that was not said."""
    words = DIALECTS[device].quantities
    with path.open(encoding="utf-8", newline="") as file:
        header, _units, *rows = csv.reader(file)
    read_as = [units.unit_of(words[word].kind, words[word].unit) for word in header]
    return [
        {
            word: float(cell) * unit.factor + unit.offset
            for word, unit, cell in zip(header, read_as, row, strict=True)
            if cell
        }
        for row in rows
    ]


def conditions(work: UnitOfWork, session: DynoSession, letters: tuple[str, ...], said: dict[str, str]) -> None:
    """What was true of the pulls of some letters."""
    put_conditions(work, session, {(letter, name): words for letter in letters for name, words in said.items()})


def weigh_day(work: UnitOfWork, session: DynoSession) -> None:
    """Make the verdicts anew that rest on a session."""
    work.expire(session, ["pulls", "files"])
    say(work, PullsChanged(session))


def close_day(work: UnitOfWork, application: Application, session: DynoSession, reasons: dict[str, str]) -> Any:
    """Close a day in the evening; of what is missing, the reason by its kind, or that of the pulls."""
    missing = closing.missing_of(work, application, session)
    said = {thing.key: reasons.get(thing.key.partition("-")[0], reasons["pulls"]) for thing in missing}
    return closing.close(work, application, session, closing.ClosingCard(said))
