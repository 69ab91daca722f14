"""A pull in a stream: found when the throttle shuts, whatever went before it; clocks against ours."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import theilslopes

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import PullRules
from longbreath.core.judge.sensors import check_clocks, check_gaps
from longbreath.core.pull.live import NOTHING, OVER, RISING, Stream, clock_off, watch
from longbreath.core.pull.pulls import make_sweep
from longbreath.devices.standin_cell import SimulatedCell

LEAST = 2000.0 * RPM


def stream_of(seed: int, idle: float, until: float, throttle: bool = True) -> Stream:
    """What a stand-in said until some seconds after its pull was asked for."""
    cell = SimulatedCell(seed=seed)
    cell._began = 0.0
    frames = cell.frames(idle, 0.0)
    cell.take("pull")
    frames += cell.frames(idle + until, frames[-1][0])
    rows = [frame for _, frame in frames]
    of = {name: np.array([row[name] for row in rows]) for name in ("rpm", "torque", "throttle")}
    time = np.array([at for at, _ in frames])
    return Stream(time, of["rpm"] * RPM, of["torque"], of["throttle"] / 100.0 if throttle else None)


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 5_000), idle=st.floats(2.0, 28.0), throttle=st.booleans())
def test_a_pull_is_found_whole_however_long_it_idled_before(seed: int, idle: float, throttle: bool) -> None:
    seen = watch(stream_of(seed, idle, 17.0, throttle), LEAST)
    assert seen.state == OVER
    assert seen.stretch is not None
    assert seen.stretch.low / RPM == pytest.approx(1700.0, abs=30.0)
    assert seen.stretch.high / RPM == pytest.approx(7080.0, abs=30.0)
    whole = stream_of(seed, idle, 17.0, throttle).speed[seen.stretch.rows]
    assert (np.maximum.accumulate(whole) - whole).max() < 9.0 * RPM  # nothing of the hold before it


@pytest.mark.parametrize(
    ("until", "state"), [(1.0, NOTHING), (3.0, NOTHING), (5.0, RISING), (11.0, RISING), (13.2, OVER)]
)
def test_the_state_as_the_pull_goes_on(until: float, state: str) -> None:
    """Rolled on for 2 s, held for 1.5 s, pulled for 8.7 s, then shut."""
    assert watch(stream_of(3, 5.0, until), LEAST).state == state


def test_it_is_over_within_a_quarter_of_a_second_of_the_shut_throttle() -> None:
    found = stream_of(4, 6.0, 17.0)
    assert found.throttle is not None
    shut = int(np.flatnonzero((found.throttle[1:] < 0.5) & (found.throttle[:-1] > 0.9))[-1]) + 1
    for rows in range(1, 10):
        cut = slice(0, shut + rows)
        seen = watch(Stream(found.time[cut], found.speed[cut], found.torque[cut], found.throttle[cut]), LEAST)
        if seen.state == OVER:
            break
    assert rows / 25.0 <= 0.25


def test_a_blip_is_no_pull() -> None:
    time = np.arange(0.0, 12.0, 0.04)
    speed = (880.0 + 1500.0 * np.exp(-(((time - 6.0) / 0.8) ** 2))) * RPM
    torque = 60.0 * np.exp(-(((time - 5.6) / 0.6) ** 2))
    throttle = np.where(np.abs(time - 5.6) < 0.5, 0.95, 0.02)
    assert watch(Stream(time, speed, torque, throttle), LEAST).state == NOTHING


def test_too_little_says_nothing() -> None:
    few = np.arange(5.0)
    assert watch(Stream(few, few, few), LEAST).state == NOTHING


@pytest.mark.parametrize("off", [-0.03, 0.0, 0.004, 0.03])
def test_a_clock_is_told_through_lines_that_arrive_unevenly(off: float) -> None:
    rng = np.random.default_rng(5)
    ours = np.sort(np.arange(0.0, 30.0, 0.04) + rng.exponential(0.03, 750))
    device = (ours - rng.exponential(0.02, 750)) * (1.0 + off)
    found = clock_off(device, ours)
    assert found == pytest.approx(off, abs=0.002)
    whole = theilslopes(device, ours)[0] - 1.0  # all lines instead of sixty: scipy
    assert found == pytest.approx(whole, abs=0.002)
    assert clock_off(device[:300], ours[:300]) is None  # twelve seconds do not tell


def test_the_checks_of_clocks_and_gaps() -> None:
    rules = PullRules(1800 * RPM, 7000 * RPM, clocks={"dyno": 0.0003, "logger": 0.03})
    told = check_clocks(rules)
    assert (told.passed, told.key) == (False, "clocks")
    assert "3.0% fast" in told.sentence
    assert check_clocks(PullRules(1800 * RPM, 7000 * RPM)).passed is None
    assert check_clocks(PullRules(1800 * RPM, 7000 * RPM, clocks={"dyno": -0.002})).passed
    time = np.arange(0.0, 8.0, 0.04)
    speed = (1800.0 + 600.0 * time) * RPM
    kept = (time < 4.0) | (time > 5.4)
    whole = make_sweep({"time": time, "speed": speed, "torque": np.full(time.size, 180.0)})
    holed = make_sweep({"time": time[kept], "speed": speed[kept], "torque": np.full(int(kept.sum()), 180.0)})
    assert check_gaps(whole).passed
    told = check_gaps(holed)
    assert told.passed is False
    assert "1.5 s are missing" in told.sentence
    assert told.low == pytest.approx((1800.0 + 600.0 * 3.96) * RPM, rel=0.001)
    assert check_gaps(make_sweep({"speed": speed, "torque": speed * 0 + 100.0})).passed is None
