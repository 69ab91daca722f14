"""Quantiles beside scipy's distributions and two printed tables."""

from __future__ import annotations

from math import inf

import pytest
from scipy import stats

from longbreath.core.basis.quantiles import chi2_at, normal_at, t_at, t_beyond


@pytest.mark.parametrize("df", [1, 1.7, 2, 5, 12.3, 60, 1e4, inf])
@pytest.mark.parametrize("share", [0.005, 0.05, 0.5, 0.9, 0.975, 0.99997])
def test_they_are_scipys(share: float, df: float) -> None:
    assert t_at(share, df) == pytest.approx(stats.t.ppf(share, df), rel=1e-12, abs=1e-12)
    assert t_beyond(t_at(share, df), df) == pytest.approx(1.0 - share, rel=1e-9)
    if df < inf:
        assert chi2_at(share, df) == pytest.approx(stats.chi2.ppf(share, df), rel=1e-12)
    assert normal_at(share) == pytest.approx(stats.norm.ppf(share), rel=1e-12)


def test_they_are_those_of_the_printed_tables() -> None:
    """NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2 and 1.3.6.7.4, from memory."""
    assert t_at(0.975, 10) == pytest.approx(2.228, abs=5e-4)
    assert chi2_at(0.95, 5) == pytest.approx(11.070, abs=5e-4)
