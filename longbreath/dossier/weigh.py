"""A against B of a dossier: its evidence as core inputs, the weighing, its figures, and the verdict that is kept."""

from __future__ import annotations

import hashlib

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.air import correction
from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import bands, compare, pulls
from longbreath.core.dyno import bands as dyno_bands
from longbreath.core.dyno.bands import Band, Judged, Weighing
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.kept import Kept
from longbreath.dossier.pull.sessions import dyno_sessions, factor_of, sweeps
from longbreath.store.models import (
    Application,
    DynoSession,
    Prediction,
    Verdict,
)

_weighings: Kept[Weighing] = Kept(64)


def runs_of(db: Session, sessions: list[DynoSession], grid: np.ndarray) -> list[compare.Run]:
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
            runs.append(compare.Run(pull.label, offset + pull.sequence, curve, row))
        offset += max((pull.sequence for pull in session.pulls), default=0)
    return runs


def weighing_of(db: Session, application: Application, sessions: list[DynoSession]) -> Weighing:
    """A against B over the valid pulls of these sessions. Raises EvidenceError where they do not allow it."""
    bands = bands_of(application.vehicle)

    def weigh() -> Weighing:
        grid = pulls.speed_grid(bands[0].low, bands[-1].high)
        return dyno_bands.weigh(compare.compare(runs_of(db, sessions, grid), grid), bands)

    return _weighings.get((evidence_key(sessions), bands), weigh)


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
    kept.headline = dyno_bands.headline(weighing)
    kept.bands = [
        {"name": b.name, "verdict": b.verdict, "value": b.effect.value, "half_width": b.effect.half_width,
         "margin": b.margin, "kind": b.kind}
        for b in weighing.bands
    ]  # fmt: skip


def chosen(sessions: list[DynoSession], wanted: list[int]) -> list[DynoSession]:
    """The sessions that the address names, or the newest that has pulls."""
    if wanted:
        return [s for s in sessions if s.id in wanted]
    return [s for s in sessions if s.pulls][:1]


def left_out(sessions: list[DynoSession], weighing: Weighing) -> int:
    """How many pulls of these sessions do not count."""
    return sum(len(session.pulls) for session in sessions) - len(weighing.comparison.runs)


def sealed_prediction(db: Session, application_id: int) -> Prediction | None:
    """The newest prediction that was sealed by the first pull, or None."""
    query = select(Prediction).where(
        Prediction.application_id == application_id, Prediction.sealed_at.is_not(None)
    )
    return db.scalar(query.order_by(Prediction.id.desc()).limit(1))


def figures(weighing: Weighing) -> dict[str, Figure]:
    """Bands and peaks by name, and the largest local difference of each band as "local-<band>"."""
    found = {
        item.name.replace(" ", "-"): bands.judged_figure(item, weighing.comparison) for item in weighing.judged
    }
    for band, local in zip(weighing.bands, weighing.locals, strict=True):
        key = f"local-{band.name}"
        found[key] = bands.local_figure(local, weighing.comparison, key)
    back = bands.return_figure(weighing.comparison)
    return found | ({"return": back} if back is not None else {})


def asked(weighing: Weighing, low: float, high: float) -> Judged:
    """The verdict for a band chosen after looking [rad/s].

    Its interval uses the simultaneous critical value, which holds for any band that is picked out by eye.
    Raises InputError for a band the wrong way round.
    """
    if high <= low:
        raise InputError("The band must end above where it begins.", "high")
    comparison = weighing.comparison
    plain = comparison.band_effect(low, high)
    half = comparison.critical * plain.standard_error
    found = compare.Effect(plain.value, plain.standard_error, half, plain.residual_sd, plain.df, plain.drift)
    reference = comparison.mean_of_a(low, high)
    margin = compare.MARGIN_SHARE * reference
    band = Band("band asked about", low, high)
    return Judged(band.name, "torque", found, compare.verdict(found, margin), reference, margin, band)
