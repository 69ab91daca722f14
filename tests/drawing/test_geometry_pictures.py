"""Long section, overlay and wheel: to scale, one shape for each thing, and nothing that a name could break."""

from __future__ import annotations

import re
from math import cos, pi, radians, sin

import pytest

from longbreath.core.bench import traverse
from longbreath.core.path import faces
from longbreath.drawing.longsection import Block, PathRow, Series, Strip, long_section
from longbreath.drawing.overlay import overlay
from longbreath.drawing.wheel import MIDDLE, Arc, wheel
from tests.pages import Part, page_of


def points(node: object) -> list[tuple[float, float]]:
    return [tuple(map(float, pair.split(","))) for pair in node["points"].split()]  # type: ignore[index, misc]


def block(key: int, x: float, length: float, entry: float, **more: object) -> Block:
    return Block(key, f"part {key}", "tube", "intake", x, length, entry, entry, **more)  # type: ignore[arg-type]


def drawn(times: float = 1.0, **more: object) -> Part:
    row = PathRow(
        "B",
        (
            block(1, 0.0, 0.5, 0.06, drag="⌀ 60 mm"),
            block(2, 0.5, 0.3, 0.05, branches=4, marks=("a step",)),
            block(3, 0.8, 0.2, 0.05, bend="90°"),
        ),
    )
    strip = Strip(
        "velocity, m/s", (Series("B", (((0.0, 10.0), (0.5, 20.0)), ((0.5, 30.0), (1.0, 40.0)))),), 35.0, "a limit"
    )
    return page_of(str(long_section([row], [strip], "intake", 2, times, **more)))  # type: ignore[arg-type]


@pytest.mark.parametrize("times", [1, 2, 4])
def test_lengths_and_diameters_share_one_scale(times: float) -> None:
    svg = drawn(times).select_one("svg")
    first, second, _ = svg.select(".block polygon")
    wide = points(first)[1][0] - points(first)[0][0]
    assert points(second)[1][0] - points(second)[0][0] == pytest.approx(0.6 * wide, abs=0.2)
    tall = points(first)[3][1] - points(first)[0][1]
    assert tall / wide == pytest.approx(times * 0.06 / 0.5, rel=0.01)
    assert float(svg["data-scale"]) == pytest.approx(wide / 0.5 * times, rel=0.01)
    assert ("alike" in svg.select_one("text.scale").text) == (times == 1)


@pytest.mark.parametrize("times", [1, 4])
def test_marks_bends_branches_and_the_lit_element_are_drawn(times: float) -> None:
    svg = drawn(times)
    assert svg.select_one(".trouble title").text == "a step"
    assert [t.text for t in svg.select(".branches")] == ["× 4", "90°"]
    assert len(svg.select(".turn")) == (1 if times > 1 else 0)
    assert [b["data-key"] for b in svg.select(".is-lit")] == ["2"]
    assert [g["aria-valuetext"] for g in svg.select(".wall-grip")] == ["⌀ 60 mm"]
    assert len(svg.select("polyline")) == 2  # the run is broken where the strip says so
    assert svg.select_one("text.axis").text == "velocity, m/s; dashed: a limit"
    assert len(svg.select("line.limit")) == 1


def test_an_empty_path_draws_nothing_and_names_are_escaped() -> None:
    assert long_section([], [], "intake") == ""
    evil = PathRow("B", (Block(1, "<script>", "tube", "intake", 0, 1, 0.1, 0.1),))
    assert "<script>" not in str(long_section([evil], [], "intake"))


def test_a_strip_of_noughts_or_of_nothing_has_an_axis() -> None:
    row = PathRow("B", (block(1, 0.0, 0.5, 0.06),))
    for runs in ((), (((0.0, 0.0), (0.5, 0.0)),)):
        svg = page_of(str(long_section([row], [Strip("area", (Series("B", runs),))], "intake")))
        assert len(svg.select(".grid")) >= 2


def test_two_versions_are_a_ghost_and_a_body() -> None:
    rows = [PathRow("A", (block(1, 0, 0.4, 0.05),)), PathRow("B", (block(2, 0, 0.5, 0.06),))]
    svg = page_of(str(long_section(rows, [], "exhaust")))
    assert len(svg.select(".ghost-wall")) == 1
    assert len(svg.select(".block")) == 1


def test_faces_are_drawn_to_one_scale_with_what_stands_in_the_flow() -> None:
    a, b = traverse.rectangle_face(0.05, 0.032, 0.008), traverse.rectangle_face(0.05, 0.032, 0.008)
    place = faces.FacePlace(0.002, 0.0)
    found = faces.lay_over(a, b, place)
    svg = page_of(
        str(
            overlay(
                a,
                faces.laid(b, place),
                found.common,
                found.stands,
                [("left", "2 mm stands")],
                found.worst_at,
                "intake",
                ("a", "<b>"),
            )
        )
    )
    up, down = (points(node) for node in svg.select(".rim"))
    scale = (max(x for x, _ in up) - min(x for x, _ in up)) / 0.05
    assert min(x for x, _ in down) - min(x for x, _ in up) == pytest.approx(0.002 * scale, abs=0.2)
    assert len(svg.select(".stands")) == 1
    assert svg.select_one(".worst")
    assert svg.select_one("b") is None


@pytest.mark.parametrize(
    ("opens", "closes", "turn"), [(-145, 65, 360), (32, 310, 1080), (-12, 228, 360), (-234, 14, 360)]
)
def test_arcs_begin_and_end_where_the_wheel_reads(opens: float, closes: float, turn: float) -> None:
    svg = page_of(
        str(
            wheel(
                [Arc("intake", "", radians(opens), radians(closes), radians(turn), "x", "y")],
                ("intake",),
                radians(turn),
            )
        )
    )
    path = svg.select_one(".arc")["d"]
    x1, y1, radius, _, _, large, sweep, x2, y2 = map(float, re.findall(r"-?[\d.]+", path))
    for x, y, angle in ((x1, y1, opens), (x2, y2, closes)):
        around = 2 * pi * angle / turn
        assert (x, y) == pytest.approx((MIDDLE + radius * sin(around), MIDDLE - radius * cos(around)), abs=0.1)
    assert (large, sweep) == (1 if (closes - opens) / turn > 0.5 else 0, 1)
    assert [t.text for t in svg.select(".end-words")] == ["x", "y"]
