"""Sections, volumes, losses and faces against independent values. Each case says where its value is from."""

from __future__ import annotations

from math import atan, degrees, log10, pi, radians, sqrt, tan

import fluids
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq
from shapely import LineString, Polygon
from shapely.affinity import translate
from shapely.geometry import Point, box

from longbreath.core.bench import traverse
from longbreath.core.path import faces, losses, sections, volumes

MM = 0.001
THREE, THREE_AND_A_HALF = sections.round_section(0.0762), sections.round_section(0.0889)


def test_a_squashed_tube_keeps_its_perimeter() -> None:
    """First principles, area confirmed by shapely: OD 63.5, wall 1.6, outside height 45 mm."""
    found = sections.flattened_tube(63.5 * MM, 1.6 * MM, 45 * MM)
    stadium = LineString([(-29.0597 / 2, 0), (29.0597 / 2, 0)]).buffer((45 - 3.2) / 2, quad_segs=256)
    assert found.area * 1e6 == pytest.approx(stadium.area, rel=1e-4)
    assert found.area * 1e6 == pytest.approx(2586.98, rel=1e-5)
    assert found.perimeter == pytest.approx(pi * 60.3 * MM, rel=1e-12)
    assert found.hydraulic_diameter / MM == pytest.approx(54.6242, rel=1e-5)
    assert found.equal_area_diameter / MM == pytest.approx(57.3920, rel=1e-5)


def test_an_oval_has_the_perimeter_of_ramanujan() -> None:
    """Ramanujan's second approximation, good to 1e-10 here; area π·a·b. a = 40, b = 25 mm."""
    found = sections.oval(80 * MM, 50 * MM)
    h = ((40 - 25) / (40 + 25)) ** 2
    ramanujan = pi * (40 + 25) * (1 + 3 * h / (10 + sqrt(4 - 3 * h)))
    assert found.perimeter / MM == pytest.approx(ramanujan, rel=1e-8)
    assert found.perimeter / MM == pytest.approx(206.931, rel=1e-5)
    assert found.area * 1e6 == pytest.approx(3141.59, rel=1e-5)
    assert found.hydraulic_diameter / MM == pytest.approx(60.7272, rel=1e-5)


@pytest.mark.parametrize(("width", "height"), [(34, 40), (40, 20), (30, 90)])
def test_a_d_section_is_what_shapely_draws(width: float, height: float) -> None:
    """shapely: a box with half a disc on it."""
    side = height - width / 2
    drawn = box(-width / 2, 0, width / 2, side).union(
        Point(0, side).buffer(width / 2, quad_segs=512).intersection(box(-width, side, width, height + 1))
    )
    found = sections.d_section(width * MM, height * MM)
    assert found.area * 1e6 == pytest.approx(drawn.area, rel=1e-5)
    assert found.perimeter / MM == pytest.approx(drawn.length, rel=1e-5)


def test_a_cone_and_a_tapered_runner() -> None:
    """First principles, volume by quadrature: 38 → 51 over 250 mm; 120 mm of 45, then 45 → 52 over 200 mm."""
    angle, ratio, volume, inertia = volumes.cone_figures(38 * MM, 51 * MM, 250 * MM)
    by_quadrature = quad(lambda x: pi / 4 * (38 + 13 * x / 250) ** 2, 0, 250)[0]
    assert volume.value * 1e9 == pytest.approx(by_quadrature, rel=1e-10)
    assert degrees(angle.value) == pytest.approx(2.97871, rel=1e-5)
    assert ratio.value == pytest.approx((51 / 38) ** 2)
    assert inertia.value * 1e6 == pytest.approx(1522.10, rel=1e-5)
    straight, taper = sections.round_section(45 * MM), sections.round_section(52 * MM)
    runner = volumes.frustum(straight, straight, 120 * MM) + volumes.frustum(straight, taper, 200 * MM)
    assert runner * 1e6 == pytest.approx(560.984, rel=1e-5)


@pytest.mark.parametrize(("angle", "length"), [(7, 103.822), (15, 48.2330), (30, 23.6985), (60, 10.9985)])
def test_length_of_a_cone_by_its_included_angle(angle: float, length: float) -> None:
    """First principles: (D2 − D1)/(2·tan(α/2)), 3 in → 3.5 in."""
    found = losses.cone_length(0.0762, 0.0889, radians(angle))
    assert found / MM == pytest.approx(length, rel=1e-5)
    assert degrees(losses.included_angle(THREE, THREE_AND_A_HALF, found)) == pytest.approx(angle)


CONES = [
    (7, 0.0191301, 0.0111723, 0.0300489),
    (15, 0.0237022, 0.0237022, 0.0664375),
    (30, 0.0594975, 0.0473657, 0.0788009),
    (60, 0.0859824, 0.0703873, 0.0895786),
]


@pytest.mark.parametrize(("angle", "used", "low", "high"), CONES)
def test_cones_by_four_published_methods(angle: float, used: float, low: float, high: float) -> None:
    """fluids diffuser_conical, asked directly: Rennels, Crane, Miller, Hooper at Re 2e5, smooth, 3 in → 3.5 in."""
    length = (0.0889 - 0.0762) / (2 * tan(radians(angle) / 2))
    found = losses.cone(THREE, THREE_AND_A_HALF, length, 2e5, 0.0)
    assert (found.k, found.low, found.high) == pytest.approx((used, low, high), rel=0.005)


BENDS = [
    (45, 1.0, 0.205877, 0.112055, 0.263407),
    (45, 1.5, 0.169377, 0.119401, 0.179537),
    (45, 2.0, 0.155087, 0.124310, 0.155087),
    (90, 1.0, 0.342611, 0.261528, 0.360652),
    (90, 1.5, 0.243998, 0.201733, 0.276322),
    (90, 2.0, 0.219778, 0.181860, 0.251149),
]


@pytest.mark.parametrize(("angle", "tightness", "used", "low", "high"), BENDS)
def test_bends_by_four_published_methods(angle: float, tightness: float, used: float, low: float, high: float) -> None:
    """fluids bend_rounded: Rennels, Crane, Miller, Ito; 63.5 mm, Re 2e5, roughness 0.05 mm."""
    found = losses.bend(0.0635, radians(angle), tightness * 0.0635, 2e5, 5e-5)
    assert (found.k, found.low, found.high) == pytest.approx((used, low, high), rel=0.005)


@pytest.mark.parametrize(
    ("angle", "used", "low", "high"), [(45, 0.304196, 0.270489, 0.371376), (90, 1.20208, 1.08196, 1.45351)]
)
def test_mitres_by_four_published_methods(angle: float, used: float, low: float, high: float) -> None:
    """fluids bend_miter: Rennels, Crane, Miller, Blevins; handbooks give 1.1 to 1.2 for a 90° mitre."""
    found = losses.bend(0.0635, radians(angle), None, 2e5, 5e-5)
    assert (found.k, found.low, found.high) == pytest.approx((used, low, high), rel=0.005)


def test_steps_are_borda_carnot_and_mouths_are_in_the_handbooks_range() -> None:
    """Borda-Carnot (momentum balance): (1 − A1/A2)². Handbook, from memory: sharp mouth 0.5, well rounded near 0.05."""
    opens = losses.sudden(THREE, THREE_AND_A_HALF)
    assert opens.k == pytest.approx(0.0703873, rel=1e-5)
    assert opens.k == pytest.approx(fluids.diffuser_sharp(0.0762, 0.0889), rel=1e-9)
    closes = losses.sudden(THREE_AND_A_HALF, THREE)
    assert closes.low <= 0.5 * (1 - (3 / 3.5) ** 2) <= closes.high
    sharp, round_ = losses.mouth(0.05, 0.0), losses.mouth(0.05, 0.010)
    assert sharp.low <= 0.5 <= sharp.high
    assert round_.low <= 0.05 <= round_.high


@pytest.mark.parametrize(
    ("roughness", "diameter", "f"), [(0.0, 0.0635, 0.0156372), (1.5e-6, 0.0762, 0.0157975), (5e-5, 0.0635, 0.0201637)]
)
def test_friction_is_colebrooks(roughness: float, diameter: float, f: float) -> None:
    """Colebrook's equation solved here by its own root, Re 2e5."""
    root = brentq(lambda x: 1 / sqrt(x) + 2 * log10(roughness / diameter / 3.7 + 2.51 / (2e5 * sqrt(x))), 0.005, 0.1)
    assert root == pytest.approx(f, rel=1e-4)
    found = losses.friction(1.0, sections.round_section(diameter), 2e5, roughness)
    assert found.k * diameter == pytest.approx(root, rel=1e-3)


def test_a_thin_ring_costs_what_the_orifice_formula_says() -> None:
    """From memory (Idelchik's thin orifice in a duct): open share 0.81, K = (1 + 0.707·√0.19 − 0.81)²/0.81²."""
    assert losses.ring(sections.round_section(0.04), 0.002).k == pytest.approx(
        (1 + 0.707 * sqrt(0.19) - 0.81) ** 2 / 0.81**2
    )


def over(right: float, up: float) -> faces.FaceMatch:
    a = traverse.rectangle_face(50 * MM, 32 * MM, 8 * MM)
    b = traverse.rectangle_face(52 * MM, 34 * MM, 10 * MM)
    return faces.lay_over(a, b, faces.FacePlace(right * MM, up * MM))


def test_two_ports_laid_over_each_other() -> None:
    """shapely and quadrature of the spans: A 50×32 r8 at 0, B 52×34 r10 at (1.5, 1.0) mm."""
    found = over(1.5, 1.0)
    assert found.overlap.value * 1e6 == pytest.approx(1523.43, rel=2e-4)
    assert found.blocked.value * 1e6 == pytest.approx(21.627, rel=5e-3)
    assert found.opened.value * 1e6 == pytest.approx(158.724, rel=2e-3)
    assert found.share.value == pytest.approx(0.986003, abs=5e-5)
    lips = {lip.side: lip.height / MM for lip in found.lips}
    assert lips == pytest.approx({"right": 2.5, "left": -0.5, "top": 2.0, "bottom": 0.0}, abs=1e-9)


@given(st.floats(-30, 30), st.floats(-20, 20), st.floats(-1.5, 1.5))
def test_overlap_is_never_more_than_either_face_and_the_parts_add_up(right: float, up: float, turn: float) -> None:
    """Property of plane areas; the outline is compared with shapely's own translate."""
    a = traverse.rectangle_face(50 * MM, 32 * MM, 8 * MM)
    b = traverse.d_face(34 * MM, 40 * MM)
    found = faces.lay_over(a, b, faces.FacePlace(right * MM, up * MM, turn))
    one, other = Polygon(a).area, Polygon(b).area
    assert 0 < found.overlap.value <= min(one, other) * (1 + 1e-9)
    assert found.overlap.value + found.blocked.value == pytest.approx(one, rel=1e-9)
    assert found.overlap.value + found.opened.value == pytest.approx(other, rel=1e-9)
    if turn == 0:
        assert found.overlap.value == pytest.approx(
            Polygon(a).intersection(translate(Polygon(b), right * MM, up * MM)).area
        )


@given(st.floats(5, 200), st.floats(0.005, 0.48), st.floats(0.01, 1.0))
def test_squashing_keeps_the_perimeter_and_never_makes_area_negative(outside: float, wall: float, share: float) -> None:
    """First principles: offsetting a stadium changes its radii alone. `wall` is a share of the outside diameter.

    The height after runs from a hundredth of the bore left open to no squashing at all, so the wall may nearly fill it.
    """
    thick = wall * outside
    minor = outside if share == 1.0 else 2 * thick + (outside - 2 * thick) * share
    found = sections.flattened_tube(outside * MM, thick * MM, min(minor, outside) * MM)
    before = sections.round_section((outside - 2 * thick) * MM)
    assert found.perimeter == pytest.approx(before.perimeter, rel=1e-9)
    assert 0 < found.area <= before.area * (1 + 1e-9)


def test_spacers_in_line_and_in_a_v() -> None:
    """First principles: 12 mm at 30° in line rises 6 mm; in a 90° V (normals at 45°) a manifold rises t·√2 and slips t."""
    length, height, slip = faces.stack_shift("in-line", [10 * MM, 2 * MM], radians(30))
    assert (length.value / MM, height.value / MM, slip.value) == pytest.approx((12, 6, 0))
    length, height, slip = faces.stack_shift("v", [12 * MM], radians(45))
    assert (height.value / MM, slip.value / MM) == pytest.approx((12 * sqrt(2), 12))
    assert degrees(atan(slip.value / length.value)) == pytest.approx(45)


def test_volumes_of_plenum_crankcase_and_pipe() -> None:
    """First principles. Common practice: runners that stick in take volume, a spacer gives it back."""
    net = volumes.plenum_figure(3.5e-3, 4, pi / 4 * 0.05**2, 0.014, 0.0295, 0.012)
    assert net.value * 1e3 == pytest.approx(3.5 - 4 * pi / 4 * 0.25 * 0.14 + 2.95 * 0.12, rel=1e-9)
    up, ratio = volumes.crankcase_figures(62 * MM, 57 * MM, 520e-6)
    assert up.value * 1e6 == pytest.approx(520 + pi / 4 * 6.2**2 * 5.7)
    assert ratio.value == pytest.approx(up.value / 520e-6)
    assert volumes.response_figure(5e-3, 0.11, 1e5, 1e5).value == pytest.approx(5 / 110)
