"""Volumes: parts add up."""

from __future__ import annotations

import pytest

from longbreath.core.path import sections, volumes
from longbreath.core.path.walk import PathElement


def test_a_duct_of_several_parts_adds_up() -> None:
    section = sections.round_section(0.04)
    row = [
        PathElement(1, "a", "runner", "intake", 0.2, section, section),
        PathElement(2, "b", "plenum", "intake", 0.1, section, section, volume=0.002),
    ]
    figure = volumes.duct_figure(row, "both")
    assert figure.value == pytest.approx(0.2 * section.area + 0.002)
    assert volumes.ratio_figure(figure, 0.001).value == pytest.approx(figure.value / 0.001)
