"""Effects of the factors of a factorial on one number per pull: each alone, averaged over the others, and two together, in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
import numpy.typing as npt
from scipy import stats

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.quantiles import t_at
from longbreath.core.plan.designs import Factor
from longbreath.core.plan.factorial import Cell, completeness, model, terms

Array = npt.NDArray[np.float64]
ALPHA = 0.05


@dataclass(frozen=True)
class FactorEffect:
    """One effect: its name, last level less first averaged over the other factors with the half width of its interval [as values], or
    the p value of two factors together; told: whether the filled cells tell it."""

    name: str
    told: bool
    value: float | None = None
    half_width: float | None = None
    p: float | None = None
    levels: tuple[str, str] = ("", "")


def factor_effects(
    factors: Sequence[Factor],
    cells: Mapping[str, Cell],
    labels: Sequence[str],
    values: Array,
    more: Array | None = None,
) -> tuple[FactorEffect, ...]:
    """Effects [as values] from one number per pull (n,). labels: the letter of each pull; more (n, k): columns of days and drift
    that are taken out.

    Intervals of the factors share 5 % by Bonferroni; two together are tested by F. Raises EvidenceError where too few pulls are left.
    Source: textbook analysis of factorials by least squares, sum-to-nought coding.
    """
    told = {e.name: e.told for e in completeness(factors, cells, list(dict.fromkeys(labels))).effects}
    full, names = model(factors, [cells[label] for label in labels])
    kept = [k for k, name in enumerate(names) if not name or told[name]]
    columns = full[:, kept]
    if more is not None and more.size:
        columns = _spanning(np.hstack([columns, more]), columns.shape[1])
    df = len(values) - int(np.linalg.matrix_rank(columns))
    if df < 2:
        raise EvidenceError("Too few pulls for the effects of the factors: pull once more.")
    inverse: Array = np.asarray(np.linalg.pinv(columns.T @ columns), dtype=np.float64)
    found = np.asarray(inverse @ (columns.T @ values))
    spread = sqrt(float(np.sum((values - columns @ found) ** 2)) / df)
    own = [names[k] for k in kept]
    singles = sum(told[f.name] for f in factors)
    effects = []
    for name, of in terms(factors).items():
        if not told[name]:
            effects.append(FactorEffect(name, False))
        elif len(of) == 1:
            effects.append(_alone(factors[of[0]], own, found, inverse, (spread, df, max(singles, 1))))
        else:
            effects.append(
                FactorEffect(name, True, p=_together(columns, values, [k for k, n in enumerate(own) if n == name]))
            )
    return tuple(effects)


def _spanning(matrix: Array, first: int) -> Array:
    kept = list(range(first))
    for j in range(first, matrix.shape[1]):
        if np.linalg.matrix_rank(matrix[:, [*kept, j]]) > np.linalg.matrix_rank(matrix[:, kept]):
            kept.append(j)
    return np.asarray(matrix[:, kept])


def _alone(
    factor: Factor, own: Sequence[str], found: Array, inverse: Array, noise: tuple[float, int, int]
) -> FactorEffect:
    spread, df, family = noise
    mine = [k for k, name in enumerate(own) if name == factor.name]
    contrast = np.zeros(len(found))
    contrast[mine] = -1.0  # the last level is minus the sum of the others
    contrast[mine[0]] -= 1.0
    value = float(contrast @ found)
    error = spread * sqrt(float(contrast @ inverse @ contrast))
    half = t_at(1 - ALPHA / (2 * family), df) * error
    return FactorEffect(factor.name, True, value, half, levels=(str(factor.levels[0]), str(factor.levels[-1])))


def _together(columns: Array, values: Array, block: Sequence[int]) -> float:
    """p value of a block of columns by F."""
    rest = np.delete(columns, block, axis=1)
    whole, without = (_rss(x, values) for x in (columns, rest))
    df = len(values) - int(np.linalg.matrix_rank(columns))
    ratio = (without - whole) / len(block) / (whole / df) if whole > 0 else float("inf")
    return float(stats.f.sf(ratio, len(block), df))


def _rss(columns: Array, values: Array) -> float:
    found = np.linalg.lstsq(columns, values, rcond=None)[0]
    return float(np.sum((values - columns @ found) ** 2))
