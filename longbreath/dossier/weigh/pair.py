"""A against B: the valid pulls of sessions as core inputs, and their weighing."""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
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
from longbreath.core.dyno.scatter import Scatter, set_numbers
from longbreath.core.weigh.logged import OF_TORQUE, Logged, curves
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.plan.scatter import scatter_of, widest
from longbreath.dossier.pull.sessions import channels_of, factor_of
from longbreath.store.models import Application, AuditEntry, DynoSession, Pull, RawFile

Sides = Mapping[int, Mapping[str, str]]
"""By session: the letters that take part, each with the label it is weighed under."""


def check_one_correction(sessions: Sequence[DynoSession]) -> None:
    """Raise EvidenceError unless the sessions carry one and the same correction."""
    standards = {(session.standard, session.already_corrected) for session in sessions}
    if len(standards) > 1:
        names = " and ".join(sorted({correction.STANDARDS[s].name for s, _ in standards}))
        raise EvidenceError(
            f"These sessions carry different corrections ({names}), which are never mixed. "
            "Choose sessions with one correction, or set one standard for both."
        )


def pair_sides(sessions: Sequence[DynoSession], application_id: int) -> Sides:
    """The pair of letters that an application stands on, as A and B, in each session."""
    return {s.id: dict(zip(s.card.pair_of(application_id), "AB", strict=True)) for s in sessions}


def places_of(sessions: Sequence[DynoSession], sides: Sides) -> list[tuple[Pull, str, int, int, int]]:
    """The valid pulls that take part, in the order of days: pull, label, place, set and day, all numbered through."""
    found: list[tuple[Pull, str, int, int, int]] = []
    offset, first = 0, 0
    for day, session in enumerate(sorted(sessions, key=lambda s: (s.held_on, s.id))):
        full, mine = session.full_pulls, sides[session.id]
        fittings = {p.id: first + n for p, n in zip(full, set_numbers([p.label for p in full]), strict=True)}
        found += [
            (pull, mine[pull.label], offset + pull.sequence, fittings[pull.id], day)
            for pull in full
            if pull.is_valid and pull.label in mine
        ]
        offset += max((pull.sequence for pull in session.pulls), default=0)
        first = max(fittings.values(), default=first) + 1
    return found


def row_of(pull: Pull) -> str:
    """How a working names a pull."""
    return f"pull {pull.sequence} ({pull.label}), {pull.file.filename}, {pull.session.held_on:%d %b %Y}"


def runs_of(db: Session, sessions: Sequence[DynoSession], grid: np.ndarray, sides: Sides) -> list[compare.PullCurve]:
    """The valid pulls of sessions as corrected curves on a grid, in order. Raises EvidenceError for sessions that carry different
    corrections. Sessions of different dynos are put on the newest one's level by ratios."""
    check_one_correction(sessions)
    placed = places_of(sessions, sides)
    channels = channels_of(db, [pull for pull, *_ in placed], OF_TORQUE)
    factors = {session.id: factor_of(session) for session in sessions}
    logged = [
        Logged(label, "", place, fitting, day, row_of(p), channels[p.id], p.session.pressure, factors[p.session_id])
        for p, label, place, fitting, day in placed
    ]
    return curves(logged, grid, is_of_several_dynos(sessions))


def is_of_several_dynos(sessions: Sequence[DynoSession]) -> bool:
    """Whether these sessions were held on different dynos: only ratios may then be compared."""
    return len({session.card.dyno_id for session in sessions}) > 1


def known_scatter(db: Session, sessions: Sequence[DynoSession]) -> Scatter:
    """What is known of the scatter of the dynos of these sessions, on their days: the widest."""
    return widest(scatter_of(db, session.card.dyno, session.held_on) for session in sessions)


def margin_of(sessions: Sequence[DynoSession]) -> float:
    """The margin that was chosen before the tests [1]: of several cards the smallest."""
    return min(session.card.no_matter for session in sessions)


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
    runs = runs_of(db, sessions, grid, pair_sides(sessions, application.id))
    comparison = compare.compare_pulls(
        runs,
        grid,
        scatter=known_scatter(db, sessions),
        as_ratios=is_of_several_dynos(sessions),
        margin_share=margin_of(sessions),
    )
    return verdicts.weigh(comparison, bands, late)
