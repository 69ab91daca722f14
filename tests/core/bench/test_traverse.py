"""Maps over a face."""

from __future__ import annotations

import pytest

from longbreath.core.bench import traverse


def test_an_even_face_needs_three_quarters_of_its_area() -> None:
    face = traverse.rectangle_face(0.04, 0.03, 0.0)
    even = traverse.make_map(face, [traverse.TubeSpot(x, y, 50.0) for x, y in traverse.grid(face, 4, 3)])
    assert even.working_area.value == pytest.approx(0.75)
    assert even.peak_over_mean.value == pytest.approx(1.0)
    half = traverse.make_map(
        face, [traverse.TubeSpot(x, y, 50.0 if x > 0 else 0.0) for x, y in traverse.grid(face, 4, 3)]
    )
    assert half.working_area.value == pytest.approx(0.375)
    assert traverse.steps_of([30.0, 71.0]) == (0.0, 20.0, 40.0, 60.0, 80.0)
