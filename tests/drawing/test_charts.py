"""Charts: valid specifications, hatches only where a difference is proven, units and theme as asked."""

from __future__ import annotations

import json
import re
from typing import Any

import altair as alt
import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.units import scale
from longbreath.core.compare import bands, compare
from longbreath.drawing import charts
from longbreath.drawing.palette import PALETTES
from tests.core.compare.flat import BANDS, GRID, runs

SHAPE = 5 * np.exp(-(((GRID / RPM - 4000) / 700) ** 2)) - 4 / (1 + np.exp(-(GRID / RPM - 6200) / 150))
WEIGHING = bands.weigh(compare.compare_pulls(runs("AAABBBAAA", SHAPE, -0.1, 0.3), GRID), BANDS)
CURVES = [
    {"rpm": 2000 + 100 * n, "torque": 150.0 + n, "pull": p, "label": "A", "counts": p != 2}
    for n in range(20)
    for p in (1, 2)
]


def every() -> dict[str, dict[str, Any]]:
    return {
        "weigh": charts.weigh_chart(WEIGHING, BANDS, "us", "paper"),
        "pull": charts.pull_chart(CURVES, "N·m", "cell"),
    }


@pytest.mark.parametrize("name", ["weigh", "pull"])
def test_specifications_are_valid_and_plain_json(name: str) -> None:
    spec = every()[name]
    assert json.loads(json.dumps(spec)) == spec
    checked = dict(spec)
    alt.Chart.from_dict(checked, validate=True)
    assert spec["$schema"].endswith(".json")
    assert all(rows for rows in spec["datasets"].values())


def rows_with(spec: dict[str, Any], *keys: str) -> list[dict[str, float]]:
    return next(rows for rows in spec["datasets"].values() if set(keys) <= set(rows[0]))


def test_hatching_stands_only_where_the_difference_is_proven() -> None:
    found = WEIGHING.comparison
    rows = rows_with(charts.weigh_chart(WEIGHING, BANDS, "metric", "paper"), "gain", "loss")
    for row, difference, half in zip(rows, found.difference, found.half_width, strict=True):
        assert (row["gain"] > 0) == (difference - half > 0)
        assert (row["loss"] < 0) == (difference + half < 0)


def test_no_two_ticks_of_a_difference_read_alike() -> None:
    """The axis of B − A counts in halves where the difference is small: they are written with their digits."""
    spec = charts.weigh_chart(WEIGHING, BANDS, "us", "paper")
    formats = re.findall(r'"format": "([+][^"]*)"', json.dumps(spec))
    assert formats
    assert all(form.endswith("~r") for form in formats)


def test_figures_follow_the_units_of_the_viewer() -> None:
    us = rows_with(charts.weigh_chart(WEIGHING, BANDS, "us", "paper"), "a", "b")
    metric = rows_with(charts.weigh_chart(WEIGHING, BANDS, "metric", "paper"), "a", "b")
    assert metric[0]["a"] / us[0]["a"] == pytest.approx(scale("torque", "us"), rel=1e-3)
    assert "lb-ft" in json.dumps(charts.weigh_chart(WEIGHING, BANDS, "us", "paper"))


def test_all_repeats_are_drawn() -> None:
    rows = rows_with(charts.weigh_chart(WEIGHING, BANDS, "us", "paper"), "pull", "torque")
    assert {row["pull"] for row in rows} == set(range(1, 10))


def test_pulls_of_other_letters_are_drawn_without_b() -> None:
    others = [{**row, "label": {"A": "A", "B": "C"}[row["label"]]} for row in CURVES]
    assert charts.pull_chart(others, "N·m", "paper")["layer"]


def test_a_is_thin_with_open_markers_and_b_heavy_with_filled_ones() -> None:
    text = json.dumps(charts.weigh_chart(WEIGHING, BANDS, "us", "paper"))
    assert '"strokeWidth": 1.3' in text
    assert '"strokeWidth": 2.8' in text
    assert '"filled": false' in text


@pytest.mark.parametrize("theme", list(PALETTES))
def test_the_svg_carries_its_hatches_in_the_ink_of_the_theme(theme: str) -> None:
    svg = charts.to_svg(charts.weigh_chart(WEIGHING, BANDS, "us", theme, brush=False), theme)
    assert svg.startswith("<svg")
    assert '<pattern id="gain"' in svg
    assert '<pattern id="loss"' in svg
    assert "url(#gain)" in svg
    assert PALETTES[theme].ink in svg
    assert "<script" not in svg


def test_the_brush_is_only_on_the_screen() -> None:
    assert "asked" in json.dumps(charts.weigh_chart(WEIGHING, BANDS, "us", "paper"))
    assert "asked" not in json.dumps(charts.weigh_chart(WEIGHING, BANDS, "us", "paper", brush=False))


def luminance(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("theme", list(PALETTES))
@pytest.mark.parametrize(("front", "least"), [("ink", 7.0), ("soft", 4.5), ("intake", 4.5), ("exhaust", 4.5)])
def test_contrast_of_the_palette(theme: str, front: str, least: float) -> None:
    """WCAG 2.2, success criterion 1.4.3: 4.5 to 1 for text; ink is held to 7 to 1 (1.4.6)."""
    palette = PALETTES[theme]
    a, b = sorted((luminance(getattr(palette, front)), luminance(palette.sheet)))
    assert (b + 0.05) / (a + 0.05) >= least
