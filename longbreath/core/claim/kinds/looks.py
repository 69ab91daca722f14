"""Fitment and durability of the test: what was looked at and what was run; counts, not comparisons."""

from __future__ import annotations

from collections.abc import Sequence
from math import floor

from longbreath.core.claim.facts import FOUND, LOSS, PLACE, Fact, Setting
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity, on_the_vehicle, plain
from longbreath.core.path.mounting import CLEAR, TOUCHES, FitPlace, state_of

SHORTEST = 60.0
"""Seconds of full load under which no time is stated."""


def facts_of_fit(spots: Sequence[FitPlace], minutes: float | None = None) -> tuple[Fact, ...]:
    """What was looked at: how many places are clear, each that is close or touches (must be said), the time that fitting took [s]."""
    clear = [s for s in spots if state_of(s.gap, s.state) == CLEAR]
    found = []
    if clear:
        found.append(Fact(FOUND, "clear_places", PLACE, 0.0, 0.0, float(len(clear)), 0.0))
    for spot in spots:
        if state_of(spot.gap, spot.state) != CLEAR:
            quantity = "touching_place" if spot.state == TOUCHES else "close_place"
            found.append(Fact(LOSS, quantity, PLACE, 0.0, 0.0, 1.0, 0.0, spot.place, required=True))
    if minutes is not None and found:
        found.append(Fact(FOUND, "fitting_time", PLACE, 0.0, 0.0, minutes, 0.0, usual=False))
    return tuple(found)


def facts_of_run(pulls: int, seconds: float, sessions: int) -> tuple[Fact, ...]:
    """What the part stood on the engine: full-load pulls, valid or not, and their time [s] where it was logged."""
    if not pulls:
        return ()
    found = [Fact(FOUND, "pulls", PLACE, 0.0, 0.0, float(pulls), 0.0)]
    if seconds >= SHORTEST:
        found.append(Fact(FOUND, "minutes", PLACE, 0.0, 0.0, floor(seconds / 60.0) * 60.0, 0.0))
    if sessions > 1:
        found.append(Fact(FOUND, "sessions", PLACE, 0.0, 0.0, float(sessions), 0.0, usual=False))
    return tuple(found)


def _told(setting: Setting) -> str:
    return "What was looked at on this vehicle; another one can differ."


def _run(setting: Setting) -> str:
    return "This is what was run, not how long the part lasts."


FITMENT = ClaimKind(
    "fitment",
    "Fitment",
    "Looks at places of one vehicle: gap and state, newest of each place; the time that somebody took.",
    ("“fits all”, or a vehicle that nobody looked at", "“no modification” while a place is close or touches"),
    (
        Quantity("clear_places", "count", {FOUND: ("cleared {size} places that were looked at",)}, plain, exact=True),
        Quantity("close_place", "count", {LOSS: ("came close at the {name}",)}, plain, exact=True),
        Quantity("touching_place", "count", {LOSS: ("touched at the {name}",)}, plain, exact=True),
        Quantity("fitting_time", "minutes", {FOUND: ("took {size} to fit",)}, plain, exact=True),
    ),
    on_the_vehicle,
    _told,
)
DURABILITY = ClaimKind(
    "durability",
    "Durability of the test",
    "Pulls with the part on the engine, counted whether valid or not, their time where it was logged, and the health log since.",
    ("a life, a mileage or a warranty", "hours that were not under load"),
    (
        Quantity(
            "pulls",
            "count",
            {FOUND: ("was run in {size} full-load pulls", "went through {size} full-load pulls")},
            plain,
            exact=True,
        ),
        Quantity("minutes", "minutes", {FOUND: ("was under full load for {size} in them",)}, plain, exact=True),
        Quantity("sessions", "count", {FOUND: ("was run on {size} days",)}, plain, exact=True),
    ),
    on_the_vehicle,
    _run,
)
