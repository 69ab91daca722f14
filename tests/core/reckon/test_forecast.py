"""Forecasts: what may be drawn, means over bands, schools' humps."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.errors import InputError
from longbreath.core.reckon import forecast as forecasts
from longbreath.core.reckon.forecast import (
    AIRFLOW,
    POWER,
    TORQUE,
    Drawn,
    Forecast,
    ForecastPoint,
    drawn_by_hand,
    from_json,
)

STEPS = drawn_by_hand(TORQUE, [Drawn(100, 200, -1, 0, 1), Drawn(200, 400, 1, 2, 4)])


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ((), "one value or more"),
        ((ForecastPoint(1, 2, 1, 3),), "between the least and the most"),
        ((ForecastPoint(1, 1, 2, 1.5),), "between the least and the most"),
        ((ForecastPoint(1, 2, 2, 2),), "without a band is a promise"),
        ((ForecastPoint(1, 0, float("nan"), 2),), "real numbers"),
        ((ForecastPoint(1, 0, 1, float("inf")),), "real numbers"),
        ((ForecastPoint(2, 0, 1, 2), ForecastPoint(1, 0, 1, 2)), "never run backwards"),
    ],
)
def test_what_is_no_forecast_is_refused_in_words(points: tuple[ForecastPoint, ...], words: str) -> None:
    with pytest.raises(InputError, match=words):
        Forecast(TORQUE, points)


def test_only_known_quantities_are_forecast() -> None:
    with pytest.raises(InputError, match="can be forecast"):
        Forecast("boost", (ForecastPoint(1, 0, 1, 2),))


def test_steps_hold_their_value_and_say_nothing_outside() -> None:
    low, middle, high = STEPS.at(np.array([50.0, 150.0, 300.0, 401.0]))
    assert np.isnan(middle[[0, 3]]).all()
    assert (low[1], middle[1], high[1]) == (-1, 0, 1)
    assert (low[2], middle[2], high[2]) == (1, 2, 4)
    assert STEPS.is_drawn_in_steps
    assert STEPS.span == (100, 400)


def test_a_mean_needs_half_of_its_places() -> None:
    said = STEPS.mean(np.linspace(150, 250, 101))
    assert said is not None
    assert said.middle == pytest.approx(1.0, abs=0.02)
    assert STEPS.mean(np.linspace(0, 190, 20)) is None
    assert STEPS.mean(np.array([])) is None


@given(st.lists(st.tuples(*[st.floats(-1e3, 1e3)] * 3), min_size=1, max_size=6))
def test_what_is_kept_is_what_was_drawn(values: list[tuple[float, float, float]]) -> None:
    points = []
    for n, value in enumerate(values):
        low, middle, high = sorted(value)
        points.append(ForecastPoint(float(n), low, middle, high + 1e-3))
    made = Forecast(POWER, tuple(points))
    assert from_json(POWER, made.to_json()) == made


def test_a_school_loses_the_stock_runner_s_speeds_and_wins_the_others() -> None:
    places = np.linspace(200, 700, 200)
    said = forecasts.of_school(places, [300.0], [500.0], 200.0, 0.03, 0.07)
    by_place = {round(p.x): p.middle for p in said.points}
    assert min(by_place.values()) == pytest.approx(-6.0, rel=0.02)
    assert max(by_place.values()) == pytest.approx(6.0, rel=0.02)
    assert min(said.points, key=lambda p: p.middle).x == pytest.approx(300, abs=4)
    assert not said.is_drawn_in_steps
    with pytest.raises(InputError, match="nothing moves"):
        forecasts.of_school(places, [300.0], [300.0], 200.0, 0.03, 0.07)


def test_airflow_runs_over_lift() -> None:
    assert forecasts.QUANTITIES[AIRFLOW].axis == "length"
    said = drawn_by_hand(AIRFLOW, [Drawn(0, 0, -1e-3, 0, 1e-3)])
    assert said.mean(np.array([0.0])) is not None
