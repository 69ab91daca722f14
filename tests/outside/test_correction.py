"""Correction factors at their reference conditions and at four weathers.

The formulas are from memory (no standard's text was at hand); the vapour pressure behind these values is PsychroLib's.
Each value was computed independently of this code and agrees within 2e-4.
"""

from __future__ import annotations

import math

import pytest

from longbreath.core.air.correction import STANDARDS, correction
from longbreath.core.air.moist import Weather, saturation_pressure
from longbreath.core.basis.constants import INCH_OF_MERCURY

W1 = Weather(293.15, 101325.0, 0.5)  # mild sea level
W2 = Weather(308.15, 100000.0, 0.8)  # hot, humid
W3 = Weather(278.15, 103000.0, 0.3)  # cold, high pressure
W4 = Weather(311.15, 83500.0, 0.2)  # high altitude, hot

EXPECTED = [
    ("sae_j1349", (0.976559, 1.06363, 0.918245, 1.27230)),
    ("std_j607", (1.01939, 1.09610, 0.968018, 1.28001)),
    ("std_j607_split", (1.02287, 1.11340, 0.962261, 1.33041)),
    ("din_70020", (0.999753, 1.03861, 0.957990, 1.24988)),
    ("iso_1585", (0.976209, 1.06505, 0.917446, 1.28295)),
    ("none", (1.0, 1.0, 1.0, 1.0)),
]


@pytest.mark.parametrize(("key", "values"), EXPECTED)
def test_four_weathers(key: str, values: tuple[float, ...]) -> None:
    found = [correction(weather, key).value for weather in (W1, W2, W3, W4)]
    assert found == pytest.approx(values, abs=2e-4)


@pytest.mark.parametrize(
    ("key", "pressure", "celsius"),
    [
        ("sae_j1349", 99000.0, 25.0),
        ("std_j607", 29.92 * INCH_OF_MERCURY, (60 - 32) / 1.8),
        ("std_j607_split", 29.92 * INCH_OF_MERCURY, (60 - 32) / 1.8),
        ("din_70020", 101300.0, 20.0),
        ("iso_1585", 99000.0, 25.0),
    ],
)
def test_each_is_one_at_its_own_reference(key: str, pressure: float, celsius: float) -> None:
    assert STANDARDS[key].factor(pressure, celsius) == pytest.approx(1.0, abs=1e-9)


def test_std_reads_about_four_per_cent_above_sae() -> None:
    """From the formulas: 1.04004 at the SAE reference air."""
    assert STANDARDS["std_j607"].factor(99000.0, 25.0) == pytest.approx(1.04004, rel=1e-5)


def test_leaving_the_permitted_range_is_said() -> None:
    assert not any("outside" in note for note in correction(W1, "sae_j1349").working.notes)
    notes = " ".join(correction(W4, "sae_j1349").working.notes)
    assert "air temperature 38 °C is outside 15 to 35" in notes
    assert "factor" in notes


def test_thin_hot_damp_air_is_corrected_upward() -> None:
    dry, damp = Weather(303.15, 98000.0, 0.2), Weather(303.15, 98000.0, 0.9)
    for key in ("sae_j1349", "std_j607", "iso_1585"):
        assert correction(damp, key).value > correction(dry, key).value
    assert correction(damp, "din_70020").value == correction(dry, "din_70020").value


def test_the_spread_of_a_factor_comes_from_what_went_in() -> None:
    """First order by hand for J1349: 1.18·(990/p_d)·√(T/298): dT/2T, dp/p_d and the vapour that 5 % of humidity holds."""
    found = correction(W1, "sae_j1349")
    part = found.value + 0.18
    vapour = saturation_pressure(W1.temperature) * 0.05
    dry = W1.pressure - saturation_pressure(W1.temperature) * W1.relative_humidity
    steep = math.hypot(100.0 / dry, vapour / dry)
    # temperature moves the vapour too: 6.2 % of it a kelvin near 20 °C (handbook table)
    warm = 0.5 / (2 * W1.temperature) + 0.5 * 0.062 * saturation_pressure(W1.temperature) * W1.relative_humidity / dry
    assert found.uncertainty == pytest.approx(part * math.hypot(steep, warm), rel=0.02)
    assert 0.0010 < part * vapour / dry < 0.0016
    assert correction(W1, "none").uncertainty is None
    assert any("The interval comes from: " in note and "humidity" in note for note in found.working.notes)
