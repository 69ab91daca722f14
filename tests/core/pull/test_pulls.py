"""Pull checks: each fault is found and named; a clean pull passes."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.judge import shape
from longbreath.core.judge.check import PullRules
from longbreath.core.judge.pull import checks_of, is_valid
from longbreath.core.pull import pulls
from tests.made import standin

RULES = PullRules(1800 * RPM, 7000 * RPM, 0.88, 0.03)


def sweep(**more: object) -> pulls.Sweep:
    logged = standin.pull(7, None, 1, **more)  # type: ignore[arg-type]
    return pulls.make_sweep(
        {"speed": logged.rpm * RPM, "torque": logged.torque, "power": logged.power * 1000.0, "mixture": logged.mixture}
    )


def bare(speed: np.ndarray, torque: np.ndarray) -> pulls.Sweep:
    """A sweep of which nothing but speed and torque was logged."""
    return pulls.Sweep({"speed": speed, "torque": torque})


def failed(found: pulls.Sweep) -> list[str]:
    return [check.key for check in checks_of(found, RULES) if check.passed is False]


def test_a_clean_pull_passes_every_check() -> None:
    assert failed(sweep()) == []
    assert is_valid(checks_of(sweep(), RULES))


@pytest.mark.parametrize(
    ("more", "keys"), [({"spike": True}, ["spikes"]), ({"mixture": 0.75}, ["mixture", "mixture_parts"])]
)
def test_faults_of_the_stand_in_are_found(more: dict[str, object], keys: list[str]) -> None:
    assert failed(sweep(**more)) == keys


def test_power_in_the_wrong_unit_contradicts_torque() -> None:
    s = sweep()
    wrong = pulls.Sweep({**s.channels, "power": s.channels["power"] * 1.341})
    assert failed(wrong) == ["identity"]


def test_a_pull_that_stops_early_is_incomplete() -> None:
    s = sweep()
    keep = s.speed < 6000 * RPM
    short = bare(s.speed[keep], s.torque[keep])
    check = shape.check_coverage(short, RULES)
    assert check.passed is False
    assert "Incomplete" in check.sentence


def test_speed_that_falls_back_is_found() -> None:
    s = sweep()
    speed = s.speed.copy()
    speed[60:70] -= 300 * RPM
    assert shape.check_monotonic(bare(speed, s.torque)).passed is False


def test_what_was_not_logged_is_not_judged() -> None:
    s = sweep()
    checks = checks_of(bare(s.speed, s.torque), RULES)
    assert {"identity", "mixture", "ratio", "boost_cut"} <= {check.key for check in checks if check.passed is None}
    assert is_valid(checks)


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


RPMS = np.arange(1700.0, 7150.0, 12.0)


def shaped(rpm: np.ndarray = RPMS, ripple: float = 0.0, length: float = 1500.0) -> np.ndarray:
    """Torque of an engine [N m]: a broad hump, with the ripple of its tuned pipes."""
    hump = 180.0 * (1.0 - ((rpm - 4500.0) / 5200.0) ** 2)
    return np.asarray(hump * (1.0 + ripple * np.sin(2.0 * np.pi * rpm / length)))


def judged(torque: np.ndarray, rpm: np.ndarray = RPMS) -> list[str]:
    return failed(bare(rpm * RPM, torque))


@pytest.mark.parametrize("at", [2600, 4100, 5600, 6600])
@pytest.mark.parametrize("width", [60, 120, 250])
@pytest.mark.parametrize("depth", [0.09, 0.3])
def test_a_notch_in_torque_is_caught(at: int, width: int, depth: float) -> None:
    """A shift cut or a misfire: smooth enough to be no spike, too narrow to be the engine's own."""
    notch = 1.0 - depth * np.exp(-(((RPMS - at) / (width / 2.0)) ** 2))
    assert {"notch", "spikes"} & set(judged(shaped() * notch))


@pytest.mark.parametrize("fall", [0.2, 0.5, 1.0])
@pytest.mark.parametrize("end", [5200, 6300, 6850])
def test_a_cut_before_the_end_is_caught(fall: float, end: int) -> None:
    cut = np.clip((RPMS - end) / 80.0, 0.0, 1.0) * fall
    kept = end + 160 > RPMS
    assert {"end", "notch", "spikes"} & set(judged((shaped() * (1.0 - cut))[kept], RPMS[kept]))


def test_a_lifted_pedal_inside_the_band_is_named_by_its_place() -> None:
    kept = RPMS < 7080
    torque = shaped() * (1.0 - 0.4 * np.clip((RPMS - 6800.0) / 120.0, 0.0, 1.0))
    check = shape.check_end(bare(RPMS[kept] * RPM, torque[kept]), RULES)
    assert check.passed is False
    assert "before the end" in check.sentence
    assert "6\u202f8" in check.sentence


@pytest.mark.parametrize("ripple", [0.0, 0.03, 0.06])
@pytest.mark.parametrize("length", [1200.0, 1800.0, 2600.0])
def test_the_ripple_of_tuned_pipes_is_no_notch(ripple: float, length: float) -> None:
    assert judged(shaped(ripple=ripple, length=length)) == []


def test_spool_and_falling_power_are_neither_notch_nor_cut() -> None:
    spool = 300.0 / (1.0 + np.exp(-(RPMS - 2900.0) / 130.0)) * (1.0 - np.clip((RPMS - 5200.0) / 6000.0, 0.0, 1.0))
    assert judged(spool + 40.0) == []
    steep = shaped() * (1.0 - 0.35 * np.clip((RPMS - 5500.0) / 1500.0, 0.0, 1.0) ** 2)
    assert judged(steep) == []
