"""The flow bench against independent codes and the reference sheet: ISO 5167, isentropic flow, Monte Carlo, shapely.

Values marked "reference sheet" were made by CoolProp 8.0, fluids 1.3 and first principles; tolerances are its own.
"""

from __future__ import annotations

from math import log10, pi, sqrt

import numpy as np
import pytest
from fluids.compressible import P_critical_flow, P_stagnation
from scipy.optimize import brentq
from shapely import Polygon

from longbreath.core.air.moist import Weather, density
from longbreath.core.basis.units import from_unit, to_unit
from longbreath.core.bench import discharge, meter, potential, reduction, stacks, traverse

CFM = from_unit(1.0, "flow", "cfm")
INCH = from_unit(1.0, "column", "inH2O")
STANDARD = Weather(293.15, 101325.0, 0.0)
DP = 28 * INCH
PLATE = meter.Orifice(0.050, 0.100)
HERE = meter.MeterAir(STANDARD, 293.15, 101325.0)


def test_orifice_against_the_reference_sheet() -> None:
    """C.iso.cfm: D 100 mm, d 50 mm, corner taps, 28 inH2O: 275.405 cfm (fluids 1.3.1), 0.05 %."""
    assert meter.orifice_flow(PLATE, DP, HERE) / CFM == pytest.approx(275.405, rel=5e-4)
    assert meter.reynolds(PLATE, 275.405 * CFM, HERE) == pytest.approx(109453, rel=5e-3)  # Sutherland’s viscosity


@pytest.mark.parametrize(
    ("rule", "expected"), [("none", 1.0), ("temperature", 0.983368), ("state", 0.948921), ("volume", 0.900451)]
)
def test_warm_meter_air(rule: str, expected: float) -> None:
    """Reference sheet C.temp: room 20 °C, meter 30 °C, 28 inH2O of suction; first principles, 1e-5."""
    air = meter.MeterAir(STANDARD, 303.15, 101325.0 - DP)
    assert air.factor(rule) == pytest.approx(expected, rel=1e-5)


def test_ideal_flow_of_a_square_inch() -> None:
    """Reference sheet: 141.604 cfm/in² isentropic, 357.610 ft/s; "146 cfm/in²" is common practice, no source: within 4 %."""
    flow = discharge.ideal_flow(0.0254**2, DP, STANDARD) / CFM
    assert flow == pytest.approx(141.604, rel=1e-5)
    assert flow == pytest.approx(146.0, rel=0.04)
    assert to_unit(discharge.ideal_velocity(DP, STANDARD), "velocity", "ft/s") == pytest.approx(357.610, rel=1e-5)


def test_an_ideal_jet_in_moist_air_against_bernoulli() -> None:
    """At a tenth of an inch of water the jet is √(2·Δp/ρ) of the moist air (first principles); lighter air is faster."""
    damp, drop = Weather(308.15, 98000.0, 0.9), 24.9
    assert discharge.ideal_velocity(drop, damp) == pytest.approx(sqrt(2 * drop / density(damp)), rel=2e-4)
    assert discharge.ideal_flow(1e-3, drop, damp) == pytest.approx(1e-3 * sqrt(2 * drop / density(damp)), rel=4e-4)


@pytest.mark.parametrize(
    ("ratio", "grams"),
    [
        (0.99, 4.79332),
        (0.931165, 12.1687),
        (0.8, 19.1056),
        (0.6, 23.0672),
        (0.528282, 23.3336),
        (0.4, 23.3336),
        (0.2, 23.3336),
    ],
)
def test_isentropic_mass_flow_and_choking(ratio: float, grams: float) -> None:
    """Reference sheet C.mdot: p0 100 kPa, T0 300 K, 1 cm², γ 1.4, by two routes; held when choked."""
    mass = 1e-4 * 100e3 / sqrt(287.05 * 300.0) * discharge.flow_function(ratio) * 1000
    assert mass == pytest.approx(grams, rel=1e-5)
    assert P_critical_flow(1.0, 1.4) == pytest.approx(0.528282, rel=1e-5)


def test_discharge_coefficients_of_the_reference_valve() -> None:
    """Reference sheet C.Cd.curt.isen: 250 cfm, D 50.8, L 12.7 mm: 0.561972; throat less stem 0.716103 incompressible."""
    gear = discharge.ValveGear(1, 0.0508, 0.0447, 0.007)
    found = discharge.valve_coefficients(250 * CFM, 0.0127, gear, DP, STANDARD)
    assert found["curtain"].value == pytest.approx(0.561972, rel=1e-5)
    assert found["throat"].value == pytest.approx(0.716103 / (1 - 0.0375783), rel=1e-5)
    assert found["share"].value == pytest.approx(found["throat"].value)
    assert gear.switch_over == pytest.approx(gear.throat_area / (pi * 0.0508), rel=1e-12)
    assert discharge.ValveGear(1, 0.0508, 0.0508 * (1 - 1e-12)).switch_over == pytest.approx(0.0508 / 4)  # C.curt=head


@pytest.mark.parametrize(("pressure", "velocity"), [(100, 12.8856), (1000, 40.6835), (2500, 64.1587), (20000, 176.383)])
def test_pitot_against_the_reference_sheet_and_the_stagnation_pressure(pressure: float, velocity: float) -> None:
    found = traverse.pitot_velocity(pressure, 101325.0, 293.15)
    assert found == pytest.approx(velocity, rel=1e-5)
    mach = found / sqrt(1.4 * 287.05 * 293.15)
    assert P_stagnation(101325.0, 293.15, 293.15 * (1 + 0.2 * mach**2), 1.4) - 101325.0 == pytest.approx(
        pressure, rel=1e-9
    )


def test_series_law_against_a_split_of_the_drop() -> None:
    """Reference sheet C.series: 300 and 500 cfm give 257.248; the split of the drop is found by root finding here."""
    assert stacks.series([300.0, 500.0]) == pytest.approx(257.248, rel=1e-5)
    assert stacks.series([280.0, 420.0, 650.0]) == pytest.approx(219.312, rel=1e-5)
    share = brentq(lambda s: 300 * sqrt(s) - 500 * sqrt(1 - s), 0.01, 0.99)
    assert stacks.series([300.0, 500.0]) == pytest.approx(300 * sqrt(share), rel=1e-9)
    assert share == pytest.approx(0.735294, rel=1e-5)
    assert stacks.alone(240.0, stacks.alone(240.0, 420.0)) == pytest.approx(420.0, rel=1e-9)
    assert stacks.alone(240.0, 420.0) == pytest.approx(292.450, rel=1e-5)


def test_uncertainty_of_a_lift_and_a_difference_against_monte_carlo() -> None:
    """First-order propagation against 200,000 draws of instruments, settings and one common scale; within 2 %."""
    rng = np.random.default_rng(11)
    n = 200_000
    step_x, step_p, r, c = 0.002, 60.0, 0.002, 0.006
    leak = reduction.MeterReading(DP, direct=1.5 * CFM, flow_resolution=0.3 * CFM)
    scale = 1 + c / 2 * rng.standard_normal(n)

    def draw(percent: float, inches: float) -> np.ndarray:
        x = percent + step_x * rng.uniform(-0.5, 0.5, n)
        p = inches * INCH + step_p * rng.uniform(-0.5, 0.5, n)
        lost = (1.5 + 0.3 * rng.uniform(-0.5, 0.5, n)) * CFM * np.sqrt(p / DP)
        return (240 * CFM * x - lost) * np.sqrt(DP / p) * (1 + r * rng.standard_normal(n)) * scale

    noise = reduction.Noise(r, calibration=c)
    flows = [
        reduction.reduce_repeats(
            [reduction.MeterReading(inches * INCH, 240 * CFM, percent, None, 240 * CFM * step_x, step_p)],
            DP,
            leak,
            noise,
        )
        for percent, inches in ((0.60, 27.0), (0.66, 28.0))
    ]
    drawn = [draw(0.60, 27.0), draw(0.66, 28.0)]
    for flow, values in zip(flows, drawn, strict=True):
        assert flow.value == pytest.approx(values.mean(), rel=1e-4)
        assert flow.figure.uncertainty == pytest.approx(2 * values.std(), rel=0.02)
    found = reduction.difference(*flows)
    assert found.uncertainty == pytest.approx(2 * (drawn[1] - drawn[0]).std(), rel=0.02)


def test_loss_and_flow_alone_against_monte_carlo() -> None:
    rng = np.random.default_rng(5)
    rest, stack = stacks.StackState("head", 252.0, 1.0), stacks.StackState("head + manifold", 215.0, 0.9)
    a, b = 252 + 0.5 * rng.standard_normal(100_000), 215 + 0.45 * rng.standard_normal(100_000)
    assert stacks.loss_figure(rest, stack).uncertainty == pytest.approx(2 * (1 - b / a).std(), rel=0.02)
    alone = 1 / np.sqrt(1 / b**2 - 1 / a**2)
    assert stacks.alone_figure(rest, stack).uncertainty == pytest.approx(2 * alone.std(), rel=0.03)


def test_facts_of_the_trade() -> None:
    """Common practice, no source: each beside the function that has to agree with it."""
    reading = reduction.MeterReading(DP, from_unit(653.2, "flow", "cfm"), 0.54)
    assert reduction.reduce_reading(reading, DP).value / CFM == pytest.approx(352.7, abs=0.05)
    # 28 to 23 in is normal for a good gain, and must be referred: Q ∝ √Δp (reference sheet C.ref.23to28)
    assert reduction.refer(1.0, 23 * INCH, DP) == pytest.approx(1.10335, rel=1e-5)
    # mean velocity in ft/s = 2.4 × cfm ÷ in²
    v = reduction.mean_velocity(250 * CFM, 2.25 * 0.0254**2)
    assert to_unit(v.value, "velocity", "ft/s") == pytest.approx(2.4 * 250 / 2.25, rel=1e-9)
    # 0.257 hp per cylinder and cfm at 28 in; the same port read at 10 in says the same
    power = potential.power_potential(250 * CFM, DP, 8).value
    assert to_unit(power, "power", "hp") == pytest.approx(514.0)
    assert potential.power_potential(250 * CFM * sqrt(10 / 28), 10 * INCH, 8).value == pytest.approx(power)
    # a manifold that is too small can take a quarter of a head's flow: it then flows about 13 % more than the head
    assert stacks.alone(0.75 * 250, 250) / 250 == pytest.approx(1.134, abs=1e-3)


def test_a_map_of_a_known_profile_has_its_mean_and_peak() -> None:
    """A turbulent one-seventh-power profile in a round pipe: mean/peak 49/60 (first principles), within 2 % on a fine grid."""
    face = traverse.round_face(0.04)
    spots = [
        traverse.TubeSpot(x, y, 80.0 * max(0.0, 1 - sqrt(x * x + y * y) / 0.02) ** (1 / 7))
        for x, y in traverse.grid(face, 15, 15)
    ]
    found = traverse.make_map(face, spots)
    assert found.mean.value == pytest.approx(80 * 49 / 60, rel=0.02)
    assert found.peak_over_mean.value == pytest.approx(60 / 49, rel=0.02)
    assert sum(cell.area for cell in found.cells) == pytest.approx(Polygon(face).area, rel=1e-9)
    assert found.flow.value == pytest.approx(found.mean.value * Polygon(face).area, rel=1e-9)
    assert log10(found.working_area.value) < log10(0.75)


def test_faces_have_the_areas_of_their_formulas() -> None:
    """Rounded rectangle w·h − (4 − π)·r²; circle within the polygon's own error."""
    area = Polygon(traverse.rectangle_face(0.046, 0.0336, 0.009)).area
    assert area == pytest.approx(0.046 * 0.0336 - (4 - pi) * 0.009**2, rel=1e-3)
    assert Polygon(traverse.round_face(0.04)).area == pytest.approx(pi / 4 * 0.04**2, rel=1e-3)
    assert Polygon(traverse.traced_face([(1, 1), (2, 1), (2, 3), (1, 3)])).area == pytest.approx(2.0)
