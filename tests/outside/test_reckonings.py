"""The quick reckoner's entries of geometry, losses, timing and headroom, asked in the words people write."""

from __future__ import annotations

from math import exp, pi, sqrt

import pytest

from longbreath.core.basis.constants import INCH_OF_WATER
from longbreath.core.basis.register import all_reckonings, reckoning_named
from longbreath.core.basis.working import Figure


def ask(name: str, **texts: str) -> dict[str, Figure]:
    entry = reckoning_named(name)
    answer = entry.answer({**{f.name: f.example for f in entry.fields}, **texts})
    assert answer.errors == {}
    return {f.name: f for f in answer.figures}


GEOMETRY = "first principles, shapely, fluids and closed forms: the reference sheet's sections D and G"
CFM = 0.3048**3 / 60
INCH2 = 0.0254**2
COLUMN = 0.0254 * 1000 * 9.80665
DEGREE = pi / 180
NU = 1.8206e-5 / 1.204118
"""Kinematic viscosity of air at 20 °C and 1013.25 hPa [m2/s] by CoolProp, as the reference sheet C.iso has it."""
RE_200000 = f"{2e5 * NU * pi * 0.0762 / 4 * 1000} L/s"
"""The flow that has a Reynolds number of 200,000 in 76.2 mm."""

# name, inputs, which figure, expected SI value, relative tolerance, where the value comes from
CASES = [
    # --- flow bench
    ("bench_flow", {}, "flow", (0.734 * 300 - 12.6) * sqrt(28 / 25) * CFM, 1e-6, "by hand: range, leak, Q ∝ √Δp"),
    ("mean_velocity", {}, "mean_velocity", 2.4 * 250 / 2.25 * 0.3048, 1e-6, "common practice: 2.4 cfm per in²"),
    (
        "orifice_flow",
        {"suction": "0 Pa", "meter_temperature": "20 C"},
        "flow",
        0.156507 / 1.204118,
        5e-4,
        "fluids 1.3.1, ISO 5167-2 (reference sheet C.iso.m)",
    ),
    ("meter_temperature", {}, "flow", 200 * CFM * sqrt(293.15 / 303.15), 1e-6, "first principles"),
    ("discharge_coefficient", {}, "curtain", 0.561972, 1e-5, "reference sheet C.Cd.curt.isen"),
    ("discharge_coefficient", {}, "throat", 0.716103 / (1 - 0.0375783), 1e-5, "reference sheet C.Cd, C.compr"),
    ("ideal_flow", {}, "flow", 141.604 * CFM, 1e-5, "reference sheet; CoolProp within 0.1 %"),
    ("ideal_flow", {}, "velocity", 357.610 * 0.3048, 1e-5, "reference sheet"),
    ("stack", {}, "alone", CFM / sqrt(1 / 240**2 - 1 / 292.45**2), 1e-6, "series law: drops add, first principles"),
    ("back_pressure", {}, "back_pressure", 28 * COLUMN * (250 / 320) ** 2, 1e-6, "Δp ∝ Q², first principles"),
    ("pitot_velocity", {}, "velocity", 64.1587, 1e-5, "reference sheet C.pitot.2500; fluids"),
    ("porting_hours", {}, "expected", 11 / 3 * 3600, 1e-6, "by hand: 9 cfm in 3 h, 11 cfm short"),
    ("power_potential", {}, "power_potential", 514.0 * 745.69987, 1e-5, "common practice: 0.257 hp per cfm, cylinder"),
    ("exhaust_to_intake", {}, "exhaust_to_intake", 165 / 230, 1e-9, "definition"),
    ("percentage_gain", {}, "flow_difference", 10.5 * CFM, 1e-6, "by hand: 3.5 % of 300 cfm"),
    # --- engine and air
    (
        "air_demand",
        {},
        "air_demand",
        121.844 * 6500 * 0.95 / 3456 * CFM,
        1e-4,
        "cfm = in³·rpm·VE/3456, common practice",
    ),
    (
        "mach_index",
        {},
        "gas_velocity",
        2 * 0.0888 * 6500 / 60 * pi / 4 * 0.0846**2 / 1450e-6,
        1e-9,
        "by hand: S_p·A_p/A",
    ),
    ("mach_index", {}, "mach_index", 74.5868 / 354.747, 3e-4, "over √(1.4·287.05·313.15), by hand"),
    ("mach_index", {"temperature": "20 C"}, "mach_index", 74.5868 / 343.24, 3e-4, "over 343.2 m/s (CoolProp, 20 °C)"),
    (
        "section_for_power",
        {},
        "section",
        4 * (160 * 0.280 / 3600 * 12.8 / (101300 / (287.05 * 293.15))) / (4 * 80),
        1e-6,
        "by hand: fuel, air, density, one stroke of four",
    ),
    (
        "runner_reflected",
        {},
        "reflected_wave",
        354.747 * (720 - 248 - 30) / 360 * 60 / 4000 / 12 - 0.0215,
        1e-5,
        "rule from memory, by hand with 354.75 m/s at 40 °C",
    ),
    (
        "runner_helmholtz",
        {},
        "helmholtz",
        1450e-6 / (499e-6 * 12.2 / 20.4) * (354.747 / (2 * pi * 140)) ** 2,
        1e-5,
        "lumped resonator at 2.1 times 4000 rpm = 140 Hz, first principles",
    ),
    (
        "correction_factor",
        {"pressure": "1013.25 hPa"},
        "correction_factor",
        0.976559,
        2e-4,
        "reference sheet B.W1.sae: J1349 from memory, vapour by PsychroLib",
    ),
    ("power_from_torque", {}, "power", 300 * 745.69987 * 5252 / 5252.113, 1e-6, "definition: hp = lb-ft·rpm/5252.113"),
    # --- path and faces
    ("tube_inside", {}, "area", pi / 4 * 2.37**2 * INCH2, 1e-9, "first principles"),
    ("tube_flattened", {}, "area", 2586.98e-6, 1e-5, "reference sheet, shapely"),
    ("tube_flattened", {}, "hydraulic_diameter", 54.6242e-3, 1e-5, "reference sheet, shapely"),
    (
        "loss_cone",
        {"flow": RE_200000, "length": "103.822 mm", "roughness": "0 mm"},
        "k",
        0.0191301,
        5e-3,
        "fluids: Rennels, 7° included (reference sheet D.K.diff.7)",
    ),
    (
        "loss_friction",
        {"flow": RE_200000, "diameter": "76.2 mm", "roughness": "0 mm"},
        "k",
        0.0156372 / 0.0762,
        2e-3,
        "Colebrook's own root (reference sheet D.f.0.0.76.2), f·L/D of one metre",
    ),
    ("loss_ring", {}, "k", 0.0476690, 1e-4, "Idelchik's thin orifice, from memory, by hand for σ = 0.950241"),
    ("loss_measured", {"flow": "200 L/s"}, "drop", 4800.0, 1e-9, "common practice: four times at twice the flow"),
    (
        "exhaust_cooling",
        {"hot": "720 C", "heat_transfer": f"{0.110 * 1.33 * 290 / 0.33 / (pi * 0.0635 * 2)} W/m2K"},
        "after",
        293.15 + 700 * exp(-1),
        1e-6,
        "first principles: one transfer unit leaves 1/e of the difference",
    ),
    # --- timing and headroom
    (
        "time_area_poppet",
        {"peak_lift": "1 mm", "stem_diameter": ""},
        "time_area",
        2 * pi * 33e-3 * 0.5e-3 * 224 * DEGREE / (6000 * pi / 30),
        1e-4,
        "closed form: the mean of sin² is a half, and a low lift is all curtain",
    ),
    (
        "closing_delay",
        {"inlet_length": "70 mm"},
        "closing_limit",
        55 * DEGREE,
        1e-9,
        "common practice: 55° on 6 to 8 cm",
    ),
    (
        "closing_delay",
        {"inlet_length": "25 cm"},
        "closing_limit",
        65 * DEGREE,
        1e-9,
        "common practice: ten more on 20 cm",
    ),
    (
        "injector_duty",
        {},
        "duty",
        160 * 0.280 / 3600 / 4 / (0.28e-3 / 60 * 745) + 0.001 / 0.020,
        1e-6,
        "by hand: fuel over what one injector flows, and its dead time in 20 ms",
    ),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "area", 3141.59e-6, 1e-5, GEOMETRY),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "perimeter", 206.931e-3, 1e-5, GEOMETRY),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "hydraulic_diameter", 60.7272e-3, 1e-5, GEOMETRY),
    ("section_d", {"width": "40 mm", "height": "20 mm"}, "area", pi * 0.02**2 / 2, 1e-9, GEOMETRY),
    ("section_rectangle", {}, "area", 1545.06e-6, 1e-5, GEOMETRY),
    ("section_rectangle", {}, "hydraulic_diameter", 41.1289e-3, 1e-5, GEOMETRY),
    ("section_rectangle", {}, "equal_diameter", sqrt(4 * 1545.06e-6 / pi), 1e-5, GEOMETRY),
    ("callipers", {}, "mean", 38.2e-3, 1e-9, GEOMETRY),
    ("callipers", {}, "ovality", 0.19e-3, 1e-6, GEOMETRY),
    ("cone", {}, "volume", 391.586e-6, 1e-5, GEOMETRY),
    ("cone", {}, "angle", 2.97871 * pi / 180, 1e-5, GEOMETRY),
    ("cone_length", {"entry": "3 in", "exit": "3.5 in"}, "length", 103.822e-3, 1e-5, GEOMETRY),
    ("loss_step", {"entry": "3 in", "exit": "3.5 in"}, "k", 0.0703873, 1e-5, GEOMETRY),
    ("loss_mouth", {"radius": "0 mm"}, "k", 0.57, 1e-6, GEOMETRY),
    ("loss_bend", {"radius": ""}, "k", 1.2, 0.03, GEOMETRY),
    ("plenum_volume", {"stacks": "0", "spacer_height": "0 mm"}, "plenum", 3.5e-3, 1e-9, GEOMETRY),
    ("pipe_response", {"pressure": "1000 hPa"}, "response", 5 / 110, 1e-9, GEOMETRY),
    ("crankcase", {}, "primary_ratio", (520 + pi / 4 * 6.2**2 * 5.7) / 520, 1e-9, GEOMETRY),
    ("faces", {}, "overlap", 1523.43e-6, 2e-4, GEOMETRY),
    ("spacer_shift", {"layout": "in-line", "angle": "30 °"}, "height", 6e-3, 1e-9, GEOMETRY),
    ("spacer_shift", {"layout": "v", "angle": "45 °"}, "slip", 12e-3, 1e-9, GEOMETRY),
    ("timing_poppet", {}, "overlap", 26 * pi / 180, 1e-9, GEOMETRY),
    ("timing_poppet", {}, "separation", 109 * pi / 180, 1e-9, GEOMETRY),
    ("timing_disc", {}, "intake_duration", 210 * pi / 180, 1e-9, GEOMETRY),
    ("timing_rotary", {}, "intake_duration", 278 * pi / 180, 1e-9, GEOMETRY),
    ("dead_centre", {"stop_before": "20 °", "stop_after": "30 °"}, "dead_centre", 5 * pi / 180, 1e-9, GEOMETRY),
    ("arc_degrees", {"arc": "10 mm", "radius": "50 mm"}, "angle", 0.2, 1e-9, GEOMETRY),
    ("degrees_arc", {"angle": "90 °", "radius": "50 mm"}, "arc", 0.05 * pi / 2, 1e-9, GEOMETRY),
    ("port_angle", {}, "port_angle", 86.7740 * pi / 180, 1e-5, GEOMETRY),
    ("time_area", {}, "time_area", 4.33333e-6, 1e-5, GEOMETRY),
    ("time_area", {}, "specific", 0.0108333, 1e-5, GEOMETRY),
    (
        "time_area_piston",
        {"bottom_width": "", "speed": "11000 rpm", "displacement": "124.8 cc"},
        "specific",
        0.0140956,
        1e-4,
        GEOMETRY,
    ),
    ("sensor_headroom", {"top": "3 bar", "boost": "0 psi"}, "ceiling", 3e5 - 101325, 1e-9, GEOMETRY),
    ("controller_headroom", {}, "left", 0.28, 1e-9, GEOMETRY),
]


@pytest.mark.parametrize(("name", "texts", "figure", "expected", "tolerance", "source"), CASES)
def test_entries_give_the_known_value(
    name: str, texts: dict[str, str], figure: str, expected: float, tolerance: float, source: str
) -> None:
    assert ask(name, **texts)[figure].value == pytest.approx(expected, rel=tolerance), source


def test_every_reckoning_has_a_value_from_outside() -> None:
    """A reckoning that nothing outside of the project vouches for is not done."""
    known = {name for name, *_ in CASES}
    assert known == {entry.name for entry in all_reckonings()}
    assert all(source for *_, source in CASES)


def test_a_measured_loss_grows_with_the_square_of_the_flow() -> None:
    """Common practice, no source: 1.2 kPa at 100 L/s is 4.8 kPa at 200 L/s."""
    found = ask("loss_measured", flow="200 L/s", drop="1.2 kPa", drop_flow="100 L/s")
    assert found["drop"].value == pytest.approx(4800)


def test_a_mouth_of_half_a_dynamic_pressure() -> None:
    """First principles: 250 cfm through 63.5 mm moves at 37.26 m/s, 836 Pa of dynamic pressure at 20 °C and 1013 hPa."""
    found = ask("loss_mouth", flow="250 cfm", diameter="63.5 mm", radius="0 mm")
    velocity = 0.117987 / (pi / 4 * 0.0635**2)
    dynamic = 0.5 * 101325 / (287.05 * 293.15) * velocity**2
    assert found["drop"].value == pytest.approx(0.57 * dynamic, rel=1e-4)
    assert found["drop"].value / INCH_OF_WATER == pytest.approx(1.91, rel=0.01)
    assert found["drop"].uncertainty == pytest.approx(0.07 * dynamic, rel=1e-3)


def test_gas_cools_by_the_number_of_transfer_units() -> None:
    """First principles: with UA = ṁ·c_p the difference to the room falls to 1/e."""
    heat = 1.33 * 290 / 0.33
    surface = pi * 0.0635 * 2.0
    transfer = 0.110 * heat / surface
    found = ask("exhaust_cooling", hot="720 C", room="20 C", heat_transfer=f"{transfer} W/m2K")
    assert found["after"].value == pytest.approx(293.15 + 700 * exp(-1), rel=1e-6)


def test_a_disc_that_does_not_add_up_is_said_beside_the_total() -> None:
    entry = reckoning_named("timing_disc")
    answer = entry.answer({"intake_opens": "145", "intake_closes": "65", "intake_total": "200"})
    assert answer.figures == ()
    assert "10.0° too much" in answer.errors["intake_total"]


def test_every_entry_stands_in_a_group_of_the_reckoner() -> None:
    groups = {entry.group for entry in all_reckonings()}
    assert groups == {"Engine and air", "Flow bench", "Path and faces", "Timing and headroom"}
