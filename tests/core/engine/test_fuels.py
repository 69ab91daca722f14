"""Fuels: figures of handbooks, and E85 out of its parts."""

from __future__ import annotations

import pytest

from longbreath.core.engine.assumptions import assumed_of
from longbreath.core.engine.fuels import ETHANOL, FUELS, PETROL, blend, fuel_named


def test_ethanol_burns_by_its_own_formula() -> None:
    """C2H5OH + 3 O2: 3 × 32.0 / 46.07 of oxygen, in air with 23.14 % of it by mass: 9.00 (first principles)."""
    assert FUELS["ethanol"].stoichiometric == pytest.approx(3 * 31.998 / 46.069 / 0.2314, rel=2e-3)
    assert FUELS["methanol"].stoichiometric == pytest.approx(1.5 * 31.998 / 32.042 / 0.2314, rel=2e-2)


def test_e85_lies_between_its_parts_where_the_trade_has_it() -> None:
    """Some 9.8 to 1 and 781 kg/m³: common practice, no source."""
    assert FUELS["E85"].stoichiometric == pytest.approx(9.8, abs=0.05)
    assert FUELS["E85"].density == pytest.approx(782.0, abs=1.5)
    assert ETHANOL.heating < FUELS["E85"].heating < PETROL.heating
    assert blend(ETHANOL, PETROL, 0.0) == PETROL
    assert fuel_named("gas") == PETROL


def test_what_is_assumed_keeps_lambda_and_heat_from_fuel_to_fuel() -> None:
    petrol, spirit = assumed_of("petrol", "turbo"), assumed_of("E85", "turbo")
    assert spirit.air_fuel_ratio / FUELS["E85"].stoichiometric == pytest.approx(petrol.air_fuel_ratio / 14.7)
    assert spirit.consumption * FUELS["E85"].heating == pytest.approx(petrol.consumption * PETROL.heating)
    assert spirit.consumption > 1.4 * petrol.consumption
