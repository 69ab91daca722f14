"""Fitment and durability of the test: looks at places, and pulls that the part stood."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim import stating
from longbreath.core.claim.facts import Setting
from longbreath.core.claim.gates.gate import OnLooks
from longbreath.core.dyno.channels import TIME
from longbreath.core.path.mounting import FitPlace
from longbreath.dossier.claim.backing.backing import Backing, Choice, Grounded, Sources, Told
from longbreath.dossier.evidence.keys import keys_of
from longbreath.dossier.health import doubts_of
from longbreath.dossier.path.fit import fit_of, fitting, spots_of
from longbreath.dossier.pull.sessions import channels_of, dyno_sessions
from longbreath.store.models import Application, DynoSession, Pull

LEAST_PLACES, LEAST_PULLS = 3, 10
"""Places looked at and pulls run from which anything is worth saying. Common practice, no source."""


def fit_choices(db: Session, application: Application) -> list[Choice]:
    """The looks of this application, once there are any."""
    spots = spots_of(db, application)
    return [Choice(f"{len(spots)} places looked at")] if spots else []


def run_choices(db: Session, application: Application) -> list[Choice]:
    """All sessions in which the part was run."""
    sessions = [s for s in dyno_sessions(db, application.id) if _of_the_part(s, application)]
    return [Choice(f"all {len(sessions)} sessions with the part on")] if sessions else []


def fit(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Backing:
    """What was looked at. Raises EvidenceError where nothing was."""
    spots, record = spots_of(db, application), fit_of(db, application)
    if not spots:
        raise EvidenceError("No place was looked at yet.")
    looked = [FitPlace(s.place, s.gap, s.state) for s in spots]
    minutes = record.minutes if record is not None and record.minutes_from.strip() else None
    judged = fitting(record, spots)
    timed = [("Time to fit, by", record.minutes_from)] if record is not None and minutes is not None else []
    removed = [("What comes off", record.removed or "not recorded")] if record is not None else []
    told = Told(
        judged.verdict,
        conditions=(
            *((s.place, f"{s.state}{_gap(s.gap)}, {s.taken_at:%d %b %Y}, {s.taken_by.name}") for s in spots),
            *timed,
            *removed,
            ("Still to do on fitting", "; ".join(judged.to_do) or "nothing"),
        ),
        records=(
            *((f"the place {s.place}", s.place) for s in spots),
            *((name, words) for name, words in (*timed, *removed)),
        ),
    )
    setting = Setting(application.revision.title, "", application.vehicle.name, kind="fitment")
    looks = OnLooks(len(spots), LEAST_PLACES, "place", () if judged.verdict != "does not fit yet" else judged.reasons)
    held_on = max(s.taken_at for s in spots).date()
    facts = stating.of_fit(looked, minutes, setting).facts
    return Backing(
        "fitment", application, (), {}, _fit_key(spots), held_on, facts, setting, told, Grounded(looks=looks)
    )


def _fit_key(spots: Sequence[object]) -> str:
    return f"spots {max(s.id for s in spots)}"  # type: ignore[attr-defined]


def _gap(gap: float | None) -> str:
    return f", gap {units.show(gap, 'length', 'metric')}" if gap is not None else ""


def _of_the_part(session: DynoSession, application: Application) -> list[Pull]:
    letter = session.card.pair_of(application.id)[1]
    return [pull for pull in session.full_pulls if pull.label == letter]


def run(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Backing:
    """What the part stood, in all sessions. Raises EvidenceError where it was not run."""
    sessions = [s for s in dyno_sessions(db, application.id) if _of_the_part(s, application)]
    pulls = [pull for session in sessions for pull in _of_the_part(session, application)]
    if not pulls:
        raise EvidenceError("The part was not run on the engine yet.")
    each = _times(db, pulls)
    seconds, timed = sum(each), sum(second > 0.0 for second in each)
    findings = tuple(doubt.words for doubt in doubts_of(db, application, sessions))
    told = Told(
        "",
        conditions=(
            ("Run on", "; ".join(dict.fromkeys(s.card.dyno.name for s in sessions))),
            (
                "Days",
                "; ".join(f"{s.held_on.day} {s.held_on:%B %Y}" for s in sorted(sessions, key=lambda s: s.held_on)),
            ),
            ("Time", f"logged in {timed} of {len(pulls)} pulls"),
            ("Counted", "every full-load pull with the part on, whether or not it counts in a comparison"),
        ),
        records=tuple(("the dyno’s name", s.card.dyno.name) for s in sessions),
    )
    key = keys_of(db, {0: (application.id, [s.id for s in sessions])})[0]
    setting = Setting(application.revision.title, "", application.vehicle.name, kind="durability")
    looks = OnLooks(len(pulls), LEAST_PULLS, "pull", findings)
    facts = stating.of_run(len(pulls), seconds, len(sessions), setting).facts
    held_on = max(s.held_on for s in sessions)
    numbers = tuple(s.id for s in sessions)
    return Backing("durability", application, numbers, {}, key, held_on, facts, setting, told, Grounded(looks=looks))


def run_seconds(db: Session, application: Application) -> tuple[list[float], int]:
    """The time of each pull with the part on [s] (nought where none was logged), and on how many days it was run."""
    sessions = [s for s in dyno_sessions(db, application.id) if _of_the_part(s, application)]
    return _times(db, [pull for session in sessions for pull in _of_the_part(session, application)]), len(sessions)


def _times(db: Session, pulls: Sequence[Pull]) -> list[float]:
    logged = channels_of(db, pulls, (TIME,))
    return [_seconds(logged.get(pull.id, {})) for pull in pulls]


def _seconds(channels: dict[str, np.ndarray]) -> float:
    time = channels.get(TIME)
    if time is None or not np.isfinite(time).any():
        return 0.0
    return float(np.nanmax(time) - np.nanmin(time))
