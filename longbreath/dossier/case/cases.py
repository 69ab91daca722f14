"""The case of a statement out of the records: what was seen, by the kind of the statement, and what stands around it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case.case import Case, Context, Seen, case
from longbreath.core.case.looks import Looks, Spot
from longbreath.core.case.trial import Trial
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.dossier.bench.traces import sessions_of
from longbreath.dossier.case.bench import flow_of
from longbreath.dossier.case.kept import joined_of, newest_test
from longbreath.dossier.case.tests import part_of, run_of
from longbreath.dossier.path.fit import fit_of, spots_of
from longbreath.dossier.records.house import notes_of, rules_of
from longbreath.dossier.records.road import certificates_seen, covered_of
from longbreath.dossier.records.trials import alike, newest_of
from longbreath.store import models
from longbreath.store.models import Application

Sources = Mapping[str, Any]
"""What a claim rests on beside dyno sessions, by name: school, bench session, trial, miles and price."""
Look = Callable[[Session, Application, Sequence[int], Sources], Seen]


def seen_of(
    db: Session, application: Application, kind: str, session_ids: Sequence[int] = (), sources: Sources | None = None
) -> Seen:
    """What was seen of a statement. Raises EvidenceError if there is no such kind, or nothing of it."""
    if kind not in LOOKS:
        raise EvidenceError("There is no such kind of statement.")
    return LOOKS[kind](db, application, session_ids, sources or {})


def _test(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Seen:
    return joined_of(db, application, session_ids) if session_ids else newest_test(db, application)


def _run(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Seen:
    return run_of(db, application)


def _flow(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Seen:
    session = next((s for s in sessions_of(db, application.id) if s.id == sources.get("bench")), None)
    if session is None:
        raise EvidenceError("There is no such bench session.")
    return flow_of(application, session)


def _trial(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Seen:
    row = newest_of(db, application, int(sources.get("trial", 0)))
    return replace(_seen(application, row), also=tuple(_seen(application, t) for t in alike(db, application, row)))


def _seen(application: Application, row: models.Trial) -> Trial:
    conditions = {name: str(words) for name, words in row.conditions.items()}
    rows = tuple(dict(values) for values in row.rows)
    about = (row.id, row.kind, row.title, row.held_on, row.origin, row.tool, row.step)
    return Trial(part_of(application), *about, conditions, rows)


def _looks(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Seen:
    spots = tuple(Spot(s.place, s.gap, s.state, s.taken_at.date(), s.taken_by.name) for s in spots_of(db, application))
    fit = fit_of(db, application)
    if fit is None:
        return Looks(part_of(application), spots)
    told = (fit.minutes, fit.minutes_from, fit.removed, fit.wall, fit.wall_limit)
    return Looks(part_of(application), spots, True, *told, tuple(str(key) for key in fit.done))


LOOKS: dict[str, Look] = {
    "torque": _test,
    "response": _test,
    "airflow": _flow,
    "temperature": _trial,
    "fuel": _trial,
    "noise": _trial,
    "mass": _trial,
    "fitment": _looks,
    "durability": _run,
}
"""How each kind of statement is seen."""


def miles_of(db: Session, kind: str, sources: Sources) -> Miles | None:
    """On what money is reckoned; None where nobody said."""
    if kind != "fuel" or not sources.get("distance") or not sources.get("price"):
        return None
    money = rules_of(db).money or "of the house’s money"
    return Miles(float(sources["distance"]), float(sources["price"]), str(sources.get("sold_by") or "L"), money)


def context_of(
    db: Session, application: Application, day: date, costs: Sequence[str] = (), unweighed: Sequence[str] = ()
) -> Context:
    """What stands around every statement of an application, on a day."""
    rules, held = rules_of(db), certificates_seen(db, application.id)
    return Context(
        application.approval,
        application.approval_note,
        held,
        tuple(c.number for c in held if not c.holds(day)),
        notes_of(db, application.id),
        tuple(costs),
        tuple(unweighed),
        tuple(covered_of(db, application.id)),
        rules.most_age,
        rules.retest_days,
        rules.house,
    )


def case_of(
    db: Session, application: Application, kind: str, session_ids: Sequence[int], sources: Sources, context: Context
) -> Case:
    """The case of a statement. Raises EvidenceError if there is nothing of it."""
    seen = seen_of(db, application, kind, session_ids, sources)
    school = str(sources.get("school", "")) if kind == "torque" else ""
    return case(kind, seen, context, school, miles_of(db, kind, sources))
