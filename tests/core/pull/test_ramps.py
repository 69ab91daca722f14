"""Where the pulls lie in a log, against logs whose truth is known."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.pull.ramps import IDLE, STEADY, SWEEP, find_stretches
from longbreath.devices.made_engine import Channels, day_log
from tests.core.compare.made import BOOSTED, BREATHING


def found_in(
    made: Channels, timed: bool = True, loaded: bool = True, throttle: bool = True
) -> list[tuple[str, float, float]]:
    stretches = find_stretches(
        made["rpm"] * RPM,
        made["time"] if timed else None,
        made["torque"] if loaded else None,
        made["throttle"] / 100.0 if throttle else None,
    )
    return [(s.kind, made["rpm"][s.first], made["rpm"][s.last]) for s in stretches]


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize(("loaded", "throttle"), [(True, True), (True, False), (False, True), (False, False)])
def test_every_pull_of_a_day_is_found_from_end_to_end(seed: int, loaded: bool, throttle: bool) -> None:
    made = day_log(BREATHING, [seed, seed + 50, seed + 90])
    pulls = [f for f in found_in(made, loaded=loaded, throttle=throttle) if f[0] == SWEEP]
    assert len(pulls) == 3
    for _, low, high in pulls:
        assert low <= 1800 * 1.01
        assert high >= 7000


def test_idle_and_a_steady_point_are_told_from_pulls() -> None:
    made = day_log(BREATHING, [3, 4], steady=9.0)
    kinds = [kind for kind, *_ in found_in(made)]
    assert kinds.count(SWEEP) == 2
    assert kinds.count(STEADY) == 2
    assert kinds.count(IDLE) == 2
    steady = [low for kind, low, _ in found_in(made) if kind == STEADY]
    assert steady == pytest.approx([2500, 2500], rel=0.02)


def test_pulls_one_after_the_other_without_a_clock_are_split() -> None:
    rpm = np.concatenate([np.linspace(1800, 7000, 200), np.linspace(1750, 6950, 190), np.linspace(1800, 7000, 210)])
    stretches = find_stretches(rpm * RPM)
    assert [s.kind for s in stretches] == [SWEEP] * 3
    assert [(s.first, s.last) for s in stretches] == [
        (pytest.approx(a, abs=8), pytest.approx(b, abs=8)) for a, b in ((0, 199), (200, 389), (390, 599))
    ]


def test_one_ramp_is_the_whole_file_and_a_lift_stays_in_it() -> None:
    rpm = np.linspace(1800, 7000, 400)
    rpm[200:212] -= np.linspace(0, 300, 12)
    rpm[212:224] -= np.linspace(300, 0, 12)
    (only,) = find_stretches(rpm * RPM)
    assert (only.first, only.last) == (0, 399)


def test_a_blip_is_no_pull() -> None:
    made = day_log(BOOSTED, [5])
    blip = np.concatenate([np.linspace(900, 5200, 25), np.linspace(5200, 900, 60)])
    rpm = np.concatenate([blip, made["rpm"]])
    load = np.concatenate([np.full(85, 15.0), made["torque"]])
    assert len([s for s in find_stretches(rpm * RPM, None, load) if s.kind == SWEEP]) == 1


def test_nothing_is_found_where_speed_stands() -> None:
    assert find_stretches(np.full(300, 3000 * RPM)) == ()
    assert find_stretches(np.full(300, np.nan)) == ()
