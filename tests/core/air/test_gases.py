"""The two gases, and how they cool."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air.gases import AIR, BURNED, cooled
from longbreath.core.basis.constants import GAMMA_AIR


def test_the_gases_have_the_properties_of_their_round_figures() -> None:
    """First principles: c_p = γ·R/(γ − 1); air at 20 °C and 1013.25 hPa weighs 1.204 kg/m³ and carries sound at 343 m/s."""
    assert AIR.heat_capacity == pytest.approx(1004.7, rel=1e-4)
    assert AIR.density(101325.0, 293.15) == pytest.approx(1.204, rel=1e-3)
    assert AIR.speed_of_sound(293.15) == pytest.approx(343.2, rel=1e-3)
    assert AIR.gamma == GAMMA_AIR
    assert BURNED.heat_capacity == pytest.approx(1168.8, rel=1e-4)
    assert BURNED.speed_of_sound(900.0) == pytest.approx(589.2, rel=1e-3)


@given(st.floats(300, 1300), st.floats(0, 200), st.floats(0, 3), st.floats(0.01, 0.5))
def test_gas_never_cools_below_the_room(hot: float, transfer: float, surface: float, mass: float) -> None:
    after = cooled(hot, 293.15, transfer, surface, mass, BURNED)
    assert 293.15 - 1e-9 <= after <= hot + 1e-9
    assert cooled(hot, 293.15, 0.0, surface, mass, BURNED) == pytest.approx(hot)
