"""How pulls in their order tell the part from drift: the least-squares design of a comparison, drift straight or curved."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.quantiles import t_beyond

Array = npt.NDArray[np.float64]
CURVE_ALPHA = 0.05
"""Drift is drawn as a curve when a straight line is refused at this level on the mean of the whole curve."""
SETS = 3
"""From this many sets in turn (A-B-A, B-A-B) drift can be told from the part."""


@dataclass(frozen=True)
class Design:
    """Design matrix (n, p) of y = a + b·x + c·(k − k̄) [+ d·((k − k̄)² − mean)] [+ a level and a drift of each further day] with its
    (X'X)⁻¹ and df.

    drift: whether c is in it: some day returns; curved: whether d is; sets: runs of pulls of one label in turn;
    days: how many; unequal: whether A's and B's scatter are taken apart, with df_apart degrees of freedom on the whole curve.
    """

    matrix: Array
    inverse: Array
    df: int
    drift: bool
    curved: bool = False
    sets: int = 2
    unequal: bool = False
    df_apart: float = float("inf")
    days: int = 1

    @property
    def leverage(self) -> float:
        """Variance of b in units of the residual variance."""
        return float(self.inverse[1, 1])

    @cached_property
    def weights(self) -> Array:
        """What each pull counts in b, (n,): b = Σ w·y."""
        found: Array = (self.inverse @ self.matrix.T)[1]
        return found

    @cached_property
    def annihilator(self) -> Array:
        """I − X(X'X)⁻¹X', (n, n): makes residuals of observations."""
        found: Array = np.eye(len(self.matrix)) - self.matrix @ self.inverse @ self.matrix.T
        return found

    @cached_property
    def is_b(self) -> npt.NDArray[np.bool_]:
        """Which pulls are of B, (n,)."""
        return np.asarray(self.matrix[:, 1] > 0.5)

    @property
    def formula(self) -> str:
        """The model in one line."""
        curve = " + d·((k − k̄)² − m)" if self.curved else ""
        day = " + day" if self.days > 1 else ""
        return f"y = a + b·x + c·(k − k̄){curve}{day}" if self.drift else f"y = a + b·x{day}"

    def solve(self, values: Array) -> tuple[Array, Array]:
        """Coefficients (p, m) and residual standard deviations (m,) for observations (n, m)."""
        coefficients: Array = self.inverse @ (self.matrix.T @ values)
        residuals = values - self.matrix @ coefficients
        return coefficients, np.sqrt(np.sum(residuals**2, axis=0) / self.df)


def sets_in_turn(x: Array, k: Array) -> int:
    """How many runs of one label the pulls make in their order: x (n,) 0 for A and 1 for B, k (n,) their places."""
    return 1 + int(np.count_nonzero(np.diff(x[np.argsort(k, kind="stable")])))


def make_design(labels: Sequence[str], orders: Sequence[int], curved: bool = False, days: Sequence[int] = ()) -> Design:
    """The design for pulls with those labels ("A" or "B") and places in the order; days: the visit of each (none: one for all).

    Drift is a column only when the pulls come in three sets or more (A-B-A, B-A-B, A-B-A-B); otherwise drift and part cannot be
    told apart. Each visit has its own level and its own drift: B − A is taken within a day, and a day with one label alone says
    nothing of it; beside a day that returns, one that does not keeps a drift of its own, and says the little that is left.
    Raises EvidenceError with fewer than two of either, no day that holds both, or no degree of freedom left.
    """
    x = np.array([1.0 if label == "B" else 0.0 for label in labels])
    k = np.array(orders, dtype=np.float64)
    if (x == 0).sum() < 2 or (x == 1).sum() < 2:
        raise EvidenceError("At least two valid pulls of A and two of B are needed before they can be weighed.")
    day = np.array(days if len(days) else [0] * len(labels))
    visits = list(dict.fromkeys(day.tolist()))
    both = [d for d in visits if 0.0 < x[day == d].mean() < 1.0]
    if not both:
        raise EvidenceError(
            "No day holds pulls of both A and B: sessions can be joined only through a variant that both hold."
        )
    sets = {d: sets_in_turn(x[day == d], k[day == d]) for d in visits}
    drift = any(sets[d] >= SETS for d in both)
    is_curved = bool(drift and curved and len(visits) == 1)
    matrix = np.column_stack([np.ones_like(x), x, *_beside(k, day, sets, drift, is_curved)])
    df = matrix.shape[0] - matrix.shape[1]
    if df < 1:
        raise EvidenceError("Too few valid pulls to know their noise: pull once more.")
    return Design(
        matrix, np.linalg.inv(matrix.T @ matrix), df, drift, is_curved, max(sets[d] for d in both), days=len(visits)
    )


def _beside(k: Array, day: npt.NDArray[np.int64], sets: dict[int, int], drift: bool, curved: bool) -> list[Array]:
    """The columns beside level and part: drift of the first day [and its curve], levels and drifts of further days."""
    slopes = [np.where(day == d, k - k[day == d].mean(), 0.0) for d in sets if _sloped(sets[d], day == d, drift)]
    columns = slopes[:1]
    if curved:
        columns.append(slopes[0] ** 2 - np.mean(slopes[0] ** 2))
    columns += [(day == d) - np.mean(day == d) for d in list(sets)[1:]]
    return columns + slopes[1:]


def _sloped(sets: int, of_day: npt.NDArray[np.bool_], drift: bool) -> bool:
    """Whether a day has a drift of its own: it holds both labels, or one three times or more."""
    return drift and (sets > 1 or int(of_day.sum()) >= 3)


def choose_design(
    labels: Sequence[str], orders: Sequence[int], level: Array, days: Sequence[int] = ()
) -> tuple[Design, float | None]:
    """Straight or curved drift, by a t test of the curve on one level (n,) a pull; with its p value, None if untestable."""
    straight = make_design(labels, orders, days=days)
    if not straight.drift or straight.df < 3 or straight.days > 1:
        return straight, None
    curved = make_design(labels, orders, curved=True)
    coefficients, spread = curved.solve(level[:, None])
    error = float(spread[0]) * float(curved.inverse[3, 3]) ** 0.5
    if error <= 0.0:
        return straight, None
    p = float(2.0 * t_beyond(abs(float(coefficients[3, 0])) / error, curved.df))
    return (curved if p < CURVE_ALPHA else straight), p
