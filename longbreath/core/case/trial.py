"""Temperature, noise, mass and fuel: what was seen of a trial, as plain data, and what it holds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any, Literal

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, LongBreathError
from longbreath.core.case.seen import Part
from longbreath.core.case.statement import Grounded, Printed, Statement, long_day
from longbreath.core.claim import stating
from longbreath.core.claim.facts import Setting
from longbreath.core.claim.gates.gate import OnTool
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.claim.stating import Stated
from longbreath.core.weigh import fuel, rows, together
from longbreath.core.weigh.fuel import FuelTrial as FuelTrial
from longbreath.core.weigh.fuel import Run
from longbreath.core.weigh.readings import ReadingsCompared
from longbreath.core.weigh.trial_kinds import KINDS

OWN = "own"


@dataclass(frozen=True)
class Trial:
    """A trial as it was recorded: part, number, kind, title, day, whose test it is, tool with its step [SI], conditions, rows; and
    the other trials of its kind that count alike."""

    part: Part
    number: int
    kind: str
    title: str
    held_on: date
    origin: str
    tool: str
    step: float
    conditions: Mapping[str, str]
    rows: tuple[Mapping[str, Any], ...]
    also: tuple[Trial, ...] = ()
    of: Literal["trial"] = "trial"

    @property
    def every(self) -> tuple[Trial, ...]:
        """This one and those that count alike."""
        return (self, *self.also)


@lru_cache(128)
def fuel_trial(runs: tuple[Run, ...]) -> FuelTrial:
    """A fuel trial weighed once: its rows never change. Raises EvidenceError where they are too few."""
    return fuel.weigh_trial(runs)


def trial(seen: Trial, miles: Miles | None = None) -> Statement:
    """What a trial holds. miles: on which money is reckoned, of a fuel trial. Raises EvidenceError where it cannot be weighed."""
    kind = KINDS[seen.kind]
    conditions = tuple((label, str(seen.conditions.get(name, ""))) for name, label in kind.conditions)
    setting = Setting(seen.part.title, seen.part.stock, seen.part.vehicle, kind=seen.kind)
    try:
        stated, counts = _fuel(seen, miles, setting) if seen.kind == "fuel" else _readings(seen, setting)
    except LongBreathError as error:
        raise EvidenceError(error.message) from None
    shown = Printed(
        conditions=(
            ("Trial", "; ".join(dict.fromkeys(t.title for t in seen.every))),
            ("Date", "; ".join(dict.fromkeys(long_day(t.held_on) for t in seen.every))),
            ("Read with", "; ".join(dict.fromkeys(_tool(t) for t in seen.every))),
            *((label, words or "not recorded") for label, words in conditions),
            *counts,
        ),
        records=(
            *(("the trial’s name", t.title) for t in seen.every),
            *(("the tool", t.tool) for t in seen.every),
            *((f"{label} of the trial", words) for label, words in conditions),
        ),
    )
    tool = OnTool(seen.kind, seen.tool, seen.step, conditions, miles=miles)
    foreign = () if seen.origin == OWN else (f"{seen.title}, {seen.origin}",)
    return Statement(stated, shown, Grounded(tool=tool), seen.held_on, foreign)


def _readings(seen: Trial, setting: Setting) -> tuple[Stated, list[tuple[str, str]]]:
    own, unread = weighed(seen)
    found, apart = together.readings(own)
    counts = [
        (f"Readings, {item.conditions}", f"{item.counts[0]} of A, {item.counts[1]} of B" + _out(item)) for item in found
    ]
    counts += [("Trials", words) for words in (*apart, *unread)]
    return stating.of_readings(found, setting, "; ".join(dict.fromkeys(t.tool for t in seen.every if t.tool))), counts


def weighed(seen: Trial) -> tuple[list[tuple[ReadingsCompared, ...]], tuple[str, ...]]:
    """What each trial of readings shows by itself, and in words which cannot be weighed. Raises EvidenceError where none can."""
    found, unread = [], []
    for one in seen.every:
        try:
            found.append(rows.weigh(one.kind, one.rows, one.step))
        except LongBreathError as error:
            if not seen.also:
                raise
            unread.append(f"{one.title} cannot be weighed: {error.message}")
    if not found:
        raise EvidenceError("; ".join(unread))
    return found, tuple(unread)


def _out(item: ReadingsCompared) -> str:
    return f"; fell out: {'; '.join(item.out)}" if item.out else ""


def _fuel(seen: Trial, miles: Miles | None, setting: Setting) -> tuple[Stated, list[tuple[str, str]]]:
    found, worth = together.fuels([fuel_trial(tuple(rows.runs(t.rows))) for t in seen.every]), None
    if miles is not None:
        per = miles.price / units.from_unit(1.0, "fuel_volume", miles.sold_by)
        worth = fuel.worth(found, miles.distance, per, fuel_of(seen.conditions))
    return stating.of_fuel(found, worth, miles, setting), [("Of the trial", note) for note in found.notes]


def fuel_of(conditions: Mapping[str, Any]) -> str:
    """Petrol or diesel, by the conditions of a fuel trial."""
    return "diesel" if "diesel" in str(conditions.get("fuel", "")).casefold() else "petrol"


def _tool(seen: Trial) -> str:
    step = units.show(seen.step, KINDS[seen.kind].step, "metric") if seen.step else ""
    return f"{seen.tool}, steps of {step}" if step else seen.tool
