"""Pictures of Reckon: sound SVG with its words, whatever the figures."""

from __future__ import annotations

from itertools import pairwise
from xml.etree import ElementTree

import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.engine import tuned_pipe
from longbreath.drawing import forecast, pipe, streams, tuned
from longbreath.drawing.forecast import SaidPoint, Seen
from longbreath.drawing.streams import Section
from longbreath.drawing.tuned import TunedRow

SVG = "{http://www.w3.org/2000/svg}"


def drawn(markup: str) -> ElementTree.Element:
    return ElementTree.fromstring(str(markup).replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1))


def texts(root: ElementTree.Element) -> list[str]:
    return [node.text or "" for node in root.iter(f"{SVG}text")]


def test_sections_have_a_line_a_speed_and_the_limit() -> None:
    rows = [Section("air box <1>", ((0.01, 0.02), (0.02, 0.03))), Section("runner", ((0.1, 0.12), (0.3, 0.32)))]
    root = drawn(streams.streams(rows, ["2000 rpm", "6000 rpm"], 0.625, "intake"))
    assert len(root.findall(f"{SVG}polyline")) == 2
    assert "peaks choke" in texts(root)
    assert "air box <1>" in texts(root)
    assert "runner 0.32" in root.get("aria-label", "")


def test_names_of_speeds_never_cover_one_another() -> None:
    rows = [Section("pipe", ((0.3, 0.3),) * 4)]
    root = drawn(streams.streams(rows, [f"{n}000 rpm" for n in range(1, 5)], 0.625, "exhaust"))
    heights = sorted(float(t.get("y", 0)) for t in root.iter(f"{SVG}text") if (t.text or "").endswith("000 rpm"))
    assert all(b - a >= 15 for a, b in pairwise(heights))


def test_tuned_speeds_beyond_the_axis_fall_out_and_the_band_is_shaded() -> None:
    rows = [TunedRow("rule", ((3000 * RPM, "5"), (17000 * RPM, "1"))), TunedRow("Helmholtz", ((5800 * RPM, ""),))]
    root = drawn(tuned.tuned_axis(rows, (2000 * RPM, 7000 * RPM), 9000 * RPM))
    assert len(root.findall(f"{SVG}circle")) == 2
    assert root.find(f"{SVG}rect") is not None
    assert "3000" in root.get("aria-label", "")
    assert "17000" not in root.get("aria-label", "")


def test_a_pipe_is_drawn_piece_by_piece() -> None:
    root = drawn(pipe.pipe(tuned_pipe.pieces(0.75, 0.038, 1.1, 2.6, 0.62)))
    assert len(root.findall(f"{SVG}polygon")) == 7
    assert {"header", "belly", "baffle", "stinger"} <= set(texts(root))


@pytest.mark.parametrize(
    ("said", "seen"),
    [
        (
            [SaidPoint(2000, -1, 0, 1), SaidPoint(3000, -1, 0, 1), SaidPoint(3000, 1, 2, 4), SaidPoint(5000, 1, 2, 4)],
            [Seen(2000, 3000, 0.3, 0.2)],
        ),
        ([SaidPoint(0, -200, -100, 50)], [Seen(-1, 1, -120, 30)]),
        ([SaidPoint(0, 0, 1e-9, 2e-9), SaidPoint(1, 0, 1e-9, 2e-9)], []),
        ([SaidPoint(0, -1e6, 0, 1e6), SaidPoint(1, -1e6, 0, 1e6)], [Seen(0, 1, 5e6, 1e6)]),
    ],
)
def test_a_forecast_is_drawn_with_what_was_found(said: list[SaidPoint], seen: list[Seen]) -> None:
    root = drawn(forecast.forecast(said, seen, "rpm", "torque, B − A, lb-ft"))
    assert root.find(f"{SVG}polygon") is not None
    assert len(root.findall(f"{SVG}circle")) == len(seen)
    assert "0" in texts(root)
    assert ("found" in root.get("aria-label", "")) or not seen
    for node in root.iter():
        assert "nan" not in " ".join(node.attrib.values())
