"""What a plan can prove."""

from __future__ import annotations

import pytest

from longbreath.core.dyno import planning


def test_provable_gain_scales_with_the_noise_and_explains_itself() -> None:
    one, two = planning.provable(1.0, 3, "12 repeats"), planning.provable(2.0, 3, "12 repeats")
    assert two.value == pytest.approx(2 * one.value)
    assert [step.symbol for step in one.working.steps] == ["se", "ν", "δ"]
    assert one.working.rows == ("12 repeats",)
