"""Trials: readings that are no pulls (fuel, temperature, noise, mass, track), written as rows and weighed by their kind."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from sqlalchemy import select

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError, LongBreathError
from longbreath.core.basis.working import Figure
from longbreath.core.case.trial import fuel_of, fuel_trial
from longbreath.core.weigh import fuel, rows
from longbreath.core.weigh.figures import reading_figure, trial_figures
from longbreath.core.weigh.fuel import FuelTrial as FuelTrial
from longbreath.core.weigh.fuel import Worth
from longbreath.core.weigh.readings import ReadingsCompared
from longbreath.core.weigh.trial_kinds import Column, TrialKind
from longbreath.store.models import Application, Trial
from longbreath.store.unit_of_work import UnitOfWork

MOST_ROWS = 2000
ORIGINS = {
    "own": "own test",
    "supplier": "a supplier’s test with data",
    "published": "a published table",
    "hearsay": "hearsay",
}
"""Whose test a trial is: nothing but an own one backs a claim."""


@dataclass(frozen=True)
class TrialCard:
    """What is written of a trial; rows as `read_rows` makes them."""

    kind: str
    title: str
    held_on: date
    tool: str
    step: float = 0.0
    conditions: dict[str, str] = field(default_factory=dict)
    rows: tuple[dict[str, Any], ...] = ()
    why: str = ""
    origin: str = "own"


def read_rows(kind: TrialKind, text: str, system: str) -> tuple[dict[str, Any], ...]:
    """Rows typed or pasted one a line, columns by comma, semicolon or tab, as SI by name. Raises InputError that names the line."""
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines:
        raise InputError("There are no rows yet.", "rows")
    if len(lines) > MOST_ROWS:
        raise InputError(f"More than {MOST_ROWS} rows: split the trial.", "rows")
    mark = next((m for m in "\t;" if m in lines[0]), ",")
    found = []
    for number, cells in enumerate(
        csv.reader(io.StringIO("\n".join(lines)), delimiter=mark, skipinitialspace=True), start=1
    ):
        parts = [cell.strip() for cell in cells]
        if number == 1 and [p.casefold() for p in parts[:2]] == [
            c.label.casefold() for c in kind.columns[: len(parts[:2])]
        ]:
            continue
        if len(parts) > len(kind.columns):
            raise InputError(
                f"Line {number} holds {len(parts)} columns; at most {len(kind.columns)} are wanted.", "rows"
            )
        found.append(_row(kind, parts, number, system))
    if not found:
        raise InputError("There are no rows yet.", "rows")
    return tuple(found)


def _row(kind: TrialKind, parts: Sequence[str], number: int, system: str) -> dict[str, Any]:
    row: dict[str, Any] = {}
    for k, column in enumerate(kind.columns):
        text = parts[k] if k < len(parts) else ""
        if not text:
            if column.required:
                raise InputError(f"Line {number}: {column.label} is missing.", "rows")
            continue
        try:
            row[column.name] = _value(column, text, system)
        except InputError as error:
            raise InputError(f"Line {number}, {column.label}: {error.message}", "rows") from None
    return row


def _value(column: Column, text: str, system: str) -> Any:
    if column.kind == "yes":
        for choice in column.choices:
            if text.casefold() == choice.casefold():
                return choice
        raise InputError(f"“{text[:40]}” is neither {column.choices[0]} nor {column.choices[1]}.")
    if not column.kind:
        return " ".join(text.split())[:80]
    return units.parse(text, column.kind, system).value


def save_trial(work: UnitOfWork, application: Application, card: TrialCard, replaces: Trial | None = None) -> Trial:
    """Record a trial, or a correction of one. Raises InputError for a correction without a reason, a day to come, or rows that
    cannot be."""
    if replaces is not None and not card.why.strip():
        raise InputError("Say why this takes the place of the earlier one.", "why")
    if card.held_on > work.clock().date():
        raise InputError("This day is still to come.", "held_on")
    if card.origin not in ORIGINS:
        raise InputError("Say whose test it is.", "origin")
    _build(card.kind, card.rows)
    work.lock_row(application)
    if replaces is not None and work.scalar(select(Trial.id).where(Trial.replaces_id == replaces.id)) is not None:
        raise InputError("Somebody corrected this trial already: open the newest.", "why")
    row = Trial(application_id=application.id, made_by_id=work.actor.id)
    row.kind, row.title, row.held_on, row.tool, row.step = card.kind, card.title, card.held_on, card.tool, card.step
    row.origin = card.origin
    row.conditions, row.rows, row.why = dict(card.conditions), [dict(r) for r in card.rows], card.why.strip()
    row.replaces_id = replaces.id if replaces is not None else None
    row.made_by = work.actor
    work.add(row)
    work.flush()
    return row


def _build(kind: str, given: Sequence[dict[str, Any]]) -> None:
    """Raise InputError where a row cannot be of its kind."""
    for number, row in enumerate(given if kind in rows.BUILDERS else (), start=1):
        try:
            rows.BUILDERS[kind]([row])
        except InputError as error:
            raise InputError(f"Row {number}: {error.message}", "rows") from None


@dataclass(frozen=True)
class Weighed:
    """A trial with what it shows: differences of readings, or a fuel trial with what it is worth; or why it shows nothing."""

    trial: Trial
    found: tuple[ReadingsCompared, ...] = ()
    fuel: FuelTrial | None = None
    worth: Worth | None = None
    fleet: tuple[float, float] | None = None
    problem: str = ""


def weigh_trial(trial: Trial, distance: float | None = None, price: float | None = None, sold_by: str = "L") -> Weighed:
    """What a trial shows. distance: a year's [m]; price: of the unit that fuel is sold by. Track runs show nothing but themselves."""
    try:
        if trial.kind == "fuel":
            runs = rows.runs(trial.rows)
            found = fuel_trial(tuple(runs))
            per = price / units.from_unit(1.0, "fuel_volume", sold_by) if price is not None else None
            value = fuel.worth(found, distance, per, fuel_of(trial.conditions)) if distance else None
            return Weighed(trial, fuel=found, worth=value, fleet=fuel.averaged(runs))
        if trial.kind in rows.BUILDERS:
            return Weighed(trial, rows.weigh(trial.kind, trial.rows, trial.step))
    except LongBreathError as error:
        return Weighed(trial, problem=error.message)
    return Weighed(trial)


def figures_of(weighed: Weighed) -> dict[str, Figure]:
    """The figures of a trial by key: its number, then what it is of."""
    number = weighed.trial.id
    if weighed.fuel is not None:
        return {f"{number}-{key}": figure for key, figure in trial_figures(weighed.fuel, weighed.worth).items()}
    return {f"{number}-{k}": reading_figure(f"{number}-{k}", found) for k, found in enumerate(weighed.found)}


def shown_row(kind: TrialKind, row: dict[str, Any], system: str) -> list[str]:
    """A row of a trial as text, column by column, in display units."""
    found = []
    for column in kind.columns:
        value = row.get(column.name)
        if value is None or not column.kind or column.kind == "yes":
            found.append("" if value is None else str(value))
        else:
            found.append(units.show(float(value), column.kind, system))
    return found
