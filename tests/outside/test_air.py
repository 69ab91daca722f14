"""Moist air against two independent property libraries."""

from __future__ import annotations

import psychrolib
import pytest

from longbreath.core.air.moist import Weather, density, dry_pressure, saturation_pressure, speed_of_sound
from tests.outside.real_air import humid, props

psychrolib.SetUnitSystem(psychrolib.SI)
WEATHERS = [
    (20.0, 101325.0, 0.5),
    (35.0, 98000.0, 0.6),
    (25.0, 99000.0, 0.0),
    (5.0, 103000.0, 0.3),
    (38.0, 83500.0, 0.2),
]


@pytest.mark.parametrize("celsius", [-10.0, 0.5, 15.0, 25.0, 35.0])
def test_saturation_pressure_against_psychrolib(celsius: float) -> None:
    """PsychroLib 2.5 (ASHRAE 2017), same published equation: to rounding."""
    assert saturation_pressure(celsius + 273.15) == pytest.approx(psychrolib.GetSatVapPres(celsius), rel=1e-6)


@pytest.mark.parametrize("celsius", [0.5, 15.0, 25.0, 35.0])
def test_saturation_pressure_against_iapws95(celsius: float) -> None:
    """CoolProp 8 (IAPWS-95 equation of state), another physics: within 0.05 %."""
    real = props("P", "T", celsius + 273.15, "Q", 0, "Water")
    assert saturation_pressure(celsius + 273.15) == pytest.approx(real, rel=5e-4)


@pytest.mark.parametrize(("celsius", "pressure", "humidity"), WEATHERS)
def test_density_against_a_real_gas(celsius: float, pressure: float, humidity: float) -> None:
    """CoolProp 8 HumidAir (real gas): the ideal mixture is within 0.08 %."""
    real = 1.0 / humid("Vha", "T", celsius + 273.15, "P", pressure, "R", humidity)
    assert density(Weather(celsius + 273.15, pressure, humidity)) == pytest.approx(real, rel=8e-4)


def test_dry_pressure_is_total_less_vapour() -> None:
    """PsychroLib: 20 degC, 1013.25 hPa, 50 % gives 1001.56 hPa dry."""
    assert dry_pressure(Weather(293.15, 101325.0, 0.5)) == pytest.approx(100156.0, rel=1e-4)


@pytest.mark.parametrize("celsius", [0.0, 20.0, 50.0])
def test_speed_of_sound_against_coolprop(celsius: float) -> None:
    """CoolProp 8 Air (Lemmon et al.): within 0.15 %."""
    assert speed_of_sound(celsius + 273.15) == pytest.approx(
        props("A", "T", celsius + 273.15, "P", 101325, "Air"), rel=1.5e-3
    )
