"""How well a bench repeats, and how far runners differ beyond that."""

from __future__ import annotations

from collections.abc import Sequence
from math import sqrt

from longbreath.core.basis.working import Figure, Given, Step, Working

SPREAD_WORTH = 3
"""From this many runners their spread is shown."""


def spread_of(values: Sequence[float]) -> float | None:
    """Sample standard deviation of two or more values, in their own unit; None for fewer."""
    if len(values) < 2:
        return None
    mean = sum(values) / len(values)
    return sqrt(sum((v - mean) ** 2 for v in values) / (len(values) - 1))


def pooled_repeatability(groups: Sequence[Sequence[float]]) -> tuple[float, int]:
    """Standard deviation from one setting to the next as a share of the flow, and its degrees of freedom.

    groups: the repeated flows [m3/s] of each lift; groups of one say nothing. Source: pooled variance.
    """
    total, freedom = 0.0, 0
    for values in groups:
        if len(values) > 1 and (mean := sum(values) / len(values)) > 0:
            total += sum((v / mean - 1.0) ** 2 for v in values)
            freedom += len(values) - 1
    return (sqrt(total / freedom), freedom) if freedom else (0.0, 0)


def runner_spread(flows: Sequence[float], own: float, rows: tuple[str, ...] = ()) -> Figure | None:
    """Largest less smallest runner as a share of their mean; None below three runners.

    flows [m3/s] of the runners in order; own: expanded uncertainty of one of them [m3/s] without what they share; rows:
    what they were read from. Source: definition; uncertainty of a difference of two readings.
    """
    if len(flows) < SPREAD_WORTH:
        return None
    mean = sum(flows) / len(flows)
    share = (max(flows) - min(flows)) / mean
    noise = sqrt(2.0) * own / mean
    working = Working(
        "Spread between runners",
        tuple(Given(f"Q_{i}", f"runner {i}", value, "flow") for i, value in enumerate(flows, start=1)),
        (
            Step("Q̄", "ΣQ_i/n", mean, "flow"),
            Step("δ", "(Q_max − Q_min)/Q̄", share, "percent"),
            Step("U", "√2·U_own/Q̄", noise, "percent"),
        ),
        "Definition; uncertainty of a difference of two readings.",
        ("A spread inside its own uncertainty is no spread.",),
        rows,
    )
    return Figure("runner_spread", "Between runners", share, "percent", working, noise or None, significant=2)
