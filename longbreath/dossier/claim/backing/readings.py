"""Temperature, noise, mass and fuel: what a trial holds."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim import stating
from longbreath.core.claim.facts import Setting
from longbreath.core.claim.gates.gate import OnTool
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.dossier.claim.backing.backing import Backing, Choice, Grounded, Sources, Told
from longbreath.dossier.claim.house import rules_of
from longbreath.dossier.weigh.trials import KINDS, Weighed, trials_of, weigh_trial
from longbreath.store.models import Application, Trial

OWN = "own"


def choices_of(kind: str, db: Session, application: Application) -> list[Choice]:
    """The trials of a kind that hold."""
    return [
        Choice(f"{t.title}, {t.held_on:%d %b %Y}", sources={"trial": t.id})
        for t in trials_of(db, application.id)
        if t.kind == kind
    ]


def newest_of(db: Session, application: Application, number: int) -> Trial:
    """The trial that stands in the place of one. Raises EvidenceError if it is none of this application."""
    trial = db.get(Trial, number)
    if trial is None or trial.application_id != application.id:
        raise EvidenceError("There is no such trial.")
    standing = {t.id: t for t in trials_of(db, application.id)}
    follows = {t.replaces_id: t for t in db.scalars(select(Trial).where(Trial.application_id == application.id))}
    while trial.id not in standing and trial.id in follows:
        trial = follows[trial.id]
    return trial


def gather_trial(
    kind: str, db: Session, application: Application, session_ids: Sequence[int], sources: Sources
) -> Backing:
    """What the newest standing of a trial holds. Raises EvidenceError where it cannot be weighed."""
    trial = newest_of(db, application, int(sources.get("trial", 0)))
    miles = _miles(db, sources) if kind == "fuel" else None
    weighed = weigh_trial(trial) if miles is None else weigh_trial(trial, miles.distance, miles.price, miles.sold_by)
    if weighed.problem:
        raise EvidenceError(weighed.problem)
    title, stock = application.revision.title, application.stock_revision.title
    setting = Setting(title, stock, application.vehicle.name, kind=kind)
    if weighed.fuel is not None:
        stated = stating.of_fuel(weighed.fuel, weighed.worth, miles, setting)
    else:
        stated = stating.of_readings(weighed.found, setting, trial.tool)
    conditions = tuple((label, str(trial.conditions.get(name, ""))) for name, label in KINDS[kind].conditions)
    told = Told(
        "",
        stated.figures,
        conditions=(
            ("Trial", trial.title),
            ("Date", f"{trial.held_on.day} {trial.held_on:%B %Y}"),
            ("Read with", _tool(kind, trial)),
            *((label, words or "not recorded") for label, words in conditions),
            *_counts(weighed),
        ),
        records=(
            ("the trial’s name", trial.title),
            ("the tool", trial.tool),
            *((f"{label} of the trial", words) for label, words in conditions),
        ),
    )
    tool = OnTool(kind, trial.tool, trial.step, conditions, miles=miles)
    foreign = () if trial.origin == OWN else (f"{trial.title}, {trial.origin}",)
    return Backing(
        kind,
        application,
        (),
        dict(sources),
        f"trial {trial.id}",
        trial.held_on,
        stated.facts,
        stated.setting,
        told,
        Grounded(tool=tool),
        foreign=foreign,
    )


def _miles(db: Session, sources: Sources) -> Miles | None:
    if not sources.get("distance") or not sources.get("price"):
        return None
    money = rules_of(db).money or "of the house’s money"
    return Miles(float(sources["distance"]), float(sources["price"]), str(sources.get("sold_by") or "L"), money)


def _tool(kind: str, trial: Trial) -> str:
    step = units.show(trial.step, KINDS[kind].step, "metric") if trial.step else ""
    return f"{trial.tool}, steps of {step}" if step else trial.tool


def _counts(weighed: Weighed) -> list[tuple[str, str]]:
    rows: list[tuple[str, str]] = [
        (f"Readings, {item.conditions}", f"{item.counts[0]} of A, {item.counts[1]} of B" + _out(item))
        for item in weighed.found
    ]
    if weighed.fuel is not None:
        rows += [("Of the trial", note) for note in weighed.fuel.notes]
    return rows


def _out(item: Any) -> str:
    return f"; fell out: {'; '.join(item.out)}" if item.out else ""
