"""Which sessions are one test: the same two builds at one setting on one vehicle and dyno; and in words why another is none of it."""

from __future__ import annotations

from collections.abc import Collection, Hashable, Mapping, Sequence

from longbreath.core.build.sheet import folded
from longbreath.core.case.builds import differing_on
from longbreath.core.case.placing import SETTING_WORDS
from longbreath.core.case.seen import Session, Variant, Visit

WHY = {
    "dyno": "on another dyno",
    "vehicle": "on another vehicle",
    "builds": "of other builds",
    "setting": "at another setting",
    "modes": "by another way of tuning or holding boost",
    "correction": "with figures that its files corrected otherwise",
    "differing": "with something else that differed between A and B",
}
"""What tells one test from another, in words."""


def told_of(session: Session) -> Mapping[str, Hashable]:
    """What a session must share with another to be one test with it, by the names of WHY. Weather, fuel and hands may differ from day
    to day: A and B share them within each."""
    card, sheet = session.card, session.sheet_b or session.sheet_a
    pair = [v for letter in (card.a, card.b) for v in card.variants if v.letter == letter]
    return {
        "dyno": session.dyno.number,
        "vehicle": folded(sheet.lines.get("vehicle", "")) if sheet is not None else "",
        "builds": tuple(tuple(sorted(folded(part) for part in v.parts)) for v in pair),
        "setting": tuple(_setting(v, card.factors) for v in pair),
        "modes": (card.tune_mode, card.control_mode),
        "correction": session.standard if session.already_corrected else "",
        "differing": differing_on(session),
    }


def _setting(variant: Variant, factors: Sequence[str]) -> Hashable:
    """The setting that a variant was pulled at: its levels of all factors, and its name where that speaks of one."""
    name = folded(variant.name)
    spoken = name if any(word in name for word in SETTING_WORDS) else ""
    return tuple(zip(map(folded, factors), variant.levels, strict=False)), spoken


def why_apart(one: Session, other: Session) -> str:
    """Why two sessions are not one test, in words; "" where they are. What one of them does not record keeps none of them apart."""
    mine, theirs = told_of(one), told_of(other)
    unknown = {
        "vehicle": not (mine["vehicle"] and theirs["vehicle"]),
        "differing": any(s.sheet_a is None or s.sheet_b is None for s in (one, other)),
    }
    apart = [why for name, why in WHY.items() if mine[name] != theirs[name] and not unknown.get(name)]
    return ", ".join(apart)


def join(known: Mapping[int, Session], number: int, doubted: Collection[int] = ()) -> dict[int, str]:
    """Why each session takes no part in the test that one of them belongs to, "" where it does. known: every session with pulls of
    the part, by number; doubted: those that a finding on the engine puts in doubt. A cause takes a session out while any is left
    without one; where none is, a gate says so."""
    if _no_pair(known[number]):
        return {other: "" if other == number else "nothing to join it with" for other in known}
    apart = {other: _no_pair(session) or why_apart(known[number], session) for other, session in known.items()}
    causes = {other: _cause(known[other], other in doubted) for other, why in apart.items() if not why}
    if not all(causes.values()):
        apart |= {other: f"left out: {why}" for other, why in causes.items() if why}
    return apart


def _no_pair(session: Session) -> str:
    lacking = [letter for letter in (session.card.a, session.card.b) if not session.counted(letter)]
    return f"no pull of {' and '.join(lacking)} counts" if lacking else ""


def _cause(session: Session, in_doubt: bool) -> str:
    """What takes a session out that can be looked up: a calibration out of date, a finding on the engine."""
    due = session.dyno.calibration_due
    if due is not None and session.held_on > due:
        return f"the dyno was past its calibration, due on {due:%d %b %Y}"
    return "a finding on the engine puts it in doubt" if in_doubt else ""


def visits_of(known: Mapping[int, Session], apart: Mapping[int, str]) -> tuple[Visit, ...]:
    """Every session with pulls as a look at the outcome, in the order in which it was known, up to the last that takes part."""
    order = sorted(known.values(), key=lambda s: (s.first_file is None, s.first_file, s.number))
    found = [
        Visit(
            s.number,
            s.held_on,
            s.first_file,
            s.plan or s.number,
            s.card.planned,
            s.counted(s.card.a),
            s.counted(s.card.b),
            s.card.no_matter,
        )
        for s in order
    ]
    return tuple(found[: max((k for k, s in enumerate(order, start=1) if not apart.get(s.number)), default=0)])
