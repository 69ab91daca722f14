"""How small a gain a number of pulls can prove."""

from __future__ import annotations

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.dyno.compare import smallest_provable

CHANCE = 0.8


def provable(repeatability: float, pulls_per_set: int, origin: str) -> Figure:
    """Smallest true gain of mean torque [N m] that an A-B-A test with so many pulls a set proves four times in five.

    repeatability: standard deviation of band-mean torque from pull to pull [N m]. A is pulled in two sets, B in one;
    one degree of freedom goes to drift. Raises InputError for fewer than two pulls a set or no repeatability.
    Source: two-sided t test at 5 %, noncentral t by integration.
    """
    if pulls_per_set < 2:
        raise InputError("At least two pulls a set are needed to know the noise.", "pulls_per_set")
    if repeatability <= 0:
        raise InputError("The dyno's repeatability must be more than nought.", "repeatability")
    n_a, n_b, df = 2 * pulls_per_set, pulls_per_set, 3 * pulls_per_set - 3
    value = smallest_provable(repeatability, n_a, n_b, df, CHANCE)
    error = repeatability * (1 / n_a + 1 / n_b) ** 0.5
    working = Working(
        "Smallest gain that can be proven",
        (
            Given("σ", "repeatability, pull to pull", repeatability, "torque", origin),
            Given("n", "pulls in each set, order A-B-A", float(pulls_per_set), "count"),
        ),
        (
            Step("se", "σ·√(1/(2n) + 1/n)", error, "torque"),
            Step("ν", "3n − 3, one taken by drift", float(df), "count"),
            Step("δ", "P(|t| > t₀.₉₇₅,ν given δ/se) = 80 %", value, "torque"),
        ),
        "Two-sided t test at 5 %, noncentral t by integration.",
        ("For the mean torque over a band. Pulls made back to back repeat better than pulls on different days.",),
        (origin,),
    )
    return Figure("provable", "smallest gain proven", value, "torque", working, significant=2)
