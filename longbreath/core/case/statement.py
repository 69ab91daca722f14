"""What a statement of any kind rests on: what may be stated, what its sheet shows of it, and what the gates look at."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from longbreath.core.basis.working import Figure
from longbreath.core.build.sheet import Differing
from longbreath.core.claim.gates.gate import OnDyno, OnLooks, OnTool
from longbreath.core.claim.kinds.airflow import Pair
from longbreath.core.claim.stating import Stated


@dataclass(frozen=True)
class Printed:
    """What a sheet shows beside its figures: headline, conditions as name and words, what differed, names and notes of people that
    are printed with their place, the margin of no difference in words, the correction."""

    headline: str = ""
    conditions: tuple[tuple[str, str], ...] = ()
    differing: tuple[Differing, ...] = ()
    records: tuple[tuple[str, str], ...] = ()
    correction: Figure | None = None


@dataclass(frozen=True)
class Grounded:
    """The part of the grounds that only this kind has."""

    dyno: OnDyno | None = None
    bench: Pair | None = None
    tool: OnTool | None = None
    looks: OnLooks | None = None


@dataclass(frozen=True)
class Statement:
    """What a statement may be made of: its facts and figures, what its sheet shows, its own grounds, the day it was measured; what is
    not of an own test, and what stands beside it and backs nothing."""

    stated: Stated
    shown: Printed
    grounded: Grounded
    held_on: date
    foreign: tuple[str, ...] = ()
    outside: tuple[str, ...] = ()


def long_day(day: date) -> str:
    """A day as a sheet prints it: 8 May 2026 in full."""
    return f"{day.day} {day:%B %Y}"
