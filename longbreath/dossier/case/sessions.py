"""Sessions on the dyno as they were seen: pulls with their files and judgements, card, dyno, what was said of the pulls."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.case import seen
from longbreath.core.case.conditions import ASKED
from longbreath.dossier.records.scatter import scatter_of
from longbreath.store.models import (
    CardVariant,
    DynoSession,
    Pull,
    PullCondition,
    PullReading,
    RawFile,
    TestCard,
    TuningRound,
    TypedPull,
)


def sessions_seen(
    db: Session, application_id: int, rows: Sequence[DynoSession], names: dict[int, str]
) -> dict[int, seen.Session]:
    """Sessions by their number, with the pair of letters that a dossier stands on. names: of the sessions, by number."""
    ids = [row.id for row in rows]
    said, typed, first = _said(db, ids), _typed(db, ids), _first_files(db, ids)
    rounds = _rounds(db, {row.card_id for row in rows})
    return {
        row.id: seen.Session(
            number=row.id,
            name=names.get(row.id, ""),
            held_on=row.held_on,
            temperature=row.temperature,
            pressure=row.pressure,
            humidity=row.humidity,
            standard=row.standard,
            already_corrected=row.already_corrected,
            gear=row.gear,
            dyno=_dyno(db, row),
            card=_card(row.card, application_id, rounds.get(row.card_id, {})),
            pulls=tuple(pull_seen(pull) for pull in row.full_pulls),
            last_place=max((pull.sequence for pull in row.pulls), default=0),
            said=said.get(row.id, ()),
            typed=typed.get(row.id, 0),
            first_file=first.get(row.id),
        )
        for row in rows
    }


def _dyno(db: Session, session: DynoSession) -> seen.Dyno:
    dyno = session.card.dyno
    return seen.Dyno(
        dyno.id,
        dyno.name,
        dyno.measured_at,
        scatter_of(db, dyno, session.held_on),
        dyno.roller_inertia,
        dyno.roller_radius,
        dyno.calibrated_on,
        dyno.calibration_due,
    )


def _card(card: TestCard, application_id: int, rounds: dict[str, int]) -> seen.Card:
    a, b = card.pair_of(application_id)
    return seen.Card(
        a,
        b,
        tuple(_variant(row, rounds.get(row.letter, 0)) for row in card.variants),
        tuple(str(factor["name"]) for factor in card.factors),
        card.also_changed,
        card.tune_mode,
        card.control_mode,
        card.no_matter,
        sum(letter in (a, b) for letter in card.order),
    )


def _variant(row: CardVariant, kept: int) -> seen.Variant:
    variant = row.variant
    parts, levels = tuple(part.title for part in variant.parts), tuple(int(level) for level in row.levels)
    return seen.Variant(row.letter, row.called, variant.name, parts, levels, variant.rounds, kept)


def pull_seen(pull: Pull) -> seen.Pull:
    """A pull as it was seen."""
    read = pull.read
    facts: dict[str, Any] = read.told.get("facts") or {}
    told = {name: str(value) for name, value in read.told.items() if isinstance(value, str)}
    return seen.Pull(
        pull.sequence,
        pull.label,
        read.number,
        files_of(read),
        tuple(seen.Judgement(j.valid, j.reason, j.automatic, j.made_by.name, j.agreed_by) for j in pull.judgements),
        _number(read.told.get("smoothing")),
        _number(facts.get("rate")),
        {name: float(value) for name, value in facts["starts"].items()} if facts.get("starts") else None,
        {name: told[name] for name in ASKED if told.get(name)} or None,
        tuple(str(words) for words in read.told.get("departs", ())),
    )


def _number(value: Any) -> float | None:
    return float(value) if value is not None else None


def files_of(read: PullReading) -> tuple[seen.FileRead, ...]:
    """The files that a reading was made of, with how their columns were read; the second is a logger's."""
    found = [_file(read.file, read.part, read.columns)]
    if read.logger_file is not None:
        joined = read.told["logger"]
        found.append(_file(read.logger_file, joined["part"], joined["columns"]))
    return tuple(found)


def _file(file: RawFile, part: dict[str, Any], columns: dict[str, Any]) -> seen.FileRead:
    return seen.FileRead(file.sha256, file.filename, dict(part), dict(columns))


def _said(db: Session, ids: Sequence[int]) -> dict[int, tuple[seen.Said, ...]]:
    """What people said of the pulls of each letter; the newest of a name holds."""
    query = select(PullCondition).where(PullCondition.session_id.in_(ids)).order_by(PullCondition.id)
    newest = {(row.session_id, row.label, row.name): row.words for row in db.scalars(query)}
    found: dict[int, list[seen.Said]] = {}
    for (session_id, letter, name), words in sorted(newest.items()):
        found.setdefault(session_id, []).append(seen.Said(letter, name, words))
    return {number: tuple(rows) for number, rows in found.items()}


def _rounds(db: Session, cards: set[int]) -> dict[int, dict[str, int]]:
    """How many rounds each letter of a card was given on the dyno, over its sessions."""
    query = (
        select(DynoSession.card_id, TuningRound.label, func.count())
        .join(TuningRound, TuningRound.session_id == DynoSession.id)
        .where(DynoSession.card_id.in_(cards))
        .group_by(DynoSession.card_id, TuningRound.label)
    )
    found: dict[int, dict[str, int]] = {}
    for card, letter, count in db.execute(query):
        found.setdefault(card, {})[letter] = count
    return found


def _typed(db: Session, ids: Sequence[int]) -> dict[int, int]:
    query = select(TypedPull.session_id, func.count()).where(TypedPull.session_id.in_(ids))
    return {number: count for number, count in db.execute(query.group_by(TypedPull.session_id))}


def _first_files(db: Session, ids: Sequence[int]) -> dict[int, Any]:
    """When the first file of each session came."""
    query = select(RawFile.session_id, func.min(RawFile.received_at)).where(RawFile.session_id.in_(ids))
    return {number: at for number, at in db.execute(query.group_by(RawFile.session_id))}
