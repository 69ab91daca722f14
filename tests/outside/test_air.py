"""Moist air against an independent property library; real gases are in `test_real_air`."""

from __future__ import annotations

import psychrolib
import pytest

from longbreath.core.air.moist import saturation_pressure

psychrolib.SetUnitSystem(psychrolib.SI)


@pytest.mark.parametrize("celsius", [-10.0, 0.5, 15.0, 25.0, 35.0])
def test_saturation_pressure_against_psychrolib(celsius: float) -> None:
    """PsychroLib 2.5 (ASHRAE 2017), same published equation: to rounding."""
    assert saturation_pressure(celsius + 273.15) == pytest.approx(psychrolib.GetSatVapPres(celsius), rel=1e-6)
