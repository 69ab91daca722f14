"""Runner lengths by two schools: round trips and directions."""

from __future__ import annotations

from math import radians

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.basis.constants import RPM
from longbreath.core.engine import tuning


@given(st.floats(2000, 8000), st.floats(0.0008, 0.003))
def test_helmholtz_length_and_speed_are_inverse(rpm: float, area: float) -> None:
    length = tuning.helmholtz_length(rpm * RPM, area, 5e-4, 11.2, 313).value
    assert tuning.helmholtz_speed(length, area, 5e-4, 11.2, 313) == pytest.approx(rpm * RPM)


def test_a_later_reflection_wants_a_shorter_runner() -> None:
    lengths = [tuning.reflected_wave_length(430, radians(248), 313, k, 0.043).value for k in range(1, 7)]
    assert lengths == sorted(lengths, reverse=True)
