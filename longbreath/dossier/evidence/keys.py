"""What identifies evidence: one key over everything that bears on what may be said, for many applications at once."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Protocol, TypeVar

from sqlalchemy import and_, func, or_, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, aliased

from longbreath.core.dyno.compare import MARGIN_SHARE
from longbreath.core.dyno.health import FINDING
from longbreath.store.models import (
    Application,
    BuildSheet,
    CardPair,
    CardVariant,
    DifferenceReason,
    Dyno,
    DynoScatter,
    DynoSession,
    HealthEntry,
    Pull,
    PullCondition,
    PullJudgement,
    PullReading,
    RawFile,
    TestCard,
    TuningRound,
    Vehicle,
)
from longbreath.store.models.pulls import SWEEP

_A, _B = aliased(CardVariant), aliased(CardVariant)
_MODES = (TestCard.tune_mode, TestCard.control_mode, CardPair.a, CardPair.b)
_PLAIN = ("", "", "A", "B")
"""A card without modes that compares A and B: its key has nothing more."""
_OF_A_SESSION = (
    DynoSession.id,
    DynoSession.held_on,
    DynoSession.temperature,
    DynoSession.pressure,
    DynoSession.humidity,
    DynoSession.standard,
    DynoSession.already_corrected,
    DynoSession.gear,
    TestCard.id,
    _A.called.label("a_is"),
    _B.called.label("b_is"),
    TestCard.held,
    TestCard.also_changed,
    TestCard.pulls_per_set,
    Dyno.id,
    Dyno.name,
    Dyno.measured_at,
    Dyno.repeatability,
    Application.revision_id,
    Application.stock_revision_id,
    Vehicle.name,
    Vehicle.induction,
    Vehicle.band_low,
    Vehicle.band_middle,
    Vehicle.band_top,
    Vehicle.band_end,
)
"""Everything of a session, its card and dyno, and the vehicle, that a statement or its conditions are made of."""

K = TypeVar("K")


class Standing(Protocol):
    """A build sheet, or a row of one: number, label and the day it describes."""

    @property
    def id(self) -> int: ...
    @property
    def label(self) -> str: ...
    @property
    def held_on(self) -> date: ...


S = TypeVar("S", bound=Standing)


def standing(sheets: Iterable[S], day: date) -> dict[str, S]:
    """The build sheets of A and B that stand for a day: of each the newest that describes that day or one before it."""
    found: dict[str, S] = {}
    for sheet in sorted(sheets, key=lambda s: (s.held_on, s.id)):
        if sheet.label and sheet.held_on <= day:
            found[sheet.label] = sheet
    return found


def keys_of(db: Session, wanted: Mapping[K, tuple[int, Sequence[int]]]) -> dict[K, str]:
    """The key of each evidence that is asked for by its application and dyno sessions, in a few queries for all."""
    return {name: made.key for name, made in made_of(db, wanted).items()}


@dataclass(frozen=True)
class Made:
    """What an evidence is made of: its key, and a digest of each part of it by name."""

    key: str
    parts: Mapping[str, str]


def made_of(db: Session, wanted: Mapping[K, tuple[int, Sequence[int]]]) -> dict[K, Made]:
    """Key and parts of each evidence that is asked for.

    wanted: number of the application and of its sessions, by whatever the caller calls them. Rows are append-only or stand in
    the key with their values, so that equal keys are equal evidence.
    """
    if not wanted:
        return {}
    session_ids = {number for _, numbers in wanted.values() for number in numbers}
    sessions = _sessions(db, session_ids)
    pulls = _pulls(db, session_ids)
    sheets = _sheets(db, {application_id for application_id, _ in wanted.values()})
    more, ledgers = _beside(db, session_ids), _ledgers(db, {application_id for application_id, _ in wanted.values()})
    return {
        name: _made(
            [s for n in sorted(numbers) if (s := sessions.get((application_id, n)))],
            pulls,
            sheets.get(application_id, []),
            [*(line for n in sorted(numbers) for line in more.get(n, ())), *ledgers.get(application_id, ())],
        )
        for name, (application_id, numbers) in wanted.items()
    }


_SCATTER = (
    select(DynoScatter.id)
    .where(DynoScatter.dyno_id == Dyno.id, DynoScatter.from_day <= DynoSession.held_on)
    .order_by(DynoScatter.from_day.desc(), DynoScatter.id.desc())
    .limit(1)
    .correlate(Dyno, DynoSession)
    .scalar_subquery()
)
"""The scatter from its records that a session's dyno had on its day."""


def _made(sessions: list[Any], pulls: Mapping[int, list[Any]], sheets: list[Any], more: Sequence[str] = ()) -> Made:
    stand = standing(sheets, max(s[1] for s in sessions)) if sessions else {}
    parts = [[repr(tuple(s)), *(repr(tuple(p)) for p in pulls.get(s[0], []))] for s in sessions]
    parts.append([f"{label}:{sheet.id}" for label, sheet in sorted(stand.items())])
    parts += [[line] for line in more]
    named = {
        "session": [repr(tuple(s)) for s in sessions],
        "pulls": [repr(tuple(p)) for s in sessions for p in pulls.get(s[0], [])],
        "sheets": parts[len(sessions)],
        **_sorted(more),
    }
    key = digest_of("\n".join("|".join(part) for part in parts))
    return Made(key, {name: digest_of("\n".join(lines))[:16] for name, lines in named.items()})


def _sorted(more: Sequence[str]) -> dict[str, list[str]]:
    """Lines beside sessions, pulls and sheets, by what they are of."""
    found: dict[str, list[str]] = {"beside": [], "health": [], "ledger": []}
    for line in more:
        name = "beside" if line.startswith(_BESIDE) else "health" if line.startswith("health ") else "ledger"
        found[name].append(line)
    return found


_BESIDE = ("conditions ", "rounds ")


def digest_of(text: str) -> str:
    """SHA-256 of a text."""
    return hashlib.sha256(text.encode()).hexdigest()


def _sessions(db: Session, ids: Iterable[int]) -> dict[tuple[int, int], tuple[Any, ...]]:
    """What a key holds of a session, by application and session: a card may serve several applications."""
    query = (
        select(
            *_OF_A_SESSION,
            *_MODES,
            Dyno.fitting_repeatability,
            Dyno.fitting_freedom,
            TestCard.no_matter,
            CardPair.application_id,
            _SCATTER,
        )
        .join(TestCard, TestCard.id == DynoSession.card_id)
        .join(CardPair, CardPair.card_id == TestCard.id)
        .join(_A, and_(_A.card_id == TestCard.id, _A.letter == CardPair.a))
        .join(_B, and_(_B.card_id == TestCard.id, _B.letter == CardPair.b))
        .join(Dyno, Dyno.id == TestCard.dyno_id)
        .join(Application, Application.id == CardPair.application_id)
        .join(Vehicle, Vehicle.id == Application.vehicle_id)
        .where(DynoSession.id.in_(ids))
    )
    found: dict[tuple[Any, Any], tuple[Any, ...]] = {}
    for row in db.execute(query):
        fitting, freedom, margin, application_id, scatter = row[-5:]
        values, modes = row[: -len(_MODES) - 5], tuple(row[-len(_MODES) - 5 : -5])
        more = (
            *(modes if modes != _PLAIN else ()),
            *((f"scatter {scatter}",) if scatter is not None else ()),
            *((f"fitting {fitting} {freedom}",) if fitting is not None else ()),
            *((f"margin {margin}",) if margin != MARGIN_SHARE else ()),
        )
        found[application_id, row.id] = (*values, *more)
    return found


def _pulls(db: Session, session_ids: Iterable[int]) -> dict[int, list[Any]]:
    """Full pulls with their latest judgement and reading, by session, in order; a first reading adds nothing to what is said."""
    query = (
        select(
            Pull.session_id, Pull.id, Pull.sequence, Pull.label, RawFile.sha256, PullJudgement.valid, PullReading.number
        )
        .join(PullReading, PullReading.pull_id == Pull.id)
        .join(RawFile, RawFile.id == PullReading.file_id)
        .join(PullJudgement, PullJudgement.pull_id == Pull.id)
        .where(Pull.session_id.in_(session_ids), Pull.kind == SWEEP)
        .ext(distinct_on(Pull.id))
        .order_by(Pull.id, PullReading.number.desc(), PullJudgement.id.desc())
    )
    found: dict[int, list[Any]] = {}
    for row in db.execute(query):
        told = tuple(row)
        found.setdefault(row.session_id, []).append(told[:-1] if row.number == 1 else told)
    return found


def _beside(db: Session, session_ids: Iterable[int]) -> dict[int, list[str]]:
    """What people said of the pulls of a session that no log states, rounds of tuning, findings on its engine; most have none."""
    found: dict[int, list[str]] = {}
    said = select(PullCondition.session_id, func.max(PullCondition.id)).where(PullCondition.session_id.in_(session_ids))
    for session_id, newest in db.execute(said.group_by(PullCondition.session_id)):
        found.setdefault(session_id, []).append(f"conditions {newest}")
    rounds = select(TuningRound.session_id, func.max(TuningRound.id)).where(TuningRound.session_id.in_(session_ids))
    for session_id, newest in db.execute(rounds.group_by(TuningRound.session_id)):
        found.setdefault(session_id, []).append(f"rounds {newest}")
    on = or_(
        HealthEntry.engine_id == DynoSession.engine_id,
        and_(DynoSession.engine_id.is_(None), HealthEntry.vehicle_id == Application.vehicle_id),
    )
    looks = (
        select(DynoSession.id, func.max(HealthEntry.id))
        .join(Application, Application.id == DynoSession.application_id)
        .join(HealthEntry, on)
        .where(DynoSession.id.in_(session_ids))
        .group_by(DynoSession.id)
        .having(func.bool_or(HealthEntry.state == FINDING))
    )
    for session_id, newest in db.execute(looks):
        found.setdefault(session_id, []).append(f"health {newest}")
    return found


def _ledgers(db: Session, application_ids: Iterable[int]) -> dict[int, list[str]]:
    """The newest line of each application's ledger, and the pulls of every test that a line was measured by; most have none."""
    query = select(DifferenceReason.application_id, DifferenceReason.id, DifferenceReason.session_id)
    query = query.where(DifferenceReason.application_id.in_(application_ids), DifferenceReason.kind != "")
    rows = list(db.execute(query.order_by(DifferenceReason.id)))
    pulls = _pulls(db, {row.session_id for row in rows if row.session_id is not None}) if rows else {}
    found: dict[int, list[str]] = {}
    for application_id, newest, session_id in rows:
        mine = found.setdefault(application_id, [""])
        mine[0] = f"ledger {newest}"
        if session_id is not None:
            mine.append(repr([tuple(p) for p in pulls.get(session_id, [])]))
    return found


def _sheets(db: Session, application_ids: Iterable[int]) -> dict[int, list[Any]]:
    query = select(BuildSheet.application_id, BuildSheet.id, BuildSheet.label, BuildSheet.held_on)
    query = query.where(BuildSheet.application_id.in_(application_ids), BuildSheet.label != "")
    found: dict[int, list[Any]] = {}
    for row in db.execute(query.order_by(BuildSheet.id)):
        found.setdefault(row.application_id, []).append(row)
    return found


def key_of_shape_1(sessions: Sequence[DynoSession]) -> str:
    """The key that sheets of typed words were published on: only weather, standard, pulls and judgements of their sessions."""
    text = [
        f"{s.id}:{s.standard}:{s.already_corrected}:{s.temperature}:{s.pressure}:{s.humidity}|"
        + ",".join(f"{p.id}{p.label}{p.is_valid}" for p in s.pulls)
        for s in sorted(sessions, key=lambda s: s.id)
    ]
    return hashlib.sha256(";".join(text).encode()).hexdigest()
