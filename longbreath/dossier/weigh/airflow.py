"""Airflow as a weighed thing: A and B of each bench session, lift by lift, with the verdicts that torque has."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.basis.working import Figure
from longbreath.core.claim.facts import LIFT, NOT_PROVEN
from longbreath.core.claim.kinds import airflow
from longbreath.dossier.bench.traces import main_pair, pair_of, sessions_of
from longbreath.store.models import Application, BenchSession


@dataclass(frozen=True)
class FlowRow:
    """One lift [m] (None for a fixed part): B − A as a figure, and its verdict with all lifts read together."""

    lift: float | None
    figure: Figure
    verdict: str


@dataclass(frozen=True)
class FlowSession:
    """A bench session with both: fixture in words, test pressure [Pa], what keeps the two apart, rows."""

    session: BenchSession
    fixture: str
    test_pressure: float
    differs: tuple[str, ...]
    rows: tuple[FlowRow, ...]


def airflow_of(db: Session, application: Application) -> list[FlowSession]:
    """The bench sessions that hold A and B, newest first. Only like is compared with like: what differs is named, and nothing is
    said."""
    found = []
    for session in sessions_of(db, application.id):
        a, b = main_pair(session)
        if a is None or b is None:
            continue
        pair = pair_of(a, b)
        verdicts = {(fact.low if fact.scope == LIFT else None): fact.kind for fact in airflow.facts_of(pair)}
        rows = (
            ()
            if pair.differs
            else tuple(FlowRow(lift.lift, lift.gain, verdicts.get(lift.lift, NOT_PROVEN)) for lift in pair.lifts)
        )
        found.append(FlowSession(session, pair.fixture, pair.test_pressure, pair.differs, rows))
    return found
