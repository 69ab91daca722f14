"""For each formula: limit and direction, refusals in words, round trips; and the working that comes with it."""

from __future__ import annotations

from math import pi, radians

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.air import moist
from longbreath.core.air.moist import Weather
from longbreath.core.basis import working
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.dyno import planning
from longbreath.core.engine import demand, tuning
from longbreath.core.path import sections

MOTOR = demand.EngineGeometry(0.0846, 0.0888, 4)


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


@pytest.mark.parametrize(
    ("bore", "stroke", "cylinders", "strokes", "message"),
    [
        (0.0, 0.09, 4, 4, "Bore and stroke"),
        (0.08, 0.09, 0, 4, "at least one cylinder"),
        (0.08, 0.09, 4, 3, "are 4 or 2"),
    ],
)
def test_engines_that_cannot_be_are_refused(
    bore: float, stroke: float, cylinders: int, strokes: int, message: str
) -> None:
    with pytest.raises(InputError, match=message):
        demand.EngineGeometry(bore, stroke, cylinders, strokes)


def test_a_two_stroke_breathes_twice_as_often() -> None:
    four, two = (demand.EngineGeometry(0.08, 0.08, 2, strokes) for strokes in (4, 2))
    assert demand.air_demand(two, 500.0, 1.0).value == pytest.approx(2 * demand.air_demand(four, 500.0, 1.0).value)


@given(st.floats(1000, 9000), st.floats(1.01, 2.0))
def test_air_demand_and_velocity_grow_in_proportion_to_speed(rpm: float, factor: float) -> None:
    slow, fast = rpm * RPM, rpm * factor * RPM
    assert demand.air_demand(MOTOR, fast, 0.9).value == pytest.approx(
        factor * demand.air_demand(MOTOR, slow, 0.9).value
    )
    assert demand.gas_velocity(MOTOR, fast, 1e-3).value == pytest.approx(
        factor * demand.gas_velocity(MOTOR, slow, 1e-3).value
    )


def test_mach_index_falls_in_hotter_gas_and_in_a_larger_section() -> None:
    at = demand.mach_index(MOTOR, 700.0, 1.45e-3, 313.0).value
    assert demand.mach_index(MOTOR, 700.0, 1.45e-3, 330.0).value < at
    assert demand.mach_index(MOTOR, 700.0, 1.60e-3, 313.0).value < at
    with pytest.raises(InputError, match="between 0 and 1"):
        demand.mach_index(MOTOR, 700.0, 1.45e-3, 313.0, 0.0)


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda: demand.air_demand(MOTOR, 0.0, 0.9), "speed must be more than nought"),
        (lambda: demand.air_demand(MOTOR, 100.0, 4.0), "between 0 and 300 %"),
        (lambda: demand.gas_velocity(MOTOR, 100.0, 0.0), "more than nought"),
        (lambda: demand.section_for_power(0.0, 1.0, 4, 80.0, 1e-7, 12.8, 1.2), "more than nought"),
        (lambda: demand.power_from_torque(1.0, -1.0), "cannot be negative"),
        (lambda: sections.round_section(0.0), "diameter must be more than nought"),
        (lambda: sections.rounded_rectangle(0.05, 0.0, 0.0), "more than nought"),
        (lambda: sections.rounded_rectangle(0.05, 0.03, 0.016), "half the shorter side"),
        (lambda: sections.tube_inside(0.05, 0.025), "less than half"),
        (lambda: sections.flattened_tube(0.05, 0.002, 0.004), "more than two walls"),
        (lambda: sections.flattened_tube(0.05, 0.002, 0.051), "no more than the outside diameter"),
        (lambda: tuning.reflected_wave_length(0.0, radians(248), 313, 4, 0.04), "more than nought"),
        (lambda: tuning.reflected_wave_length(400, radians(248), 313, 9, 0.04), "from 1 to 6"),
        (lambda: tuning.reflected_wave_length(400, radians(90), 313, 4, 0.04), "between 150 and 360"),
        (lambda: tuning.helmholtz_length(400, 1e-3, 5e-4, 1.0, 313), "more than 1"),
        (lambda: tuning.helmholtz_length(400, 0.0, 5e-4, 10.0, 313), "more than nought"),
        (lambda: planning.provable(1.0, 1, ""), "At least two pulls"),
        (lambda: planning.provable(0.0, 3, ""), "repeatability must be"),
    ],
)
def test_each_formula_refuses_what_cannot_be(call: object, message: str) -> None:
    with pytest.raises(InputError, match=message):
        call()  # type: ignore[operator]


@given(st.floats(0.02, 0.2), st.floats(0.0005, 0.004), st.floats(0.3, 1.0))
def test_squashing_keeps_the_perimeter_and_never_gains_area(od: float, wall: float, share: float) -> None:
    minor = 2 * wall + share * (od - 2 * wall)
    if not 2 * wall < minor <= od:
        return
    flat, before = sections.flattened_tube(od, wall, minor), sections.round_section(od - 2 * wall)
    assert flat.perimeter == pytest.approx(before.perimeter)
    assert 0 < flat.area <= before.area * (1 + 1e-12)


def test_a_rounded_rectangle_becomes_a_circle_and_a_rectangle() -> None:
    circle, sharp = sections.rounded_rectangle(0.04, 0.04, 0.02), sections.rounded_rectangle(0.04, 0.03, 0.0)
    assert circle.area == pytest.approx(sections.round_section(0.04).area)
    assert circle.equal_area_diameter == pytest.approx(0.04)
    assert (sharp.area, sharp.perimeter) == pytest.approx((0.0012, 0.14))


@given(st.floats(2000, 8000), st.floats(0.0008, 0.003))
def test_helmholtz_length_and_speed_are_inverse(rpm: float, area: float) -> None:
    length = tuning.helmholtz_length(rpm * RPM, area, 5e-4, 11.2, 313).value
    assert tuning.helmholtz_speed(length, area, 5e-4, 11.2, 313) == pytest.approx(rpm * RPM)


def test_a_later_reflection_wants_a_shorter_runner() -> None:
    lengths = [tuning.reflected_wave_length(430, radians(248), 313, k, 0.043).value for k in range(1, 7)]
    assert lengths == sorted(lengths, reverse=True)


def test_provable_gain_scales_with_the_noise_and_explains_itself() -> None:
    one, two = planning.provable(1.0, 3, "12 repeats"), planning.provable(2.0, 3, "12 repeats")
    assert two.value == pytest.approx(2 * one.value)
    assert [step.symbol for step in one.working.steps] == ["se", "ν", "δ"]
    assert one.working.rows == ("12 repeats",)


EXAMPLE = Figure(
    "area",
    "Area",
    0.0014516,
    "area",
    Working(
        "Area",
        (Given("D", "diameter", 0.043, "length", "calliper"), Given("n", "words", "six pulls")),
        (Step("A", "π/4·D²", pi / 4 * 0.043**2, "area"),),
        "plane geometry",
        ("note",),
        ("row 1",),
    ),
    0.00001,
)


def test_a_working_survives_being_kept_as_json() -> None:
    assert working.from_dict(EXAMPLE.to_dict()["working"]) == EXAMPLE.working


def test_a_figure_shows_itself_in_both_systems_with_the_digits_it_may() -> None:
    assert EXAMPLE.text("metric") == "1\u202f452 ± 10 mm²"
    assert EXAMPLE.text("us") == "2.250 ± 0.016 in²"
    assert EXAMPLE.to_dict()["display"] == {"us": EXAMPLE.text("us"), "metric": EXAMPLE.text("metric")}


def test_lines_of_a_working_show_words_and_quantities() -> None:
    shown = [working.shown(given, "metric") for given in EXAMPLE.working.givens]
    assert shown == ["43\u00a0mm", "six pulls"]
