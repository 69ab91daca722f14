"""From ± in to ± out, against the law of propagation by hand and against a plain Monte Carlo."""

from __future__ import annotations

from math import sqrt

import numpy as np
import pytest

from longbreath.core.basis.propagate import Unsure, propagate
from longbreath.core.bench.reduction import left_out
from longbreath.core.bench.stacks import StackState, alone_figure

CFM = 0.000471947
INCH = 249.08891


def test_a_product_and_a_sum_by_hand() -> None:
    """Relative ± add in quadrature in a product; the budget is their share."""
    found = propagate(lambda a, b: a * b, (Unsure("a", 10.0, 0.3), Unsure("b", 5.0, 0.2)))
    assert found.is_even
    assert found.half_width == pytest.approx(50.0 * sqrt(0.03**2 + 0.04**2), rel=1e-3)
    assert found.budget[0] == ("b", pytest.approx(0.64, abs=0.01))
    assert found.note == "The interval comes from: b 64 %, a 36 %."
    assert propagate(lambda a: a, (Unsure("a", 1.0, 0.0),)).note == ""


def test_what_is_bent_goes_by_monte_carlo() -> None:
    """exp of a normal: its quantiles are known."""
    found = propagate(lambda a: float(np.exp(a)), (Unsure("a", 0.0, 1.0),))
    assert not found.is_even
    assert (found.low, found.high) == pytest.approx((np.exp(-1.0), np.exp(1.0)), rel=0.03)


def test_a_stack_near_the_heads_own_flow_prints_a_range() -> None:
    """285 of 292 cfm, ± 1.5 cfm each: far more room above than below; by a plain Monte Carlo of the series law."""
    found = alone_figure(StackState("head", 292 * CFM, 1.5 * CFM), StackState("head + manifold", 285 * CFM, 1.5 * CFM))
    assert found.between is not None
    assert found.uncertainty is None
    rng = np.random.default_rng(9)
    a, b = (m + 1.5 / 1.96 * rng.standard_normal(200_000) for m in (292.0, 285.0))
    drawn = 1.0 / np.sqrt(np.where(b < a, 1.0 / b**2 - 1.0 / a**2, np.nan))
    low, high = np.nanquantile(drawn, [0.025, 0.975])
    assert (found.between[0] / CFM, found.between[1] / CFM) == pytest.approx((low, high), rel=0.03)
    assert found.between[1] - found.value > 1.5 * (found.value - found.between[0])
    assert "…" in found.text("us")


def test_an_interval_without_an_upper_end_says_or_more() -> None:
    found = alone_figure(StackState("head", 292 * CFM, 3.0 * CFM), StackState("head + manifold", 290 * CFM, 3.0 * CFM))
    assert "or more" in found.text("us")


def test_the_square_root_leaves_out_two_and_a_half_per_cent_from_10_to_28_inches() -> None:
    """By the isentropic law of a nozzle; nothing at the pressure itself."""
    assert left_out(10 * INCH, 28 * INCH) == pytest.approx(0.025, abs=0.002)
    assert left_out(28 * INCH, 28 * INCH) == pytest.approx(0.0, abs=1e-12)
    assert left_out(27.5 * INCH, 28 * INCH) < 0.001
