"""A roller dyno against closed forms: a constant torque, a known coast-down, a wave under smoothing."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from longbreath.core.basis.errors import InputError
from longbreath.core.pull.roller import Roller, acceleration, effect_words, engine_torque, smoothing_effects

TIME = np.arange(0.0, 9.0, 0.02)


def test_a_constant_torque_makes_a_constant_acceleration() -> None:
    """First principles: 22 kg·m² under 440 N·m gains 20 rad/s each second; the engine at 4.6 times the speed has 1/4.6 of it."""
    speed = 40.0 + 20.0 * TIME
    torque = engine_torque(TIME, speed, 4.6 * speed, Roller(22.0), 0.4)
    assert torque == pytest.approx(440.0 / 4.6, rel=1e-9)


def test_losses_are_added() -> None:
    """A run up is integrated against a + b·ω + c·ω² by scipy; torque under power is whole again."""
    a, b, c, inertia = 9.0, 0.05, 0.0011, 22.0
    up = solve_ivp(
        lambda t, w: (440.0 - a - b * w - c * w**2) / inertia,
        (0.0, 5.0),
        [40.0],
        t_eval=np.arange(0, 5, 0.02),
        rtol=1e-9,
    )
    torque = engine_torque(up.t, up.y[0], up.y[0], Roller(inertia, losses=(a, b, c)), 0.2)
    assert torque[10:-10] == pytest.approx(440.0, rel=3e-3)


@pytest.mark.parametrize("width", [0.2, 0.4, 0.8])
def test_smoothing_hides_a_wave_as_far_as_it_must(width: float) -> None:
    """The slope of a line fitted over w to a sine of speed is its derivative times 3(sin x − x·cos x)/x³ with x = π·w·f."""
    frequency = 1.1
    speed = 100.0 + 2.0 * np.sin(2 * np.pi * frequency * TIME)
    found = acceleration(TIME, speed, width)[50:-50]
    x = np.pi * (width + 0.02) * frequency  # 0.02 s apart, the points stand for as much more
    left = 3.0 * (np.sin(x) - x * np.cos(x)) / x**3
    assert np.max(np.abs(found)) == pytest.approx(2.0 * 2 * np.pi * frequency * left, rel=0.02)


def test_wider_smoothing_lowers_a_narrow_peak_and_says_so() -> None:
    torque = 400.0 + 120.0 * np.exp(-(((TIME - 4.5) / 0.4) ** 2))
    speed = 40.0 + np.cumsum(torque) * 0.02 / 22.0
    effects = smoothing_effects(TIME, speed, 4.6 * speed, Roller(22.0))
    peaks = [e.peak for e in effects]
    assert peaks == sorted(peaks, reverse=True)
    words = effect_words(effects, 0.4)
    assert "Smoothed over 0.4 s" in words
    assert "%" in words


def test_what_makes_no_torque_is_refused() -> None:
    with pytest.raises(InputError, match="more than nought"):
        Roller(0.0)
    with pytest.raises(InputError, match="fewer than three points"):
        acceleration(TIME, TIME, 0.01)
