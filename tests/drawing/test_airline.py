"""The air line: one scale for both directions, names that do not touch, small marks that say what they mean."""

from __future__ import annotations

import itertools
from math import pi

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.drawing import airline
from longbreath.drawing.airline import LABEL_WIDTH, TALLEST, LineElement, air_line
from longbreath.drawing.marks import WIDTH, interval_mark
from tests.pages import page_of


def piece(key: int, length: float, entry: float, exit: float | None = None, kind: str = "tube") -> LineElement:
    return LineElement(key, f"{kind} {key}", kind, "intake", length, entry, entry if exit is None else exit)


def corners(points: str) -> list[tuple[float, float]]:
    return [tuple(float(v) for v in pair.split(",")) for pair in points.split()]  # type: ignore[misc]


def test_lengths_and_heights_have_one_scale() -> None:
    line = air_line([piece(1, 0.4, 0.066), piece(2, 0.3, 0.1), piece(3, 2.0, 0.05)])
    scale = line.width / line.length
    for shape in line.shapes:
        (x1, y1), (x2, _), _, (_, y4) = corners(shape.points)
        assert (x2 - x1) / scale == pytest.approx(shape.piece.length, abs=2e-3)
        assert (y4 - y1) / scale == pytest.approx(shape.piece.entry, abs=2e-3)
    assert line.scale_mm == pytest.approx(100 / scale * 1000)


def test_a_fat_short_path_is_limited_by_its_height() -> None:
    line = air_line([piece(1, 0.2, 0.3)])
    (_, top), _, _, (_, bottom) = corners(line.shapes[0].points)
    assert bottom - top == pytest.approx(TALLEST, abs=0.1)


def test_elements_stand_end_to_end_in_order() -> None:
    line = air_line([piece(n, 0.1 * n, 0.05) for n in range(1, 8)])
    edges = [(corners(s.points)[0][0], corners(s.points)[1][0]) for s in line.shapes]
    assert edges[0][0] == 0
    for (_, right), (left, _) in itertools.pairwise(edges):
        assert left == pytest.approx(right, abs=0.11)


def test_a_cone_is_drawn_with_both_its_ends() -> None:
    line = air_line([piece(1, 0.2, 0.04, 0.08, "cone"), piece(2, 1.0, 0.08)])
    (_, entry), (_, exit), _, _ = corners(line.shapes[0].points)
    assert entry > exit  # y runs downward: the wider end starts higher


def test_an_empty_path_draws_nothing() -> None:
    assert air_line([]).shapes == ()


@given(
    st.lists(
        st.tuples(st.floats(0.01, 2.0), st.sampled_from(["tube", "plenum", "throttle", "catalyst", "tip"])),
        min_size=1,
        max_size=20,
    )
)
def test_names_never_touch_and_stay_inside(parts: list[tuple[float, str]]) -> None:
    line = air_line([piece(n, length, 0.06, kind=kind) for n, (length, kind) in enumerate(parts)])
    spans = sorted(
        (s.label_x - len(s.piece.kind) * LABEL_WIDTH / 2, s.label_x + len(s.piece.kind) * LABEL_WIDTH / 2)
        for s in line.shapes
        if s.label_x is not None
    )
    for (_, right), (left, _) in itertools.pairwise(spans):
        assert left >= right
    assert all(left >= -0.1 and right <= line.width + 0.1 for left, right in spans)


def test_the_longest_element_is_named_before_the_short_ones() -> None:
    line = air_line(
        [piece(1, 0.05, 0.06, kind="throttle"), piece(2, 3.0, 0.06, kind="pipe"), piece(3, 0.05, 0.06, kind="muffler")]
    )
    assert line.shapes[1].label_x is not None


def test_a_volume_is_drawn_as_the_vessel_that_holds_it() -> None:
    height = airline.height_of_volume(0.0056, 0.19)
    assert pi / 4 * height**2 * 0.19 == pytest.approx(0.0056)


def band(value: float, half: float, margin: float = 1.0) -> dict[str, float]:
    return {"value": value, "half_width": half, "margin": margin}


def mark(found: dict[str, float]) -> tuple[float, float, float]:
    svg = page_of(str(interval_mark(found)))
    span = svg.select_one(".span")
    return float(span["x1"]), float(span["x2"]), float(svg.select_one("circle")["cx"])


def test_a_mark_shows_which_side_of_nought_an_interval_lies() -> None:
    low, high, at = mark(band(1.5, 0.5))
    assert WIDTH / 2 < low < at < high
    low, high, at = mark(band(-1.5, 0.5))
    assert low < at < high < WIDTH / 2
    low, high, _ = mark(band(0.1, 0.5))
    assert low < WIDTH / 2 < high


def test_a_mark_never_leaves_its_box() -> None:
    low, high, at = mark(band(400.0, 90.0))
    assert 0 <= low <= high <= WIDTH
    assert 0 <= at <= WIDTH
