"""Pull checks: each fault is found and named; a clean pull passes."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.dyno import pulls
from longbreath.demo import standin

RULES = pulls.PullRules(1800 * RPM, 7000 * RPM, 0.88, 0.03)


def sweep(**more: object) -> pulls.Sweep:
    logged = standin.pull(7, None, 1, **more)  # type: ignore[arg-type]
    return pulls.make_sweep(
        {"speed": logged.rpm * RPM, "torque": logged.torque, "power": logged.power * 1000.0, "mixture": logged.mixture}
    )


def bare(speed: np.ndarray, torque: np.ndarray) -> pulls.Sweep:
    """A sweep of which nothing but speed and torque was logged."""
    return pulls.Sweep({"speed": speed, "torque": torque})


def failed(found: pulls.Sweep) -> list[str]:
    return [check.key for check in pulls.checks_of(found, RULES) if check.passed is False]


def test_a_clean_pull_passes_every_check() -> None:
    assert failed(sweep()) == []
    assert pulls.is_valid(pulls.checks_of(sweep(), RULES))


@pytest.mark.parametrize(("more", "key"), [({"spike": True}, "spikes"), ({"mixture": 0.75}, "mixture")])
def test_faults_of_the_stand_in_are_found(more: dict[str, object], key: str) -> None:
    assert failed(sweep(**more)) == [key]


def test_power_in_the_wrong_unit_contradicts_torque() -> None:
    s = sweep()
    wrong = pulls.Sweep({**s.channels, "power": s.channels["power"] * 1.341})
    assert failed(wrong) == ["identity"]


def test_a_pull_that_stops_early_is_incomplete() -> None:
    s = sweep()
    keep = s.speed < 6000 * RPM
    short = bare(s.speed[keep], s.torque[keep])
    check = pulls.check_coverage(short, RULES)
    assert check.passed is False
    assert "Incomplete" in check.sentence


def test_speed_that_falls_back_is_found() -> None:
    s = sweep()
    speed = s.speed.copy()
    speed[60:70] -= 300 * RPM
    assert pulls.check_monotonic(bare(speed, s.torque)).passed is False


def test_what_was_not_logged_is_not_judged() -> None:
    s = sweep()
    checks = pulls.checks_of(bare(s.speed, s.torque), RULES)
    assert [check.key for check in checks if check.passed is None] == ["identity", "mixture"]


def test_three_rows_are_no_sweep() -> None:
    with pytest.raises(InputError, match="3 rows with numbers; a sweep needs at least 10"):
        pulls.make_sweep({"speed": np.arange(3.0) + 100, "torque": np.arange(3.0)})


def test_rows_without_numbers_fall_out() -> None:
    speed, torque = np.linspace(100, 700, 50), np.full(50, 150.0)
    torque[::7] = np.nan
    assert pulls.make_sweep({"speed": speed, "torque": torque}).torque.size == 42


def test_torque_is_made_from_power_where_only_power_was_logged() -> None:
    speed = np.linspace(100, 700, 50)
    assert pulls.make_sweep({"speed": speed, "power": 150.0 * speed}).torque == pytest.approx(150.0)


def test_the_grid_keeps_a_straight_line_straight_for_any_row_spacing() -> None:
    for rows in (40, 400):
        speed = np.linspace(1700, 7100, rows) * RPM
        grid = pulls.speed_grid(1800 * RPM, 7000 * RPM)
        found = pulls.on_grid(bare(speed, 2.0 * speed + 5.0), grid)
        assert found == pytest.approx(2.0 * grid + 5.0, rel=1e-9)


def test_outside_the_pull_the_grid_is_empty() -> None:
    grid = pulls.speed_grid(1800 * RPM, 7000 * RPM)
    found = pulls.on_grid(bare(np.linspace(3000, 5000, 60) * RPM, np.full(60, 150.0)), grid)
    assert np.isnan(found[0])
    assert np.isnan(found[-1])
