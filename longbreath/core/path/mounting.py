"""Does it fit: interferences, wall left, what is drained or removed, minutes of work, and the install checklist."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

CLEAR, CLOSE, TOUCHES = "clear", "close", "touches"
STATES = ((CLEAR, "clear"), (CLOSE, "close: watch it"), (TOUCHES, "touches: must change"))
PLACES = (
    "distributor",
    "bonnet",
    "strut bar",
    "steering shaft",
    "brake servo",
    "radiator fan",
    "firewall",
    "alternator",
    "fuel rail",
    "starter",
    "heat shield",
    "floor pan",
)
"""Places to look at first (common practice)."""
MOVING_GAP = 0.010
"""An engine moves on its mounts: less gap than this [m] to a fixed thing is close (common practice, no source)."""
CHECKLIST = (
    ("deburr", "Tube ends and ports deburred: a burr inside is a step"),
    ("plugs", "Spare bosses and ports plugged"),
    ("sealant", "Sealant where the joint wants it, none in the flow"),
    ("antiseize", "Anti-seize on steel fasteners in aluminium"),
    ("bosses", "Sensor bosses fitted, threads and reach checked"),
    ("torque", "Fasteners torqued in order, once more after the first heat"),
    ("leak", "Checked for leaks before the first run"),
)
"""What is done on every fitting (common practice, no source)."""


@dataclass(frozen=True)
class FitPlace:
    """One place looked at: name, gap [m] or None, state."""

    place: str
    gap: float | None
    state: str


@dataclass(frozen=True)
class Fitting:
    """The judgement of a fit: fits, fits with care, does not fit, or not checked; the reasons, and what is still to do."""

    verdict: str
    reasons: tuple[str, ...]
    to_do: tuple[str, ...]


def state_of(gap: float | None, state: str) -> str:
    """A spot's state with the gap [m] taken into account: a clear place with little gap is close."""
    return CLOSE if state == CLEAR and gap is not None and gap < MOVING_GAP else state


def judge_fit(spots: Sequence[FitPlace], wall: float | None, wall_limit: float | None, done: Sequence[str]) -> Fitting:
    """Judge a fit. wall: least wall left [m]; wall_limit: what must stay [m]; done: keys of the checklist that are done."""
    reasons = [
        f"{s.place}: {s.state if s.state == TOUCHES else 'close'}" for s in spots if state_of(s.gap, s.state) != CLEAR
    ]
    touching = [s for s in spots if s.state == TOUCHES]
    thin = wall is not None and wall_limit is not None and wall < wall_limit
    if thin:
        reasons.append("the wall is thinner than it must be")
    to_do = tuple(label for key, label in CHECKLIST if key not in done)
    if touching or thin:
        return Fitting("does not fit yet", tuple(reasons), to_do)
    if not spots:
        return Fitting("not checked", ("no place was looked at",), to_do)
    return Fitting("fits with care" if reasons else "fits", tuple(reasons), to_do)
