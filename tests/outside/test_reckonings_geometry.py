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


# name, inputs, which figure, expected SI value, relative tolerance
SI_CASES = [
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "area", 3141.59e-6, 1e-5),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "perimeter", 206.931e-3, 1e-5),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "hydraulic_diameter", 60.7272e-3, 1e-5),
    ("section_d", {"width": "40 mm", "height": "20 mm"}, "area", pi * 0.02**2 / 2, 1e-9),
    ("section_rectangle", {}, "area", 1545.06e-6, 1e-5),
    ("section_rectangle", {}, "hydraulic_diameter", 41.1289e-3, 1e-5),
    ("section_rectangle", {}, "equal_diameter", sqrt(4 * 1545.06e-6 / pi), 1e-5),
    ("callipers", {}, "mean", 38.2e-3, 1e-9),
    ("callipers", {}, "ovality", 0.19e-3, 1e-6),
    ("cone", {}, "volume", 391.586e-6, 1e-5),
    ("cone", {}, "angle", 2.97871 * pi / 180, 1e-5),
    ("cone_length", {"entry": "3 in", "exit": "3.5 in"}, "length", 103.822e-3, 1e-5),
    ("loss_step", {"entry": "3 in", "exit": "3.5 in"}, "k", 0.0703873, 1e-5),
    ("loss_mouth", {"radius": "0 mm"}, "k", 0.57, 1e-6),
    ("loss_bend", {"radius": ""}, "k", 1.2, 0.03),
    ("plenum_volume", {"stacks": "0", "spacer_height": "0 mm"}, "plenum", 3.5e-3, 1e-9),
    ("pipe_response", {"pressure": "1000 hPa"}, "response", 5 / 110, 1e-9),
    ("crankcase", {}, "primary_ratio", (520 + pi / 4 * 6.2**2 * 5.7) / 520, 1e-9),
    ("faces", {}, "overlap", 1523.43e-6, 2e-4),
    ("spacer_shift", {"layout": "in-line", "angle": "30 °"}, "height", 6e-3, 1e-9),
    ("spacer_shift", {"layout": "v", "angle": "45 °"}, "slip", 12e-3, 1e-9),
    ("timing_poppet", {}, "overlap", 26 * pi / 180, 1e-9),
    ("timing_poppet", {}, "separation", 109 * pi / 180, 1e-9),
    ("timing_disc", {}, "intake_duration", 210 * pi / 180, 1e-9),
    ("timing_rotary", {}, "intake_duration", 278 * pi / 180, 1e-9),
    ("dead_centre", {"stop_before": "20 °", "stop_after": "30 °"}, "dead_centre", 5 * pi / 180, 1e-9),
    ("arc_degrees", {"arc": "10 mm", "radius": "50 mm"}, "angle", 0.2, 1e-9),
    ("degrees_arc", {"angle": "90 °", "radius": "50 mm"}, "arc", 0.05 * pi / 2, 1e-9),
    ("port_angle", {}, "port_angle", 86.7740 * pi / 180, 1e-5),
    ("time_area", {}, "time_area", 4.33333e-6, 1e-5),
    ("time_area", {}, "specific", 0.0108333, 1e-5),
    (
        "time_area_piston",
        {"bottom_width": "", "speed": "11000 rpm", "displacement": "124.8 cc"},
        "specific",
        0.0140956,
        1e-4,
    ),
    ("sensor_headroom", {"top": "3 bar", "boost": "0 psi"}, "ceiling", 3e5 - 101325, 1e-9),
    ("controller_headroom", {}, "left", 0.28, 1e-9),
]


@pytest.mark.parametrize(("name", "texts", "figure", "expected", "tolerance"), SI_CASES)
def test_entries_give_the_known_value(
    name: str, texts: dict[str, str], figure: str, expected: float, tolerance: float
) -> None:
    """First principles, shapely, fluids and closed forms: the same values as in the tests of their functions."""
    assert ask(name, **texts)[figure].value == pytest.approx(expected, rel=tolerance)


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
    assert len(all_reckonings()) == 55
