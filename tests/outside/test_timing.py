"""Timing sums, port angles, time-area and headroom against closed forms and facts of the trade. Each case says which."""

from __future__ import annotations

from math import cos, degrees, pi, radians, sin, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.units import from_unit, to_unit
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.engine import headroom
from longbreath.core.timing import closing as closing_rules
from longbreath.core.timing import time_area, wheel

MM = 0.001


def angles(**values: float) -> dict[str, float]:
    return {name: radians(value) for name, value in values.items()}


def in_degrees(figures: dict[str, object]) -> dict[str, float]:
    return {key: degrees(f.value) for key, f in figures.items()}  # type: ignore[attr-defined]


def test_poppet_valves_add_up() -> None:
    """First principles: 12 BTDC / 48 ABDC, 54 BBDC / 14 ATDC; overlap = (dI + dE)/2 − 2·LSA."""
    sheet = wheel.Sheet("poppet", angles(intake_opens=12, intake_closes=48, exhaust_opens=54, exhaust_closes=14))
    found = in_degrees(
        {**wheel.port_figures(sheet, "intake"), **wheel.port_figures(sheet, "exhaust"), **wheel.pair_figures(sheet)}
    )
    assert found == pytest.approx(
        {
            "intake-duration": 240,
            "intake-centre": 108,
            "exhaust-duration": 248,
            "exhaust-centre": 110,
            "overlap": 26,
            "separation": 109,
            "advance": 1,
        }
    )
    assert found["overlap"] == pytest.approx((240 + 248) / 2 - 2 * 109)


@pytest.mark.parametrize(("opens", "closes", "total"), [(145, 65, 210), (132, 58, 190), (-5, 220, 215)])
def test_a_disc_is_open_for_the_sum_of_its_parts(opens: float, closes: float, total: float) -> None:
    """Facts of the trade (common practice, no source): total = before + after top dead centre."""
    sheet = wheel.Sheet("disc", angles(intake_opens=opens, intake_closes=closes))
    assert degrees(wheel.opening(sheet, "intake").duration) == pytest.approx(total)


def test_a_rotary_stroke_is_270_degrees_of_its_shaft() -> None:
    """First principles: 32 ATDC / 40 ABDC is 278°; 75 BBDC / 38 ATDC is 383°; overlap 6°."""
    sheet = wheel.Sheet("rotary", angles(intake_opens=32, intake_closes=40, exhaust_opens=75, exhaust_closes=38))
    assert degrees(wheel.opening(sheet, "intake").duration) == pytest.approx(278)
    assert degrees(wheel.opening(sheet, "exhaust").duration) == pytest.approx(383)
    assert degrees(wheel.pair_figures(sheet)["overlap"].value) == pytest.approx(6)


@given(st.floats(-20, 20), st.floats(100, 160), st.floats(40, 80))
def test_a_false_dead_centre_moves_both_parts_and_keeps_the_total(false: float, opens: float, closes: float) -> None:
    """First principles: what one part gains the other loses; a stop finds the wheel's error exactly."""
    stop = radians(60)
    offset = wheel.dead_centre_figure(stop - radians(false), stop + radians(false)).value
    assert degrees(offset) == pytest.approx(false, abs=1e-9)
    seen = wheel.Sheet("disc", angles(intake_opens=opens - false, intake_closes=closes + false), offset)
    assert degrees(seen.read("intake_opens") or 0) == pytest.approx(opens)
    assert degrees(seen.read("intake_closes") or 0) == pytest.approx(closes)
    assert degrees(wheel.opening(seen, "intake").duration) == pytest.approx(opens + closes)


def test_parts_that_miss_the_total_are_named() -> None:
    """Facts of the trade (common practice): parts that do not add up were misread or taken from a false dead centre."""
    sheet = wheel.Sheet("disc", angles(intake_opens=145, intake_closes=65), totals=angles(intake=200))
    (found,) = wheel.findings(sheet)
    assert degrees(found.gap) == pytest.approx(10)
    assert "10.0° too much" in found.words
    assert wheel.findings(wheel.Sheet("disc", sheet.readings, totals=angles(intake=209.5))) == ()


def test_a_piston_port_stands_even_about_dead_centre() -> None:
    """First principles: the piston opens and closes at the same depth, so an uneven port means a false wheel."""
    uneven = wheel.Sheet("piston", angles(exhaust_opens=90, exhaust_closes=84))
    (found,) = wheel.findings(uneven)
    assert "false by 3.0°" in found.words
    put_right = wheel.Sheet("piston", uneven.readings, radians(3.0))
    assert wheel.findings(put_right) == ()
    assert degrees(wheel.opening(put_right, "exhaust").duration) == pytest.approx(186)


def test_port_angle_is_the_root_of_the_slider_crank() -> None:
    """scipy root of x(θ) = 29 mm, stroke 54, rod 105 mm: 86.7740°."""

    def depth(angle: float) -> float:
        return 27 + 105 - 27 * cos(angle) - sqrt(105**2 - 27**2 * sin(angle) ** 2)

    root = brentq(lambda a: depth(a) - 29, 0.1, 3.0)
    found = wheel.port_angle(29 * MM, 54 * MM, 105 * MM).value
    assert found == pytest.approx(root, rel=1e-9)
    assert degrees(found) == pytest.approx(86.7740, abs=1e-3)
    assert wheel.piston_depth(found, 54 * MM, 105 * MM) == pytest.approx(29 * MM)


@given(st.floats(0.001, 6.28), st.floats(0.01, 0.3))
def test_arc_and_degrees_are_each_others_inverse(turned: float, radius: float) -> None:
    """First principles: s = φ·r, within a turn."""
    arc = turned * radius
    assert wheel.arc_length(wheel.arc_angle(arc, radius).value, radius).value == pytest.approx(arc)


def test_time_area_of_a_trapezoid() -> None:
    """Closed form confirmed by quadrature: ramps of 40°, dwell 90°, 1200 mm², 6000 rpm, 400 cm³."""
    found = time_area.trapezoid(radians(40), radians(90), radians(40), 1200e-6)
    by_quadrature = quad(lambda a: 1200 * min(1, a / 40, (170 - a) / 40), 0, 170, points=[40, 130])[0]
    assert degrees(found) * 1e6 == pytest.approx(by_quadrature, rel=1e-9)
    mean, area, specific = time_area.figures(found, radians(170), 6000 * RPM, 400e-6, "evenly")
    assert mean.value * 1e6 == pytest.approx(917.647, rel=1e-5)
    assert to_unit(area.value, "time_area", "mm²·s") == pytest.approx(4.33333, rel=1e-5)
    assert specific.value == pytest.approx(0.0108333, rel=1e-5)


def test_time_area_of_a_piston_port() -> None:
    """scipy quad: window 38 mm wide, 25 mm high to bottom dead centre, and one that narrows to 30 mm; 11,000 rpm, 124.8 cm³."""
    even = time_area.piston_port(29 * MM, 54 * MM, 105 * MM, 38 * MM)
    narrows = time_area.piston_port(29 * MM, 54 * MM, 105 * MM, 38 * MM, 30 * MM)
    assert degrees(even) * 1e6 == pytest.approx(116103, rel=1e-5)
    assert degrees(narrows) * 1e6 == pytest.approx(106381, rel=1e-5)
    specific = time_area.figures(even, radians(186.452), 11000 * RPM, 124.8e-6, "window")[2]
    assert specific.value == pytest.approx(0.0140956, rel=1e-4)


def test_a_disc_that_hardly_opens_is_a_triangle() -> None:
    """First principles: a window of 50° uncovered for 60° in all reaches 60 % of its area."""
    assert time_area.disc_window(radians(60), radians(50), 1.0) == pytest.approx(0.6 * radians(60) / 2)
    assert time_area.disc_window(radians(210), radians(46), 1.0) == pytest.approx(radians(164))


def test_a_low_valve_has_the_time_area_of_its_curtain() -> None:
    """Closed form: while the curtain is the smaller, ∫ n·π·D·L·sin²(πφ/θ) dφ = n·π·D·L·θ/2."""
    gear = ValveGear(2, 0.033, 0.029, 0.0055)
    peak = gear.switch_over * 0.9
    assert time_area.poppet(4.0, peak, gear) == pytest.approx(2 * pi * 0.033 * peak * 2.0, rel=1e-6)


@pytest.mark.parametrize(
    ("inlet", "closes", "verdict"),
    [
        (0.07, 53, "at the usual limit"),
        (0.07, 45, "on the safe side"),
        (0.07, 62, "late"),
        (0.22, 63, "at the usual limit"),
        (0.22, 86, "beyond what has been run"),
    ],
)
def test_late_closing_by_inlet_length(inlet: float, closes: float, verdict: str) -> None:
    """Facts of the trade (common practice, no source): 55° on 6–8 cm, some 10° more on 20 cm, 85° as an extreme."""
    found = closing_rules.judge_closing(radians(closes), inlet, 171e-6)
    assert found.verdict == verdict
    assert degrees(found.limit.value) == pytest.approx(55 if inlet < 0.1 else 65)
    assert "Common practice" in found.limit.working.source


@pytest.mark.parametrize(("bars", "low", "high"), [(2, 14, 15), (3, 28.5, 29.5)])
def test_where_sensors_top_out(bars: float, low: float, high: float) -> None:
    """Facts of the trade (common practice, no source): a 2-bar sensor near 14 to 15 psi, a 3-bar near 29."""
    ceiling, _ = headroom.sensor_figures(bars * 1e5, headroom.pressure_at(0), 0.0)
    assert low <= to_unit(ceiling.value, "pressure", "psi") <= high


@pytest.mark.parametrize(("altitude", "pascals"), [(0, 101325), (1500, 84556), (3000, 70109)])
def test_pressure_of_the_standard_atmosphere(altitude: float, pascals: float) -> None:
    """International Standard Atmosphere, table values from memory."""
    assert headroom.pressure_at(altitude) == pytest.approx(pascals, rel=5e-4)


def test_injector_duty_from_mass_and_time() -> None:
    """First principles: 160 kW at 280 g/kWh is 44.8 kg/h; four of 280 cm³/min at 745 kg/m³ flow 50.06 kg/h in all."""
    found = headroom.injector_duty(
        160e3, from_unit(280, "consumption", "g/kWh"), 4, 280e-6 / 60, 3e5, 3e5, 745.0, 6000 * RPM, 0.001
    )
    assert found.value == pytest.approx(44.8 / (4 * 0.28 * 60 * 0.745) + 0.001 / 0.020, rel=1e-6)
