"""Controller settings with the boost they reached, and the next step that stays below every limit.

The shares are common practice, no source.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

SPARE = 0.05
"""A step ends this share below the nearest limit, foretold by the steepest rise that was seen."""
LARGEST = 1.5
"""A step is at most so many times as long as the longest that was taken."""
HELD = 0.97
"""Below this share of the spring's pressure a setting reached less than the spring alone holds: something leaks or the sensor errs."""


@dataclass(frozen=True)
class Reached:
    """One setting of the controller [as a share or in its own steps], the boost of each pull at it [Pa], and what was expected."""

    name: str
    setting: float | None
    boosts: tuple[float, ...]
    expected: float | None = None

    @property
    def mean(self) -> float | None:
        """Mean boost of its pulls [Pa]."""
        return sum(self.boosts) / len(self.boosts) if self.boosts else None

    @property
    def most(self) -> float | None:
        """Greatest boost of its pulls [Pa]."""
        return max(self.boosts) if self.boosts else None


@dataclass(frozen=True)
class Step:
    """What is safe next: the setting, the boost it should reach [Pa], and why; or why there is none."""

    setting: float | None
    boost: float | None
    words: str


def next_step(rows: Sequence[Reached], limits: Mapping[str, float]) -> Step:
    """The largest setting that should stay below the nearest limit.

    limits: by what they are, in words [Pa]. The rise of boost by setting is the steepest that was seen between neighbours: boost
    often rises faster the higher it stands.
    """
    seen = sorted((r.setting, r.most) for r in rows if r.setting is not None and r.most is not None)
    if len(seen) < 2:
        return Step(None, None, "Pull two settings first: one alone does not say how boost follows the controller.")
    if not limits:
        return Step(None, None, "No limit of boost stands on the card: write one before going on.")
    name, limit = min(limits.items(), key=lambda pair: pair[1])
    allowed = limit * (1.0 - SPARE)
    pairs = list(pairwise(seen))
    slopes = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairs if b[0] > a[0]]
    steepest = max(slopes, default=0.0)
    setting, boost = max(seen, key=lambda pair: pair[1])
    if boost >= allowed:
        return Step(None, None, f"Stop here: {name} is reached, within {SPARE:.0%}.")
    if steepest <= 0.0:
        return Step(None, None, "Boost does not rise with the setting: look at the controller before going on.")
    step = min((allowed - boost) / steepest, LARGEST * max(b[0] - a[0] for a, b in pairs))
    return Step(setting + step, boost + step * steepest, f"By the steepest rise seen so far, {SPARE:.0%} below {name}.")


def remarks(rows: Sequence[Reached], spring: float | None) -> tuple[str, ...]:
    """What of the table cannot be, in sentences: less than the spring alone holds, or an order that is broken."""
    found = []
    for row in rows:
        if spring is not None and row.mean is not None and row.mean < HELD * spring:
            found.append(f"{row.name} reached less than the spring alone holds: look for a leak, or at the sensor.")
    seen = sorted((r.setting, r.mean, r.name) for r in rows if r.setting is not None and r.mean is not None)
    for (_, low, one), (_, high, other) in pairwise(seen):
        if high <= low:
            found.append(
                f"{other} reached no more than {one}: the controller is at its end, or the order was mixed up."
            )
    return tuple(found)
