"""Fitment and durability: what was looked at, and what pulls the part stood, as plain data, and what they hold."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Literal

import numpy as np

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case.placing import Array, Channels, by_day
from longbreath.core.case.seen import Part, Pull, Session
from longbreath.core.case.statement import Grounded, Printed, Statement, long_day
from longbreath.core.claim import stating
from longbreath.core.claim.facts import Setting
from longbreath.core.claim.gates.gate import OnLooks
from longbreath.core.path.mounting import FitPlace, judge_fit
from longbreath.core.pull.channels import TIME

LEAST_PLACES, LEAST_PULLS = 3, 10
"""Places looked at and pulls run from which anything is worth saying. Common practice, no source."""


@dataclass(frozen=True)
class Spot:
    """The newest look at a place: the place, gap [m] and state, day, by whom."""

    place: str
    gap: float | None
    state: str
    held_on: date
    by: str


@dataclass(frozen=True)
class Looks:
    """Places that were looked at, in the order they were first looked at; of fitting: time [s] with who took it, what comes off, least
    wall and what must stay [m], what of the checklist is done; None and empty where nothing was written of it."""

    part: Part
    spots: tuple[Spot, ...]
    is_recorded: bool = False
    minutes: float | None = None
    minutes_from: str = ""
    removed: str = ""
    wall: float | None = None
    wall_limit: float | None = None
    done: tuple[str, ...] = ()
    of: Literal["looks"] = "looks"


def fitment(looks: Looks) -> Statement:
    """What was looked at. Raises EvidenceError where nothing was."""
    if not looks.spots:
        raise EvidenceError("No place was looked at yet.")
    places = [FitPlace(s.place, s.gap, s.state) for s in looks.spots]
    minutes = looks.minutes if looks.minutes_from.strip() else None
    judged = judge_fit(places, looks.wall, looks.wall_limit, looks.done)
    timed = [("Time to fit, by", looks.minutes_from)] if minutes is not None else []
    removed = [("What comes off", looks.removed or "not recorded")] if looks.is_recorded else []
    shown = Printed(
        judged.verdict,
        conditions=(
            *((s.place, f"{s.state}{_gap(s.gap)}, {s.held_on:%d %b %Y}, {s.by}") for s in looks.spots),
            *timed,
            *removed,
            ("Still to do on fitting", "; ".join(judged.to_do) or "nothing"),
        ),
        records=(
            *((f"the place {s.place}", s.place) for s in looks.spots),
            *((name, words) for name, words in (*timed, *removed)),
        ),
    )
    setting = Setting(looks.part.title, "", looks.part.vehicle, kind="fitment")
    against = judged.reasons if judged.verdict == "does not fit yet" else ()
    ground = OnLooks(len(looks.spots), LEAST_PLACES, "place", against)
    held_on = max(s.held_on for s in looks.spots)
    return Statement(stating.of_fit(places, minutes, setting), shown, Grounded(looks=ground), held_on)


def _gap(gap: float | None) -> str:
    return f", gap {units.show(gap, 'length', 'metric')}" if gap is not None else ""


@dataclass(frozen=True)
class Run:
    """Every session in which the part was on, newest first, and findings on the engine in words."""

    part: Part
    sessions: tuple[Session, ...]
    doubts: tuple[str, ...] = ()
    of: Literal["run"] = "run"

    @property
    def pulls(self) -> list[tuple[Session, Pull]]:
        """The full pulls with the part on, whether or not they count in a comparison."""
        return [(s, pull) for s in self.sessions for pull in s.pulls if pull.letter == s.card.b]


def durability(run: Run, channels: Channels) -> Statement:
    """What the part stood, in all sessions. Raises EvidenceError where it was not run."""
    if not run.pulls:
        raise EvidenceError("The part was not run on the engine yet.")
    logged = channels(run.pulls, (TIME,))
    each = [_seconds(logged.get((session.number, pull.place), {})) for session, pull in run.pulls]
    shown = Printed(
        "",
        conditions=tuple(_conditions(run, sum(second > 0.0 for second in each))),
        records=tuple(("the dyno’s name", s.dyno.name) for s in run.sessions),
    )
    setting = Setting(run.part.title, "", run.part.vehicle, kind="durability")
    ground = OnLooks(len(each), LEAST_PULLS, "pull", run.doubts)
    stated = stating.of_run(len(each), sum(each), len(run.sessions), setting)
    return Statement(stated, shown, Grounded(looks=ground), max(s.held_on for s in run.sessions))


def _conditions(run: Run, timed: int) -> Iterator[tuple[str, str]]:
    yield "Run on", "; ".join(dict.fromkeys(s.dyno.name for s in run.sessions))
    yield "Days", "; ".join(long_day(s.held_on) for s in by_day(run.sessions))
    yield "Time", f"logged in {timed} of {len(run.pulls)} pulls"
    yield "Counted", "every full-load pull with the part on, whether or not it counts in a comparison"


def _seconds(channels: Mapping[str, Array]) -> float:
    time = channels.get(TIME)
    if time is None or not np.isfinite(time).any():
        return 0.0
    return float(np.nanmax(time) - np.nanmin(time))
