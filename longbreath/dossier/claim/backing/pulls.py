"""Torque, power and response: what the pulls of the one evidence hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from functools import partial
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.air.correction import STANDARDS
from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.build.sheet import Differing
from longbreath.core.claim import stating
from longbreath.core.claim.facts import AS_SET, SCHOOLS
from longbreath.core.claim.gates.gate import OnDyno
from longbreath.core.claim.stating import Stated
from longbreath.core.dyno import counted
from longbreath.core.dyno.levels import PULLS
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.plan.conditions import CONTROL_MODES, TUNE_MODES
from longbreath.core.weigh.ledger import UNKNOWN
from longbreath.dossier.claim.backing.backing import Backing, Choice, Grounded, Sources, Told
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.naming import session_names
from longbreath.dossier.plan.variants import uneven_rounds
from longbreath.dossier.pull.conditions import lines_of
from longbreath.dossier.pull.sessions import correction_of, dyno_sessions, outside_standard
from longbreath.dossier.weigh.boosted import response_of, schools_of
from longbreath.dossier.weigh.ledger import knowledge
from longbreath.drawing import charts
from longbreath.store.models import Application, Pull

NEEDED = ("sweep_rate", "smoothing_by_source", "start", "calibration")
"""Conditions of the pulls that every sheet prints, or says that they were not recorded."""


def choices(db: Session, application: Application) -> list[Choice]:
    """Sessions that a statement may be drafted on: those of which A and B can be weighed, newest first; of a boosted engine by
    either school."""
    found = []
    every = dyno_sessions(db, application.id)
    names = session_names(every)
    for session in (s for s in every if s.full_pulls):
        try:
            evidence = gather(db, application, [session.id])
        except EvidenceError:
            continue
        words = f"session of {names[session.id]}"
        if not evidence.is_boosted:
            found.append(Choice(words, (session.id,)))
            continue
        for school in SCHOOLS:
            found.append(Choice(f"{words}, {school}", (session.id,), {"school": school}))
    return found


def response_choices(db: Session, application: Application) -> list[Choice]:
    """Sessions whose pulls show how boost came."""
    found: list[Choice] = []
    if application.vehicle.induction not in BOOSTED:
        return found
    for choice in choices(db, application):
        if choice.sources.get("school") == AS_SET:
            try:
                response_of(db, gather(db, application, choice.session_ids))
            except EvidenceError:
                continue
            found.append(Choice(choice.words.partition(", as set")[0], choice.session_ids, {"school": AS_SET}))
    return found


def power(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Backing:
    """What pulls hold of torque and power. Raises EvidenceError where they cannot be weighed, or not at equal boost."""
    found = gather(db, application, session_ids)
    school = str(sources.get("school", "")) if found.is_boosted else ""
    schools = schools_of(db, found) if school else None
    stated = stating.of_power(found.weighing, found.net, schools, found.setting, found.is_boosted, school)
    return _backing(db, "torque", found, sources, stated)


def response(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Backing:
    """What pulls hold of response. Raises EvidenceError where no manifold pressure was logged."""
    found = gather(db, application, session_ids)
    stated = stating.of_response_shown(response_of(db, found), found.stated, found.setting)
    return _backing(db, "response", found, {"school": AS_SET}, stated)


def _backing(db: Session, kind: str, found: Evidence, sources: Sources, stated: Stated) -> Backing:
    application = found.application
    told = Told(
        stated.headline,
        stated.figures,
        stated.minor,
        conditions=tuple(_conditions(db, found)),
        differing=tuple(replace(item, reason=known_of(found, item)) for item in found.builds.differing),
        records=printed_records(found),
        margin=stated.margin,
        correction=correction_of(found.session),
        picture=partial(_picture, found),
    )
    typed = sum(len(session.typed) for session in found.sessions)
    return Backing(
        kind,
        application,
        tuple(found.session_ids),
        dict(sources),
        found.key,
        found.session.held_on,
        stated.facts,
        stated.setting,
        told,
        Grounded(dyno=_on_dyno(found, stated)),
        frozenset(reason.given_by_id for reason in found.builds.reasons),
        outside=(f"{typed} typed pulls",) if typed else (),
    )


def _picture(found: Evidence) -> str:
    spec = charts.weigh_chart(found.stated, bands_of(found.application.vehicle), "us", "paper", width=715, brush=False)
    return charts.to_svg(spec)


def _on_dyno(found: Evidence, stated: Stated) -> OnDyno:
    weighing = stated.weighing or found.stated
    comparison, sheets = found.builds.comparison, (found.builds.a, found.builds.b)
    mode = weighing.comparison.levels.mode
    a, b = (dict(sheet.values) if sheet is not None else {} for sheet in sheets)
    return OnDyno(
        weighing=weighing,
        sessions=tuple(f"session of {name}" for name in found.names),
        sides=found.builds.vehicles,
        differing=found.builds.differing,
        outside_standard=outside_standard(found.session),
        boosted=found.is_boosted,
        school=stated.setting.school,
        pressure=stated.pressure,
        doubts=tuple(doubt.words for doubt in found.doubts),
        closed=not found.package,
        net=found.is_net,
        judgement=(comparison.judgement, comparison.reason) if comparison is not None else ("", ""),
        parts=(a, b),
        lapsed=tuple(_lapsed(found)),
        sets=""
        if mode == PULLS
        else counted.in_short(weighing.comparison).lstrip(", ") or "each pull is a set of its own",
        control=found.card.control_mode,
    )


def _lapsed(found: Evidence) -> list[str]:
    late = []
    for session in found.sessions:
        dyno = session.card.dyno
        if dyno.calibration_due is not None and session.held_on > dyno.calibration_due:
            late.append(f"{dyno.name}, due on {dyno.calibration_due:%d %b %Y}")
        if dyno.calibrated_on is not None and session.held_on < dyno.calibrated_on:
            late.append(f"{dyno.name}, not calibrated before {dyno.calibrated_on:%d %b %Y}")
    return list(dict.fromkeys(late))


def known_of(found: Evidence, item: Differing) -> str:
    """Why a thing differed, and what is known of its effect, where its line of the ledger says so."""
    line = next((x for x in found.net.lines if x.line == item.line), None) if found.net is not None else None
    if line is None or line.kind == UNKNOWN or not item.reason:
        return item.reason
    return f"{item.reason}; {knowledge(line, found.weighing.comparison)}"


def printed_records(found: Evidence) -> tuple[tuple[str, str], ...]:
    """The names and notes of people that a sheet of pulls prints, with their place."""
    records = [
        ("the vehicle’s mark", found.builds.vehicle),
        ("the dyno’s name", found.card.dyno.name),
        ("the test card, A", found.called[0]),
        ("the test card, B", found.called[1]),
        ("the gear", found.session.gear),
    ]
    for item in found.builds.differing:
        sides = {"A": item.a, "B": item.b, "reason": item.reason}
        records += [(f"{item.label}, {side}", text) for side, text in sides.items()]
    for label, text in found.builds.parts:
        records.append((f"{label}, by its build sheet", text))
    records += [(f"{label} on the build sheets", text) for label, text in found.builds.same]
    records += [(f"why pull {p.sequence} is left out", p.judgements[-1].reason) for p in found.left_out if by_hand(p)]
    return tuple(records)


def by_hand(pull: Pull) -> bool:
    """Whether a person, not a check, said that a pull does not count."""
    return not pull.judgements[-1].automatic


def _both(value: float, kind: str) -> str:
    return f"{units.show(value, kind, 'us')} ({units.show(value, kind, 'metric')})"


def _conditions(db: Session, found: Evidence) -> list[tuple[str, str]]:
    session, card, comparison, builds = found.session, found.card, found.weighing.comparison, found.builds
    vehicle = found.application.vehicle.name + (f", {builds.vehicle}" if builds.vehicle else "")
    order = "A-B-A" if comparison.design.drift else "A and B, without a return to A"
    rows = [
        ("Measured on", f"{vehicle}; {card.dyno.name}, at the {card.dyno.measured_at}"),
        ("Date", _day(session.held_on)),
        ("Order", f"{order}; {comparison.count('A')} valid pulls of A, {comparison.count('B')} of B"),
        ("The interval", counted.counts(comparison)),
        *_modes(found),
        *([("Stated", "net of what differed beside the part, line by line below")] if found.is_net else []),
        ("Left out", "; ".join(_why(pull) for pull in found.left_out) or "no pull"),
        ("Other sessions", "; ".join(found.others) + ": not part of this" if found.others else "none"),
        *([("Bands of use", "changed after the pulls; the intervals hold for any band")] if found.late_bands else []),
        ("Counted by hand", "; ".join(f"pull {p.sequence} ({p.label})" for p in found.overruled) or "no pull"),
        ("A", found.called[0]),
        ("B", found.called[1]),
        *((f"{label}, by its build sheet", text) for label, text in builds.parts),
        (
            "The same on both build sheets",
            "; ".join(f"{label}: {text}" for label, text in builds.same) or "nothing recorded",
        ),
        ("Not recorded", "; ".join(builds.silent) or "nothing"),
        (
            "Air",
            f"{_both(session.temperature, 'temperature')}, {_both(session.pressure, 'barometer')}, "
            f"{session.humidity:.0%} humidity",
        ),
        ("Correction", STANDARDS[session.standard].name + (" (in the files)" if session.already_corrected else "")),
        *_of_the_pulls(db, found),
    ]
    return [*rows, ("Gear", session.gear)] if session.gear else rows


def _of_the_pulls(db: Session, found: Evidence) -> list[tuple[str, str]]:
    """Rise of speed, smoothing, temperatures at the start, calibration: letter by letter, or that they were not recorded."""
    pair = found.card.pair_of(found.application.id)
    rows = []
    for line in lines_of(db, found.session):
        if line.name in NEEDED:
            said = {letter: line.by_letter[letter].words for letter in pair if letter in line.by_letter}
            same = len(set(said.values())) == 1
            words = next(iter(said.values())) if same else "; ".join(f"{k}: {v}" for k, v in said.items())
            rows.append((line.label, words or "not recorded"))
    return rows


def _day(day: date) -> str:
    return f"{day.day} {day:%B %Y}"


def _modes(found: Evidence) -> list[tuple[str, str]]:
    card, rows = found.card, []
    if card.tune_mode:
        pair = card.pair_of(found.application.id)
        told = uneven_rounds([v.variant for v in card.variants if v.letter in pair], found.rounds)
        uneven = f"; tuning rounds: {told}" if told else ""
        rows.append(("Tune", TUNE_MODES[card.tune_mode] + uneven))
    if card.control_mode:
        rows.append(("Boost control", CONTROL_MODES[card.control_mode]))
    return rows


def _why(pull: Any) -> str:
    return f"pull {pull.sequence} ({pull.label}), " + (
        f"by hand: {pull.judgements[-1].reason}" if by_hand(pull) else "by its checks"
    )
