"""Faces laid over each other: judgement, lips, areas."""

from __future__ import annotations

import numpy as np
import pytest
from shapely import Polygon

from longbreath.core.bench import traverse
from longbreath.core.path import faces, sections

MM = 0.001


def match(right: float = 0.0, up: float = 0.0, smaller: float = 0.0) -> faces.FaceMatch:
    a = traverse.rectangle_face(46 * MM, 34 * MM, 9 * MM)
    b = traverse.rectangle_face((46 - smaller) * MM, (34 - smaller) * MM, (9 - smaller / 2) * MM)
    return faces.lay_over(a, b, faces.FacePlace(right * MM, up * MM))


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


@pytest.mark.parametrize("shape", ["round", "oval", "d", "rounded_rectangle"])
def test_faces_have_the_area_of_their_sections(shape: str) -> None:
    sizes = {"width": 0.04, "height": 0.05, "corner_radius": 0.006, "diameter": 0.04}
    outline = traverse.face_of(shape, sizes)
    assert Polygon(outline).area == pytest.approx(sections.section_of(shape, sizes).area, rel=1e-3)
    assert np.mean([p[0] for p in outline]) == pytest.approx(0.0, abs=1e-3)
