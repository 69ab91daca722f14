"""What no log states of the pulls of a letter: asked for, kept, or marked “not recorded”; what differs goes into the ledger."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.claim.language import find_in_record
from longbreath.core.dyno.judge.drive import RATE_OFF
from longbreath.store.models import DynoSession, Pull, PullCondition
from longbreath.store.unit_of_work import UnitOfWork

NOT_RECORDED = "not recorded"
ASKED = {
    "sweep_rate": "Rise of speed",
    "smoothing_by_source": "Smoothing done by the source",
    "start": "Temperatures at the start",
    "calibration": "Calibration of the dyno",
    "operator": "Operator",
}
"""What is asked for, in the order it is shown."""
START_OFF = 4.0
"""Temperatures at the start count as another condition from this difference of medians [K] on. Common practice, no source."""


@dataclass(frozen=True)
class Told:
    """One condition of one letter: words, and whether the logs say so themselves."""

    words: str
    measured: bool = False


@dataclass(frozen=True)
class ConditionLine:
    """One condition over all letters, and whether it differs between two that compare."""

    name: str
    label: str
    by_letter: Mapping[str, Told]


def lines_of(db: Session, session: DynoSession) -> tuple[ConditionLine, ...]:
    """The conditions of a session's pulls, a line each, for the letters that were pulled."""
    letters = [v for v in session.card.letters if any(p.label == v for p in session.full_pulls)]
    said = _said(db, session)
    found = []
    for name, label in ASKED.items():
        by_letter = {}
        for letter in letters:
            mine = [p for p in session.full_pulls if p.label == letter]
            words = said.get((letter, name)) or _by_source(mine, name)
            measured = _measured(mine, name) if not words else ""
            by_letter[letter] = Told(words or measured or NOT_RECORDED, bool(measured))
        found.append(ConditionLine(name, label, by_letter))
    return tuple(found)


def _said(db: Session, session: DynoSession) -> dict[tuple[str, str], str]:
    """What a person said of each letter; the newest of a name holds."""
    query = select(PullCondition).where(PullCondition.session_id == session.id).order_by(PullCondition.id)
    return {(row.label, row.name): row.words for row in db.scalars(query)}


def _by_source(pulls: Sequence[Pull], name: str) -> str:
    """What the sources of these pulls were asked once."""
    words = {str(p.read.told.get(name, "")).strip() for p in pulls}
    return " / ".join(sorted(words)) if words != {""} else ""


def _measured(pulls: Sequence[Pull], name: str) -> str:
    """What the logs themselves say of these pulls."""
    facts = [p.read.told["facts"] for p in pulls if "facts" in p.read.told]
    if name == "sweep_rate":
        rates = [f["rate"] for f in facts if f["rate"] is not None]
        return f"{median(rates) / RPM:.0f} rpm a second, by the log" if rates else ""
    if name == "start":
        parts = [f"{key} {value - 273.15:.0f} °C" for key, value in sorted(_starts(facts).items())]
        return f"{', '.join(parts)}, by the log" if parts else ""
    return ""


def put_conditions(work: UnitOfWork, session: DynoSession, given: Mapping[tuple[str, str], str]) -> int:
    """Keep what was said of letters and names; what stands already is not written again. Returns how many are new.

    Raises InputError for words that a sheet could not print beside a claim.
    """
    before, letters, added = _said(work, session), session.card.letters, 0
    for (letter, name), text in given.items():
        words = " ".join(text.split())[:200]
        if letter not in letters or name not in ASKED:
            continue
        if said := find_in_record(words):
            raise InputError(f"“{said.word}”: {said.why}", f"{name}-{letter}")
        if words != before.get((letter, name), ""):
            row = PullCondition(session_id=session.id, label=letter, name=name, words=words, made_by_id=work.actor.id)
            work.add(row)
            added += 1
    work.flush()
    return added


def said_of(db: Session, session: DynoSession, letter: str, name: str) -> str:
    """What a person said, to show in a form."""
    return _said(db, session).get((letter, name), "")


def differing(db: Session, sessions: Sequence[DynoSession], pair: tuple[str, str]) -> list[tuple[str, str, str, str]]:
    """Conditions that differ between two letters: name, label, words of either. What neither recorded differs in nothing; what one
    recorded and the other did not, does."""
    found = []
    for session in sessions:
        for line in lines_of(db, session):
            told = [line.by_letter.get(letter) for letter in pair]
            if any(t is None for t in told):
                continue
            a, b = (t for t in told if t is not None)
            if a.measured and b.measured and not _apart(session, pair, line.name):
                continue
            if a.words != b.words:
                found.append((f"pull_{line.name}", line.label, a.words, b.words))
    return found


def _apart(session: DynoSession, pair: tuple[str, str], name: str) -> bool:
    """Whether what the logs measured differs by more than it may."""
    told = [p for p in session.full_pulls if p.is_valid and "facts" in p.read.told]
    a, b = ([p.read.told["facts"] for p in told if p.label == letter] for letter in pair)
    if name == "sweep_rate":
        rates = [[f["rate"] for f in side if f["rate"] is not None] for side in (a, b)]
        return all(rates) and abs(median(rates[1]) / median(rates[0]) - 1.0) > RATE_OFF
    starts = [_starts(side) for side in (a, b)]
    shared = set(starts[0]) & set(starts[1])
    return any(abs(starts[1][key] - starts[0][key]) > START_OFF for key in shared)


def _starts(facts: Sequence[Mapping[str, Any]]) -> dict[str, float]:
    """The median of each temperature at the start [K]."""
    names = {name for fact in facts for name in fact["starts"]}
    return {name: median(f["starts"][name] for f in facts if name in f["starts"]) for name in names}
