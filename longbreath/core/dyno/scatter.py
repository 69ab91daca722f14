"""A dyno's scatter in three parts, pull to pull, set to set and day to day; and what the last two add to a difference."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Scatter:
    """Standard deviations of band-mean torque [N m] with their degrees of freedom: from pull to pull; from set to set, the part
    off and on again; from day to day. None: not known.

    origin: where it comes from, in words; bands: pull-to-pull standard deviation by name of band, where known.
    """

    pull: float
    pull_df: float = float("inf")
    fitting: float | None = None
    fitting_df: float = 0.0
    day: float | None = None
    day_df: float = 0.0
    origin: str = ""
    bands: tuple[tuple[str, float], ...] = ()

    def of_band(self, name: str) -> float:
        """Pull-to-pull standard deviation in a band [N m]; that of the whole where the band's own is not known."""
        return dict(self.bands).get(name, self.pull)


@dataclass(frozen=True)
class Between:
    """What sets and days add to the variance of a difference [unit²], and how well that is known (degrees of freedom)."""

    variance: float = 0.0
    df: float = float("inf")

    def scaled(self, factor: float) -> Between:
        """The same of a quantity that is `factor` times as large."""
        return Between(self.variance * factor**2, self.df)

    def joined(self, variance: float, df: float) -> tuple[float, float]:
        """Total variance with another part of `df` degrees of freedom, and the degrees of freedom of the sum.

        Source: Satterthwaite 1946.
        """
        total = variance + self.variance
        if self.variance <= 0.0 or total <= 0.0:
            return total, df
        return total, total**2 / (variance**2 / df + self.variance**2 / max(self.df, 1.0))


def set_numbers(letters: Sequence[str]) -> list[int]:
    """The set of each pull in its order: a new one begins where the letter changes, as the part comes off or goes on."""
    found, number = [], 0
    for k, letter in enumerate(letters):
        number += k > 0 and letter != letters[k - 1]
        found.append(number)
    return found


def grouped(weights: Array, groups: Sequence[int]) -> float:
    """Σ over groups of (Σ of their weights)²: what a variance between groups counts in a sum with these weights (n,) [1]."""
    sums = np.zeros(max(groups, default=0) + 1)
    np.add.at(sums, np.asarray(groups), weights)
    return float(np.sum(sums**2))


def between(scatter: Scatter, weights: Array, fittings: Sequence[int], days: Sequence[int]) -> Between:
    """What sets and days add to b = Σ w·y by a dyno's known scatter [N m], with Satterthwaite's degrees of freedom.

    weights (n,): what each pull counts in b; fittings, days: the set and the day of each pull, numbered from 0.
    """
    parts = []
    for spread, df, groups in ((scatter.fitting, scatter.fitting_df, fittings), (scatter.day, scatter.day_df, days)):
        if spread:
            parts.append((spread**2 * grouped(weights, groups), max(df, 1.0)))
    total = sum(v for v, _ in parts)
    below = sum(v**2 / df for v, df in parts)
    return Between(total, total**2 / below) if below > 0.0 else Between()
