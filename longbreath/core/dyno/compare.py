"""A against B over the whole curve: repeats, drift, simultaneous band, verdicts. See longbreath/method/comparison.md."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from math import sqrt

import numpy as np
import numpy.typing as npt
from scipy import optimize, special, stats

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError

Array = npt.NDArray[np.float64]

CONFIDENCE = 0.95
MARGIN_SHARE = 0.01
"""A difference under 1 % of A is no meaningful difference. Common practice, no source."""
DRAWS = 4000

GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN = "gain", "loss", "no meaningful difference", "not proven"


@dataclass(frozen=True)
class PullCurve:
    """One valid pull: label "A" or "B", its place in the order of the session, corrected torque (m,) on the grid [N m]."""

    label: str
    order: int
    torque: Array
    row: str = ""


@dataclass(frozen=True)
class Effect:
    """Least-squares estimate of B − A of one quantity: value, standard error, 95 % half width, residual sd, df, drift per pull."""

    value: float
    standard_error: float
    half_width: float
    residual_sd: float
    df: int
    drift: float

    @property
    def low(self) -> float:
        """Lower end of the interval."""
        return self.value - self.half_width

    @property
    def high(self) -> float:
        """Upper end of the interval."""
        return self.value + self.half_width


@dataclass(frozen=True)
class Design:
    """Design matrix (n, p) of y = a + b·x + c·(k − k̄), its (X'X)⁻¹ and df; without the drift column if `drift` is False."""

    matrix: Array
    inverse: Array
    df: int
    drift: bool

    @property
    def leverage(self) -> float:
        """Variance of b in units of the residual variance."""
        return float(self.inverse[1, 1])

    def solve(self, values: Array) -> tuple[Array, Array]:
        """Coefficients (p, m) and residual standard deviations (m,) for observations (n, m)."""
        coefficients: Array = np.asarray(np.linalg.lstsq(self.matrix, values, rcond=None)[0], dtype=np.float64)
        residuals = values - self.matrix @ coefficients
        return coefficients, np.sqrt(np.sum(residuals**2, axis=0) / self.df)


def make_design(labels: list[str], orders: list[int]) -> Design:
    """The design for pulls with those labels ("A" or "B") and places in the order.

    Drift is a column only when A was returned to (an A before and after B); otherwise drift and part cannot be told
    apart. Raises EvidenceError with fewer than two of either, or no degree of freedom left.
    """
    x = np.array([1.0 if label == "B" else 0.0 for label in labels])
    k = np.array(orders, dtype=np.float64)
    if (x == 0).sum() < 2 or (x == 1).sum() < 2:
        raise EvidenceError("At least two valid pulls of A and two of B are needed before they can be weighed.")
    returned = bool(k[x == 0].min() < k[x == 1].min() and k[x == 0].max() > k[x == 1].max())
    columns = [np.ones_like(x), x] + ([k - k.mean()] if returned else [])
    matrix = np.column_stack(columns)
    df = matrix.shape[0] - matrix.shape[1]
    if df < 1:
        raise EvidenceError("Too few valid pulls to know their noise: pull once more.")
    return Design(matrix, np.linalg.inv(matrix.T @ matrix), df, returned)


def effect(values: Array, design: Design, confidence: float = CONFIDENCE, family: int = 1) -> Effect:
    """B − A of one number per pull (n,), with drift taken out.

    `family` intervals that are read together share the error by Bonferroni. Source: ordinary least squares.
    """
    coefficients, spread = design.solve(values[:, None])
    error = float(spread[0]) * sqrt(design.leverage)
    critical = float(stats.t.ppf(1 - (1 - confidence) / (2 * family), design.df))
    drift = float(coefficients[2, 0]) if design.drift else 0.0
    return Effect(float(coefficients[1, 0]), error, critical * error, float(spread[0]), design.df, drift)


def verdict(found: Effect, margin: float, after_looking: bool = False) -> str:
    """Gain, loss, no meaningful difference (two one-sided tests at 5 % inside ± margin), or not proven.

    after_looking: what was picked out by eye makes no meaningful difference only where its whole interval lies inside.
    A difference that is proven clear of nought but wholly inside the margin counts as no meaningful difference.
    """
    one_sided = float(stats.t.ppf(CONFIDENCE, found.df)) * found.standard_error
    if abs(found.value) + (max(one_sided, found.half_width) if after_looking else one_sided) < margin:
        return NO_DIFFERENCE
    if found.low > 0:
        return GAIN
    if found.high < 0:
        return LOSS
    return NOT_PROVEN


@dataclass(frozen=True)
class Comparison:
    """A against B on a grid of speeds [rad/s], (m,); torques [N m].

    a and b are the drift-free means at the middle of the session, difference = b − a with the half width of its
    simultaneous band, standard_error per speed, critical the max-|t| quantile, residual_sd per speed.
    """

    grid: Array
    a: Array
    b: Array
    difference: Array
    standard_error: Array
    half_width: Array
    residual_sd: Array
    drift: Array
    critical: float
    design: Design
    runs: tuple[PullCurve, ...]

    @cached_property
    def torques(self) -> Array:
        """All curves, (n, m)."""
        return np.array([run.torque for run in self.runs])

    def count(self, label: str) -> int:
        """How many pulls of A or B take part."""
        return sum(run.label == label for run in self.runs)

    def inside(self, low: float, high: float) -> npt.NDArray[np.bool_]:
        """Which grid speeds lie in low..high [rad/s]. Raises EvidenceError if none does."""
        mask = (self.grid >= low - 1e-9) & (self.grid <= high + 1e-9)
        if not mask.any():
            raise EvidenceError(f"No speed between {low / RPM:.0f} and {high / RPM:.0f} rpm is covered by every pull.")
        return mask

    def band_effect(self, low: float, high: float, family: int = 1) -> Effect:
        """B − A of the mean torque over a band of speeds [rad/s]."""
        return effect(self.torques[:, self.inside(low, high)].mean(axis=1), self.design, family=family)

    def peak_effect(self, of_power: bool, family: int = 1) -> Effect:
        """B − A of each pull's own peak, of torque [N m] or of power [W], wherever it lies."""
        curves = self.torques * self.grid if of_power else self.torques
        return effect(curves.max(axis=1), self.design, family=family)

    def mean_of_a(self, low: float, high: float) -> float:
        """Mean torque of A over a band [N m]."""
        return float(self.a[self.inside(low, high)].mean())

    def largest_local(self, low: float, high: float) -> int:
        """Index of the grid speed in the band with the largest |difference|."""
        return int(np.argmax(np.where(self.inside(low, high), np.abs(self.difference), -1.0)))

    def return_to_a(self) -> tuple[float, int, int] | None:
        """Mean of the A pulls after B less mean of those before (whole curve) [N m], with their numbers, or None."""
        if not self.design.drift:
            return None
        means = self.torques.mean(axis=1)
        first_b = min(run.order for run in self.runs if run.label == "B")
        before = [m for m, run in zip(means, self.runs, strict=True) if run.label == "A" and run.order < first_b]
        after = [m for m, run in zip(means, self.runs, strict=True) if run.label == "A" and run.order > first_b]
        return float(np.mean(after) - np.mean(before)), len(before), len(after)


def residual_correlation(residuals: Array) -> Array:
    """Correlation (m, m) of the noise between grid speeds, smoothed over the small number of pulls.

    A few pulls cannot give a full correlation matrix; the mean correlation per distance is fitted by
    r(d) = c + (1 − c)·exp(−d/l), which is positive definite. residuals (n, m) from the fit.
    """
    m = residuals.shape[1]
    if m == 1:
        return np.ones((1, 1))
    norm = np.sqrt(np.mean(residuals**2, axis=0))
    scaled = residuals / np.where(norm > 0, norm, 1.0)
    lags = np.arange(m)
    observed = np.array([float(np.mean(scaled[:, : m - lag] * scaled[:, lag:])) for lag in lags])
    best = (np.inf, 0.0, 1.0)
    for length in np.geomspace(0.3, 3.0 * m, 40):
        decay = np.exp(-lags / length)
        base, target = 1.0 - decay, observed - decay
        weight = (m - lags).astype(np.float64)
        constant = float(np.clip((weight * base * target).sum() / max((weight * base**2).sum(), 1e-12), 0.0, 0.98))
        loss = float((weight * (decay + constant * base - observed) ** 2).sum())
        if loss < best[0]:
            best = (loss, constant, float(length))
    _, constant, length = best
    distance = np.abs(lags[:, None] - lags[None, :])
    return np.asarray(constant + (1.0 - constant) * np.exp(-distance / length))


def pooling(m: int) -> Array:
    """Weights (m, m) that share the residual variance among neighbouring speeds: a Gaussian a sixth of the curve wide.

    Noise changes slowly over speed; sharing it gives more degrees of freedom than one speed alone has.
    """
    distance = np.arange(m)[:, None] - np.arange(m)[None, :]
    weights = np.exp(-0.5 * (distance / max(m / 6.0, 1e-9)) ** 2)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))


def max_t_quantile(
    correlation: Array, df: int, confidence: float = CONFIDENCE, draws: int = DRAWS, seed: int = 1
) -> float:
    """Quantile of max |t| over all speeds at once, by simulation under that correlation (m, m).

    t_r = z_r / √(pooled mean of df squared draws): numerator and residual variance share the correlation, and the
    variance is pooled over neighbouring speeds just as for the data. Never above Bonferroni's t for one speed alone.
    """
    m = correlation.shape[0]
    root = np.linalg.cholesky(correlation + 1e-10 * np.eye(m)).T.astype(np.float32)  # single precision suffices here
    weights = pooling(m).T.astype(np.float32)
    rng = np.random.default_rng(seed)
    maxima = np.empty(draws)
    chunk = 500
    for start in range(0, draws, chunk):
        z = rng.standard_normal((chunk, df + 1, m), dtype=np.float32) @ root
        spread = np.sqrt(np.mean(z[:, 1:] ** 2, axis=1) @ weights)
        maxima[start : start + chunk] = (np.abs(z[:, 0]) / spread).max(axis=1)
    highest = float(stats.t.ppf(1 - (1 - confidence) / (2 * m), df))
    return min(float(np.quantile(maxima, confidence)), highest)


def compare_pulls(runs: list[PullCurve], grid: Array, confidence: float = CONFIDENCE, seed: int = 1) -> Comparison:
    """Weigh valid pulls of A and B on a common grid [rad/s]; speeds that a pull does not cover fall out.

    Raises EvidenceError if the pulls are too few or share no speeds.
    """
    design = make_design([run.label for run in runs], [run.order for run in runs])
    stack = np.array([run.torque for run in runs])
    covered = np.isfinite(stack).all(axis=0)
    if covered.sum() < 3:
        raise EvidenceError("The pulls share fewer than three speeds: they cannot be laid over each other.")
    grid, stack = grid[covered], stack[:, covered]
    coefficients, alone = design.solve(stack)
    spread = np.sqrt(pooling(grid.size) @ alone**2)
    residuals = stack - design.matrix @ coefficients
    critical = max_t_quantile(residual_correlation(residuals), design.df, confidence, seed=seed)
    error = spread * sqrt(design.leverage)
    kept = tuple(PullCurve(run.label, run.order, row, run.row) for run, row in zip(runs, stack, strict=True))
    drift = coefficients[2] if design.drift else np.zeros(grid.size)
    return Comparison(
        grid,
        coefficients[0],
        coefficients[0] + coefficients[1],
        coefficients[1],
        error,
        critical * error,
        spread,
        drift,
        critical,
        design,
        kept,
    )


def power_of_test(shift: float, standard_error: float, df: int, alpha: float = 0.05) -> float:
    """Chance that a true difference `shift` is proven by a two-sided t test [0..1].

    Integrates over the residual spread instead of calling the noncentral t, which returns nan in places.
    """
    critical = float(stats.t.ppf(1 - alpha / 2, df))
    ratio = shift / standard_error
    top = 1.0 + 12.0 / sqrt(df)
    nodes, weights = _gauss(200)
    s = (nodes + 1.0) * top / 2.0
    density = np.exp((df - 1) * np.log(s) - df * s**2 / 2.0 + _chi_scale(df))
    tails = special.ndtr(ratio - critical * s) + special.ndtr(-critical * s - ratio)
    return float(np.sum(weights * density * tails) * top / 2.0)


@cache
def _gauss(count: int) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Nodes and weights of the Gauss-Legendre rule; making them takes far longer than using them."""
    return np.polynomial.legendre.leggauss(count)


def _chi_scale(df: int) -> float:
    """Logarithm of the factor in the density of the relative residual spread s = √(χ²/df)."""
    return float(df / 2.0 * np.log(df) - (df / 2.0 - 1.0) * np.log(2.0) - special.gammaln(df / 2.0))


def smallest_provable(sd: float, n_a: int, n_b: int, df: int, power: float = 0.8, alpha: float = 0.05) -> float:
    """Smallest true difference that n_a and n_b pulls prove with chance `power`, for pulls that repeat within `sd`.

    Same unit as sd. Source: two-sample t test, noncentral t by integration.
    """
    return sd * sqrt(1.0 / n_a + 1.0 / n_b) * _provable_ratio(df, power, alpha)


@lru_cache(maxsize=256)
def _provable_ratio(df: int, power: float, alpha: float) -> float:
    """The difference, in standard errors, that is proven with chance `power`."""
    high = 1.0
    while power_of_test(high, 1.0, df, alpha) < power:
        high *= 2.0
    return float(optimize.brentq(lambda ratio: power_of_test(ratio, 1.0, df, alpha) - power, 0.0, high, xtol=1e-6))
