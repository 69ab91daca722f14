"""What is said of a pull: whether it counts, the check to look at, what follows from it, and where it shows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import STOP, Check
from longbreath.core.judge.pull import first_of
from longbreath.core.pull.channels import TORQUE


@dataclass(frozen=True)
class PullVerdict:
    """What is said of a pull: whether it counts, the failed check to look at with its advice, those that follow it, whether a
    person said so."""

    counts: bool
    first: Check | None
    followers: tuple[Check, ...]
    by_hand: bool

    @property
    def stops(self) -> bool:
        """Whether it says to stop and inspect, and nobody has judged it yet."""
        return not self.by_hand and self.first is not None and self.first.act == STOP

    @property
    def channel(self) -> str:
        """The channel whose picture shows it."""
        return (self.first.channel if self.first is not None else "") or TORQUE

    @property
    def where_rpm(self) -> tuple[float, float] | None:
        """Where it shows [rpm]."""
        if self.first is None or self.first.low is None:
            return None
        return self.first.low / RPM, (self.first.high or self.first.low) / RPM


def verdict(checks: Sequence[Check], counts: bool, by_hand: bool) -> PullVerdict:
    """What is said of a pull by its checks. counts: by its latest judgement; by_hand: a person's."""
    first = first_of(checks)
    followers = tuple(check for check in checks if check.passed is False and check is not first)
    return PullVerdict(counts, first, followers, by_hand)
