"""Moist air: limits, directions, and the air that is refused."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air import moist
from longbreath.core.air.moist import Weather
from longbreath.core.basis.errors import InputError


def test_saturation_pressure_is_continuous_where_ice_meets_water() -> None:
    below, above = moist.saturation_pressure(273.1499), moist.saturation_pressure(273.1501)
    assert below == pytest.approx(above, rel=2e-4)


@given(st.floats(230.0, 330.0), st.floats(0.1, 5.0))
def test_warmer_air_holds_more_water(kelvin: float, more: float) -> None:
    assert moist.saturation_pressure(kelvin + more) > moist.saturation_pressure(kelvin)


def test_damp_air_is_lighter_and_cold_air_heavier() -> None:
    dry = moist.density(Weather(293.15, 101325.0, 0.0))
    assert moist.density(Weather(293.15, 101325.0, 1.0)) < dry < moist.density(Weather(283.15, 101325.0, 0.0))
    assert dry == pytest.approx(1.20412, rel=1e-5)  # first principles: p / (287.05 T)


@pytest.mark.parametrize(
    ("weather", "message"),
    [
        ((400.0, 101325.0, 0.5), "between −50 and 60 °C"),
        ((293.0, 1013.0, 0.5), "must be the station pressure"),
        ((293.0, 101325.0, 50.0), "between 0 and 100 %"),
    ],
)
def test_air_that_cannot_be_is_refused(weather: tuple[float, float, float], message: str) -> None:
    with pytest.raises(InputError, match=message):
        Weather(*weather)
