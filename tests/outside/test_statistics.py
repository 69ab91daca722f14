"""Comparison statistics against statsmodels on fixed data."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import statsmodels.api as sm
from scipy import stats
from statsmodels.stats.power import TTestIndPower
from statsmodels.stats.weightstats import CompareMeans, DescrStatsW

from longbreath.core.compare import compare, noise, planning
from longbreath.core.compare.design import choose_design, make_design
from longbreath.core.compare.influence import huber

Y = np.array([300.4, 300.1, 300.3, 305.2, 304.6, 304.9, 298.9, 299.1, 298.4])
LABELS = list("AAABBBAAA")
ORDER = list(range(1, 10))


def test_effect_with_drift_against_ordinary_least_squares() -> None:
    """statsmodels 0.15 OLS."""
    x = sm.add_constant(np.column_stack([[label == "B" for label in LABELS], np.array(ORDER) - 5.0]).astype(float))
    fit = sm.OLS(Y, x).fit()
    found = compare.effect(Y, make_design(LABELS, ORDER))
    assert found.value == pytest.approx(fit.params[1])
    assert found.standard_error == pytest.approx(fit.bse[1])
    assert found.drift == pytest.approx(fit.params[2])
    assert found.residual_sd == pytest.approx(fit.mse_resid**0.5)
    assert (found.low, found.high) == pytest.approx(tuple(fit.conf_int()[1]))


def test_effect_of_seven_unbalanced_pulls() -> None:
    """statsmodels 0.15 OLS: 5.4 ± 0.226455 (standard error)."""
    found = compare.effect(Y[:7], make_design(LABELS[:7], ORDER[:7]))
    assert (found.value, found.standard_error) == pytest.approx((5.4, 0.226455), rel=1e-5)


def test_effect_without_return_to_a_is_the_pooled_t_test() -> None:
    """statsmodels 0.15 CompareMeans, pooled variance."""
    a, b = np.array([301.2, 302.8, 300.9, 302.1, 301.5]), np.array([304.9, 306.3, 304.1, 305.8])
    found = compare.effect(np.concatenate([a, b]), make_design(list("AAAAABBBB"), list(range(9))))
    expected = CompareMeans(DescrStatsW(b), DescrStatsW(a)).tconfint_diff(usevar="pooled")
    assert (found.low, found.high) == pytest.approx(expected)


def test_equivalence_against_two_one_sided_tests() -> None:
    """statsmodels 0.15 ttost_ind, pooled: both margins rejected at 5 % exactly when the verdict says so."""
    a = np.array([300.1, 301.0, 299.6, 300.5, 300.3, 299.9])
    b = np.array([300.6, 301.3, 299.9, 301.0, 300.3, 300.5])
    found = compare.effect(np.concatenate([a, b]), make_design(list("AAAAAABBBBBB"), list(range(12))))
    for margin in (0.7, 0.75, 0.8, 0.85, 0.9, 1.3, 2.0):
        p, _, _ = sm.stats.ttost_ind(b, a, -margin, margin, usevar="pooled")
        assert (compare.verdict(found, margin) == compare.NO_DIFFERENCE) == (p < 0.05), margin


@pytest.mark.parametrize(("n", "effect"), [(10, 2.0), (6, 3.0), (3, 5.0), (2, 10.0)])
def test_the_chance_of_a_gain_without_a_margin_is_the_power_of_a_one_sided_t_test(n: int, effect: float) -> None:
    """statsmodels 0.15 TTestIndPower at 2.5 %, sd 1.5; scipy's noncentral t."""
    error, df = 1.5 * (2 / n) ** 0.5, 2 * n - 2
    found = planning.chance_of_gain(effect, 0.0, error, df, family=1, confidence=0.95)
    assert found == pytest.approx(TTestIndPower().power(effect / 1.5, n, 0.025, alternative="larger"), abs=2e-4)
    assert found == pytest.approx(stats.nct.sf(stats.t.ppf(0.975, df), df, effect / error), abs=2e-4)


def test_scatter_of_a_and_b_taken_apart_is_welchs_test() -> None:
    """scipy and statsmodels 0.15 CompareMeans, unequal variances."""
    a, b = np.array([301.2, 302.8, 300.9, 302.1, 301.5]), np.array([304.9, 309.3, 304.1, 305.8])
    design = replace(make_design(list("AAAAABBBB"), list(range(9))), unequal=True)
    found = compare.effect(np.concatenate([a, b]), design)
    expected = CompareMeans(DescrStatsW(b), DescrStatsW(a)).tconfint_diff(usevar="unequal")
    assert (found.low, found.high) == pytest.approx(expected)
    assert found.df == pytest.approx(stats.ttest_ind(b, a, equal_var=False).df)


def test_a_curve_of_drift_is_found_as_ordinary_least_squares_finds_it() -> None:
    """statsmodels 0.15 OLS: p value of the squared place."""
    k = np.array(ORDER) - 5.0
    x = sm.add_constant(np.column_stack([[label == "B" for label in LABELS], k, k**2]).astype(float))
    design, p = choose_design(LABELS, ORDER, Y)
    fit = sm.OLS(Y, x).fit()
    assert p == pytest.approx(fit.pvalues[3])
    assert design.curved is (p < 0.05)
    curved = compare.effect(Y, make_design(LABELS, ORDER, curved=True))
    assert (curved.value, curved.standard_error) == pytest.approx((fit.params[1], fit.bse[1]))


def test_the_robust_difference_is_hubers() -> None:
    """statsmodels 0.15 RLM with Huber's norm, one bad pull among twelve."""
    labels, order = list("AAAABBBBAAAA"), list(range(1, 13))
    y = np.array([300.4, 300.1, 300.3, 299.9, 305.2, 296.0, 304.9, 305.1, 300.2, 299.8, 300.5, 300.0])
    design = make_design(labels, order)
    assert compare.effect(y, design).value == pytest.approx(2.65, abs=0.1)
    robust = sm.RLM(y, design.matrix, M=sm.robust.norms.HuberT()).fit().params[1]
    assert huber(y, design.matrix) == pytest.approx(robust, abs=0.25)
    assert huber(y, design.matrix) > 4.0


def test_max_t_of_one_speed_is_the_t_quantile() -> None:
    """scipy: the family of one."""
    found = noise.max_t_quantile(np.ones((1, 1)), 6, draws=40_000)
    assert found == pytest.approx(stats.t.ppf(0.975, 6), rel=0.02)


def test_max_t_of_independent_speeds_with_known_spread_is_sidak() -> None:
    """scipy: max |z| over 20 independent speeds, 3.01599; pooled over many degrees of freedom the t becomes z."""
    found = noise.max_t_quantile(np.eye(20), 400, draws=6000)
    assert found == pytest.approx(3.01599, rel=0.02)
