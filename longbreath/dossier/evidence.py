"""Turns rows into core inputs and core results: reduced traces, sweeps, comparisons, verdicts."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.air import correction, moist
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import bands as dyno_bands
from longbreath.core.dyno import compare, pulls
from longbreath.core.dyno.bands import Band, Weighing
from longbreath.core.engine.demand import Engine
from longbreath.dossier.kept import Kept
from longbreath.store.models import (
    Application,
    BenchSession,
    Channel,
    DynoSession,
    Pull,
    TestCard,
    Vehicle,
    Verdict,
)

_weighings: Kept[Weighing] = Kept(64)


def engine_of(vehicle: Vehicle) -> Engine:
    """The engine's geometry for the core."""
    return Engine(vehicle.bore, vehicle.stroke, vehicle.cylinders, vehicle.strokes)


def bands_of(vehicle: Vehicle) -> tuple[Band, ...]:
    """The vehicle's bands of use."""
    return (
        Band("low", vehicle.band_low, vehicle.band_middle),
        Band("middle", vehicle.band_middle, vehicle.band_top),
        Band("top", vehicle.band_top, vehicle.band_end),
    )


def weather_of(record: BenchSession | DynoSession) -> moist.Weather:
    """The air of a session."""
    return moist.Weather(record.temperature, record.pressure, record.humidity)


def card_of(db: Session, application_id: int) -> TestCard | None:
    """The application's newest test card."""
    query = select(TestCard).where(TestCard.application_id == application_id).order_by(TestCard.id.desc()).limit(1)
    return db.scalar(query)


def rules_of(card: TestCard, vehicle: Vehicle) -> pulls.Rules:
    """What a pull of this card is held to."""
    return pulls.Rules(vehicle.band_low, vehicle.band_end, card.mixture_target, card.mixture_tolerance)


def correction_of(session: DynoSession) -> Figure:
    """The factor of a session, with working (its weather and standard)."""
    return correction.correction(weather_of(session), session.standard, f"session of {session.held_on:%d %b %Y}")


def factor_of(session: DynoSession) -> float:
    """What the logged torque is multiplied by: 1 where the files already carry corrected figures."""
    return 1.0 if session.already_corrected else correction_of(session).value


def dyno_sessions(db: Session, application_id: int) -> list[DynoSession]:
    """The application's dyno sessions with pulls and judgements, newest first."""
    query = (
        select(DynoSession)
        .where(DynoSession.application_id == application_id)
        .options(selectinload(DynoSession.pulls))
        .order_by(DynoSession.held_on.desc(), DynoSession.id.desc())
    )
    return list(db.scalars(query))


def sweeps(db: Session, wanted: Iterable[Pull]) -> dict[int, pulls.Sweep]:
    """Sweeps by pull id, their channels read in one query."""
    ids = [pull.id for pull in wanted]
    found: dict[int, dict[str, np.ndarray]] = {}
    rows = db.execute(select(Channel.pull_id, Channel.name, Channel.values).where(Channel.pull_id.in_(ids)))
    for pull_id, name, values in rows:
        found.setdefault(pull_id, {})[name] = np.array(values, dtype=np.float64)
    return {
        pull_id: pulls.make_sweep(c["speed"], c.get("torque"), c.get("power"), c.get("mixture"))
        for pull_id, c in found.items()
    }


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
