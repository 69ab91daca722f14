"""Repeated looks: how much of the error of 5 % an interval may take, when sessions were looked at before and pulled on.

Looking and then pulling on is legal; each further look takes a share of one error, so that all looks together keep it. The k-th
session with A and B has the share u_k, u_1 = 0.9 and u_k = 0.1/((k − 1)·k); within it the end of the card's plan has 0.9, the ends
before it (m pulls short of N) share 0.08 as 1/m, those after it (e pulls more) share 0.02 as 1/(e·(e + 1)). All shares add up to 1:
whoever stops where it suits, or begins anew as often as he likes, is wrong in no more than 5 % of campaigns.
Source: group-sequential spending of the error, Slud and Wei 1982 (shares fixed beforehand, added by Bonferroni); the shares are ours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

ERROR = 0.05
"""The error [1] that all looks share."""
FIRST = 0.9
"""The share of the first session, and of the end of the plan in each session [1]."""
SHORT, OVER = 0.08, 0.02
"""The shares of ends before and after that of the plan [1]."""


@dataclass(frozen=True)
class Stand:
    """Where a session stands: pulls of A and B that its card plans, and how many count."""

    planned: int
    counted: int

    @property
    def short(self) -> int:
        """How many pulls the plan is short of."""
        return max(self.planned - self.counted, 0)

    @property
    def over(self) -> int:
        """How many pulls were taken beyond the plan."""
        return max(self.counted - self.planned, 0)


def of_session(number: int) -> float:
    """Share [1] of the error that the session with that number, from 1, has."""
    return FIRST if number <= 1 else (1.0 - FIRST) / ((number - 1) * number)


def of_stand(stand: Stand) -> float:
    """Share [1] of a session's error that is its where it stands."""
    if stand.short:
        return SHORT / (stand.short * sum(1.0 / m for m in range(1, stand.planned + 1)))
    if stand.over:
        return OVER / (stand.over * (stand.over + 1))
    return FIRST


def error_of(stands: Sequence[Stand]) -> float:
    """The error [1] that an interval takes after these sessions, in the order in which they were looked at; that of a first look at
    the end of its plan where there is none."""
    if not stands:
        return ERROR * FIRST * FIRST
    return ERROR * of_session(len(stands)) * of_stand(stands[-1])


AT_FIRST = 1.0 - ERROR * FIRST * FIRST
"""Confidence [1] of an interval at the first look, at the end of the plan."""
