"""Axes: round scales that hold what is drawn, and numbers of which no two read alike."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.drawing import axes

VALUES = st.floats(-1e5, 1e5, allow_nan=False).map(lambda v: round(v, 6))


@given(VALUES, VALUES, st.integers(2, 8), st.booleans())
def test_a_scale_holds_its_ends_and_no_two_ticks_read_alike(
    one: float, other: float, wanted: int, signed: bool
) -> None:
    low, high = sorted((one, other))
    found = axes.ticks(low, high, wanted)
    assert found.low <= low + 1e-6 * found.step
    assert found.high >= high - 1e-6 * found.step
    words = [found.words(value, signed) for value in found.values]
    assert len(set(words)) == len(words) >= 2
    read = [float(w.replace("−", "-")) for w in words]
    assert read == pytest.approx(found.values, abs=0.02 * found.step)


def test_nought_is_drawn_heavy_where_a_scale_has_signs() -> None:
    scale = axes.from_nought([-1.2, 1.4], 4)
    lines = [part for part in axes.upright(scale, lambda v: -v, 0, 10, signed=True) if "<line" in part]
    assert [" nought" in line for line in lines] == [scale.is_nought(v) for v in scale.values]
    assert not any(" nought" in part for part in axes.upright(scale, lambda v: -v, 0, 10))
