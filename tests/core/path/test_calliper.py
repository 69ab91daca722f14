"""Calliper readings: mean, ovality, and what a nominal size is worth."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.path import calliper

MM = 0.001


def test_three_readings_give_mean_and_ovality() -> None:
    found = calliper.read([38.31 * MM, 38.12 * MM, 38.17 * MM], 0.05 * MM)
    assert found.mean.value / MM == pytest.approx(38.20)
    assert (found.mean.uncertainty or 0) / MM == pytest.approx(0.05)  # the readings differ by shape, not by chance
    assert found.ovality is not None
    assert found.ovality.value / MM == pytest.approx(0.19)
    assert found.out_of_round is not None
    assert found.out_of_round.value == pytest.approx(0.19 / 38.20)


def test_few_readings_give_no_ovality_and_a_small_one_is_called_round() -> None:
    assert calliper.read([0.04], 1e-5).ovality is None
    assert calliper.read([0.04, 0.041], 1e-5).ovality is None
    round_ = calliper.read([0.04, 0.04002, 0.04001], 1e-5).ovality
    assert round_ is not None
    assert "call it round" in round_.working.notes[0]


@given(st.floats(0.001, 1.0), st.floats(0.0, 0.1))
def test_a_nominal_size_is_never_better_than_three_per_cent(size: float, precision: float) -> None:
    assert calliper.widened(size, precision) >= 0.03 * size
    assert calliper.widened(size, precision) >= precision
