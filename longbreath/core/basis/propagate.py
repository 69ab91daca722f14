"""From the ± of what goes in to the ± of what comes out, and which input gives how much: one way for every figure.

First order by what a formula itself does at both ends of each input's interval (GUM, law of propagation); where that is
not straight, or an end cannot be, by Monte Carlo with a fixed seed (GUM, Supplement 1).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import isfinite, sqrt

import numpy as np

from longbreath.core.basis.errors import InputError

STRAIGHT = 0.1
"""A formula counts as straight over an input's interval if its bend is less than this share of its rise."""
DRAWS, SEED = 5_000, 1
COVER = 1.959964
"""Standard deviations of a 95 % interval of a normal spread."""


@dataclass(frozen=True)
class Unsure:
    """An input: name for the budget, value, and half width of its 95 % interval [as the value]."""

    name: str
    value: float
    half_width: float


@dataclass(frozen=True)
class Spread:
    """A result with its 95 % interval [its unit] and the budget: each input's share of the variance [1], largest first.

    is_even: whether low and high lie evenly about the value, so that ± says it.
    """

    value: float
    low: float
    high: float
    budget: tuple[tuple[str, float], ...]
    is_even: bool

    @property
    def half_width(self) -> float:
        """Half the interval."""
        return 0.5 * (self.high - self.low)

    @property
    def note(self) -> str:
        """The budget as a sentence; empty where nothing is unsure."""
        return sentence_of(self.budget)


def sentence_of(budget: Sequence[tuple[str, float]]) -> str:
    """A budget of names and shares of the variance [1] in words; empty for an empty one."""
    parts = ", ".join(f"{name} {share:.0%}".replace("%", " %") for name, share in budget if share >= 0.005)
    return f"The interval comes from: {parts}." if parts else ""


def budget_of(parts: Mapping[str, float]) -> str:
    """The budget in words of an interval that is the root of squares of `parts`, half widths by name [one unit]."""
    total = sum(half**2 for half in parts.values())
    if total <= 0.0:
        return ""
    shares = ((name, half**2 / total) for name, half in parts.items())
    return sentence_of(sorted(shares, key=lambda pair: -pair[1]))


def propagate(formula: Callable[..., float], inputs: Sequence[Unsure]) -> Spread:
    """Value and 95 % interval of `formula` called with the inputs' values in order; inputs are taken as independent.

    An input at whose drawn value the formula raises InputError counts as beyond every bound: the interval is then open
    (infinite) on the side of the largest values if that happens to more than one draw in forty.
    """
    values = [item.value for item in inputs]
    value = formula(*values)
    moves, straight = [], True
    for k, item in enumerate(inputs):
        ends = [_at(formula, values, k, item.value + sign * item.half_width) for sign in (-1.0, 1.0)]
        if not all(isfinite(end) for end in ends):
            straight = False
            moves.append(0.0)
            continue
        moves.append(0.5 * (ends[1] - ends[0]))
        bend = abs(ends[1] - 2.0 * value + ends[0])
        straight = straight and bend <= STRAIGHT * abs(ends[1] - ends[0]) + 1e-12 * abs(value)
    if straight:
        half = sqrt(sum(move**2 for move in moves))
        return Spread(value, value - half, value + half, _budget(inputs, [m**2 for m in moves]), True)
    return _drawn(formula, inputs, value)


def _at(formula: Callable[..., float], values: list[float], k: int, at: float) -> float:
    try:
        return formula(*values[:k], at, *values[k + 1 :])
    except (InputError, ValueError, ZeroDivisionError):
        return float("inf")


def _drawn(formula: Callable[..., float], inputs: Sequence[Unsure], value: float) -> Spread:
    rng = np.random.default_rng(SEED)
    draws = np.array([i.value + i.half_width / COVER * rng.standard_normal(DRAWS) for i in inputs]).T
    found = np.array([_at(formula, list(row), 0, row[0]) for row in draws])
    low, high = (float(np.quantile(found, q, method="higher")) for q in (0.025, 0.975))
    real = np.isfinite(found)
    scores = [
        float(np.corrcoef(draws[real, k], found[real])[0, 1]) ** 2 if i.half_width else 0.0
        for k, i in enumerate(inputs)
    ]
    return Spread(value, low, high, _budget(inputs, scores), False)


def _budget(inputs: Sequence[Unsure], squares: Sequence[float]) -> tuple[tuple[str, float], ...]:
    total = sum(squares)
    if total <= 0.0:
        return ()
    found = ((item.name, square / total) for item, square in zip(inputs, squares, strict=True))
    return tuple(sorted(found, key=lambda pair: -pair[1]))
