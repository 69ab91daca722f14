"""Checks of a bench against plates of known flow: which one counts on a day, how sure the scale is, when the next is due."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import sqrt
from typing import Protocol


class Checked(Protocol):
    """A plate check: its day and number, what was read over what is known less one, the plate's uncertainty, shares of the flow."""

    @property
    def id(self) -> int: ...
    @property
    def held_on(self) -> date: ...
    @property
    def deviation(self) -> float: ...
    @property
    def plate_uncertainty(self) -> float: ...


@dataclass(frozen=True)
class PlateState:
    """How a bench stands to its plate checks on a day: the newest (None if there is none), when the next is due."""

    newest: Checked | None
    due_on: date | None
    overdue: bool

    @property
    def uncertainty(self) -> float | None:
        """Expanded uncertainty of the scale, share of the flow: √(U_plate² + deviation²); None without a check."""
        if self.newest is None:
            return None
        return sqrt(self.newest.plate_uncertainty**2 + self.newest.deviation**2)


def in_order(checks: Sequence[Checked]) -> list[Checked]:
    """Plate checks, oldest first."""
    return sorted(checks, key=lambda c: (c.held_on, c.id))


def plate_state(checks: Sequence[Checked], check_days: int, on: date) -> PlateState:
    """The plate check that counts on a day. check_days: from one check to the next."""
    before = [c for c in in_order(checks) if c.held_on <= on]
    if not before:
        return PlateState(None, None, False)
    due = before[-1].held_on + timedelta(days=check_days)
    return PlateState(before[-1], due, on > due)


def found_off(checks: Sequence[Checked], on: date) -> Checked | None:
    """The first check after a day, where it finds the scale off from the one before by more than both are sure of."""
    before = [c for c in in_order(checks) if c.held_on <= on]
    after = next((c for c in in_order(checks) if c.held_on > on), None)
    if not before or after is None:
        return None
    was = before[-1]
    sure = after.plate_uncertainty + was.plate_uncertainty
    return after if abs(after.deviation - was.deviation) > sure else None
