"""Pictures of the bench: the growing curve, the water column, a port's face. Read as XML, to scale, without inline style."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import pytest

from longbreath.core.bench import traverse
from longbreath.drawing import axes, column, curves, faces

SVG = "{http://www.w3.org/2000/svg}"
A = curves.Curve("A stock", "A", [(1, 36), (5, 160), (10, 210)], [0.2, 0.9, 1.2])
B = curves.Curve("B product", "B", [(1, 36), (5, 165)], [0.2, 4.0])
FACE = traverse.rectangle_face(0.04, 0.03, 0.005)


def parsed(svg: str) -> ET.Element:
    return ET.fromstring(str(svg))


def test_curves_stand_to_one_scale_from_nought() -> None:
    root = parsed(curves.flow_curves([A, B], "mm", "cfm"))
    points = {
        c.get("stroke-width"): [tuple(map(float, p.split(","))) for p in c.get("points", "").split()]
        for c in root.iter("polyline")
    }
    a, b = points["1.3"], points["2.6"]
    assert a[0] == b[0]
    assert a[1][0] == b[1][0]
    assert b[1][1] < a[1][1]  # more flow stands higher
    slope = (a[2][0] - a[0][0]) / 9
    assert a[1][0] == pytest.approx(a[0][0] + 4 * slope, abs=0.2)
    texts = [t.text for t in root.iter("text")]
    assert "lift, mm" in texts
    assert "cfm" in texts
    assert {"A stock", "B product"} <= set(texts)


def test_a_wide_interval_is_drawn_and_a_narrow_one_is_not() -> None:
    root = parsed(curves.flow_curves([B], "mm", "cfm"))
    assert len([line for line in root.iter("line") if line.get("class") == "curve"]) == 1


def test_open_and_full_markers_tell_a_and_b_apart_without_colour() -> None:
    kinds = [c.get("class") for c in parsed(curves.flow_curves([A, B], "mm", "cfm")).iter("circle")]
    assert kinds.count("open") == 3
    assert kinds.count("full") == 2


def test_names_do_not_cover_one_another_and_a_crowd_drops_those_of_references() -> None:
    one = curves.Curve("reference", "reference", [(1, 36), (10, 209)])
    names = [t for t in parsed(curves.flow_curves([A, one], "mm", "cfm")).iter("text") if t.get("class") == "name"]
    heights = sorted(float(t.get("y", "0")) for t in names)
    assert heights[1] - heights[0] >= 14
    crowd = parsed(curves.flow_curves([A, B, one, one], "mm", "cfm"))
    assert "reference" not in [t.text for t in crowd.iter("text")]


def test_nothing_is_drawn_of_nothing_but_axes() -> None:
    root = parsed(curves.flow_curves([], "in", "L/s"))
    assert "nothing yet" in root.get("aria-label", "")
    assert list(root.iter("polyline")) == []


def test_only_print_carries_its_own_style() -> None:
    assert "<style>" not in curves.flow_curves([A], "mm", "cfm")
    assert "<style>" in curves.flow_curves([A], "mm", "cfm", printed=True)


def test_a_name_cannot_break_out_of_the_picture() -> None:
    evil = curves.Curve('<script>x</script>"', "A", [(1, 1)])
    assert "<script>" not in curves.flow_curves([evil], "mm", "cfm")


@pytest.mark.parametrize(("span", "step"), [(10, 2), (0.394, 0.1), (258, 100), (0, 1), (7, 2)])
def test_steps_are_round(span: float, step: float) -> None:
    assert axes.nice_step(span) == pytest.approx(step)


@pytest.mark.parametrize(("asked", "unit"), [(28.0, "inH₂O"), (6.974, "kPa"), (10.0, "inH₂O"), (3.0, "inH₂O")])
def test_the_column_marks_the_test_pressure_inside_its_scale(asked: float, unit: str) -> None:
    root = parsed(column.water_column(asked, unit))
    zero, full = float(root.get("data-zero", "0")), float(root.get("data-full", "0"))
    (mark,) = [line for line in root.iter("line") if line.get("class") == "asked"]
    assert float(mark.get("y1", "0")) == pytest.approx(zero - asked / column.scale_top(asked) * (zero - full), abs=0.1)
    assert 1.0 < column.scale_top(asked) / asked < 1.6
    assert {"level", "meniscus"} <= {e.get("id") for e in root.iter()}


def test_a_face_shows_a_tone_and_a_figure_for_each_reading_and_a_number_for_each_place_left() -> None:
    places = traverse.grid(FACE, 3, 2)
    spots = [traverse.TubeSpot(x, y, 20.0 + 10 * i) for i, (x, y) in enumerate(places[:4])]
    found = traverse.make_map(FACE, spots)
    bounds = traverse.steps_of([s.velocity for s in spots])
    drawn = faces.tones(found.cells, bounds, [f"{c.spot.velocity:.0f}" for c in found.cells])
    root = parsed(
        faces.face(FACE, drawn, [(x, y, str(i)) for i, (x, y) in enumerate(places[4:], start=5)], "intake", "face")
    )
    tones = [float(p.get("fill-opacity", "0")) for p in root.iter("polygon") if p.get("class") == "cell-tone"]
    assert len(tones) == 4
    assert len(set(tones)) > 1
    texts = [t.text for t in root.iter("text")]
    assert {"20", "50", "5", "6"} <= set(texts)
    assert max(drawn, key=lambda t: t.strength).text == "50"


def test_up_is_up_on_a_face() -> None:
    root = parsed(faces.face(FACE, [], [(0.0, 0.012, "top"), (0.0, -0.012, "bottom")], "exhaust", "face"))
    heights = {t.text: float(t.get("y", "0")) for t in root.iter("text")}
    assert heights["top"] < heights["bottom"]
