"""How small a gain a number of pulls can prove, by the very rule that weighs them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from math import pi, sqrt

import numpy as np
import numpy.typing as npt
from scipy import optimize, special

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantiles import t_at
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.compare import noise
from longbreath.core.compare.compare import MARGIN_SHARE
from longbreath.core.compare.design import CURVE_ALPHA, Design, make_design
from longbreath.core.compare.levels import SEEN, levels_of
from longbreath.core.compare.scatter import Scatter, set_numbers
from longbreath.core.compare.spending import AT_FIRST

CHANCE = 0.8
BANDS = 3
"""Bands of use that share the error."""
USUAL_BMEP = {"four-stroke": (10e5, 4.0 * pi), "two-stroke": (8e5, 2.0 * pi), "rotary": (9e5, 2.0 * pi)}
"""Brake mean effective pressure [Pa] in the band of use and angle from one firing of a cylinder to its next [rad], of a
rotor a turn of the shaft. Common practice, no source."""


def usual_torque(displacement: float, cycle: str) -> float:
    """Torque [N m] that an engine of that displacement [m3] usually has; only the margin of 1 % is made of it."""
    pressure, angle = USUAL_BMEP.get(cycle, USUAL_BMEP["four-stroke"])
    return pressure * displacement / angle


def chance_of_gain(
    shift: float,
    margin: float,
    error: float,
    df: float,
    family: int = BANDS,
    inflation: float = 1.0,
    confidence: float = AT_FIRST,
) -> float:
    """Chance [0..1] that a true difference `shift` is proven, and found to be no less than `margin`.

    error: true standard error [same unit]; family: intervals that share the error; inflation: the standard error as it is estimated,
    over the true one; confidence: of an interval, at the first look. Integrates over the residual spread; without a margin it is
    the one-sided power of a t test (noncentral t).
    """
    critical = t_at(1 - (1 - confidence) / (2 * family), df)
    top = 1.0 + 12.0 / sqrt(df)
    nodes, weights = _gauss(200)
    s = (nodes + 1.0) * top / 2.0
    density = np.exp((df - 1) * np.log(s) - df * s**2 / 2.0 + _chi_scale(df))
    proven = special.ndtr((shift - np.maximum(margin, critical * s * error * inflation)) / error)
    return float(np.sum(weights * density * proven) * top / 2.0)


@cache
def _gauss(count: int) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Nodes and weights of the Gauss-Legendre rule; making them takes far longer than using them."""
    return np.polynomial.legendre.leggauss(count)


def _chi_scale(df: float) -> float:
    """Logarithm of the factor in the density of the relative residual spread s = √(χ²/df)."""
    return float(df / 2.0 * np.log(df) - (df / 2.0 - 1.0) * np.log(2.0) - special.gammaln(df / 2.0))


@dataclass(frozen=True)
class Plan:
    """A and B in their order as Weigh will meet them: labels, places and sets of the pulls (other letters take places only)."""

    labels: tuple[str, ...]
    places: tuple[int, ...]
    fittings: tuple[int, ...]

    @property
    def fitted(self) -> int:
        """How many times B goes on."""
        return len({f for f, label in zip(self.fittings, self.labels, strict=True) if label == "B"})


def plan_of(order: Sequence[str], a: str = "A", b: str = "B") -> Plan:
    """The pulls of two letters in the order of a card. Raises InputError where either has fewer than two."""
    fittings = set_numbers(order)
    kept = [k for k, letter in enumerate(order) if letter in (a, b)]
    labels = tuple("A" if order[k] == a else "B" for k in kept)
    if min(labels.count("A"), labels.count("B")) < 2:
        raise InputError("At least two pulls of each are needed to know the noise.", "pulls_per_set")
    return Plan(labels, tuple(kept), tuple(fittings[k] for k in kept))


@lru_cache(maxsize=1024)
def smallest_gain(
    plan: Plan,
    margin: float,
    fitting: float | None = None,
    fitting_df: float = float("inf"),
    chance: float = CHANCE,
    confidence: float = AT_FIRST,
) -> float:
    """Smallest true gain, in standard deviations of one pull, that is proven with that chance and found over `margin` [same].

    fitting: standard deviation from set to set [same], known with `fitting_df` degrees of freedom; None: not known; confidence: of an
    interval [1], that of a first look. The rule as Weigh
    applies it: three bands share the error of a first look, and now and then a curve of drift or unequal scatter is seen
    where there is none.
    """
    labels, places = list(plan.labels), list(plan.places)
    straight = make_design(labels, places)
    curved = make_design(labels, places, True) if straight.drift and straight.df >= 3 else None
    seen = CURVE_ALPHA if curved is not None else 0.0
    cases = [
        ((1.0 - seen) * (1.0 - noise.UNEQUAL_ALPHA), straight, float(straight.df)),
        ((1.0 - seen) * noise.UNEQUAL_ALPHA, straight, noise.welch(straight, 1.0, 1.0)[1]),
    ]
    if curved is not None:
        cases.append((seen, curved, float(curved.df)))
    scatter = Scatter(1.0, fitting=fitting, fitting_df=fitting_df)
    met = [(share, *_met(design, df, scatter, plan.fittings)) for share, design, df in cases]

    def missing(shift: float) -> float:
        return sum(s * chance_of_gain(shift, margin, e, df, BANDS, i, confidence) for s, e, df, i in met) - chance

    high = 2.0 + margin
    while missing(high) < 0.0:
        high *= 2.0
    return float(optimize.brentq(missing, 0.0, high, xtol=1e-6))


def _met(design: Design, df: float, scatter: Scatter, fittings: tuple[int, ...]) -> tuple[float, float, float]:
    """True standard error, degrees of freedom, and how much larger the estimated one is, as Weigh takes them of such a session."""
    levels = levels_of(design, fittings, scatter=scatter)
    true = sqrt(design.leverage + (scatter.fitting or 0.0) ** 2 * levels.set_share)
    one = np.ones(1)
    if levels.whole is None or scatter.fitting is None:
        found = levels.of_squares(one, one, one * design.leverage, df)
        return true, found.df, sqrt(float(found.variance[0])) / true
    per = levels.trace / levels.set_df if levels.set_df else 0.0
    swollen = 1.0 + scatter.fitting**2 * levels.trace / design.df
    sets = one * (1.0 + scatter.fitting**2 * per)
    found = levels.of_squares(one, sets, one * design.leverage * swollen, df)
    return true, found.df, sqrt(float(found.variance[0])) / true


def provable(
    scatter: Scatter,
    order: Sequence[str],
    level: float,
    level_origin: str,
    pair: tuple[str, str] = ("A", "B"),
    band: str = "",
    margin_share: float = MARGIN_SHARE,
) -> Figure:
    """Smallest true gain of a band's mean torque [N m] that a test in this order proves four times in five.

    scatter: the dyno's [N m]; level: torque of A [N m], of which the margin is `margin_share` [1]; pair: letters of A and B;
    band: name of the
    band of use. Raises InputError for fewer than two pulls of either or no repeatability. Source: t interval, noncentral t by
    integration, Satterthwaite for what sets add; checked by simulating sessions.
    """
    sigma = scatter.of_band(band)
    if sigma <= 0:
        raise InputError("The dyno's repeatability must be more than nought.", "repeatability")
    plan = plan_of(order, *pair)
    design = make_design(list(plan.labels), list(plan.places))
    margin, fitting = margin_share * level, scatter.fitting or 0.0
    told = None if scatter.fitting is None else scatter.fitting / sigma
    value = smallest_gain(plan, margin / sigma, told, max(scatter.fitting_df, 1.0)) * sigma
    levels = levels_of(design, plan.fittings, scatter=scatter)
    share = sqrt(levels.set_share)
    sets = (
        ()
        if scatter.fitting is None
        else (Given("σ_set", "from set to set, the part off and on again", fitting, "torque", scatter.origin),)
    )
    error = sqrt(sigma**2 * design.leverage + (fitting * share) ** 2)
    formula = f"√(σ²·{design.leverage:.3f} + σ_set²·{share**2:.3f})" if sets else f"σ·√{design.leverage:.3f}"
    working = Working(
        "Smallest gain that can be proven",
        (
            Given("σ", "repeatability, pull to pull", sigma, "torque", scatter.origin),
            *sets,
            Given("n", "pulls of A and of B in their order", float(len(plan.labels)), "count"),
            Given("T", "torque of A", level, "torque", level_origin),
        ),
        (
            Step("m", f"margin of no meaningful difference, {100 * margin_share:.3g} % of T", margin, "torque"),
            Step("se", formula, error, "torque"),
            Step("ν", "pulls less what A, B and drift take", float(design.df), "count"),
            Step(
                "δ",
                f"P(b̂ > max(m, t·s)) = 80 %, t of {100 * (1 - AT_FIRST):.2g} % shared by three bands",
                value,
                "torque",
            ),
        ),
        "The verdict's own rule: the interval of one of three bands lies above nought, and the gain found is no less than the margin.",
        (
            "For the mean torque over one band of use. Pulls made back to back repeat better than pulls on different days.",
            "Now and then a curved drift or unequal scatter is seen where there is none; that is counted in.",
            *(() if sets else (_not_known(levels.mode),)),
        ),
        (scatter.origin,),
    )
    return Figure("provable", "smallest gain proven", value, "torque", working, significant=2)


def _not_known(mode: str) -> str:
    if mode == SEEN:
        return "The scatter from set to set is not on record: it will be taken from this test’s own sets, which widens the interval."
    return "The scatter from set to set is not known: nothing is counted for it."


def counts_sets(scatter: Scatter, order: Sequence[str], pair: tuple[str, str] = ("A", "B")) -> bool:
    """Whether the interval of pulls in this order will hold what a part scatters by coming off and on again [yes or no].

    A claim is drawn from such an interval alone. Raises InputError for fewer than two pulls of either.
    """
    plan = plan_of(order, *pair)
    return levels_of(make_design(list(plan.labels), list(plan.places)), plan.fittings, scatter=scatter).counts_sets


def promise_without(
    scatter: Scatter,
    order: Sequence[str],
    level: float,
    pair: tuple[str, str] = ("A", "B"),
    margin_share: float = MARGIN_SHARE,
) -> float:
    """Smallest gain [N m] if sets scattered as much as pulls do: by how much a promise without that scatter may be too good."""
    supposed = replace(scatter, fitting=scatter.pull, fitting_df=float("inf"))
    return provable(supposed, order, level, "", pair, margin_share=margin_share).value
