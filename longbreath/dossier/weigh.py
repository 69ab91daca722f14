"""A against B of a dossier: its evidence as core inputs, the weighing, its figures, and the verdict that is kept."""

from __future__ import annotations

import hashlib
from collections.abc import Hashable
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.air import correction
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.dyno import bands as verdicts
from longbreath.core.dyno import compare, pulls
from longbreath.core.dyno.bands import Weighing
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.pull.sessions import dyno_sessions, factor_of, sweeps
from longbreath.store.models import Application, DynoSession, Verdict


def runs_of(db: Session, sessions: list[DynoSession], grid: np.ndarray) -> list[compare.PullCurve]:
    """The valid pulls of sessions as corrected curves on a grid, in order.

    Raises EvidenceError if the sessions do not carry one and the same correction.
    """
    standards = {(session.standard, session.already_corrected) for session in sessions}
    if len(standards) > 1:
        names = " and ".join(sorted({correction.STANDARDS[s].name for s, _ in standards}))
        raise EvidenceError(
            f"These sessions carry different corrections ({names}), which are never mixed. "
            "Choose sessions with one correction, or set one standard for both."
        )
    runs, offset = [], 0
    for session in sorted(sessions, key=lambda s: (s.held_on, s.id)):
        valid = [pull for pull in session.pulls if pull.is_valid]
        factor = factor_of(session)
        by_id = sweeps(db, valid)
        for pull in valid:
            row = f"pull {pull.sequence} ({pull.label}), {pull.file.filename}, {session.held_on:%d %b %Y}"
            curve = pulls.on_grid(by_id[pull.id], grid) * factor
            runs.append(compare.PullCurve(pull.label, offset + pull.sequence, curve, row))
        offset += max((pull.sequence for pull in session.pulls), default=0)
    return runs


def _weighing_key(db: Session, application: Application, sessions: list[DynoSession]) -> Hashable:
    return evidence_key(sessions), bands_of(application.vehicle)


@cached(LRUCache(64), key=_weighing_key, lock=Lock())
def weighing_of(db: Session, application: Application, sessions: list[DynoSession]) -> Weighing:
    """A against B over the valid pulls of these sessions. Raises EvidenceError where they do not allow it.

    Kept by the identity of its evidence: append-only rows never make it wrong.
    """
    bands = bands_of(application.vehicle)
    grid = pulls.speed_grid(bands[0].low, bands[-1].high)
    return verdicts.weigh(compare.compare_pulls(runs_of(db, sessions, grid), grid), bands)


def evidence_key(sessions: list[DynoSession]) -> str:
    """Identifies the evidence of these sessions: their weather, standard, pulls and latest judgements."""
    text = [
        f"{s.id}:{s.standard}:{s.already_corrected}:{s.temperature}:{s.pressure}:{s.humidity}|"
        + ",".join(f"{p.id}{p.label}{p.is_valid}" for p in s.pulls)
        for s in sorted(sessions, key=lambda s: s.id)
    ]
    return hashlib.sha256(";".join(text).encode()).hexdigest()


def refresh_verdict(db: Session, application: Application) -> None:
    """Make the kept verdict anew from the newest dyno session; none is kept while there is too little evidence."""
    db.flush()
    sessions = dyno_sessions(db, application.id)[:1]
    kept = db.scalar(select(Verdict).where(Verdict.application_id == application.id))
    try:
        weighing = weighing_of(db, application, sessions) if sessions else None
    except EvidenceError:
        weighing = None
    if weighing is None:
        if kept is not None:
            db.delete(kept)
        return
    if kept is None:
        kept = Verdict(application_id=application.id)
        db.add(kept)
    kept.evidence_key = evidence_key(sessions)
    kept.headline = verdicts.headline(weighing)
    kept.bands = [
        {
            "name": b.name,
            "verdict": b.verdict,
            "value": b.effect.value,
            "half_width": b.effect.half_width,
            "margin": b.margin,
            "kind": b.kind,
        }
        for b in weighing.bands
    ]


def chosen(sessions: list[DynoSession], wanted: list[int]) -> list[DynoSession]:
    """The sessions that the address names, or the newest that has pulls."""
    if wanted:
        return [s for s in sessions if s.id in wanted]
    return [s for s in sessions if s.pulls][:1]


def left_out(sessions: list[DynoSession], weighing: Weighing) -> int:
    """How many pulls of these sessions do not count."""
    return sum(len(session.pulls) for session in sessions) - len(weighing.comparison.runs)
