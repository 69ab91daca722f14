"""Simulation cases: what they say becomes the engine, and what is wrong in them is named."""

from __future__ import annotations

import json
from math import pi, radians
from pathlib import Path

import numpy as np
import pytest

from longbreath.cli.simulate import CASES, shipped
from longbreath.core.basis.errors import InputError
from longbreath.core.path import losses
from longbreath.core.path.sections import round_section, rounded_rectangle
from longbreath.core.path.walk import PathElement
from longbreath.core.wave import openings
from longbreath.core.wave.assemble import build
from longbreath.core.wave.engine import Box, Throttle
from longbreath.core.wave.measured import line_of
from longbreath.core.wave.mesh import PipePiece
from longbreath.formats.wave_case import load_case, read_case, speeds
from tests import factories

HERON = (CASES / "heron.json").read_text()


def changed(**changes: object) -> str:
    """The Heron's case with values put at dotted paths (double underscores), or taken out with None."""
    case = json.loads(HERON)
    for path, value in changes.items():
        *way, last = path.split("__")
        at = case
        for step in way:
            at = at[int(step) if isinstance(at, list) else step]
        if value is None:
            del at[last]
        else:
            at[int(last) if isinstance(at, list) else last] = value
    return json.dumps(case)


@pytest.mark.parametrize("name", ["heron", "drover", "skim"])
def test_shipped_cases_build(name: str) -> None:
    assert name in shipped()
    made = build(load_case(CASES / f"{name}.json").to_engine())
    run = made.net.build(720)
    assert len(made.chambers) == {"heron": 4, "drover": 8, "skim": 1}[name]
    assert len(run.model.end_cell) > 4


def test_the_heron_case_is_the_demos_heron() -> None:
    """Bore, stroke, rod and ratio of the case are those of the demo's vehicle."""
    engine = load_case(CASES / "heron.json").to_engine()
    for mine, theirs in (("bore", "bore"), ("stroke", "stroke"), ("rod", "rod"), ("ratio", "compression_ratio")):
        assert getattr(engine.chamber, mine) == pytest.approx(getattr(factories.HERON, theirs))
    runner = engine.intake.runners[0][0]
    assert isinstance(runner, PipePiece)
    assert runner.entry.area == pytest.approx(rounded_rectangle(0.0462, 0.0338, 0.009).area)
    assert runner.length == pytest.approx(0.302)
    assert engine.intake.plenum == pytest.approx(3.1e-3)
    bend = engine.intake.inlet[2]
    assert isinstance(engine.intake.inlet[1], Box)
    assert isinstance(bend, PipePiece)
    assert bend.loss == losses.bend(0.0664, radians(35), 0.14, 1e5, 1e-5).k


def test_timing_and_bench_curve_reach_the_table() -> None:
    engine = read_case(HERON).to_engine()
    assert engine.intake_table is not None
    angle = np.arange(openings.POINTS) * 720 / openings.POINTS
    opened = angle[engine.intake_table[1] > 0]
    assert opened.min() == pytest.approx(360 - 18, abs=1)
    assert opened.max() == pytest.approx(540 + 50, abs=1)
    most = 0.49 * 9 + 0.4 * (0.435 * 10.5 - 0.49 * 9)  # straight between the two lifts, C_d × lift
    assert engine.intake_table[1].max() == pytest.approx(2 * pi * 33.5e-3 * most * 1e-3, rel=1e-3)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "This is not JSON: .* in line 1"),
        (changed(engine__bore=84), r"engine\.bore: there is no such key"),
        (changed(engine__bore_mm=None), r"engine\.bore_mm: this is missing"),
        (changed(engine__compression_ratio=0.5), r"engine\.compression_ratio: .*greater than 1 \(found 0\.5\)"),
        (changed(intake__inlet__0={"length_mm": 10}), r"intake\.inlet\.0: give diameter_mm, or width_mm and height_mm"),
        (
            changed(intake__runners__0__0__length_mm=-302),
            r"intake\.runners\.0\.0\.length_mm: .*greater than 0 \(found -302\)",
        ),
        (changed(format="something/2"), r"format: Input should be"),
        (changed(cell_mm=0.1), r"cell_mm: .*greater than or equal to 2"),
        (changed(engine__kind="rotary"), r"engine: rotor_cc belongs to a rotary"),
        (changed(engine__firing_order=[1, 2, 3, 3]), "firing order names each of the 4 cylinders once"),
        (changed(intake__valves=None), "four-stroke needs intake valves"),
        (changed(intake__plenum_l=None), "An inlet leads to a plenum"),
        (changed(intake__inlet=[]), "A plenum needs an inlet"),
        (changed(exhaust__collector__0={"volume_l": 3}), "begins and ends with a piece"),
        (changed(exhaust__turbine={"area_mm2": 500}), "Behind a turbine there is a pipe"),
        (changed(intake__runners__0__0__exit_diameter_mm=9000), "steeper than"),
    ],
)
def test_a_wrong_case_says_where(text: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        build(read_case(text).to_engine())


def test_files_and_speeds_are_read_with_care(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="cannot be read: no such file"):
        load_case(tmp_path / "none.json")
    (tmp_path / "latin.json").write_bytes(b"{\xff}")
    with pytest.raises(InputError, match="not UTF-8"):
        load_case(tmp_path / "latin.json")
    assert [round(w * 30 / pi) for w in speeds("1500:2500:400")] == [1500, 1900, 2300]
    assert [round(w * 30 / pi) for w in speeds("3000, 4500")] == [3000, 4500]
    for text, words in (
        ("fast", "not from:to:step"),
        ("7000:1500:400", "not from:to:step"),
        ("50", "100 rpm and more"),
    ):
        with pytest.raises(InputError, match=words):
            speeds(text)


def test_throttles_boost_and_turbines_reach_the_network() -> None:
    """A compressor at 1.8 and 70 %: T·(1 + (1.8^(2/7) − 1)/0.7) = 376.0 K from 298.15 K; the cooler halves the rise."""
    pipe = {"length_mm": 100, "diameter_mm": 60}
    text = changed(
        intake__boost={"pressure_ratio": 1.8, "cooler_effectiveness": 0.5},
        exhaust__turbine={"area_mm2": 700},
        exhaust__system=[{"length_mm": 400, "diameter_mm": 60}],
        exhaust__collector=[{"length_mm": 100, "diameter_mm": 50}],
        intake__inlet=[pipe, {"throttle_area_mm2": 900, "coefficient": 0.8}, pipe],
    )
    engine = read_case(text).to_engine()
    assert engine.intake.boost is not None
    pressure, temperature = engine.intake.boost.supply(engine.air, engine.fresh)
    assert pressure == pytest.approx(1.8 * 99e3)
    assert temperature == pytest.approx(298.15 + (376.03 - 298.15) / 2, abs=0.02)
    assert engine.intake.inlet[1] == Throttle(900e-6 * 0.8)
    assert build(engine).net.build(10).model.gate_floats[:, 4].max() == 0.65


def test_a_measured_path_becomes_a_line() -> None:
    """What callipers and bench say of an element: its taper, its bend, its measured drop, its volume."""
    tube, wide = round_section(0.05), round_section(0.06)
    bend = PathElement(1, "bend", "bend", "intake", 0.2, tube, wide, bend_angle=radians(60), bend_radius=0.09)
    box = PathElement(2, "box", "air box", "intake", 0.3, wide, wide, volume=4e-3)
    filter_ = PathElement(3, "filter", "filter", "intake", 0.1, wide, wide, drop=500.0, drop_flow=0.1)
    first, second, third = line_of([bend, box, filter_], 320.0, 1.2)
    assert isinstance(first, PipePiece)
    assert isinstance(third, PipePiece)
    assert (first.entry, first.exit, first.wall) == (tube, wide, 320.0)
    assert first.loss == pytest.approx(losses.bend(0.05, radians(60), 0.09, 1e5, bend.roughness).k)
    assert second == Box(4e-3)
    assert third.loss == pytest.approx(500.0 / (0.6 * (0.1 / wide.area) ** 2))
    assert third.friction == 0.0
