"""What no log states of the pulls of a letter, line by line, and what of it differs between two letters."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from longbreath.core.basis.constants import RPM, ZERO_CELSIUS
from longbreath.core.case.seen import Pull, Session
from longbreath.core.judge.drive import RATE_OFF

NOT_RECORDED = "not recorded"
ASKED = {
    "sweep_rate": "Rise of speed",
    "smoothing_by_source": "Smoothing done by the source",
    "start": "Temperatures at the start",
    "calibration": "Calibration of the dyno",
    "operator": "Operator",
}
"""What is asked for, in the order it is shown."""
PRINTED = ("sweep_rate", "smoothing_by_source", "start", "calibration")
"""Conditions of the pulls that every sheet prints, or says that they were not recorded."""
START_OFF = 4.0
"""Temperatures at the start count as another condition from this difference of medians [K] on. Common practice, no source."""


@dataclass(frozen=True)
class OfLetter:
    """One condition of one letter: words, and whether the logs say so themselves."""

    words: str
    measured: bool = False


@dataclass(frozen=True)
class ConditionLine:
    """One condition over all letters that were pulled."""

    name: str
    label: str
    by_letter: Mapping[str, OfLetter]


def lines_of(session: Session) -> tuple[ConditionLine, ...]:
    """The conditions of a session's pulls, a line each, for the letters that were pulled."""
    letters = [v for v in session.card.letters if any(p.letter == v for p in session.pulls)]
    said = {(s.letter, s.name): s.words for s in session.said}
    found = []
    for name, label in ASKED.items():
        by_letter = {}
        for letter in letters:
            mine = [p for p in session.pulls if p.letter == letter]
            words = said.get((letter, name)) or _by_source(mine, name)
            measured = _measured(mine, name) if not words else ""
            by_letter[letter] = OfLetter(words or measured or NOT_RECORDED, bool(measured))
        found.append(ConditionLine(name, label, by_letter))
    return tuple(found)


def _by_source(pulls: Sequence[Pull], name: str) -> str:
    """What the sources of these pulls were asked once."""
    words = {(p.source_said or {}).get(name, "").strip() for p in pulls}
    return " / ".join(sorted(words)) if words != {""} else ""


def _measured(pulls: Sequence[Pull], name: str) -> str:
    """What the logs themselves say of these pulls."""
    if name == "sweep_rate":
        rates = [p.rate for p in pulls if p.rate is not None]
        return f"{median(rates) / RPM:.0f} rpm a second, by the log" if rates else ""
    if name == "start":
        parts = [f"{key} {value - ZERO_CELSIUS:.0f} °C" for key, value in sorted(_starts(pulls).items())]
        return f"{', '.join(parts)}, by the log" if parts else ""
    return ""


def differing(sessions: Sequence[Session]) -> list[tuple[str, str, str, str]]:
    """Conditions that differ between A and B: name, label, words of either. What neither recorded differs in nothing; what one
    recorded and the other did not, does."""
    found = []
    for session in sessions:
        pair = (session.card.a, session.card.b)
        for line in lines_of(session):
            told = [line.by_letter.get(letter) for letter in pair]
            if any(t is None for t in told):
                continue
            a, b = (t for t in told if t is not None)
            if a.measured and b.measured and not _apart(session, pair, line.name):
                continue
            if a.words != b.words:
                found.append((f"pull_{line.name}", line.label, a.words, b.words))
    return list(dict.fromkeys(found))


def _apart(session: Session, pair: tuple[str, str], name: str) -> bool:
    """Whether what the logs measured differs by more than it may."""
    sides = [[p for p in session.pulls if p.counts and p.letter == letter] for letter in pair]
    if name == "sweep_rate":
        rates = [[p.rate for p in side if p.rate is not None] for side in sides]
        return all(rates) and abs(median(rates[1]) / median(rates[0]) - 1.0) > RATE_OFF
    starts = [_starts(side) for side in sides]
    shared = set(starts[0]) & set(starts[1])
    return any(abs(starts[1][key] - starts[0][key]) > START_OFF for key in shared)


def _starts(pulls: Sequence[Pull]) -> dict[str, float]:
    """The median of each temperature at the start [K]."""
    known = [p.starts for p in pulls if p.starts]
    names = {name for starts in known for name in starts}
    return {name: median(s[name] for s in known if name in s) for name in names}
