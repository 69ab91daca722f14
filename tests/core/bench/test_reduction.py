"""Flow bench reduction: leak, referral, resolution, refusals."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.units import from_unit, parse
from longbreath.core.bench import reduction
from longbreath.core.bench.repeats import pooled_repeatability

CFM = from_unit(1.0, "flow", "cfm")
INCH = from_unit(1.0, "column", "inH2O")
QUIET = reduction.Noise()


def reading(percent: float, pressure: float = 28.0, full: float = 240.0, **more: float) -> reduction.MeterReading:
    return reduction.MeterReading(pressure * INCH, full * CFM, percent, **more)


def test_a_reading_at_the_test_pressure_is_range_times_percentage() -> None:
    assert reduction.reduce_reading(reading(0.45, full=653.2), 28 * INCH).value == pytest.approx(293.94 * CFM)


def test_the_leak_is_carried_to_the_pressure_of_the_reading() -> None:
    leak = reduction.MeterReading(10 * INCH, direct=4.0 * CFM)
    assert reduction.leak_at(leak, 25 * INCH) == pytest.approx(6.32456 * CFM, rel=1e-5)
    assert reduction.leak_at(None, 25 * INCH) == 0.0


def test_a_leak_larger_than_the_reading_is_refused() -> None:
    with pytest.raises(InputError, match="leak is larger than the reading"):
        reduction.reduce_reading(reading(0.01), 28 * INCH, reduction.MeterReading(28 * INCH, direct=20 * CFM))


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
        reduction.MeterReading(**fields)


def test_resolution_decides_the_uncertainty_and_the_digits() -> None:
    coarse = reduction.reduce_reading(reading(0.5, flow_resolution=2.4 * CFM), 28 * INCH)
    fine = reduction.reduce_reading(reading(0.5, flow_resolution=0.024 * CFM), 28 * INCH)
    assert coarse.uncertainty == pytest.approx(2 * 2.4 * CFM / 12**0.5)
    assert coarse.number("us") == "120.0"
    assert fine.number("us") == "120.000"


def test_a_reading_away_from_the_test_pressure_says_so() -> None:
    assert reduction.is_off_pressure(25.4 * INCH, 28 * INCH)
    assert not reduction.is_off_pressure(27.9 * INCH, 28 * INCH)
    notes = reduction.reduce_reading(reading(0.5, 25.4), 28 * INCH).working.notes
    assert any("referred, not read" in note for note in notes)


@given(st.floats(0.05, 1.0), st.floats(5.0, 40.0), st.floats(5.0, 40.0))
def test_referral_there_and_back_is_the_identity(percent: float, here: float, there: float) -> None:
    flow = 240 * CFM * percent
    assert reduction.refer(reduction.refer(flow, here, there), there, here) == pytest.approx(flow)


def lift(percent: float, step: float, noise: reduction.Noise = QUIET, times: int = 1) -> reduction.Flow:
    """One lift read some times over on the 240 cfm range, whose percentage shows steps of `step` [cfm]."""
    return reduction.reduce_repeats([reading(percent, flow_resolution=step * CFM)] * times, 28 * INCH, None, noise)


def test_difference_adds_uncertainties_in_quadrature() -> None:
    a, b = lift(0.5, 0.3), lift(0.6, 0.4)
    found = reduction.difference(a, b)
    assert found.value == pytest.approx(24 * CFM)
    assert found.uncertainty == pytest.approx((a.own**2 + b.own**2) ** 0.5)
    assert "not multiplied by the number of cylinders" in found.working.notes[0]


def test_the_calibration_counts_in_a_flow_and_nearly_cancels_in_a_difference() -> None:
    noise = reduction.Noise(0.001, calibration=0.01)
    a, b = lift(0.5, 0.0, noise), lift(0.6, 0.0, noise)
    assert a.figure.uncertainty == pytest.approx(((0.002 * 120) ** 2 + (0.01 * 120) ** 2) ** 0.5 * CFM)
    same = reduction.difference(a, b).uncertainty
    assert same == pytest.approx(((0.002 * 120) ** 2 + (0.002 * 144) ** 2 + (0.01 * 24) ** 2) ** 0.5 * CFM)
    assert (reduction.difference(a, b, same_bench=False).uncertainty or 0) > 3 * (same or 0)


def test_repeats_narrow_the_scatter_but_not_the_instruments() -> None:
    noise = reduction.Noise(0.004)
    once, four = lift(0.5, 1.2, noise), lift(0.5, 1.2, noise, times=4)
    steps = 2 * 1.2 / 12**0.5
    assert once.own == pytest.approx((steps**2 + (2 * 0.004 * 120) ** 2) ** 0.5 * CFM)
    assert four.own == pytest.approx((steps**2 + (2 * 0.004 * 120 / 2) ** 2) ** 0.5 * CFM)
    assert four.figure.working.givens[0].symbol == "Q_1"


def test_few_repeats_widen_by_students_t() -> None:
    share, freedom = pooled_repeatability([[100.0, 101.0, 99.0], [50.0, 50.5], [7.0]])
    assert freedom == 3
    assert share == pytest.approx(((2 * 0.01**2 + 2 * (0.25 / 50.25) ** 2) / 3) ** 0.5)
    assert reduction.Noise(share, freedom).coverage == pytest.approx(
        3.182, abs=5e-4
    )  # Student's t, 3 degrees, from memory
    assert pooled_repeatability([[1.0], []]) == (0.0, 0)


def test_a_leak_above_the_limit_of_the_bench_is_refused() -> None:
    leak = reduction.MeterReading(14 * INCH, direct=2.0 * CFM)
    reduction.check_leak(leak, 28 * INCH, 2.83 * CFM)
    with pytest.raises(InputError, match="above this bench's limit"):
        reduction.check_leak(leak, 28 * INCH, 2.82 * CFM)


def test_no_reading_is_no_lift() -> None:
    with pytest.raises(InputError, match="no reading"):
        reduction.reduce_repeats([], 28 * INCH, None, reduction.Noise())


def test_velocity_needs_an_area() -> None:
    with pytest.raises(InputError, match="more than nought"):
        reduction.mean_velocity(1.0, 0.0)
    assert (
        reduction.mean_velocity(parse("250 cfm", "flow").value, parse("2.25 in2", "area").value).number("us") == "266.7"
    )


def repeated(*percents: float, r: float = 0.0) -> reduction.Flow:
    """A lift read several times on a bench that repeats within r."""
    return reduction.reduce_repeats([reading(p) for p in percents], 28 * INCH, None, reduction.Noise(repeatability=r))


def test_repeats_that_scatter_beyond_the_bench_widen_by_their_own_spread() -> None:
    """By hand: 200 and 220 of a mean of 210: s = 14.14, t of one degree of freedom 12.706, /√2 = 127; not ± 1.6 %."""
    found = repeated(0.50, 0.55, r=0.002)
    assert (found.figure.uncertainty or 0) / found.value == pytest.approx(12.7062 * 0.0707107 / 1.05 / 2**0.5, rel=1e-3)
    assert "scatter more than the bench does" in " ".join(found.figure.working.notes)
    alike = repeated(0.500, 0.501, r=0.002)
    assert (alike.figure.uncertainty or 0) / alike.value < 0.01
    assert not any("scatter more" in note for note in alike.figure.working.notes)


def test_repeats_on_a_bench_nobody_knows_count_by_themselves() -> None:
    """Three repeats: s/√3 with t of two degrees of freedom, 4.303."""
    values = (0.50, 0.51, 0.505)
    found = repeated(*values)
    own = float(np.std(values, ddof=1)) / np.mean(values)
    assert (found.figure.uncertainty or 0) / found.value == pytest.approx(4.3027 * own / 3**0.5, rel=0.02)


def test_the_interval_holds_the_truth_when_the_bench_scatters_as_its_card_says_and_when_it_does_not() -> None:
    """Simulated repeats: 95 in 100 intervals hold the truth on a sound bench; on one ten times worse, nine in ten still."""
    rng = np.random.default_rng(5)
    for true, least in ((0.002, 0.93), (0.02, 0.90)):
        held = 0
        for _ in range(400):
            found = repeated(*(0.5 * (1 + true * rng.standard_normal(3))), r=0.002)
            held += abs(found.value - 0.5 * 240 * CFM) <= (found.figure.uncertainty or 0)
        assert held / 400 >= least


@pytest.mark.parametrize("inches", [10.0, 13.9, 57.0])
def test_a_reading_too_far_from_the_test_pressure_is_refused(inches: float) -> None:
    with pytest.raises(InputError, match="too far apart to refer") as refused:
        reduction.check_referable(inches * INCH, 28 * INCH)
    assert refused.value.field == "pressure"
    reduction.check_referable(23 * INCH, 28 * INCH)
