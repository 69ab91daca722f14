"""Weighing against published worked examples and other implementations: randomised blocks, a factorial, equivalence, Tukey,
Dunnett."""

from __future__ import annotations

import numpy as np
import pytest
import statsmodels.api as sm
from scipy import stats
from statsmodels.stats.multicomp import pairwise_tukeyhsd

from longbreath.core.compare import compare
from longbreath.core.compare.compare import PullCurve
from longbreath.core.plan.designs import Factor
from longbreath.core.weigh.effects import factor_effects
from longbreath.core.weigh.samples import welch
from longbreath.core.weigh.several import Model, Ranked, make_model, rank

PLANTS = {
    "A": (4.17, 5.58, 5.18, 6.11, 4.50, 4.61, 5.17, 4.53, 5.33, 5.14),
    "B": (4.81, 4.17, 4.41, 3.59, 5.87, 3.83, 6.03, 4.89, 4.32, 4.69),
    "C": (6.31, 5.12, 5.54, 5.50, 5.37, 5.29, 4.92, 6.15, 5.80, 5.26),
}
"""Dried weights of plants, control and two treatments: A. J. Dobson, An Introduction to Statistical Modelling, 1983 (open data)."""
BLOOD = {
    "A": (7.40, 8.50, 7.20, 8.24, 9.84, 8.32),
    "B": (9.76, 8.80, 7.68, 9.36),
    "C": (12.80, 9.68, 12.16, 9.20, 10.55),
}
"""Blood counts of a control and two drugs: C. W. Dunnett, J. Amer. Statist. Assoc. 50 (1955), 1096."""
YIELDS = (49.5, 62.8, 46.8, 57.0, 59.8, 58.5, 55.5, 56.0, 62.8, 55.8, 69.5, 55.0)
YIELDS += (62.0, 48.8, 45.5, 44.2, 52.0, 51.5, 49.8, 48.8, 57.2, 59.0, 53.2, 56.0)
NITROGEN = (0, 1, 0, 1, 1, 1, 0, 0, 0, 1, 1, 0, 1, 1, 0, 0, 1, 0, 1, 0, 1, 1, 0, 0)
PHOSPHATE = (1, 1, 0, 0, 0, 1, 0, 1, 1, 1, 0, 0, 0, 1, 0, 1, 1, 0, 0, 1, 0, 1, 1, 0)
POTASH = (1, 0, 0, 1, 0, 1, 1, 0, 0, 1, 0, 1, 0, 1, 1, 0, 0, 0, 1, 1, 1, 0, 1, 0)
"""Peas in six blocks of four plots: F. Yates, The Design and Analysis of Factorial Experiments, 1937; as W. N. Venables and
B. D. Ripley, Modern Applied Statistics with S, 2002, analyse it: N 5.617 (F 12.26), K −3.983 (F 6.17), P −1.183 (F 0.54)."""


def plain(groups: dict[str, tuple[float, ...]]) -> tuple[Model, np.ndarray]:
    """Groups without any order in time: each value a set of its own, all of one day, no drift."""
    values = [(letter, v) for letter, many in groups.items() for v in many]
    runs = [PullCurve(letter, k, np.array([v]), "", k) for k, (letter, v) in enumerate(values)]
    return make_model(runs), np.array([v for _, v in values])


def ranked(groups: dict[str, tuple[float, ...]]) -> Ranked:
    return rank(*plain(groups), "mean")


def test_tukeys_intervals_are_those_of_the_worked_example() -> None:
    """As R prints them for Dobson's plants (TukeyHSD): trt2 − trt1 0.865, 0.174 to 1.556; trt1 − ctrl −0.371, −1.062 to 0.320."""
    found = ranked(PLANTS)
    for one, other, value, low, high in (
        ("A", "B", -0.371, -1.0622161, 0.3202161),
        ("A", "C", 0.494, -0.1972161, 1.1852161),
        ("B", "C", 0.865, 0.1737839, 1.5562161),
    ):
        effect = found.pair(one, other).effect
        assert effect.value == pytest.approx(value)
        assert (effect.low, effect.high) == pytest.approx((low, high), abs=2e-6)
    assert found.groups == (("C", "A"), ("A", "B"))


def test_tukeys_intervals_are_those_of_statsmodels() -> None:
    """pairwise_tukeyhsd, another implementation, on groups of unequal size."""
    values = np.array([v for many in BLOOD.values() for v in many])
    labels = [letter for letter, many in BLOOD.items() for _ in many]
    theirs = pairwise_tukeyhsd(values, labels)
    found = ranked(BLOOD)
    for k, (one, other) in enumerate((("A", "B"), ("A", "C"), ("B", "C"))):
        effect = found.pair(one, other).effect
        assert (effect.low, effect.high) == pytest.approx(tuple(theirs.confint[k]), abs=1e-3)


def test_against_the_control_alone_dunnett_says_the_same_and_is_narrower() -> None:
    """Dunnett's own example by scipy.stats.dunnett: drug B (here C) is told from the control, drug A is not."""
    theirs = stats.dunnett(BLOOD["B"], BLOOD["C"], control=BLOOD["A"], random_state=1)
    assert theirs.pvalue == pytest.approx([0.62004941, 0.0058], abs=2e-3)
    low = theirs.confidence_interval().low
    found = ranked(BLOOD)
    for k, letter in enumerate("BC"):
        pair = found.pair("A", letter)
        assert pair.is_told_apart == (theirs.pvalue[k] < 0.05)
        assert pair.effect.low < low[k]


def test_effects_of_a_factorial_in_blocks_are_those_of_the_worked_example() -> None:
    factors = tuple(Factor(name, 10.0, ("without", "with")) for name in ("nitrogen", "phosphate", "potash"))
    letters = {(n, p, k): "ABCDEFGH"[4 * n + 2 * p + k] for n in (0, 1) for p in (0, 1) for k in (0, 1)}
    labels = [letters[cell] for cell in zip(NITROGEN, PHOSPHATE, POTASH, strict=True)]
    blocks = np.array([[float(k // 4 == b) for b in range(1, 6)] for k in range(24)])
    cells = {letter: cell for cell, letter in letters.items()}
    found = {e.name: e for e in factor_effects(factors, cells, labels, np.array(YIELDS), blocks)}
    assert found["nitrogen"].value == pytest.approx(5.616667)
    assert found["phosphate"].value == pytest.approx(-1.183333)
    assert found["potash"].value == pytest.approx(-3.983333)
    half = found["nitrogen"].half_width
    assert half == pytest.approx(stats.t.ppf(1 - 0.05 / 6, 12) * (15.44 * 4 / 24) ** 0.5, rel=1e-3)
    assert found["nitrogen × phosphate"].p == pytest.approx(0.263, abs=2e-3)
    assert found["nitrogen × potash"].p == pytest.approx(0.169, abs=2e-3)
    assert found["phosphate × potash"].p == pytest.approx(0.863, abs=2e-3)


def test_days_as_blocks_are_least_squares_with_blocks() -> None:
    """Randomised blocks: variants over days against statsmodels' OLS with a column for every day."""
    rng = np.random.default_rng(4)
    rows = [(letter, day) for day in range(4) for letter in "ABC" for _ in range(2)]
    y = np.array([100 + 3 * (x == "B") + 5 * (x == "C") + 6 * d + rng.normal(0, 1) for x, d in rows])
    runs = [PullCurve(letter, k, np.zeros(1), "", k, day) for k, (letter, day) in enumerate(rows)]
    found = rank(make_model(runs), y, "mean")
    x = np.column_stack(
        [[float(r[0] == letter) for r in rows] for letter in "ABC"]
        + [[float(r[1] == d) for r in rows] for d in (1, 2, 3)]
    )
    theirs = sm.OLS(y, x).fit().t_test([-1, 1, 0, 0, 0, 0])
    pair = found.pair("A", "B")
    assert pair.effect.value == pytest.approx(float(theirs.effect[0]))
    assert pair.effect.standard_error == pytest.approx(float(np.ravel(theirs.sd)[0]))


def test_welch_and_equivalence_are_those_of_the_reference_sheet() -> None:
    """H.W and H.tost: own implementation beside scipy and statsmodels; equivalent and different at once is possible."""
    a, b = (301.2, 302.8, 300.9, 302.1, 301.5), (304.9, 306.3, 304.1, 305.8)
    found = welch(a, b)
    assert found.standard_error == pytest.approx(0.593542, rel=1e-5)
    assert found.df == pytest.approx(5.62208, rel=1e-5)
    assert (found.low, found.high) == pytest.approx((2.09866, 5.05134), rel=1e-5)
    c1, c2 = (300.1, 301.0, 299.6, 300.5, 300.3, 299.9), (300.9, 301.6, 300.2, 301.3, 300.6, 300.8)
    close = welch(c1, c2)
    one_sided = float(stats.t.ppf(0.95, close.df)) * close.standard_error
    assert close.df == pytest.approx(9.99632, rel=1e-5)
    assert (close.value - one_sided, close.value + one_sided) == pytest.approx((0.150458, 1.18288), rel=1e-5)
    assert compare.verdict(close, 2.0) == compare.GAIN
    assert compare.verdict(welch(c1, tuple(v - 0.6 for v in c2)), 2.0) == compare.NO_DIFFERENCE
