"""What a statement of any kind rests on, gathered from the records."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from longbreath.core.basis.working import Figure
from longbreath.core.build.sheet import Differing
from longbreath.core.claim.facts import Fact, Setting
from longbreath.core.claim.gates.gate import OnDyno, OnLooks, OnTool
from longbreath.core.claim.kinds.airflow import Pair
from longbreath.store.models import Application

Sources = Mapping[str, Any]
"""What a claim rests on beside dyno sessions, by name: school, bench session, trial, miles and price."""


@dataclass(frozen=True)
class Told:
    """What a sheet shows of it: headline, figures with their verdicts, minor figures, conditions as name and words, what differed,
    names and notes that are printed with their place, the margin of no difference in words, and how its picture is drawn (SVG)."""

    headline: str
    figures: tuple[tuple[Figure, str], ...] = ()
    minor: tuple[Figure, ...] = ()
    conditions: tuple[tuple[str, str], ...] = ()
    differing: tuple[Differing, ...] = ()
    records: tuple[tuple[str, str], ...] = ()
    margin: str = ""
    correction: Figure | None = None
    picture: Callable[[], str] | None = field(default=None, compare=False)


@dataclass(frozen=True)
class Grounded:
    """The part of the grounds that only this kind has."""

    dyno: OnDyno | None = None
    bench: Pair | None = None
    tool: OnTool | None = None
    looks: OnLooks | None = None


@dataclass(frozen=True)
class Backing:
    """What a statement rests on: kind, its sources, key, the day it was measured, facts, setting, what its sheet shows, its own
    grounds; who wrote any of what the sheet says; what is not of an own test, and what stands beside it and backs nothing."""

    kind: str
    application: Application
    session_ids: tuple[int, ...]
    sources: Sources
    key: str
    held_on: date
    facts: tuple[Fact, ...]
    setting: Setting
    told: Told
    grounded: Grounded
    wrote: frozenset[int] = frozenset()
    foreign: tuple[str, ...] = ()
    outside: tuple[str, ...] = ()
    notes: tuple[str, ...] = field(default_factory=tuple)


@dataclass(frozen=True)
class Choice:
    """Something a statement of a kind may be drafted on: its sessions and sources, and words for the choice."""

    words: str
    session_ids: tuple[int, ...] = ()
    sources: Sources = field(default_factory=dict)
