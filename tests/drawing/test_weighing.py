"""Pictures of Weigh: what stands where, and that nothing typed gets into the drawing as more than text."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import pytest

from longbreath.drawing.weighing import Bar, Panel, RankedVariant, ranking, small_multiples, waterfall

BARS = [Bar("observed", "observed", 4.0, 0.5), Bar("bonnet <b>", "measured", -1.5, 0.4), Bar("net", "net", 2.5, 0.8)]


def drawn(text: str) -> ET.Element:
    return ET.fromstring(text)


def of(root: ET.Element, tag: str, kind: str) -> list[ET.Element]:
    return [e for e in root.iter() if e.tag.endswith(tag) and kind in e.get("class", "").split()]


def test_a_waterfall_hangs_each_stage_where_the_one_before_ended() -> None:
    root = drawn(waterfall(BARS, "N·m"))
    observed, taken, net = of(root, "rect", "bar")
    ends = [float(e.get("x")) + float(e.get("width")) for e in (observed, taken, net)]
    assert ends[1] == pytest.approx(ends[0], abs=0.2)
    assert float(taken.get("x")) == pytest.approx(ends[2], abs=0.2)
    assert len(of(root, "path", "whisker")) == 3
    assert "bonnet <b> -1.5" in root.get("aria-label")


def test_a_ranking_ties_together_what_cannot_be_told_apart() -> None:
    variants = [
        RankedVariant("C", "fell", 1.0, 0.8),
        RankedVariant("B", "dyke", 0.6, 0.8),
        RankedVariant("A", "stock", 0.0, 0.0, True),
    ]
    root = drawn(ranking(variants, [("C", "B"), ("A",)], "lb-ft"))
    assert len(of(root, "line", "together")) == 1
    assert len(of(root, "circle", "knot")) == 2
    assert len(of(root, "circle", "reference")) == 1
    assert len(of(root, "line", "span")) == 2
    places = [float(e.get("cx")) for e in of(root, "circle", "dot")]
    assert places[0] > places[1]
    assert "Cannot be told apart: C and B" in root.get("aria-label")


def test_small_multiples_share_one_scale() -> None:
    panels = [Panel(f"set {k}", [2000.0, 4000.0, 6000.0], [k, 2.0 * k, k], [0.5] * 3) for k in (1, 2, 3, 4)]
    root = drawn(small_multiples(panels, "N·m"))
    lines = [e.get("points").split() for e in of(root, "polyline", "line")]
    assert len(lines) == 4
    heights = [float(points[0].split(",")[1]) - float(points[1].split(",")[1]) for points in lines]
    assert heights[1] == pytest.approx(2 * heights[0], rel=0.02)
    assert len(of(root, "polygon", "band")) == 4
