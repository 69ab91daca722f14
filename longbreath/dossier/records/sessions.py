"""Reads of dyno sessions: their correction, their pulls as sweeps, the order, and what is still owed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy import inspect, select
from sqlalchemy.orm import Session
from sqlalchemy.orm.attributes import set_committed_value

from longbreath.core.air import correction
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.working import Figure
from longbreath.core.judge.check import Check
from longbreath.core.judge.typed import torque_of
from longbreath.core.judge.verdict import PullVerdict, verdict
from longbreath.core.pull import pulls
from longbreath.core.pull.channels import POWER, SPEED, TORQUE
from longbreath.dossier.conditions import weather_of
from longbreath.store.models import Application, CardPair, Channel, DynoSession, Pull, TypedPull
from longbreath.store.once import once

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


def dyno_sessions(db: Session, application_id: int, pulls: bool = True) -> list[DynoSession]:
    """The dyno sessions whose card serves the application, newest first; with pulls and judgements of all where `pulls` asks."""
    serves = select(CardPair.card_id).where(CardPair.application_id == application_id)
    query = select(DynoSession).where(DynoSession.card_id.in_(serves)).order_by(*NEWEST_FIRST)
    found = list(once(db, (dyno_sessions, application_id), lambda: db.scalars(query).all()))
    if pulls:
        load_pulls(db, found)
    return found


def newest_dossier(db: Session) -> int | None:
    """The number of the application whose dyno session was opened last, or None before the first."""
    return db.scalar(select(DynoSession.application_id).order_by(DynoSession.id.desc()).limit(1))


def load_pulls(db: Session, sessions: Sequence[DynoSession]) -> None:
    """Load the pulls of several sessions at once, with readings and judgements, where this unit of work has not yet."""
    found: dict[int, list[Pull]] = {session.id: [] for session in sessions if "pulls" in inspect(session).unloaded}
    if not found:
        return
    for pull in db.scalars(select(Pull).where(Pull.session_id.in_(found)).order_by(Pull.sequence)):
        found[pull.session_id].append(pull)
    for session in sessions:
        if session.id in found:
            set_committed_value(session, "pulls", found[session.id])


def channels_of(db: Session, wanted: Iterable[Pull], names: Sequence[str] = ()) -> dict[int, dict[str, np.ndarray]]:
    """Channels by pull id, of the readings that hold, in one query; only those named, where some are."""
    by_reading = {pull.read.id: pull.id for pull in wanted}
    if not by_reading:
        return {}
    query = select(Channel.reading_id, Channel.name, Channel.values).where(Channel.reading_id.in_(by_reading))
    if names:
        query = query.where(Channel.name.in_(names))
    found: dict[int, dict[str, np.ndarray]] = {}
    for reading_id, name, values in db.execute(query):
        found.setdefault(by_reading[reading_id], {})[name] = np.array(values, dtype=np.float64)
    return found


def sweeps(db: Session, wanted: Iterable[Pull]) -> dict[int, pulls.Sweep]:
    """Sweeps by pull id: speed, torque and power alone, which is what curves are made of."""
    found = channels_of(db, wanted, (SPEED, TORQUE, POWER))
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
    by_place = {pull.sequence: pull for pull in session.full_pulls}
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
        missing = wanted - sum(p.is_valid and p.label == label for p in session.full_pulls)
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
    factor = factor_of(session) / units.unit_of("torque", units.kind_named("torque").symbol(system)).factor
    speeds = [round(float(speed / RPM)) for speed in grid]
    full = session.full_pulls
    by_id = sweeps(db, full)
    rows = []
    for pull in full:
        curve = pulls.on_grid(by_id[pull.id], grid) * factor
        said = {"pull": pull.sequence, "label": pull.label, "counts": pull.is_valid}
        rows += [
            {"rpm": rpm, "torque": round(torque, 2), **said}
            for rpm, torque in zip(speeds, curve.tolist(), strict=True)
            if np.isfinite(torque)
        ]
    return rows


def verdict_of(pull: Pull) -> PullVerdict:
    """What is said of a pull."""
    return verdict([Check(**check) for check in pull.checks], pull.is_valid, not pull.judgements[-1].automatic)


def not_logged(session: DynoSession) -> list[tuple[str, list[int]]]:
    """What the card demands and pulls of a session lack, in a sentence each, with the places of those pulls."""
    found: dict[str, list[int]] = {}
    for pull in session.full_pulls:
        for check in pull.checks:
            if check["key"] == "demanded" and check["passed"] is None:
                found.setdefault(str(check["sentence"]), []).append(pull.sequence)
    return list(found.items())


def verdicts(session: DynoSession) -> dict[int, PullVerdict]:
    """What is said of each pull of a session, by number."""
    return {pull.id: verdict_of(pull) for pull in session.pulls}


def stop_of(session: DynoSession) -> Pull | None:
    """The last pull, if it says to stop and inspect and nobody judged it yet."""
    last = max(session.pulls, key=lambda p: p.id, default=None)
    return last if last is not None and verdict_of(last).stops else None


def sources_of(session: DynoSession) -> list[tuple[str, list[Pull]]]:
    """The sources of a session's pulls, each with its pulls: by the columns they were read from."""
    found: dict[str, list[Pull]] = {}
    for pull in session.pulls:
        found.setdefault(str(pull.read.told.get("source", "")), []).append(pull)
    return [(fingerprint, pulls) for fingerprint, pulls in found.items() if fingerprint]


def typed_marks(typed: Iterable[TypedPull], system: str) -> list[dict[str, Any]]:
    """Torque of typed pulls in display units, to be charted beside the curves."""
    symbol = units.kind_named("torque").symbol(system)
    return [
        {"rpm": round(row[0] / RPM), "torque": round(units.to_unit(torque, "torque", symbol), 1), "label": t.label}
        for t in typed
        for row in t.rows
        if (torque := torque_of((row[0], row[1], row[2]))) is not None
    ]
