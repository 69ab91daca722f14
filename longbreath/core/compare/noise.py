"""How much pulls scatter: A and B alike or apart, shared among speeds, and the largest |t| over a whole curve."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy import stats

from longbreath.core.basis.quantiles import t_at
from longbreath.core.compare.design import Design

Array = npt.NDArray[np.float64]
UNEQUAL_ALPHA = 0.10
"""A and B are taken to scatter differently from this level on (F test over the whole curve)."""
DRAWS = 4000
BEYOND = 40
"""So many draws beyond a quantile show it well enough."""
MANY = 12
"""From this many degrees of freedom the residual variance is drawn by its normal limit."""


def by_label(residuals: Array, design: Design) -> tuple[Array, Array]:
    """Variances [unit²] of A and of B (m,) from residuals (n, m): the two sums of squares set equal to what they are expected to be.

    E[Σ_g r²] = Σ_h σ_h²·Σ_{i∈g, j∈h} M_ij², M the annihilator. Source: method of moments (Rao's MINQUE with two groups).
    """
    b, squares = design.is_b, design.annihilator**2
    sums = np.array([np.sum(residuals[~b] ** 2, axis=0), np.sum(residuals[b] ** 2, axis=0)])
    expected = np.array([[squares[np.ix_(g, h)].sum() for h in (~b, b)] for g in (~b, b)])
    if abs(np.linalg.det(expected)) < 1e-9:
        common = sums.sum(axis=0) / design.df
        return common, common
    found = np.maximum(np.linalg.solve(expected, sums), 0.0)
    return found[0], found[1]


def welch(
    design: Design, var_a: Array | float, var_b: Array | float, seen: Design | None = None
) -> tuple[Array, float]:
    """Variance of b (m,) [unit²] and Satterthwaite's degrees of freedom when A and B scatter differently.

    var_a, var_b: variances of one pull (m,), or one number; seen: the design whose residuals they come from, where it has more
    columns. Without drift this is Welch's test. Source: Satterthwaite 1946, for the quadratic form y'MDMy that estimates the variance.
    """
    b, w = design.is_b, design.weights
    share_a, share_b = float(np.sum(w[~b] ** 2)), float(np.sum(w[b] ** 2))
    m = (seen or design).annihilator
    expected = np.array([[(m**2)[np.ix_(g, h)].sum() for h in (~b, b)] for g in (~b, b)])
    each = np.linalg.solve(expected.T, np.array([share_a, share_b])) if abs(np.linalg.det(expected)) > 1e-9 else None
    mean_a, mean_b = float(np.mean(var_a)), float(np.mean(var_b))
    if each is None or mean_a + mean_b <= 0.0:
        return np.asarray(var_a * share_a + var_b * share_b), float(design.df)
    form = m @ np.diag(np.where(b, each[1], each[0])) @ m @ np.diag(np.where(b, mean_b, mean_a))
    df = float(np.trace(form) ** 2 / np.trace(form @ form))
    return np.asarray(var_a * share_a + var_b * share_b), min(max(df, 1.0), float((seen or design).df))


def scatter_differs(residuals: Array, design: Design, correlation: Array) -> tuple[float, float]:
    """Ratio of B's to A's standard deviation [1] over the whole curve, and the p value of an F test.

    residuals (n, m). The curve counts as m²/Σr² independent speeds under its correlation (m, m). Source: F test of two
    variances; Satterthwaite for the number of speeds.
    """
    b, var_a, var_b = design.is_b, *(float(np.mean(v)) for v in by_label(residuals, design))
    speeds = residuals.shape[1] ** 2 / float(np.sum(correlation**2))
    diagonal = np.diag(design.annihilator)
    df_a, df_b = speeds * float(diagonal[~b].sum()), speeds * float(diagonal[b].sum())
    if var_a + var_b <= 0.0:
        return 1.0, 1.0
    if min(var_a, var_b) <= 0.0:
        return float("inf") if var_a <= 0.0 else 0.0, 0.0
    tail = float(stats.f.sf(var_b / var_a, df_b, df_a))
    return (var_b / var_a) ** 0.5, 2.0 * min(tail, 1.0 - tail)


def residual_correlation(residuals: Array) -> Array:
    """Correlation (m, m) [1] of the noise between grid speeds, smoothed over the small number of pulls.

    A few pulls cannot give a full correlation matrix; the mean correlation per distance is fitted by
    r(d) = c + (1 − c)·exp(−d/l), which is positive definite. residuals (n, m) from the fit.
    """
    m = residuals.shape[1]
    if m == 1:
        return np.ones((1, 1))
    norm = np.sqrt(np.mean(residuals**2, axis=0))
    scaled = residuals / np.where(norm > 0, norm, 1.0)
    lags = np.arange(m)
    product = scaled.T @ scaled / len(scaled)
    observed = np.array([float(np.trace(product, lag)) / (m - lag) for lag in lags])
    weight = (m - lags).astype(np.float64)
    lengths = np.geomspace(0.3, 3.0 * m, 40)
    decay = np.exp(-lags / lengths[:, None])
    base, target = 1.0 - decay, observed - decay
    constants = np.clip(
        (weight * base * target).sum(axis=1) / np.maximum((weight * base**2).sum(axis=1), 1e-12), 0.0, 0.98
    )
    best = int(np.argmin((weight * (decay + constants[:, None] * base - observed) ** 2).sum(axis=1)))
    constant, length = float(constants[best]), float(lengths[best])
    distance = np.abs(lags[:, None] - lags[None, :])
    return np.asarray(constant + (1.0 - constant) * np.exp(-distance / length))


@lru_cache(maxsize=32)
def pooling(m: int) -> Array:
    """Weights (m, m) that share the residual variance among neighbouring speeds: a Gaussian a sixth of the curve wide.

    Noise changes slowly over speed; sharing it gives more degrees of freedom than one speed alone has.
    """
    distance = np.arange(m)[:, None] - np.arange(m)[None, :]
    weights = np.exp(-0.5 * (distance / max(m / 6.0, 1e-9)) ** 2)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))


def max_t_quantile(
    correlation: Array,
    df: float,
    confidence: float = 0.95,
    draws: int = DRAWS,
    seed: int = 1,
    share: float = 0.0,
    share_df: float = float("inf"),
    joined: float | None = None,
) -> float:
    """Quantile of max |t| [1] over all speeds at once, by simulation under that correlation (m, m).

    t_r = z_r / √(pooled mean of df squared draws): numerator and residual variance share the correlation, and the
    variance is pooled over neighbouring speeds just as for the data; from a dozen degrees of freedom on it is drawn by its
    normal limit, 1 + √(2/df)·g with g of correlation r². A broken df counts as the next lower whole one. share: part of the
    variance that comes from sets, drawn as one χ² with share_df for all speeds, because a set shifts them together; joined: degrees
    of freedom of both parts. Never above Bonferroni's t for one speed alone; that itself where too few draws lie
    beyond the quantile to show it.
    """
    m, whole = correlation.shape[0], max(int(df), 1)
    highest = t_at(1 - (1 - confidence) / (2 * m), joined or df)
    if (1.0 - confidence) * draws < BEYOND:
        return highest
    root = _root(correlation)
    weights = pooling(m).T.astype(np.float32)
    maxima = []
    squares = _root(correlation**2) if whole > MANY else root
    for ahead, beside, sets in _draws(m, min(whole, MANY + 1), draws, seed, share_df if share > 0.0 else 0.0):
        z = ahead @ root
        if whole > MANY:
            variance = np.maximum((1.0 + (2.0 / whole) ** 0.5 * (beside @ squares)) @ weights, 0.01)
        else:
            others = beside @ root
            variance = np.mean(np.square(others, out=others).reshape(whole, len(z), m), axis=0) @ weights
        if share > 0.0:
            variance = (1.0 - share) * variance + share * sets
        maxima.append((np.abs(z) / np.sqrt(variance)).max(axis=1))
    return min(float(np.quantile(np.concatenate(maxima).astype(np.float64), confidence)), highest)


CHUNK = 500
Drawn = tuple[npt.NDArray[np.float32], npt.NDArray[np.float32], Array | float]


@lru_cache(maxsize=4)
def _draws(m: int, whole: int, draws: int, seed: int, share_df: float) -> tuple[Drawn, ...]:
    """Standard normal draws of a simulation, in chunks: of the numerator, of the residuals, and of the part of the sets; the same for
    every comparison of that many speeds and degrees of freedom."""
    rng, found = np.random.default_rng(seed), []
    rows = CHUNK if whole > MANY else whole * CHUNK
    for _ in range(0, draws, CHUNK):
        ahead = rng.standard_normal((CHUNK, m), dtype=np.float32)
        beside = rng.standard_normal((rows, m), dtype=np.float32)
        drawn = 0.0 < share_df < float("inf")
        sets: Array | float = rng.chisquare(share_df, (CHUNK, 1)) / share_df if drawn else 1.0
        found.append((ahead, beside, sets))
    return tuple(found)


def _root(correlation: Array) -> npt.NDArray[np.float32]:
    """Upper factor of a correlation; single precision suffices here."""
    m = correlation.shape[0]
    return np.asarray(np.linalg.cholesky(correlation + 1e-7 * np.eye(m)).T, dtype=np.float32)
