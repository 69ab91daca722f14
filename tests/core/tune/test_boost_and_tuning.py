"""The boost table and rounds of tuning against worked figures."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.tune.boost_table import Reached, next_step, remarks
from longbreath.core.tune.tuning import after_fuel, after_injection, after_jet, match, taken

LOW, HIGH = 2000 * RPM, 6000 * RPM


def rows(*pairs: tuple[float, float]) -> list[Reached]:
    return [Reached(f"{setting:g} %", setting, (boost * 1e3,)) for setting, boost in pairs]


def test_the_next_step_stays_below_the_nearest_limit() -> None:
    found = next_step(rows((20, 50), (30, 65)), {"the sensor": 150e3, "the stop": 100e3})
    assert found.setting == pytest.approx(45.0)  # no more than one and a half of the longest step taken
    assert found.boost == pytest.approx(87.5e3)
    assert "the stop" in found.words
    near = next_step(rows((20, 50), (30, 65), (40, 85)), {"the stop": 100e3})
    assert near.setting == pytest.approx(45.0)  # (95 − 85) / 2 kPa a step
    assert near.boost == pytest.approx(95e3)


@given(
    st.lists(st.tuples(st.integers(1, 90), st.floats(20.0, 120.0)), min_size=2, max_size=6, unique_by=lambda p: p[0])
)
def test_no_step_is_ever_foretold_beyond_the_limit(pairs: list[tuple[int, float]]) -> None:
    found = next_step(rows(*pairs), {"the stop": 100e3})
    if found.boost is not None and found.setting is not None:
        assert found.boost <= 95e3 + 1e-6
        assert found.boost >= max(boost for _, boost in pairs) * 1e3


@pytest.mark.parametrize(
    ("table", "limits", "words"),
    [
        (rows((20, 50)), {"x": 1e5}, "two settings"),
        (rows((20, 50), (30, 60)), {}, "No limit"),
        (rows((20, 50), (30, 96)), {"the stop": 1e5}, "Stop here"),
        (rows((20, 50), (30, 50)), {"the stop": 1e5}, "does not rise"),
    ],
)
def test_why_there_is_no_step(table: list[Reached], limits: dict[str, float], words: str) -> None:
    found = next_step(table, limits)
    assert found.setting is None
    assert words in found.words


def test_a_spring_and_a_broken_order_are_named() -> None:
    assert remarks(rows((20, 50), (30, 65)), 48e3) == ()
    (leak,) = remarks(rows((20, 40), (30, 65)), 48e3)
    assert "spring" in leak
    (order,) = remarks(rows((20, 50), (30, 45)), None)
    assert order.startswith("30 % reached no more than 20 %")


def test_a_jet_goes_by_its_area() -> None:
    """Handbook arithmetic: a jet of 1.30 mm for one of 1.25 mm passes (1.30/1.25)² = 8.2 % more."""
    assert after_jet(1.25e-3, 1.30e-3) == pytest.approx(1 / 1.0816, rel=1e-4)
    assert after_jet(1e-3, 1e-3) == 1.0
    with pytest.raises(InputError):
        after_jet(0.0, 1e-3)


@given(st.floats(5e-4, 3e-3), st.floats(5e-4, 3e-3))
def test_a_jet_there_and_back_changes_nothing(one: float, other: float) -> None:
    assert after_jet(one, other) * after_jet(other, one) == pytest.approx(1.0)


def test_another_fuel_through_the_same_jet() -> None:
    """Petrol 14.7, 745 kg/m³; E85 some 9.8, 781 kg/m³ (common practice, no source): by mass flow √ρ, λ rises to 1.465 times."""
    assert after_fuel(14.7, 9.8, 745.0, 781.0) == pytest.approx(1.5 * (745 / 781) ** 0.5, rel=1e-9)
    assert after_fuel(14.7, 14.7, 745.0, 745.0) == 1.0
    with pytest.raises(InputError):
        after_fuel(14.7, 0.0, 745.0, 745.0)


def test_an_injector_opens_after_its_dead_time() -> None:
    assert after_injection(9e-3, 10e-3, 1e-3) == pytest.approx(8 / 9)
    with pytest.raises(InputError) as told:
        after_injection(9e-3, 1e-3, 1e-3)
    assert told.value.field == "after"
    with pytest.raises(InputError) as told:
        after_injection(0.5e-3, 9e-3, 1e-3)
    assert told.value.field == "before"


def curve(level: float, tilt: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    speed = np.linspace(1800, 6200, 300) * RPM
    return speed, level + tilt * (speed - 4000 * RPM) / (2000 * RPM)


def test_mixture_curves_match_piece_by_piece() -> None:
    same = match([curve(0.88)], [curve(0.885)], LOW, HIGH, 0.01)
    assert same.is_met
    assert len(same.pieces) == 8
    tilted = match([curve(0.88)], [curve(0.88, 0.03)], LOW, HIGH, 0.01)  # equal in the mean, apart at both ends
    assert not tilted.is_met
    assert tilted.worst is not None
    assert abs(tilted.worst.off) == pytest.approx(0.02625, rel=0.02)
    assert not match([], [curve(0.88)], LOW, HIGH, 0.01).is_met
    holed = curve(0.88)
    holed[1][:] = np.nan
    assert match([holed], [curve(0.88)], LOW, HIGH, 0.01).pieces == ()


def test_what_a_pull_took() -> None:
    """290 g/kWh at 100 kW is 8.056 g/s; λ by the flows 0.88 at 14.7 to 1: definition, worked by hand."""
    speed = np.full(100, 5000 * RPM)
    torque = 100e3 / speed
    fuel = np.full(100, 8.0556e-3)
    channels = {
        "speed": speed,
        "torque": torque,
        "fuel_flow": fuel,
        "air_flow": fuel * 14.7 * 0.88,
        "mixture": fuel * 0 + 0.885,
    }
    found = taken(channels, np.ones(100, dtype=bool), 14.7)
    assert found is not None
    assert found.consumption * 3.6e9 == pytest.approx(290.0, rel=1e-4)
    assert found.by_flows == pytest.approx(0.88, rel=1e-6)
    assert found.logged == pytest.approx(0.885)
    assert found.shares == ()
    split = taken({**channels, "fuel_flow 2": fuel * 1.1}, np.ones(100, dtype=bool), 14.7)
    assert split is not None
    assert split.shares == pytest.approx((1 / 2.1, 1.1 / 2.1))
    assert split.spread == pytest.approx(2 * 0.1 / 2.1)
    assert taken({"speed": speed, "torque": torque}, np.ones(100, dtype=bool), 14.7) is None
    assert taken({**channels, "fuel_flow": fuel * 0}, np.ones(100, dtype=bool), 14.7) is None
