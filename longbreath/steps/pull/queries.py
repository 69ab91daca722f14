"""Reads of Pull."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.working import Figure
from longbreath.core.dyno import pulls
from longbreath.dossier.evidence import correction_of, factor_of, sweeps
from longbreath.store.models import Application, DynoSession, Pull


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
    n = session.card.pulls_per_set
    parts = []
    for label, wanted in (("A", 2 * n), ("B", n)):
        missing = wanted - sum(p.is_valid and p.label == label for p in session.pulls)
        if missing > 0:
            parts.append(f"{missing} of {label}")
    return ", ".join(parts)


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
            {"rpm": round(float(speed / RPM)), "torque": round(units.to_unit(float(t), "torque", symbol), 2),
             "pull": pull.sequence, "label": pull.label, "counts": pull.is_valid}
            for speed, t in zip(grid, curve, strict=True) if np.isfinite(t)
        ]  # fmt: skip
    return rows
