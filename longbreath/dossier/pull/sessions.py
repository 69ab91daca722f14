"""Reads of dyno sessions: their correction, their pulls as sweeps, the order, and what is still owed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.air import correction
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import pulls
from longbreath.dossier.conditions import weather_of
from longbreath.store.models import Application, CardPair, Channel, DynoSession, Pull

NEWEST_FIRST = (DynoSession.held_on.desc(), DynoSession.id.desc())
"""The order of dyno sessions: by the day they were held, then by the order they were opened in."""


def correction_of(session: DynoSession) -> Figure:
    """The factor of a session, with working (its weather and standard)."""
    return correction.correction(weather_of(session), session.standard, f"session of {session.held_on:%d %b %Y}")


def outside_standard(session: DynoSession) -> tuple[str, ...]:
    """What of the day's air lies outside the ranges of the session's correction standard, in sentences."""
    return correction.outside(weather_of(session), session.standard)


def factor_of(session: DynoSession) -> float:
    """What the logged torque is multiplied by: 1 where the files already carry corrected figures."""
    return 1.0 if session.already_corrected else correction_of(session).value


def dyno_sessions(db: Session, application_id: int) -> list[DynoSession]:
    """The dyno sessions whose card serves the application, with pulls and judgements, newest first."""
    serves = select(CardPair.card_id).where(CardPair.application_id == application_id)
    query = (
        select(DynoSession)
        .where(DynoSession.card_id.in_(serves))
        .options(selectinload(DynoSession.pulls))
        .order_by(*NEWEST_FIRST)
    )
    return list(db.scalars(query))


def sweeps(db: Session, wanted: Iterable[Pull]) -> dict[int, pulls.Sweep]:
    """Sweeps by pull id, their channels read in one query."""
    ids = [pull.id for pull in wanted]
    found: dict[int, dict[str, np.ndarray]] = {}
    rows = db.execute(select(Channel.pull_id, Channel.name, Channel.values).where(Channel.pull_id.in_(ids)))
    for pull_id, name, values in rows:
        found.setdefault(pull_id, {})[name] = np.array(values, dtype=np.float64)
    return {pull_id: pulls.make_sweep(channels) for pull_id, channels in found.items()}


@dataclass(frozen=True)
class Token:
    """One place in the order: its label, the pull that stands there (None if it is still owed)."""

    place: int
    label: str
    pull: Pull | None

    @property
    def state(self) -> str:
        """counts, out or owed."""
        return "owed" if self.pull is None else "counts" if self.pull.is_valid else "out"


def tokens(session: DynoSession) -> list[Token]:
    """The planned order and what was taken, one token a place."""
    by_place = {pull.sequence: pull for pull in session.pulls}
    order = session.card.order
    last = max([len(order), *by_place])
    found = []
    for place in range(1, last + 1):
        pull = by_place.get(place)
        planned = order[place - 1] if place <= len(order) else ""
        if pull is not None or planned:
            found.append(Token(place, pull.label if pull is not None else planned, pull))
    return found


def still_owed(session: DynoSession) -> str:
    """What is missing of the card, in words; empty when nothing is."""
    planned, parts = Counter(session.card.order), list[tuple[int, str]]()
    for label, wanted in planned.items():
        missing = wanted - sum(p.is_valid and p.label == label for p in session.pulls)
        if missing > 0:
            parts.append((missing, f"{missing} of {label}"))
    if len(parts) > 4:
        return f"{sum(count for count, _ in parts)} of {planned.total()}, of {len(parts)} variants"
    return ", ".join(words for _, words in parts)


def figures(session: DynoSession) -> dict[str, Figure]:
    """The session's figures: its correction factor."""
    return {"correction": correction_of(session)}


def chart_rows(db: Session, application: Application, session: DynoSession, system: str) -> list[dict[str, Any]]:
    """Corrected torque of every pull on a common grid, in display units."""
    grid = pulls.speed_grid(application.vehicle.band_low, application.vehicle.band_end)
    symbol, factor = units.kind_named("torque").symbol(system), factor_of(session)
    by_id = sweeps(db, session.pulls)
    rows = []
    for pull in session.pulls:
        curve = pulls.on_grid(by_id[pull.id], grid) * factor
        rows += [
            {
                "rpm": round(float(speed / RPM)),
                "torque": round(units.to_unit(float(t), "torque", symbol), 2),
                "pull": pull.sequence,
                "label": pull.label,
                "counts": pull.is_valid,
            }
            for speed, t in zip(grid, curve, strict=True)
            if np.isfinite(t)
        ]
    return rows
