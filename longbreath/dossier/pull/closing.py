"""Closing a session before anyone goes home: what is missing, why, and that it is owed from then on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.core.case.conditions import ASKED, NOT_RECORDED
from longbreath.core.claim.language import find_in_record
from longbreath.dossier.plan.variants import build_of
from longbreath.dossier.programme.register import OwedCard, save_owed
from longbreath.dossier.pull import cell, tuning, waiting
from longbreath.dossier.pull.cell_board import OFF, WORDS
from longbreath.dossier.pull.conditions import lines_of
from longbreath.dossier.records.sessions import not_logged, stop_of
from longbreath.store.models import Application, DynoSession, SessionClosing, Variant
from longbreath.store.unit_of_work import UnitOfWork

SHORTEST = 5
"""Signs of a reason."""


@dataclass(frozen=True)
class Missing:
    """Something that the card demanded or the record lacks: key, what it is, the kind of the owed thing that becomes of it."""

    key: str
    words: str
    kind: str
    where: str = ""


def missing_of(db: UnitOfWork, application: Application, session: DynoSession) -> tuple[Missing, ...]:
    """What is missing of a session."""
    return (
        *_of_card(db, session),
        *_of_files(db, session),
        *_of_conditions(db, session),
        *_of_air(session),
        *_of_tunes(db, application, session),
    )


def _of_card(db: Session, session: DynoSession) -> list[Missing]:
    found = [
        Missing(f"pulls-{letter}", f"{left} of {wanted} pulls of {letter} are missing", "retest")
        for letter, (left, wanted) in cell.missing(db, session).items()
    ]
    stopped = stop_of(session)
    if stopped is not None:
        words = f"Pull {stopped.sequence} says to stop and inspect, and nobody judged it"
        found.append(Missing("stop", words, "other", "pull.judge"))
    return found


def _of_files(db: UnitOfWork, session: DynoSession) -> list[Missing]:
    found = [
        Missing(f"logged-{k}", f"{words.rstrip('.')} (pulls {', '.join(map(str, places))})", "measurement")
        for k, (words, places) in enumerate(not_logged(session), start=1)
    ]
    waits = waiting.waiting(db, session)
    if waits:
        found.append(Missing("files", f"{len(waits)} received files are not mapped", "other", "pull.mapping"))
    return found


def _of_conditions(db: Session, session: DynoSession) -> list[Missing]:
    found = []
    for line in lines_of(db, session):
        letters = [letter for letter, told in line.by_letter.items() if told.words == NOT_RECORDED]
        if letters and line.name in ASKED:
            words = f"{line.label} is not recorded for {', '.join(letters)}"
            found.append(Missing(f"condition-{line.name}", words, "figure", "pull.ask_conditions"))
    if session.fuel_id is None:
        found.append(Missing("fuel", "No fuel batch is named", "figure", "pull.edit_session"))
    due = session.card.dyno.calibration_due
    if due is not None and due < session.held_on:
        found.append(Missing("calibration", f"The dyno’s calibration lapsed on {due:%d %B %Y}", "certificate"))
    return found


def _of_air(session: DynoSession) -> list[Missing]:
    """Air that moved away from the session's while it was pulled, by the weather station."""
    told = [p.read.told["weather"] for p in session.full_pulls if p.read.told.get("weather")]
    found = []
    for name, (called, _) in WORDS.items():
        seen = [float(air[name]) for air in told if name in air]
        off = max((abs(value - getattr(session, name)) for value in seen), default=0.0)
        if off > 2.0 * OFF[name]:
            words = f"The {called} of the station and of the session lie apart by more than {2 * OFF[name]:g} ({_unit(name)})"
            found.append(Missing(f"air-{name}", words, "figure", "pull.edit_session"))
    return found


def _unit(name: str) -> str:
    return {"temperature": "K", "pressure": "Pa", "humidity": "share of one"}[name]


def _of_tunes(db: Session, application: Application, session: DynoSession) -> list[Missing]:
    found, card = [], session.card
    if card.tune_mode:
        for letter in card.planned_pair(application.id):
            query = select(Variant).where(Variant.application_id == session.application_id, Variant.letter == letter)
            variant = db.scalar(query)
            build = build_of(db, variant) if variant is not None else None
            named = variant is not None and (
                variant.tune is not None or (build is not None and build.values.get("tune", "").strip())
            )
            if not named:
                found.append(Missing(f"tune-{letter}", f"No tune is named for {letter}", "tune", "plan.all_variants"))
    if card.tune_mode == "same mixture":
        state = tuning.tuning_of(db, application, session)
        if not state.match.is_met:
            found.append(Missing("mixture", state.words.rstrip("."), "retest", "pull.tune"))
    return found


@dataclass(frozen=True)
class ClosingCard:
    """Reasons by key of what is missing; who owes it, and by when."""

    reasons: Mapping[str, str]
    who_id: int | None = None
    due_on: date | None = None


def close(work: UnitOfWork, application: Application, session: DynoSession, card: ClosingCard) -> SessionClosing:
    """Close a session: whatever is missing has a reason and becomes an owed thing; its instruments are let go.

    Raises InputError beside the first thing (field "reason-<key>") whose reason is missing or could not stand on a sheet, Conflict
    where it is closed.
    """
    work.lock_row(session)
    before = closing_of(work, session)
    if before is not None and before.is_closed:
        raise Conflict("Somebody closed this session already.")
    gaps = []
    missing = missing_of(work, application, session)
    for thing in missing:
        reason = " ".join(card.reasons.get(thing.key, "").split())[:300]
        if len(reason) < SHORTEST:
            raise InputError("Say why it is missing; it stays in the record.", f"reason-{thing.key}")
        if said := find_in_record(reason):
            raise InputError(f"“{said.word}”: {said.why}", f"reason-{thing.key}")
    for thing in missing:
        reason = " ".join(card.reasons[thing.key].split())[:300]
        owed = save_owed(
            work,
            None,
            OwedCard(
                thing.kind,
                f"{thing.words}, session of {session.held_on:%d %b %Y}",
                application.id,
                card.who_id or work.actor.id,
                due_on=card.due_on,
                blocks="the weighing",
            ),
        )
        gaps.append({"key": thing.key, "words": thing.words, "reason": reason, "owed": owed.id})
    run = cell.open_run_of(work, session)
    if run is not None:
        cell.end_run(work, run)
    return _put(work, session, True, gaps)


def open_again(work: UnitOfWork, session: DynoSession) -> SessionClosing:
    """Take a closing back. Raises Conflict where the session is open."""
    work.lock_row(session)
    before = closing_of(work, session)
    if before is None or not before.is_closed:
        raise Conflict("This session is open.")
    return _put(work, session, False, [])


def _put(work: UnitOfWork, session: DynoSession, is_closed: bool, gaps: list[dict[str, object]]) -> SessionClosing:
    made = SessionClosing(session_id=session.id, is_closed=is_closed, gaps=gaps, made_by_id=work.actor.id)
    made.made_by = work.actor
    work.add(made)
    work.flush()
    return made


def closing_of(db: Session, session: DynoSession) -> SessionClosing | None:
    """The newest closing of a session; one that was taken back says so."""
    query = select(SessionClosing).where(SessionClosing.session_id == session.id).order_by(SessionClosing.id.desc())
    return db.scalar(query.limit(1))


def late_pulls(session: DynoSession, closing: SessionClosing | None) -> int:
    """Pulls that came in after a session was closed."""
    if closing is None or not closing.is_closed:
        return 0
    return sum(p.readings[0].made_at > closing.made_at for p in session.pulls)
