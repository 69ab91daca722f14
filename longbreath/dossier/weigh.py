"""A against B: the valid pulls of sessions as core inputs, and their weighing."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from sqlalchemy import exists, func, select
from sqlalchemy.dialects.postgresql import array
from sqlalchemy.orm import Session

from longbreath.core.air import correction
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.dyno import bands as verdicts
from longbreath.core.dyno import compare, pulls
from longbreath.core.dyno.bands import Weighing
from longbreath.core.dyno.scatter import set_numbers
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.plan.scatter import scatter_of, widest
from longbreath.dossier.pull.sessions import factor_of, sweeps
from longbreath.store.models import Application, AuditEntry, DynoSession, RawFile


def runs_of(
    db: Session, sessions: Sequence[DynoSession], grid: np.ndarray, application_id: int
) -> list[compare.PullCurve]:
    """The valid pulls of sessions as corrected curves on a grid, in order: those of the pair of letters that an application stands on.

    Raises EvidenceError if the sessions do not carry one and the same correction.
    """
    standards = {(session.standard, session.already_corrected) for session in sessions}
    if len(standards) > 1:
        names = " and ".join(sorted({correction.STANDARDS[s].name for s, _ in standards}))
        raise EvidenceError(
            f"These sessions carry different corrections ({names}), which are never mixed. "
            "Choose sessions with one correction, or set one standard for both."
        )
    runs: list[compare.PullCurve] = []
    offset = 0
    for day, session in enumerate(sorted(sessions, key=lambda s: (s.held_on, s.id))):
        sides = dict(zip(session.card.pair_of(application_id), "AB", strict=True))
        valid = [pull for pull in session.full_pulls if pull.is_valid and pull.label in sides]
        full = session.full_pulls
        first = runs[-1].fitting + 1 if runs else 0
        fittings = {p.id: first + n for p, n in zip(full, set_numbers([p.label for p in full]), strict=True)}
        factor = factor_of(session)
        by_id = sweeps(db, valid)
        for pull in valid:
            row = f"pull {pull.sequence} ({pull.label}), {pull.file.filename}, {session.held_on:%d %b %Y}"
            curve = pulls.on_grid(by_id[pull.id], grid) * factor
            label, place = sides[pull.label], offset + pull.sequence
            runs.append(compare.PullCurve(label, place, curve, row, fittings[pull.id], day))
        offset += max((pull.sequence for pull in session.pulls), default=0)
    return runs


def bands_came_late(db: Session, application: Application, sessions: Sequence[DynoSession]) -> bool:
    """Whether the vehicle's bands were changed when pulls of these sessions were there already."""
    ids = [session.id for session in sessions]
    first = select(func.min(RawFile.received_at)).where(RawFile.session_id.in_(ids)).scalar_subquery()
    changed = select(AuditEntry.id).where(
        AuditEntry.entity == "vehicle",
        AuditEntry.entity_id == application.vehicle_id,
        AuditEntry.at > first,
        AuditEntry.changes.op("?|")(array(["band_low", "band_middle", "band_top", "band_end"])),
    )
    return bool(db.scalar(select(exists(changed))))


def _weighing_key(
    db: Session, application: Application, sessions: Sequence[DynoSession], key: str, late: bool
) -> Hashable:
    return key, late


@cached(LRUCache(256), key=_weighing_key, lock=Lock())
def weighing_of(
    db: Session, application: Application, sessions: Sequence[DynoSession], key: str, late: bool
) -> Weighing:
    """A against B over the valid pulls of these sessions. Raises EvidenceError where they do not allow it.

    Kept by the key of its evidence, which stands for everything that goes into it. late: as `bands_came_late` says.
    """
    bands = bands_of(application.vehicle)
    grid = pulls.speed_grid(bands[0].low, bands[-1].high)
    runs = runs_of(db, sessions, grid, application.id)
    known = widest(scatter_of(db, session.card.dyno, session.held_on) for session in sessions)
    return verdicts.weigh(compare.compare_pulls(runs, grid, scatter=known), bands, late)
