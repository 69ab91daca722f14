"""A dyno's scatter in three parts: pull to pull, set to set and day to day."""

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
