"""Headroom of a boost controller."""

from __future__ import annotations

import pytest

from longbreath.core.engine import headroom


def test_controller_at_its_end() -> None:
    left, above = headroom.controller_figures(0.95, 14e4, 7e4)
    assert left.value == pytest.approx(-0.05)
    assert above.value == pytest.approx(7e4)
    assert "at its end" in left.working.notes[1]
