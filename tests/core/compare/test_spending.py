"""Repeated looks share one error of 5 %, however often somebody looks and wherever he stops."""

from __future__ import annotations

import pytest

from longbreath.core.compare.spending import AT_FIRST, ERROR, Stand, error_of, of_session, of_stand


def test_all_looks_together_have_one_error() -> None:
    assert sum(of_session(number) for number in range(1, 5000)) == pytest.approx(1.0, abs=1e-4)
    ends = [Stand(9, counted) for counted in range(3000)]
    assert sum(map(of_stand, ends)) == pytest.approx(1.0, abs=1e-4)


@pytest.mark.parametrize(
    ("stands", "error"),
    [
        ([], 0.0405),
        ([Stand(9, 9)], 0.0405),
        ([Stand(9, 9), Stand(9, 9)], 0.05 * 0.05 * 0.9),
        ([Stand(9, 4), Stand(9, 9)], 0.05 * 0.05 * 0.9),
        ([Stand(9, 10)], 0.05 * 0.9 * 0.01),
        ([Stand(2, 1)], 0.05 * 0.9 * 0.08 / 1.5),
    ],
)
def test_each_look_takes_its_share(stands: list[Stand], error: float) -> None:
    assert error_of(stands) == pytest.approx(error)


def test_the_end_of_the_plan_is_the_cheapest_place_to_stop() -> None:
    errors = [error_of([Stand(9, counted)]) for counted in range(14)]
    assert max(errors) == errors[9] == pytest.approx(1.0 - AT_FIRST)
    assert sum(errors) < ERROR
