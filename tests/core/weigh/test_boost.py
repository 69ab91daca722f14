"""Equal boost from a sweep and by the ratio law, and how boost comes: against made engines whose truth is known."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.compare import compare
from longbreath.core.weigh import boost, response
from longbreath.core.weigh.boost import BoostedPull, by_own_sweep, by_ratio_law
from longbreath.core.weigh.figures import equal_figure
from tests.core.compare.flat import BANDS
from tests.core.compare.quick import bands_alone
from tests.outside.sessions import at_least, at_most

GRID = np.arange(2000, 6501, 100) * RPM
ROOM = 100.9e3


def pull(
    label: str, build: str, order: int, kpa: float, part: float = 0.0, seed: int = 0, noise: float = 0.6
) -> BoostedPull:
    """Torque in proportion to absolute pressure, 200 N·m at 180 kPa, and `part` on top."""
    rng = np.random.default_rng(1000 * seed + order)
    pressure = np.full(GRID.size, ROOM + kpa * 1e3) + rng.normal(0.0, 300.0)
    torque = 200.0 * pressure / 180e3 + part + rng.normal(0.0, noise) + rng.normal(0.0, 0.2, GRID.size)
    return BoostedPull(label, build, order, torque, pressure, None, f"pull {order}", 0, order // 2)


def swept(part: float, seed: int = 0, noise: float = 0.6) -> list[BoostedPull]:
    """A and B at one setting, where B's boost rose by 7 kPa; both builds again at a higher one."""
    plan = [("A", "a", 80.0, 0.0), ("B", "b", 87.0, part), ("·C", "a", 105.0, 0.0), ("·D", "b", 112.0, part)]
    made = [
        pull(label, build, 2 * (4 * turn + k) + n, kpa, effect, seed, noise)
        for turn in range(2)
        for k, (label, build, kpa, effect) in enumerate(plan)
        for n in range(2)
    ]
    return made


@pytest.mark.parametrize("part", [0.0, 4.0])
def test_the_truth_at_equal_boost_is_found_and_the_rest_of_the_gain_is_boost(part: float) -> None:
    found = by_own_sweep(swept(part), GRID)
    middle = found.band(3000 * RPM, 5200 * RPM)
    assert middle is not None
    assert middle.low <= part <= middle.high
    assert found.slope.mean() == pytest.approx(200.0 / 180e3, rel=0.05)
    assert found.as_set.mean() == pytest.approx(part + 7e3 * 200 / 180e3, abs=0.9)
    if part == 0.0:
        assert found.share_of_boost(3000 * RPM, 5200 * RPM) == pytest.approx(1.0, abs=0.15)


def test_the_interval_at_equal_boost_holds() -> None:
    held, sessions = 0, 300
    with bands_alone():
        for seed in range(sessions):
            effect = by_own_sweep(swept(2.0, seed), GRID).band(3000 * RPM, 5200 * RPM)
            assert effect is not None
            held += effect.low <= 2.0 <= effect.high
    assert at_least(held, sessions, 0.94)
    assert at_most(held, sessions, 0.985)


def test_without_a_sweep_there_is_the_law_and_it_says_that_it_is_weaker() -> None:
    pair = [p for p in swept(0.0) if p.label in ("A", "B")]
    with pytest.raises(EvidenceError, match="no sweep of its own"):
        by_own_sweep(pair, GRID)
    law = by_ratio_law(pair, GRID)
    assert law.method == boost.LAW
    assert "weaker" in law.notes[0]
    assert abs(float(law.difference.mean())) < 0.8
    assert "it backs no statement" in boost.words_of(law, "boost free")[1]


def test_the_law_is_the_ratio_of_absolute_pressures() -> None:
    """Reference sheet, I.PR.7 and I.PR.10: 7 and 10 psi over a sea-level room are pressure ratios of 1.47632 and 1.68046."""
    psi, room = 6894.757, 101325.0
    flat = np.ones(GRID.size)
    made = [
        BoostedPull(label, label, k, torque * flat, (room + gauge * psi) * flat)
        for k, (label, gauge, torque) in enumerate(
            (("A", 7, 300.0), ("A", 7, 301.0), ("B", 10, 341.48), ("B", 10, 342.62))
        )
    ]
    found = by_ratio_law(made, GRID)
    assert float(found.ratio.mean()) == pytest.approx(1.68046 / 1.47632, rel=1e-5)
    assert float(found.difference.mean()) == pytest.approx((341.48 + 342.62) / 2 * 1.47632 / 1.68046 - 300.5, abs=0.01)


def test_the_slope_is_that_of_a_regression() -> None:
    """Reference sheet, I.reg.slope: boost 5, 8, 10, 12, 15 psi, power 410, 462, 497, 533, 585 hp; 17.5345 hp/psi (scipy,
    statsmodels)."""
    gauge, power = np.array([5.0, 8, 10, 12, 15]), np.array([410.0, 462, 497, 533, 585])
    flat = np.ones(GRID.size)
    made = [BoostedPull("A", "a", k, p * flat, g * flat) for k, (g, p) in enumerate(zip(gauge, power, strict=True))]
    made += [
        BoostedPull("B", "b", 9 + k, (p + 20.0) * flat, g * flat)
        for k, (g, p) in enumerate(zip(gauge, power, strict=True))
    ]
    found = by_own_sweep(made, GRID)
    assert float(found.slope.mean()) == pytest.approx(17.5345, rel=1e-5)
    assert float(found.difference.mean()) == pytest.approx(20.0)


def test_beyond_what_was_swept_nothing_is_said() -> None:
    far = [pull("A", "a", k, 60.0) for k in (1, 2)] + [pull("·C", "a", k, 75.0) for k in (3, 4)]
    far += [pull("B", "b", k, 100.0) for k in (5, 6)] + [pull("·D", "b", k, 115.0) for k in (7, 8)]
    found = by_own_sweep(far, GRID)
    assert not found.covered.any()
    assert found.band(3000 * RPM, 5200 * RPM) is None
    assert equal_figure("equal", BANDS[1], found) is None


def test_boost_is_matched_along_the_curve_or_not_at_all() -> None:
    equal = [pull("A", "a", k, 80.0, noise=0.1) for k in (1, 2, 3)] + [pull("B", "b", k, 80.0) for k in (4, 5, 6)]
    equal += [pull("·C", "a", k, 100.0) for k in (7, 8)]
    assert "Boost was equal along the curve" in by_own_sweep(equal, GRID).matching()
    bent = []
    for p in equal:
        shape = np.linspace(0.94, 1.0, GRID.size) if p.label == "B" else np.ones(GRID.size)
        bent.append(BoostedPull(p.label, p.build, p.order, p.torque, p.pressure * shape))
    words = by_own_sweep(bent, GRID).matching()
    assert "Matching the peak alone would not make it equal" in words or "at the highest boost" in words


def test_a_pull_that_breaks_the_order_is_named() -> None:
    made = swept(2.0)
    odd = made[5]
    made[5] = BoostedPull(odd.label, odd.build, odd.order, odd.torque - 15.0, odd.pressure, None, "the odd one")
    assert by_own_sweep(made, GRID).strays == ("the odd one",)
    assert by_own_sweep(swept(2.0), GRID).strays == ()


def test_a_sweep_in_which_torque_falls_with_pressure_is_no_sweep() -> None:
    made = [BoostedPull(p.label, p.build, p.order, 400.0 - p.torque, p.pressure) for p in swept(0.0)]
    with pytest.raises(EvidenceError, match="does not rise with this pressure"):
        by_own_sweep(made, GRID)


def test_too_few_pulls() -> None:
    with pytest.raises(EvidenceError, match="two valid pulls of A and two of B"):
        by_own_sweep([pull("A", "a", 1, 80.0), pull("B", "b", 2, 87.0)], GRID)


def logged(spool: float, boost_kpa: float = 80.0) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    time = np.arange(0.0, 9.0, 0.05)
    rpm = 1800.0 + 520.0 * time
    return rpm * RPM, boost_kpa * 1e3 / (1.0 + np.exp(-(rpm - spool) / 200.0)), time


def test_half_the_boost_comes_where_the_engine_was_made_to_have_it() -> None:
    speed, gauge, time = logged(2800.0)
    found = response.rise_of(speed, gauge, 80e3, time)
    assert found.speeds[0] == pytest.approx(2800 * RPM, abs=4 * RPM)
    assert found.times[0] == pytest.approx((2800 - 1800) / 520, abs=0.01)
    at_nine = 2800 + 200 * np.log(9.0)
    assert found.speeds[1] == pytest.approx(at_nine * RPM, abs=4 * RPM)
    assert response.rise_of(speed, gauge, 200e3, time).speeds == (None, None)
    assert response.rise_of(speed, gauge, 80e3).times == (None, None)


def test_one_target_for_both_or_less_boost_would_look_quicker() -> None:
    high, low = logged(2800.0, 80.0)[1], logged(2800.0, 60.0)[1]
    assert response.target_of([high, low]) == pytest.approx(60e3, rel=0.02)
    with pytest.raises(EvidenceError, match="no boost"):
        response.target_of([np.zeros(50)])


def test_sooner_is_a_verdict_and_drift_stays_out_of_it() -> None:
    labels = "AAABBBAAA"
    runs = [compare.PullCurve(label, k, np.zeros(1), "", k // 3) for k, label in enumerate(labels, start=1)]
    values = {r.order: 300.0 + r.order - 25.0 * (r.label == "B") + (0.3 if r.order % 2 else -0.3) for r in runs}
    found = response.judge("speed", "speed", values, runs, early=True)
    assert found is not None
    assert found.verdict == "sooner"
    assert found.effect.value == pytest.approx(-25.0, abs=0.5)
    assert response.judge("speed", "speed", {1: 3.0}, runs, early=True) is None


def test_area_while_the_engine_speeds_up() -> None:
    """A flat 200 N·m from 2,000 to 4,000 rpm at 500 rpm a second lasts four seconds: 800 N·m·s (∫T dt, by hand)."""
    torque = np.full(GRID.size, 200.0)
    assert response.area_while_rising(GRID, torque, 2000 * RPM, 4000 * RPM, 500 * RPM) == pytest.approx(800.0)
    with pytest.raises(InputError, match="more than nought"):
        response.area_while_rising(GRID, torque, 2000 * RPM, 4000 * RPM, 0.0)
