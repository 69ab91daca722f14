"""Flow bench reduction: leak, referral, resolution, refusals."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core import bench
from longbreath.core.errors import InputError
from longbreath.core.units import from_unit, parse

CFM = from_unit(1.0, "flow", "cfm")
INCH = from_unit(1.0, "column", "inH2O")


def reading(percent: float, pressure: float = 28.0, full: float = 240.0, **more: float) -> bench.MeterReading:
    return bench.MeterReading(pressure * INCH, full * CFM, percent, **more)


def test_a_reading_at_the_test_pressure_is_range_times_percentage() -> None:
    assert bench.reduce_reading(reading(0.45, full=653.2), 28 * INCH).value == pytest.approx(293.94 * CFM)


def test_the_leak_is_carried_to_the_pressure_of_the_reading() -> None:
    leak = bench.MeterReading(10 * INCH, direct=4.0 * CFM)
    assert bench.leak_at(leak, 25 * INCH) == pytest.approx(6.32456 * CFM, rel=1e-5)
    assert bench.leak_at(None, 25 * INCH) == 0.0


def test_a_leak_larger_than_the_reading_is_refused() -> None:
    with pytest.raises(InputError, match="leak is larger than the reading"):
        bench.reduce_reading(reading(0.01), 28 * INCH, bench.MeterReading(28 * INCH, direct=20 * CFM))


@pytest.mark.parametrize(
    ("fields", "message"),
    [
        ({"pressure": 0.0, "direct": 1.0}, "must be more than nought"),
        ({"pressure": 1.0, "direct": -1.0}, "cannot be negative"),
        ({"pressure": 1.0, "full_scale": 1.0, "percent": 1.2}, "between 0 and 100 %"),
        ({"pressure": 1.0}, "either range and percentage, or a direct flow"),
        ({"pressure": 1.0, "full_scale": 1.0, "percent": 0.5, "direct": 1.0}, "not both"),
    ],
)
def test_impossible_readings_are_refused(fields: dict[str, float], message: str) -> None:
    with pytest.raises(InputError, match=message):
        bench.MeterReading(**fields)


def test_resolution_decides_the_uncertainty_and_the_digits() -> None:
    coarse = bench.reduce_reading(reading(0.5, flow_resolution=2.4 * CFM), 28 * INCH)
    fine = bench.reduce_reading(reading(0.5, flow_resolution=0.024 * CFM), 28 * INCH)
    assert coarse.uncertainty == pytest.approx(2 * 2.4 * CFM / 12**0.5)
    assert coarse.number("us") == "120.0"
    assert fine.number("us") == "120.000"


def test_a_reading_away_from_the_test_pressure_says_so() -> None:
    assert bench.is_off_pressure(25.4 * INCH, 28 * INCH)
    assert not bench.is_off_pressure(27.9 * INCH, 28 * INCH)
    notes = bench.reduce_reading(reading(0.5, 25.4), 28 * INCH).working.notes
    assert any("referred, not read" in note for note in notes)


@given(st.floats(0.05, 1.0), st.floats(5.0, 40.0), st.floats(5.0, 40.0))
def test_referral_there_and_back_is_the_identity(percent: float, here: float, there: float) -> None:
    flow = 240 * CFM * percent
    assert bench.refer(bench.refer(flow, here, there), there, here) == pytest.approx(flow)


def test_difference_adds_uncertainties_in_quadrature() -> None:
    a = bench.reduce_reading(reading(0.5, flow_resolution=0.3 * CFM), 28 * INCH)
    b = bench.reduce_reading(reading(0.6, flow_resolution=0.4 * CFM), 28 * INCH)
    found = bench.difference(a, b)
    assert found.value == pytest.approx(24 * CFM)
    assert found.uncertainty == pytest.approx(((a.uncertainty or 0) ** 2 + (b.uncertainty or 0) ** 2) ** 0.5)
    assert "not multiplied by the number of cylinders" in found.working.notes[0]


def test_velocity_needs_an_area() -> None:
    with pytest.raises(InputError, match="more than nought"):
        bench.mean_velocity(1.0, 0.0)
    assert (
        bench.mean_velocity(parse("250 cfm", "flow").value, parse("2.25 in2", "area").value).number("us")
        == "266.7"
    )
