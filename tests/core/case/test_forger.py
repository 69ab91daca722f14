"""Whoever wants a gain of a part that does nothing finds none by legal moves; whoever measures a real one gets it."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from scipy import stats

from tests.made import forger
from tests.made.forger import Shop


@pytest.mark.parametrize("strategy", forger.STRATEGIES, ids=lambda s: s.__name__)
def test_a_part_that_does_nothing_gains_nothing(strategy: Callable[[Shop], bool]) -> None:
    assert sum(strategy(Shop(seed)) for seed in range(3)) <= 1


@pytest.mark.long
def test_of_2000_campaigns_no_more_than_the_interval_promises_publish_a_gain() -> None:
    """Upper 95 % bound of Clopper and Pearson 1934, by SciPy."""
    each = 2000 // len(forger.STRATEGIES)
    wrong = sum(strategy(Shop(1000 * k + seed)) for k, strategy in enumerate(forger.STRATEGIES) for seed in range(each))
    found = stats.binomtest(wrong, each * len(forger.STRATEGIES)).proportion_ci(0.9, "exact")
    assert found.high <= 0.05


@pytest.mark.parametrize("campaigns", [20, pytest.param(500, marks=pytest.mark.long)])
def test_an_honest_shop_gets_what_it_measured(campaigns: int) -> None:
    """A part that gains twice what its card promised, with burst hoses, a forgotten pull, a second day."""
    stated = 0
    for seed in range(campaigns):
        shop = Shop(seed)
        shop.gain = 2.0 * forger.promised(shop)
        stated += forger.honest(shop)
    assert stated >= 0.8 * campaigns
