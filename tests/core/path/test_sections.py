"""Sections: what keeps its perimeter, and what becomes what."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.path import sections


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
