"""An orifice plate: where the standard holds."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air.moist import Weather
from longbreath.core.bench import meter

ROOM = Weather(293.15, 101325.0, 0.0)


AIR = meter.MeterAir(ROOM, 293.15, 101325.0)


def test_an_orifice_warns_where_the_standard_does_not_hold() -> None:
    small = meter.Orifice(0.010, 0.040)
    notes = meter.MeterReading(7000.0, drop=5.0, orifice=small, air=AIR).notes()
    assert len(notes) == 2
    assert meter.orifice_notes(meter.Orifice(0.05, 0.1), 0.1, AIR) == ()
    assert meter.orifice_flow(small, 0.0, AIR) == 0.0


@given(st.floats(500.0, 9000.0))
def test_flow_through_an_orifice_grows_with_the_drop(drop: float) -> None:
    plate = meter.Orifice(0.05, 0.1)
    assert meter.orifice_flow(plate, drop * 1.1, AIR) > meter.orifice_flow(plate, drop, AIR)
