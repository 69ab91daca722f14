"""Callipers, judging faces, fit, build sheets, the ladder and headroom: the rules and what they refuse."""

from __future__ import annotations

from math import radians, sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import traverse
from longbreath.core.build import sheet
from longbreath.core.engine import headroom
from longbreath.core.path import calliper, faces, losses, mounting, sections, volumes
from longbreath.core.path.walk import PathElement
from longbreath.core.timing import port_ladder, wheel

MM = 0.001


def test_three_readings_give_mean_and_ovality() -> None:
    found = calliper.read([38.31 * MM, 38.12 * MM, 38.17 * MM], 0.05 * MM)
    assert found.mean.value / MM == pytest.approx(38.20)
    low, high = stats.t.interval(0.95, 2, 38.20, stats.sem([38.31, 38.12, 38.17]))
    assert (found.mean.uncertainty or 0) / MM == pytest.approx(sqrt(0.05**2 + ((high - low) / 2) ** 2))
    assert found.ovality is not None
    assert found.ovality.value / MM == pytest.approx(0.19)
    assert found.out_of_round is not None
    assert found.out_of_round.value == pytest.approx(0.19 / 38.20)


def test_few_readings_give_no_ovality_and_a_small_one_is_called_round() -> None:
    assert calliper.read([0.04], 1e-5).ovality is None
    assert calliper.read([0.04, 0.041], 1e-5).ovality is None
    round_ = calliper.read([0.04, 0.04002, 0.04001], 1e-5).ovality
    assert round_ is not None
    assert "call it round" in round_.working.notes[0]


@given(st.floats(0.001, 1.0), st.floats(0.0, 0.1))
def test_a_nominal_size_is_never_better_than_three_per_cent(size: float, precision: float) -> None:
    assert calliper.widened(size, precision) >= 0.03 * size
    assert calliper.widened(size, precision) >= precision


def match(right: float = 0.0, up: float = 0.0, smaller: float = 0.0) -> faces.Match:
    a = traverse.rectangle_face(46 * MM, 34 * MM, 9 * MM)
    b = traverse.rectangle_face((46 - smaller) * MM, (34 - smaller) * MM, (9 - smaller / 2) * MM)
    return faces.lay_over(a, b, faces.Place(right * MM, up * MM))


@pytest.mark.parametrize(
    ("smaller", "wall", "verdict", "words"),
    [
        (0.4, 4.0, "go", "No edge"),
        (-3.0, 4.0, "go", "with the flow"),
        (2.0, 4.6, "re-machine", "leaves 3.6 mm"),
        (2.0, 3.6, "fill", "less than must stay"),
        (2.0, None, "re-machine", "Measure the wall"),
        (7.0, 9.0, "fill", "too much to cut"),
    ],
)
def test_go_fill_or_re_machine(smaller: float, wall: float | None, verdict: str, words: str) -> None:
    """Common practice, no source: an eighth of an inch a side is a mismatch for filler or a spacer."""
    found = faces.judge_match(match(smaller=smaller), wall * MM if wall else None, 3 * MM)
    assert found.verdict == verdict
    assert words in found.reason.words("metric").replace("\u00a0", " ")


def test_lips_face_the_flow_where_the_downstream_face_is_inside() -> None:
    lips = {lip.side: lip.faces for lip in match(right=1.0).lips}
    assert lips == {"right": "with the flow", "left": "against the flow", "top": "flush", "bottom": "flush"}
    found = match(right=1.0)
    assert found.worst / MM == pytest.approx(1.0, abs=0.02)
    assert found.worst_at is not None
    assert found.worst_at[0] < 0
    (rings,) = match(smaller=2.0).stands
    assert len(rings) == 2  # a rim and the hole in it


FIT = [
    ([("bonnet", 0.02, "clear")], 0.004, "fits"),
    ([("bonnet", 0.006, "clear")], 0.004, "fits with care"),
    ([("bonnet", None, "touches")], 0.004, "does not fit yet"),
    ([("bonnet", 0.02, "clear")], 0.002, "does not fit yet"),
    ([], None, "not checked"),
]


@pytest.mark.parametrize(("spots", "wall", "verdict"), FIT)
def test_does_it_fit(spots: list[tuple[str, float | None, str]], wall: float | None, verdict: str) -> None:
    found = mounting.judge_fit([mounting.FitPlace(*s) for s in spots], wall, 0.003, ["deburr"])
    assert found.verdict == verdict
    assert len(found.to_do) == len(mounting.CHECKLIST) - 1


BASE = {"part": "stock", "cam": "stock", "fuel": "98", "tune": "7", "pulls_since_build": "3"}
BUILDS = [
    ({"part": "Petrel"}, {}, "comparable"),
    ({"fuel": "98, new"}, {}, "comparable with corrections"),
    ({"cam": "hot"}, {}, "not comparable"),
    ({"pulls_since_build": "60"}, {}, "comparable"),
    ({"cam": ""}, {}, "comparable with corrections"),
    ({"cam": "  STOCK "}, {}, "comparable"),
    ({"cam": "grind 4"}, {"grind 4": "stock"}, "comparable"),
]


@pytest.mark.parametrize(("change", "aliases", "judgement"), BUILDS)
def test_may_two_builds_be_compared(change: dict[str, str], aliases: dict[str, str], judgement: str) -> None:
    found = sheet.compare_sheets(BASE, {**BASE, **change}, aliases)
    assert found.judgement == judgement
    assert all(d.item.effect in (sheet.BREAKS, sheet.CORRECT) for d in found.beside_the_part)


def test_aliases_are_read_from_the_sheets() -> None:
    assert sheet.as_alias_map({"Petrel rev A": "TB66,  66 mm  Prototype"}) == {
        "tb66": "petrel rev a",
        "66 mm prototype": "petrel rev a",
    }


def rung(name: str, power: float, cost: float, grade: str) -> port_ladder.PortRung:
    return port_ladder.PortRung(
        name,
        {
            "power": port_ladder.Value(power, grade),
            "cost": port_ladder.Value(cost, "own"),
            "noise": port_ladder.Value("+1 dB", "own"),
        },
    )


def test_a_ladder_counts_from_its_first_rung_and_says_what_it_rests_on() -> None:
    found = port_ladder.gains(
        [
            rung("stock", 172e3, 0.0, "own"),
            rung("S2", 204e3, 690.0, "own"),
            rung("peripheral", 281e3, 3900.0, "hearsay"),
        ]
    )
    assert found["gain-1"].value == pytest.approx(204 / 172 - 1)
    assert found["price-1"].value == pytest.approx(690 / 32)
    assert found["gain-1"].working.notes == ()
    assert "cannot back a claim" in found["gain-2"].working.notes[0]
    assert rung("x", 1.0, 1.0, "hearsay").weakest_grade == "hearsay"
    assert port_ladder.gains([]) == {}


def test_controller_at_its_end() -> None:
    left, above = headroom.controller_figures(0.95, 14e4, 7e4)
    assert left.value == pytest.approx(-0.05)
    assert above.value == pytest.approx(7e4)
    assert "at its end" in left.working.notes[1]


REFUSED = [
    lambda: calliper.read([], 0.1),
    lambda: calliper.read([0.0], 0.1),
    lambda: calliper.read([0.1], -1.0),
    lambda: sections.oval(0, 1),
    lambda: sections.d_section(0.04, 0.01),
    lambda: sections.d_section(0, 1),
    lambda: sections.traced([(0, 0), (1, 1)]),
    lambda: sections.traced([(0, 0), (1, 1), (1, 0), (0, 1)]),
    lambda: sections.section_of("oval", {"width": 1.0}),
    lambda: losses.mouth(0, 0),
    lambda: losses.bend(0.05, 1.0, 0.01, 1e5, 0),
    lambda: losses.ring(sections.round_section(0.04), 0.03),
    lambda: losses.measured(1, 0, 1.2, sections.round_section(0.04)),
    lambda: losses.cone_length(1, 2, 0),
    lambda: volumes.duct_figure([], "x"),
    lambda: volumes.plenum_figure(0.001, 4, 0.01, 0.05),
    lambda: volumes.response_figure(0, 1, 1, 1),
    lambda: volumes.crankcase_figures(0.05, 0.05, 0),
    lambda: volumes.frustum(sections.round_section(0.04), sections.round_section(0.04), 0),
    lambda: faces.stack_shift("v", [], 0.1),
    lambda: faces.stack_shift("v", [0.01], radians(89)),
    lambda: faces.traced_scale((0, 0), (1, 1), 0.1),
    lambda: faces.traced_scale((0, 0), (100, 0), 0),
    lambda: match(right=100),
    lambda: traverse.d_face(0.04, 0.01),
    lambda: traverse.oval_face(0, 1),
    lambda: traverse.face_of("round", {}),
    lambda: wheel.Sheet("cam", {}),
    lambda: wheel.Sheet("disc", {"exhaust_opens": 1.0}),
    lambda: wheel.opening(wheel.Sheet("disc", {}), "intake"),
    lambda: wheel.opening(wheel.Sheet("disc", {"intake_opens": 0.1, "intake_closes": -0.2}), "intake"),
    lambda: wheel.dead_centre_figure(0, 1),
    lambda: wheel.arc_angle(0, 1),
    lambda: wheel.arc_length(1, 0),
    lambda: wheel.port_angle(0.06, 0.054, 0.105),
    lambda: wheel.port_angle(0.01, 0.1, 0.04),
    lambda: wheel.judge_closing(1, 0, 1),
    lambda: headroom.pressure_at(2e4),
    lambda: headroom.sensor_figures(0, 1, 1),
    lambda: headroom.controller_figures(2, 1, 1),
    lambda: headroom.controller_figures(0.5, -1, 1),
    lambda: port_ladder.Value(1.0, "rumour"),
    lambda: headroom.injector_duty(0, 1, 4, 1, 1, 1, 1, 1, 0),
]


@pytest.mark.parametrize("ask", REFUSED)
def test_what_cannot_be_is_refused_in_words(ask: object) -> None:
    with pytest.raises(InputError, match=r"\w") as problem:
        ask()  # type: ignore[operator]
    assert problem.value.message.endswith((".", "?"))


def test_sections_by_name_agree_with_their_makers() -> None:
    sizes = {
        "width": 0.05,
        "height": 0.04,
        "corner_radius": 0.004,
        "diameter": 0.04,
        "outside_diameter": 0.05,
        "wall": 0.001,
        "minor_outside": 0.04,
    }
    for shape, (_, names) in sections.SHAPES.items():
        outline = [(0.0, 0.0), (0.04, 0.0), (0.04, 0.03), (0.0, 0.03)]
        found = sections.section_of(shape, {k: sizes[k] for k in names}, outline)
        assert found.area > 0
        figure = sections.area_figure("x", found, (), 0.0001, shape=shape)
        assert figure.uncertainty == pytest.approx(found.perimeter * 0.00005)
    assert sections.section_of("outline", {}, outline).area == pytest.approx(0.0012)


@pytest.mark.parametrize("shape", ["round", "oval", "d", "rounded_rectangle"])
def test_faces_have_the_area_of_their_sections(shape: str) -> None:
    sizes = {"width": 0.04, "height": 0.05, "corner_radius": 0.006, "diameter": 0.04}
    outline = traverse.face_of(shape, sizes)
    assert traverse.face_area(outline) == pytest.approx(sections.section_of(shape, sizes).area, rel=1e-3)
    assert np.mean([p[0] for p in outline]) == pytest.approx(0.0, abs=1e-3)


def test_a_duct_of_several_parts_adds_up() -> None:
    section = sections.round_section(0.04)
    row = [
        PathElement(1, "a", "runner", "intake", 0.2, section, section),
        PathElement(2, "b", "plenum", "intake", 0.1, section, section, volume=0.002),
    ]
    figure = volumes.duct_figure(row, "both")
    assert figure.value == pytest.approx(0.2 * section.area + 0.002)
    assert volumes.ratio_figure(figure, 0.001).value == pytest.approx(figure.value / 0.001)
