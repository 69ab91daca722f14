"""What must be measured of a part before it is reckoned with, by its family and the engine's cycle."""

from __future__ import annotations

from dataclasses import dataclass

LIFTS_WANTED = 6
"""Lifts of a sweep that make a curve. Common practice, no source."""
TIMED = ("tuned pipe", "expansion chamber", "port insert", "ported", "disc", "reed", "porting")
FIXED = (
    "elbow",
    "charge pipe",
    "downpipe",
    "pipe",
    "muffler",
    "silencer",
    "catalyst",
    "air box",
    "filter",
    "inlet kit",
    "intercooler",
    "cone",
    "adapter",
    "spacer",
    "tip",
    "resonator",
    "throttle",
)
"""Words of families that are timed with the wheel, and of those whose flow is read without lifts. Common practice, no source."""


@dataclass(frozen=True)
class Need:
    """What a family of part needs: lifts on the bench (0: none, 1: one flow at equal pressure), the wheel, the path."""

    lifts: int
    wheel: bool
    bench_words: str


def need_of(family: str, cycle: str) -> Need:
    """What a part of that family needs on an engine of that cycle.

    A tuned pipe and cut ports are timed with the degree wheel, on an engine without lifting valves anything is; a part
    without a valve behind it flows at one setting; all others are swept over lift. A family in other words counts as the last.
    """
    folded = family.casefold()
    if any(word in folded for word in TIMED) and (cycle != "four-stroke" or "tuned pipe" in folded):
        return Need(0, True, "")
    if cycle != "four-stroke":
        return Need(0, True, "")
    if any(word in folded for word in FIXED):
        return Need(1, False, "the flow")
    return Need(LIFTS_WANTED, False, f"{LIFTS_WANTED} lifts")
