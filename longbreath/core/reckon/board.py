"""The board: how often the bands of a source held over all applications, its bias, and whether it earns its keep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from longbreath.core.basis.quantiles import normal_at, t_at
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.reckon.forecast import LEVEL
from longbreath.core.reckon.scoring import HIT, MISS

FEWEST = 5
"""Forecasts from which a source is judged at all."""
KEEPS, WORSE, UNTOLD = "earns its keep", "worse than saying nothing", "not told yet"
SOURCE = "Means over forecasts, each counted once; t interval. See Method, Forecasts."


@dataclass(frozen=True)
class Entry:
    """One band of one scored forecast: which forecast, expected and found difference and A's value [SI], chance held, outcome."""

    forecast: int
    expected: float
    found: float
    reference: float
    chance: float
    outcome: str


@dataclass(frozen=True)
class Standing:
    """How a source stands: forecasts and bands scored, hits and misses, share held with working, bias, and its worth."""

    source: str
    forecasts: int
    bands: int
    hits: int
    misses: int
    held: Figure
    bias: Figure
    worth: str
    words: str


def _mean(values: np.ndarray) -> tuple[float, float | None]:
    """Mean and half of its 95 % interval; None for fewer than two."""
    if values.size < 2:
        return float(values.mean()), None
    half = float(t_at(0.975, values.size - 1) * values.std(ddof=1) / sqrt(values.size))
    return float(values.mean()), half


def wilson(share: float, number: int) -> tuple[float, float]:
    """95 % interval of a share [1] of `number` trials. Source: Wilson 1927, from memory."""
    z = normal_at(0.975)
    centre = (share + z * z / (2 * number)) / (1 + z * z / number)
    half = z / (1 + z * z / number) * sqrt(share * (1 - share) / number + z * z / (4 * number * number))
    return max(0.0, centre - half), min(1.0, centre + half)


def standing(source: str, entries: Sequence[Entry]) -> Standing:
    """How a source stands. Bands of one forecast go together, so each forecast counts once in means and intervals.

    Worth: mean of |found| − |found − expected| over forecasts: what the forecast was better than “no difference”.
    """
    numbers, which = np.unique([e.forecast for e in entries], return_inverse=True)
    expected, found, a, chance = np.array([(e.expected, e.found, abs(e.reference), e.chance) for e in entries]).T
    of_each = np.bincount(which)
    held, errors, better = (
        np.bincount(which, values) / of_each
        for values in (chance, (found - expected) / a, (np.abs(found) - np.abs(found - expected)) / a)
    )
    share, (bias, bias_half), (worth, worth_half) = float(held.mean()), _mean(errors), _mean(better)
    low, high = wilson(share, len(numbers))
    givens = (
        Given("m", "forecasts", float(len(numbers)), "count"),
        Given("n", "bands of them", float(len(entries)), "count"),
        Given("", "promised", LEVEL, "percent"),
    )
    held_figure = Figure(
        "held",
        "bands held",
        share,
        "percent",
        reckoned(
            "held",
            "Bands held",
            givens,
            (
                Step("h", "mean chance that the truth lay inside", share, "percent"),
                Step("from", "Wilson’s interval of m trials", low, "percent"),
                Step("to", "", high, "percent"),
            ),
            SOURCE,
        ).working,
        between=(low, high),
        significant=3,
    )
    bias_figure = reckoned(
        "bias",
        "Found less expected, of A",
        givens,
        (
            Step("w", "mean of (|found| − |found − expected|)/A", worth, "percent"),
            Step("b", "mean of (found − expected)/A", bias, "percent"),
        ),
        SOURCE,
        signed=True,
        uncertainty=bias_half,
    )
    hits, misses = (sum(e.outcome == outcome for e in entries) for outcome in (HIT, MISS))
    verdict = _worth(len(numbers), worth, worth_half)
    return Standing(
        source,
        len(numbers),
        len(entries),
        hits,
        misses,
        held_figure,
        bias_figure,
        verdict,
        _words(len(numbers), low, high, verdict),
    )


def _worth(number: int, worth: float, half: float | None) -> str:
    if number < FEWEST or half is None:
        return UNTOLD
    return KEEPS if worth - half > 0 else WORSE if worth + half < 0 else UNTOLD


def _words(number: int, low: float, high: float, verdict: str) -> str:
    if number < FEWEST:
        return f"{number} of {FEWEST} forecasts: too few to judge."
    if high < LEVEL:
        band = f"its bands are too narrow: fewer than {LEVEL:.0%} held"
    elif low > LEVEL:
        band = f"its bands are wider than they need be: more than {LEVEL:.0%} held"
    else:
        band = f"its bands agree with {LEVEL:.0%}"
    return f"{verdict[0].upper()}{verdict[1:]}; {band}."
