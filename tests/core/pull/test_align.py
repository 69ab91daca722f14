"""Two clocks of one pull, against lags that are known; figures brought over without inventing detail."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.pull.align import align, onto


def course(time: np.ndarray) -> np.ndarray:
    """Speed of a made pull with its roll-on and coast [rad/s]."""
    return np.interp(time, [0, 3, 5, 14, 15, 24, 30], [900, 900, 1800, 7000, 7050, 1500, 900]) * RPM


@pytest.mark.parametrize("lag", [-4.3, -0.317, 0.0, 0.062, 2.51, 6.0])
@pytest.mark.parametrize("rates", [(50.0, 10.0), (20.0, 100.0), (25.0, 25.0)])
def test_the_lag_is_found_to_a_fifth_of_a_step_with_noise(lag: float, rates: tuple[float, float]) -> None:
    rng = np.random.default_rng(int(1000 + 100 * lag + rates[0]))
    first, second = (np.arange(0.0, 30.0, 1.0 / rate) for rate in rates)
    a = course(first) + rng.normal(0, 8 * RPM, first.size)
    b = course(second + lag) + rng.normal(0, 8 * RPM, second.size)
    found = align(first + 500.0, a, second, b)
    assert found.lag == pytest.approx(500.0 + lag, abs=0.2 / min(rates))
    assert found.correlation > 0.999
    assert found.off < 25 * RPM


def test_a_short_pull_finds_its_place_in_a_long_log() -> None:
    time = np.arange(0.0, 30.0, 0.04)
    part = (time > 5) & (time < 14)
    found = align(time[part], course(time[part]), time, course(time))
    assert found.lag == pytest.approx(0.0, abs=0.01)


@pytest.mark.parametrize(
    ("change", "message"),
    [
        (lambda v: v * 1.4, "do not run together"),
        (lambda v: np.full(v.size, 3000 * RPM), "hardly changes"),
        (lambda v: v[::-1] * np.linspace(0.3, 1.0, v.size), "do not run together"),
    ],
)
def test_what_is_not_of_one_pull_is_refused(change: object, message: str) -> None:
    time = np.arange(0.0, 30.0, 0.05)
    with pytest.raises(InputError, match=message):
        align(time, course(time), time, change(course(time)))  # type: ignore[operator]


def test_a_clock_that_stands_is_refused() -> None:
    time = np.arange(0.0, 30.0, 0.05)
    with pytest.raises(InputError, match="does not run forward"):
        align(time, course(time), np.zeros(time.size), course(time))


def test_a_fine_source_is_averaged_and_a_coarse_one_gets_no_new_detail() -> None:
    fine = np.arange(0.0, 10.0, 0.01)
    ripple = np.cos(2 * np.pi * 20.0 * fine)
    coarse = np.arange(0.5, 9.5, 0.1)
    assert np.abs(onto(coarse, fine, ripple)).max() < 0.12  # a mean over two waves; picks would show up to 1
    straight = onto(fine, coarse, 3.0 * coarse)
    inside = (fine >= 0.5) & (fine <= 9.3)
    assert straight[inside] == pytest.approx(3.0 * fine[inside], abs=1e-9)
    assert np.isnan(straight[fine < 0.4]).all()


def test_gaps_stay_gaps() -> None:
    time = np.concatenate([np.arange(0.0, 2.0, 0.1), np.arange(6.0, 8.0, 0.1)])
    found = onto(np.arange(0.0, 8.0, 0.1), time, np.ones(time.size))
    assert np.isnan(found[25:55]).all()
    assert np.isfinite(found[:18]).all()
