"""How small a gain a number of pulls can prove, by the very rule that weighs them."""

from __future__ import annotations

from functools import cache, lru_cache
from math import pi, sqrt

import numpy as np
import numpy.typing as npt
from scipy import optimize, special, stats

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.dyno import noise
from longbreath.core.dyno.compare import CONFIDENCE, MARGIN_SHARE
from longbreath.core.dyno.design import CURVE_ALPHA, make_design

CHANCE = 0.8
BANDS = 3
"""Bands of use that share the error."""
USUAL_BMEP = {"four-stroke": (10e5, 4.0 * pi), "two-stroke": (8e5, 2.0 * pi), "rotary": (9e5, 4.0 * pi)}
"""Brake mean effective pressure [Pa] in the band of use and angle of a cycle [rad]. Common practice, no source."""


def usual_torque(displacement: float, cycle: str) -> float:
    """Torque [N m] that an engine of that displacement [m3] usually has; only the margin of 1 % is made of it."""
    pressure, angle = USUAL_BMEP.get(cycle, USUAL_BMEP["four-stroke"])
    return pressure * displacement / angle


def chance_of_gain(shift: float, margin: float, error: float, df: float, family: int = BANDS) -> float:
    """Chance [0..1] that a true difference `shift` is proven, and found to be no less than `margin`.

    error: true standard error [same unit]; family: intervals that share 5 %. Integrates over the residual spread; without a
    margin it is the one-sided power of a t test (noncentral t).
    """
    critical = float(stats.t.ppf(1 - (1 - CONFIDENCE) / (2 * family), df))
    top = 1.0 + 12.0 / sqrt(df)
    nodes, weights = _gauss(200)
    s = (nodes + 1.0) * top / 2.0
    density = np.exp((df - 1) * np.log(s) - df * s**2 / 2.0 + _chi_scale(df))
    proven = special.ndtr((shift - np.maximum(margin, critical * s * error)) / error)
    return float(np.sum(weights * density * proven) * top / 2.0)


@cache
def _gauss(count: int) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Nodes and weights of the Gauss-Legendre rule; making them takes far longer than using them."""
    return np.polynomial.legendre.leggauss(count)


def _chi_scale(df: float) -> float:
    """Logarithm of the factor in the density of the relative residual spread s = √(χ²/df)."""
    return float(df / 2.0 * np.log(df) - (df / 2.0 - 1.0) * np.log(2.0) - special.gammaln(df / 2.0))


@lru_cache(maxsize=256)
def smallest_gain(pulls_per_set: int, margin: float, chance: float = CHANCE) -> float:
    """Smallest true gain, in standard deviations of one pull, that is proven with that chance and found over `margin` [same].

    A-B-A in sets of that many pulls. The rule as Weigh applies it: three bands share 5 %, and now and then a curve of drift
    or unequal scatter is seen where there is none.
    """
    labels, orders = (
        list("A" * pulls_per_set + "B" * pulls_per_set + "A" * pulls_per_set),
        list(range(3 * pulls_per_set)),
    )
    straight, curved = (make_design(labels, orders, curve) for curve in (False, True))
    seen = CURVE_ALPHA if straight.df >= 3 else 0.0
    cases = (
        ((1.0 - seen) * (1.0 - noise.UNEQUAL_ALPHA), sqrt(straight.leverage), float(straight.df)),
        ((1.0 - seen) * noise.UNEQUAL_ALPHA, sqrt(straight.leverage), noise.welch(straight, 1.0, 1.0)[1]),
        (seen, sqrt(curved.leverage), float(curved.df)),
    )

    def missing(shift: float) -> float:
        return sum(share * chance_of_gain(shift, margin, error, df) for share, error, df in cases) - chance

    high = 2.0 + margin
    while missing(high) < 0.0:
        high *= 2.0
    return float(optimize.brentq(missing, 0.0, high, xtol=1e-6))


def provable(repeatability: float, pulls_per_set: int, level: float, origin: str, level_origin: str) -> Figure:
    """Smallest true gain of a band's mean torque [N m] that an A-B-A test with so many pulls a set proves four times in five.

    repeatability: standard deviation of band-mean torque from pull to pull [N m]; level: torque of A [N m], of which the margin
    is 1 %. Raises InputError for fewer than two pulls a set or no repeatability. Source: t interval, noncentral t by
    integration; checked by simulating sessions.
    """
    if pulls_per_set < 2:
        raise InputError("At least two pulls a set are needed to know the noise.", "pulls_per_set")
    if repeatability <= 0:
        raise InputError("The dyno's repeatability must be more than nought.", "repeatability")
    margin = MARGIN_SHARE * level
    value = smallest_gain(pulls_per_set, margin / repeatability) * repeatability
    working = Working(
        "Smallest gain that can be proven",
        (
            Given("σ", "repeatability, pull to pull", repeatability, "torque", origin),
            Given("n", "pulls in each set, order A-B-A", float(pulls_per_set), "count"),
            Given("T", "torque of A", level, "torque", level_origin),
        ),
        (
            Step("m", "margin of no meaningful difference, 1 % of T", margin, "torque"),
            Step("se", "σ·√(1/(2n) + 1/n)", repeatability * sqrt(1.5 / pulls_per_set), "torque"),
            Step("ν", "3n − 3, one taken by drift", float(3 * pulls_per_set - 3), "count"),
            Step("δ", "P(b̂ > max(m, t·s·√(1/(2n) + 1/n))) = 80 %, t of 5 % shared by three bands", value, "torque"),
        ),
        "The verdict's own rule: the interval of one of three bands lies above nought, and the gain found is no less than 1 %.",
        (
            "For the mean torque over one band of use. Pulls made back to back repeat better than pulls on different days.",
            "Now and then a curved drift or unequal scatter is seen where there is none; that is counted in.",
        ),
        (origin,),
    )
    return Figure("provable", "smallest gain proven", value, "torque", working, significant=2)
