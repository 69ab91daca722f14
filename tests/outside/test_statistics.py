"""Comparison statistics against statsmodels on fixed data."""

from __future__ import annotations

import numpy as np
import pytest
import statsmodels.api as sm
from scipy import stats
from statsmodels.stats.power import TTestIndPower
from statsmodels.stats.weightstats import CompareMeans, DescrStatsW

from longbreath.core.claim import gates
from longbreath.core.dyno import bands, compare
from tests.core.dyno.flat import BANDS, GRID, runs

Y = np.array([300.4, 300.1, 300.3, 305.2, 304.6, 304.9, 298.9, 299.1, 298.4])
LABELS = list("AAABBBAAA")
ORDER = list(range(1, 10))


def test_effect_with_drift_against_ordinary_least_squares() -> None:
    """statsmodels 0.15 OLS."""
    x = sm.add_constant(np.column_stack([[label == "B" for label in LABELS], np.array(ORDER) - 5.0]).astype(float))
    fit = sm.OLS(Y, x).fit()
    found = compare.effect(Y, compare.make_design(LABELS, ORDER))
    assert found.value == pytest.approx(fit.params[1])
    assert found.standard_error == pytest.approx(fit.bse[1])
    assert found.drift == pytest.approx(fit.params[2])
    assert found.residual_sd == pytest.approx(fit.mse_resid**0.5)
    assert (found.low, found.high) == pytest.approx(tuple(fit.conf_int()[1]))


def test_effect_of_seven_unbalanced_pulls() -> None:
    """statsmodels 0.15 OLS: 5.4 ± 0.226455 (standard error)."""
    found = compare.effect(Y[:7], compare.make_design(LABELS[:7], ORDER[:7]))
    assert (found.value, found.standard_error) == pytest.approx((5.4, 0.226455), rel=1e-5)


def test_effect_without_return_to_a_is_the_pooled_t_test() -> None:
    """statsmodels 0.15 CompareMeans, pooled variance."""
    a, b = np.array([301.2, 302.8, 300.9, 302.1, 301.5]), np.array([304.9, 306.3, 304.1, 305.8])
    found = compare.effect(np.concatenate([a, b]), compare.make_design(list("AAAAABBBB"), list(range(9))))
    expected = CompareMeans(DescrStatsW(b), DescrStatsW(a)).tconfint_diff(usevar="pooled")
    assert (found.low, found.high) == pytest.approx(expected)


def test_equivalence_against_two_one_sided_tests() -> None:
    """statsmodels 0.15 ttost_ind, pooled: both margins rejected at 5 % exactly when the verdict says so."""
    a = np.array([300.1, 301.0, 299.6, 300.5, 300.3, 299.9])
    b = np.array([300.9, 301.6, 300.2, 301.3, 300.6, 300.8])
    found = compare.effect(np.concatenate([a, b]), compare.make_design(list("AAAAAABBBBBB"), list(range(12))))
    for margin in (1.0, 1.1, 1.15, 1.2, 1.3, 2.0):
        p, _, _ = sm.stats.ttost_ind(b, a, -margin, margin, usevar="pooled")
        assert (compare.verdict(found, margin) == compare.NO_DIFFERENCE) == (p < 0.05), margin


@pytest.mark.parametrize(
    ("n", "effect", "power"), [(10, 2.0, 0.804913), (6, 3.0, 0.876418), (3, 5.0, 0.856633), (2, 10.0, 0.891169)]
)
def test_power_against_the_noncentral_t(n: int, effect: float, power: float) -> None:
    """statsmodels 0.15 TTestIndPower, sd 1.5."""
    found = compare.power_of_test(effect, 1.5 * (2 / n) ** 0.5, 2 * n - 2)
    assert found == pytest.approx(power, abs=1e-4)
    assert found == pytest.approx(TTestIndPower().power(effect / 1.5, n, 0.05), abs=1e-4)


@pytest.mark.parametrize(("n", "smallest"), [(2, 8.48023), (3, 4.60634), (4, 3.57113), (6, 2.69331), (10, 1.98742)])
def test_smallest_provable_difference(n: int, smallest: float) -> None:
    """Independent integral and statsmodels 0.15, sd 1.5, power 80 %."""
    assert compare.smallest_provable(1.5, n, n, 2 * n - 2) == pytest.approx(smallest, rel=1e-4)


def test_max_t_of_one_speed_is_the_t_quantile() -> None:
    """scipy: the family of one."""
    found = compare.max_t_quantile(np.ones((1, 1)), 6, draws=40_000)
    assert found == pytest.approx(stats.t.ppf(0.975, 6), rel=0.02)


def test_max_t_of_independent_speeds_with_known_spread_is_sidak() -> None:
    """scipy: max |z| over 20 independent speeds, 3.01599; pooled over many degrees of freedom the t becomes z."""
    found = compare.max_t_quantile(np.eye(20), 400, draws=6000)
    assert found == pytest.approx(3.01599, rel=0.02)


@pytest.mark.parametrize(("share", "met"), [(0.80, True), (0.98, True), (1.02, False), (-1.02, False), (-0.98, True)])
def test_a_may_move_by_what_ninety_five_of_a_hundred_returns_do(share: float, met: bool) -> None:
    """scipy's normal quantile: last A less first A, three pulls each, stays within z·σ·√(1/3 + 1/3)."""
    noise = 0.9
    allowed = stats.norm.ppf(0.975) * noise * (2 / 3) ** 0.5
    moved = bands.weigh(compare.compare_pulls(runs("AAABBBAAA", 0.0, share * allowed / 6), GRID), BANDS)
    assert gates.return_to_a(moved, noise).met is met


def test_returns_of_an_unchanged_engine_pass_their_gate_ninety_five_times_in_a_hundred() -> None:
    """Simulated truth: pulls whose mean varies by σ; the share that passes is binomial about 0.95."""
    rng, noise, passed = np.random.default_rng(4), 0.9, 0
    for _ in range(1000):
        before, after = rng.normal(0.0, noise, 3).mean(), rng.normal(0.0, noise, 3).mean()
        passed += abs(after - before) <= gates.RETURN_FACTOR * noise * (2 / 3) ** 0.5
    assert stats.binomtest(passed, 1000, 0.95).pvalue > 0.01
