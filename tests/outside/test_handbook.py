"""Bench, sections, engine and tuning against independent values. Each case says where its value is from."""

from __future__ import annotations

from math import pi, radians

import pytest
from shapely.geometry import Point, box

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.units import from_unit, parse, to_unit
from longbreath.core.bench import reduction
from longbreath.core.engine import demand as engine_demand
from longbreath.core.engine import tuning
from longbreath.core.path import sections

CFM = from_unit(1.0, "flow", "cfm")
INCH = from_unit(1.0, "column", "inH2O")


@pytest.mark.parametrize(
    ("inches", "factor"), [(3, 3.05505), (10, 1.67332), (15, 1.36626), (23, 1.10335), (25, 1.05830)]
)
def test_referral_to_28_inches(inches: float, factor: float) -> None:
    """First principles (Bernoulli): sqrt(28/dp)."""
    assert reduction.refer(1.0, inches * INCH, 28 * INCH) == pytest.approx(factor, rel=1e-5)


def test_range_percentage_leak_and_referral_together() -> None:
    """Common practice, no source: 73.4 % of 300 cfm at 25 in, leak 42 % of 30 cfm: 219.703 cfm at 28 in."""
    leak = reduction.MeterReading(25 * INCH, 30 * CFM, 0.42)
    found = reduction.reduce_reading(reduction.MeterReading(25 * INCH, 300 * CFM, 0.734), 28 * INCH, leak)
    assert to_unit(found.value, "flow", "cfm") == pytest.approx(219.703, rel=1e-5)


@pytest.mark.parametrize(("cfm", "area", "fps"), [(250, 2.25, 266.667), (300, 2.75, 261.818), (180, 1.6, 270.0)])
def test_mean_velocity_is_2_4_cfm_per_square_inch(cfm: float, area: float, fps: float) -> None:
    """Facts of the trade (common practice, no source): ft/s = cfm × 2.4 ÷ in²."""
    found = reduction.mean_velocity(cfm * CFM, from_unit(area, "area", "in2"))
    assert to_unit(found.value, "velocity", "ft/s") == pytest.approx(fps, rel=1e-5)


@pytest.mark.parametrize(("w", "h", "r"), [(50, 32, 8), (46.2, 33.8, 9), (40, 40, 20)])
def test_rounded_rectangle_against_shapely(w: float, h: float, r: float) -> None:
    """shapely 2.1: a smaller box grown by the corner radius."""
    outline = (
        box(0, 0, w - 2 * r, h - 2 * r).buffer(r, quad_segs=512) if w > 2 * r else Point(0, 0).buffer(r, quad_segs=512)
    )
    found = sections.rounded_rectangle(w / 1000, h / 1000, r / 1000)
    assert found.area * 1e6 == pytest.approx(outline.area, rel=1e-5)
    assert found.perimeter * 1e3 == pytest.approx(outline.length, rel=1e-5)


def test_rounded_rectangle_of_the_reference() -> None:
    """First principles and shapely: 50 × 32 mm, r 8: 1545.06 mm², 150.265 mm, Dh 41.1289 mm."""
    found = sections.rounded_rectangle(0.050, 0.032, 0.008)
    assert (found.area * 1e6, found.perimeter * 1e3, found.hydraulic_diameter * 1e3) == pytest.approx(
        (1545.06, 150.265, 41.1289), rel=1e-5
    )


def test_squashed_tube_keeps_its_perimeter() -> None:
    """First principles, shapely: 63.5 × 1.6 mm squashed to 45 mm outside: 2586.98 mm², share 0.905874, Dh 54.6242 mm."""
    found = sections.flattened_tube(0.0635, 0.0016, 0.045)
    before = sections.round_section(0.0603)
    assert found.area * 1e6 == pytest.approx(2586.98, rel=1e-5)
    assert found.area / before.area == pytest.approx(0.905874, rel=1e-5)
    assert found.hydraulic_diameter * 1e3 == pytest.approx(54.6242, rel=1e-5)
    assert found.perimeter == pytest.approx(before.perimeter)


@pytest.mark.parametrize(("od", "mm2"), [("2.5 in", 2846.13), ("3 in", 4173.70), ("4 in", 7588.91)])
def test_inside_area_of_a_tube(od: str, mm2: float) -> None:
    """First principles: wall 0.065 in."""
    _, area = sections.tube_figures(parse(od, "length").value, parse("0.065 in", "length").value)
    assert area.value * 1e6 == pytest.approx(mm2, rel=1e-5)


V8 = engine_demand.EngineGeometry(0.1016, 0.088392, 8)


def test_displacement_and_piston_speed() -> None:
    """First principles: 4.000 × 3.480 in, eight cylinders: 349.848 in³, 19.1516 m/s at 6,500 rpm."""
    assert to_unit(V8.displacement, "volume", "in3") == pytest.approx(349.848, rel=1e-5)
    assert V8.mean_piston_speed(6500 * RPM) == pytest.approx(19.1516, rel=1e-5)


@pytest.mark.parametrize(("filling", "cfm"), [(0.85, 559.291), (1.0, 657.989), (1.1, 723.788)])
def test_air_demand(filling: float, cfm: float) -> None:
    """First principles: cfm = in³·rpm·VE/3456."""
    assert to_unit(engine_demand.air_demand(V8, 6500 * RPM, filling).value, "flow", "cfm") == pytest.approx(
        cfm, rel=1e-5
    )


def test_gas_velocity_by_the_piston_area_rule() -> None:
    """First principles: 2.25 in² port: 106.963 m/s."""
    assert engine_demand.gas_velocity(V8, 6500 * RPM, from_unit(2.25, "area", "in2")).value == pytest.approx(
        106.963, rel=1e-5
    )


def test_mach_index_of_a_valve() -> None:
    """Taylor's form, from memory: Dv 51.308 mm, C 0.35, 25 degC: 0.619861."""
    found = engine_demand.mach_index(V8, 6500 * RPM, pi / 4 * 0.051308**2, 298.15, 0.35)
    assert found.value == pytest.approx(0.619861, rel=1e-5)


def test_horsepower_from_torque_and_speed() -> None:
    """Definition: hp = lb-ft·rpm/5252.113."""
    found = engine_demand.power_from_torque(from_unit(300, "torque", "lb-ft"), 5252.113 * RPM)
    assert to_unit(found.value, "power", "hp") == pytest.approx(300.0, rel=1e-6)


def test_air_for_500_hp() -> None:
    """First principles: 0.50 lb/(hp h), AFR 12.5: 0.393743 kg/s, 692.868 cfm at 1.204118 kg/m³."""
    found = engine_demand.section_for_power(
        from_unit(500, "power", "hp"), 6500 * RPM, 8, 80.0, from_unit(0.5, "consumption", "lb/hph"), 12.5, 1.204118
    )
    steps = {step.symbol: step.value for step in found.working.steps}
    assert steps["ṁ"] == pytest.approx(0.393743, rel=1e-5)
    assert to_unit(steps["Q"], "flow", "cfm") == pytest.approx(692.868, rel=1e-5)
    assert found.value == pytest.approx(4 * steps["Q"] / (8 * 80.0))


def test_section_and_velocity_are_one_law() -> None:
    """Round trip: an engine filled to its displacement moves at the velocity its section was chosen for."""
    demand = engine_demand.air_demand(V8, 6500 * RPM, 1.0).value
    area = 4 * demand / (8 * 80.0)
    assert engine_demand.gas_velocity(V8, 6500 * RPM, area).value == pytest.approx(80.0)


def test_reflected_wave_rule() -> None:
    """From memory: ECD 410°, 1300 ft/s, 6500 rpm, third return, 1.7 in: 12.8167 in."""
    kelvin = (1300 * 0.3048) ** 2 / (1.4 * 287.05)
    found = tuning.reflected_wave_length(6500 * RPM, radians(280.0), kelvin, 3, 1.7 * 0.0254)
    assert to_unit(found.value, "length", "in") == pytest.approx(12.8167, rel=1e-4)


def test_helmholtz_rule() -> None:
    """Engelman's form, from memory, constant re-derived: 5287.44 rpm for 12 in, 2.2 in², 43.7 in³, 10.5:1, 40 degC."""
    kelvin = (1163.8688 * 0.3048) ** 2 / (1.4 * 287.05)
    area, volume = from_unit(2.2, "area", "in2"), from_unit(43.7, "volume", "in3")
    speed = tuning.helmholtz_speed(12 * 0.0254, area, volume, 10.5, kelvin)
    assert speed / RPM == pytest.approx(5287.44, rel=1e-4)
    assert tuning.helmholtz_length(speed, area, volume, 10.5, kelvin).value == pytest.approx(12 * 0.0254)


def test_a_longer_runner_is_tuned_lower_and_a_hotter_one_higher() -> None:
    """Sense: both schools, and the square root of temperature."""
    at = tuning.reflected_wave_speed(0.37, radians(248), 313, 4, 0.043)
    assert tuning.reflected_wave_speed(0.42, radians(248), 313, 4, 0.043) < at
    assert tuning.reflected_wave_speed(0.37, radians(248), 313 * 1.21, 4, 0.043) == pytest.approx(1.1 * at)
    assert tuning.reflected_wave_length(at, radians(248), 313, 4, 0.043).value == pytest.approx(0.37)
