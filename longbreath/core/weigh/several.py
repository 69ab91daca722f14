"""More than two variants: one model over all pulls, a simultaneous band over pairs and speeds, groups that cannot be told apart."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations
from math import pi, sqrt

import numpy as np
import numpy.typing as npt
from scipy import optimize, special

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.quantiles import t_at
from longbreath.core.compare import noise
from longbreath.core.compare.bands import Band
from longbreath.core.compare.compare import (
    GAIN,
    GAIN_OR_DRIFT,
    LOSS,
    LOSS_OR_DRIFT,
    MARGIN_SHARE,
    Effect,
    PullCurve,
    verdict,
)
from longbreath.core.compare.design import SETS
from longbreath.core.compare.levels import Levels, levels_for
from longbreath.core.compare.scatter import Scatter

Array = npt.NDArray[np.float64]
DRAWS, CHUNK = 4000, 500
MOST = 16
"""Variants that are weighed at once at most."""


@dataclass(frozen=True)
class Model:
    """Model matrix (n, p) of variants, days and drift; the pulls in their order; letters in the order of their columns.

    drift: whether every day that compares returns to something, so that drift is told from the variants; df: residual degrees of
    freedom."""

    letters: tuple[str, ...]
    runs: tuple[PullCurve, ...]
    matrix: Array
    inverse: Array
    df: int
    drift: bool

    @property
    def cov(self) -> Array:
        """Covariance of the variants' means (k, k) in units of the residual variance."""
        return np.asarray(self.inverse[: len(self.letters), : len(self.letters)])

    def weights(self, one: str, other: str) -> Array:
        """What each pull counts in `other` − `one`, (n,)."""
        found = self.inverse @ self.matrix.T
        places = self.letters.index(one), self.letters.index(other)
        return np.asarray(found[places[1]] - found[places[0]])

    def fit(self, values: Array) -> tuple[Array, Array]:
        """Means of the variants (k, m) and residuals (n, m) of observations (n, m)."""
        coefficients = self.inverse @ (self.matrix.T @ values)
        return coefficients[: len(self.letters)], values - self.matrix @ coefficients


def make_model(runs: Sequence[PullCurve]) -> Model:
    """One model over all pulls: a mean of each variant, a level of each further day, a drift of each day that returns to something.

    Raises EvidenceError for a variant with one pull alone, days that no variant links, or no degree of freedom left.
    """
    letters = _checked(runs)
    day = np.array([run.day for run in runs])
    visits = list(dict.fromkeys(day.tolist()))
    _check_linked(runs, visits)
    place = np.array([float(run.order) for run in runs])
    columns = [np.array([float(run.label == letter) for run in runs]) for letter in letters]
    columns += [(day == d) - float(np.mean(day == d)) for d in visits[1:]]
    returning = [d for d in visits if _returns([run.label for run in runs if run.day == d])]
    told = all(d in returning for d in visits if len({run.label for run in runs if run.day == d}) > 1)
    columns += [np.where(day == d, place - place[day == d].mean(), 0.0) for d in returning]
    matrix = np.column_stack(columns)
    if np.linalg.matrix_rank(matrix) < matrix.shape[1]:
        raise EvidenceError("Drift cannot be told from the variants in this order.")
    df = matrix.shape[0] - matrix.shape[1]
    if df < 1:
        raise EvidenceError("Too few valid pulls to know their noise: pull once more.")
    return Model(letters, tuple(runs), matrix, np.linalg.inv(matrix.T @ matrix), df, told)


def _checked(runs: Sequence[PullCurve]) -> tuple[str, ...]:
    """The variants of some pulls, in order. Raises EvidenceError for one alone, too many, or one with a single pull."""
    letters = tuple(dict.fromkeys(sorted(run.label for run in runs)))
    if len(letters) < 2:
        raise EvidenceError("Two variants or more with valid pulls are needed.")
    if len(letters) > MOST:
        raise EvidenceError(f"At most {MOST} variants are weighed at once: choose some.")
    few = [letter for letter in letters if sum(run.label == letter for run in runs) < 2]
    if few:
        raise EvidenceError(f"At least two valid pulls of each are needed: {', '.join(few)} has one.")
    return letters


def _returns(labels: Sequence[str]) -> bool:
    """Whether something is pulled again after something else, in three sets or more."""
    turns = [label for k, label in enumerate(labels) if k == 0 or label != labels[k - 1]]
    return len(turns) >= SETS and len(set(turns)) < len(turns)


def _check_linked(runs: Sequence[PullCurve], visits: Sequence[int]) -> None:
    """Raise EvidenceError unless all days hang together through variants that they share."""
    groups = [{run.label for run in runs if run.day == d} for d in visits]
    joined, rest = set(groups[0]), groups[1:]
    while rest:
        touching = [g for g in rest if g & joined]
        if not touching:
            lonely = ", ".join(sorted(rest[0]))
            raise EvidenceError(
                f"No variant links {lonely} to the others: days are joined only through one that both hold."
            )
        for group in touching:
            joined |= group
        rest = [g for g in rest if g not in touching]


@dataclass(frozen=True)
class PairCurve:
    """`other` − `one` over speed (m,) [N m] with the half width of the band that holds for all pairs and speeds at once."""

    one: str
    other: str
    difference: Array
    half_width: Array


@dataclass(frozen=True)
class PairEffect:
    """`other` − `one` of one number (the mean of a band, or a score), its interval shared by all pairs, and its verdict."""

    one: str
    other: str
    effect: Effect
    verdict: str

    @property
    def is_told_apart(self) -> bool:
        """Whether the interval is clear of nought."""
        return abs(self.effect.value) > self.effect.half_width


@dataclass(frozen=True)
class Ranked:
    """Variants by one number, best first: name of it, means [SI], all pairs, and groups that cannot be told apart, best first.

    critical: the largest |t| over all pairs.
    """

    name: str
    means: tuple[tuple[str, float], ...]
    pairs: tuple[PairEffect, ...]
    groups: tuple[tuple[str, ...], ...]
    critical: float
    errors: Array
    df: float

    def pair(self, one: str, other: str) -> PairEffect:
        """The difference of two variants, in that order."""
        for found in self.pairs:
            if (found.one, found.other) == (one, other):
                return found
            if (found.one, found.other) == (other, one):
                effect = replace(found.effect, value=-found.effect.value)
                return PairEffect(one, other, effect, _turned(found.verdict))
        raise KeyError(one, other)


def _turned(words: str) -> str:
    turned = {GAIN: LOSS, LOSS: GAIN, GAIN_OR_DRIFT: LOSS_OR_DRIFT, LOSS_OR_DRIFT: GAIN_OR_DRIFT}
    return turned.get(words, words)


@dataclass(frozen=True)
class Several:
    """All variants weighed: the model, grid [rad/s], means (k, m) [N m], curves of all pairs, each band ranked."""

    model: Model
    grid: Array
    means: Array
    pairs: tuple[PairCurve, ...]
    bands: tuple[tuple[Band, Ranked], ...]
    scatter: Scatter | None
    torques: Array

    @property
    def letters(self) -> tuple[str, ...]:
        """The variants, by letter."""
        return self.model.letters

    def mean_of(self, letter: str) -> Array:
        """Drift-free mean of a variant (m,) [N m]."""
        return np.asarray(self.means[self.letters.index(letter)])

    def score(self, weights: Mapping[str, float], name: str = "score") -> Ranked:
        """Variants ranked by Σ weight × band mean [N m]: one number per pull, so that its scatter is that of the pulls."""
        return rank(self.model, self.scores(weights), name, self.scatter)

    def scores(self, weights: Mapping[str, float]) -> Array:
        """Σ weight × band mean of each pull (n,) [N m]."""
        return sum(
            (weights.get(band.name, 0.0) * _band_mean(self.torques, self.grid, band) for band, _ in self.bands),
            np.zeros(len(self.torques)),
        )


def weigh_several(
    runs: Sequence[PullCurve], grid: Array, bands: Sequence[Band], scatter: Scatter | None = None, seed: int = 1
) -> Several:
    """Weigh all variants on a common grid [rad/s]. Raises EvidenceError where they share too few speeds or cannot be joined."""
    stack = np.array([run.torque for run in runs])
    model = make_model(runs)
    covered = np.isfinite(stack).all(axis=0)
    if covered.sum() < 3:
        raise EvidenceError("The pulls share fewer than three speeds: they cannot be laid over each other.")
    grid, stack = grid[covered], stack[:, covered]
    means, residuals = model.fit(stack)
    correlation = noise.residual_correlation(residuals)
    shared = noise.pooling(grid.size)
    variance = shared @ (np.sum(residuals**2, axis=0) / model.df)
    critical = critical_of_pairs(model.cov, correlation, model.df, seed=seed)
    curves = []
    for i, j in combinations(range(len(model.letters)), 2):
        one, other = model.letters[i], model.letters[j]
        contrast = float(model.cov[i, i] + model.cov[j, j] - 2 * model.cov[i, j])
        found = _levels(model, one, other, scatter).spread(stack, variance * contrast, float(model.df), shared)
        factor = t_at(0.975, found.df) / t_at(0.975, model.df)
        curves.append(PairCurve(one, other, means[j] - means[i], critical * max(factor, 1.0) * np.sqrt(found.variance)))
    usable = [b for b in bands if ((grid >= b.low - 1e-9) & (grid <= b.high + 1e-9)).sum() >= 2]
    ranked = tuple(
        (band, rank(model, _band_mean(stack, grid, band), band.name, scatter, family=len(usable))) for band in usable
    )
    return Several(model, grid, means, tuple(curves), ranked, scatter, stack)


def _band_mean(torques: Array, grid: Array, band: Band) -> Array:
    inside = (grid >= band.low - 1e-9) & (grid <= band.high + 1e-9)
    return np.asarray(torques[:, inside].mean(axis=1))


def _levels(model: Model, one: str, other: str, scatter: Scatter | None) -> Levels:
    fittings, days = [run.fitting for run in model.runs], [run.day for run in model.runs]
    return levels_for(model.matrix, model.weights(one, other), fittings, days, scatter)


def critical_of_pairs(cov: Array, correlation: Array, df: float, confidence: float = 0.95, seed: int = 1) -> float:
    """Quantile of the largest |t| [1] over all pairs of variants and all speeds at once, by simulation.

    cov (k, k): covariance of the means; correlation (m, m) of the noise between speeds. With one speed it is Tukey's (Kramer's)
    studentised range over √2. Never above Bonferroni's.
    """
    k, m = cov.shape[0], correlation.shape[0]
    of_speeds = np.linalg.cholesky(correlation + 1e-7 * np.eye(m)).T.astype(np.float32)
    pairs = np.array([[float(n == j) - float(n == i) for n in range(k)] for i, j in combinations(range(k), 2)])
    sizes = np.sqrt(np.einsum("pi,ij,pj->p", pairs, cov, pairs))
    contrasts = ((pairs / sizes[:, None]) @ np.linalg.cholesky(cov + 1e-12 * np.eye(k))).astype(np.float32)
    rng, maxima = np.random.default_rng(seed), []
    for _ in range(DRAWS // CHUNK):
        z = (rng.standard_normal((k * CHUNK, m), dtype=np.float32) @ of_speeds).reshape(k, CHUNK * m)
        largest = np.abs(contrasts @ z).max(axis=0).reshape(CHUNK, m)
        maxima.append((largest / np.sqrt(_variances(rng, of_speeds, df))).max(axis=1))
    highest = t_at(1 - (1 - confidence) / (2 * m * len(pairs)), df)
    return min(float(np.quantile(np.concatenate(maxima), confidence)), highest)


def _variances(rng: np.random.Generator, of_speeds: npt.NDArray[np.float32], df: float) -> npt.NDArray[np.float32]:
    """Residual variances over speeds as they are found, (CHUNK, m), 1 on average: pooled, and from a dozen degrees of freedom on by
    their normal limit."""
    m = of_speeds.shape[0]
    if m == 1:
        return np.asarray(rng.chisquare(df, (CHUNK, 1)) / df, dtype=np.float32)
    weights, whole = noise.pooling(m).T.astype(np.float32), max(int(df), 1)
    if whole > noise.MANY:
        squares = np.linalg.cholesky((of_speeds.T @ of_speeds) ** 2 + 1e-6 * np.eye(m)).T.astype(np.float32)
        wobble = rng.standard_normal((CHUNK, m), dtype=np.float32) @ squares
        return np.asarray(np.maximum((1.0 + (2.0 / whole) ** 0.5 * wobble) @ weights, 0.01), dtype=np.float32)
    others = (rng.standard_normal((whole * CHUNK, m), dtype=np.float32) @ of_speeds).reshape(whole, CHUNK, m)
    return np.asarray(np.mean(others**2, axis=0) @ weights, dtype=np.float32)


def tukey(k: int, df: float, confidence: float = 0.95) -> float:
    """The largest |t| over all pairs of k means of one number [1]: the studentised range over √2 (Tukey and Kramer, conservative where
    the variants have unequal numbers of pulls). Source: Tukey 1953, Kramer 1956; Hayter 1984 on its being conservative."""
    return _tukey(k, round(min(df, 1e4), 2), round(confidence, 9))


@lru_cache(maxsize=4096)
def _tukey(k: int, df: float, confidence: float) -> float:
    if k == 2:
        return t_at((1.0 + confidence) / 2.0, df)
    low, high = (t_at((1.0 + confidence) / 2.0, df), t_at(1 - (1 - confidence) / (k * (k - 1)), df))
    return float(
        optimize.brentq(lambda t: range_chance(t * sqrt(2.0), k, df) - confidence, 0.99 * low, 1.01 * high, xtol=1e-6)
    )


@lru_cache(maxsize=8)
def _nodes(count: int) -> tuple[Array, Array]:
    return np.polynomial.legendre.leggauss(count)


def range_chance(q: float, k: int, df: float) -> float:
    """Chance [1] that the studentised range of k means with df degrees of freedom is at most q.

    ∫ f(s) ∫ k·φ(z)·(Φ(z) − Φ(z − q·s))^(k−1) dz ds by Gauss and Legendre, s = √(χ²/df). Source: textbook form of the range's law.
    """
    x, w = _nodes(96)
    z, wz = 8.0 * x, 8.0 * w
    top = 1.0 + 10.0 / sqrt(df)
    bottom = max(0.0, 1.0 - 8.0 / sqrt(df))
    s = bottom + (x + 1.0) * (top - bottom) / 2.0
    log_density = df / 2.0 * np.log(df) - (df / 2.0 - 1.0) * np.log(2.0) - special.gammaln(df / 2.0)
    density = np.exp(log_density + (df - 1.0) * np.log(s) - df * s**2 / 2.0)
    inner = (
        k
        * _density(z)[None, :]
        * np.clip(special.ndtr(z)[None, :] - special.ndtr(z[None, :] - q * s[:, None]), 0, 1) ** (k - 1)
    )
    return float(np.sum(w * (top - bottom) / 2.0 * density * (inner @ wz)))


def _density(z: Array) -> Array:
    """Density of a standard normal at z."""
    return np.asarray(np.exp(-0.5 * z**2) / sqrt(2.0 * pi))


def rank(model: Model, values: Array, name: str, scatter: Scatter | None = None, family: int = 1) -> Ranked:
    """Variants by one number per pull (n,) [any unit], best first, all pairs judged together.

    family: numbers that are read together share 5 % by Bonferroni.
    """
    means, residuals = model.fit(values[:, None])
    variance = float(np.sum(residuals**2) / model.df)
    confidence = 1.0 - 0.05 / family
    pairs, dfs = [], []
    k = len(model.letters)
    errors = np.zeros((k, k))
    for i, j in combinations(range(k), 2):
        one, other = model.letters[i], model.letters[j]
        contrast = float(model.cov[i, i] + model.cov[j, j] - 2 * model.cov[i, j])
        found = _levels(model, one, other, scatter).spread(
            values[:, None], np.array([variance * contrast]), float(model.df)
        )
        error = sqrt(float(found.variance[0]))
        critical = tukey(k, found.df, confidence)
        errors[i, j] = errors[j, i] = error
        dfs.append(found.df)
        margin = MARGIN_SHARE * abs(float(means[i, 0]))
        effect = Effect(float(means[j, 0] - means[i, 0]), error, critical * error, sqrt(variance), found.df, 0.0)
        pairs.append(PairEffect(one, other, effect, verdict(effect, margin, True, model.drift)))
    order = sorted(range(k), key=lambda n: -float(means[n, 0]))
    ranked = tuple((model.letters[n], float(means[n, 0])) for n in order)
    worst = min(dfs)
    groups = alike(
        [letter for letter, _ in ranked], {frozenset((p.one, p.other)) for p in pairs if not p.is_told_apart}
    )
    return Ranked(name, ranked, tuple(pairs), groups, tukey(k, worst, confidence), errors, worst)


def alike(letters: Sequence[str], close: set[frozenset[str]]) -> tuple[tuple[str, ...], ...]:
    """Groups of variants none of which can be told from another of the group, best first; a variant may be in several.

    letters: best first; close: pairs that cannot be told apart. Source: maximal cliques (Bron and Kerbosch 1973).
    """
    found: list[tuple[str, ...]] = []

    def grow(chosen: list[str], open_: list[str], done: list[str]) -> None:
        if not open_ and not done:
            found.append(tuple(sorted(chosen, key=letters.index)))
        for letter in list(open_):
            near = {other for other in letters if frozenset((letter, other)) in close}
            grow([*chosen, letter], [x for x in open_ if x in near], [x for x in done if x in near])
            open_.remove(letter)
            done.append(letter)

    grow([], list(letters), [])
    return tuple(sorted(found, key=lambda group: [letters.index(x) for x in group]))
