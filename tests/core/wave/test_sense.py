"""An engine on the wave core behaves as engines do. Directions and rules are common practice where no source is named."""

from __future__ import annotations

import json
from math import pi, sqrt

import numpy as np
import pytest

from longbreath.cli.simulate import CASES
from longbreath.core.basis.errors import InputError
from longbreath.core.engine import tuning
from longbreath.core.wave.cycle import Cancelled, SpeedPoint, simulate
from longbreath.core.wave.engine import Air, Burn, WaveEngine
from longbreath.formats.wave_case import read_case
from tests.core.wave.singles import BORE, DURATION, RATIO, RPM, RUNNER, STROKE, intake_table, rotary, single


def filling(engine: WaveEngine, rpm: float) -> float:
    return simulate(engine, rpm * RPM).filling


def peak(speeds: np.ndarray, values: list[float]) -> float:
    """Speed of the largest value, by a parabola through it and its neighbours."""
    k = int(np.clip(np.argmax(values), 1, len(values) - 2))
    a, b, c = values[k - 1 : k + 2]
    return float(speeds[k] + 0.5 * (a - c) / (a - 2 * b + c) * (speeds[1] - speeds[0]))


def test_a_longer_runner_fills_best_at_a_lower_speed_as_the_schools_say() -> None:
    """Within the spread of Helmholtz (K = 2.1) and the reflected wave's third and fourth return, widened by a tenth."""
    speeds = np.arange(3500.0, 7001.0, 500.0)
    found = []
    for length in (0.25, 0.35, 0.6):
        at = peak(speeds, [filling(single(length), n) for n in speeds])
        helmholtz = tuning.helmholtz_speed(length, pi / 4 * RUNNER**2, pi / 4 * BORE**2 * STROKE, RATIO, 310.0) / RPM
        waves = [tuning.reflected_wave_speed(length, DURATION, 310.0, k, RUNNER) / RPM for k in (3, 4)]
        assert 0.9 * min(helmholtz, *waves) < at < 1.1 * max(helmholtz, *waves)
        assert at == pytest.approx(helmholtz, rel=0.1)
        found.append(at)
    assert found[0] > found[1] > found[2]


def test_back_pressure_raises_residuals_and_lowers_torque() -> None:
    free, held = (simulate(single(air=Air(exhaust_pressure=p)), 4500 * RPM) for p in (101325.0, 131325.0))
    assert held.residual > 1.1 * free.residual
    assert held.brake_torque < 0.98 * free.brake_torque
    assert held.pumping < free.pumping - 1e4


def test_later_inlet_closing_helps_at_high_speed_and_blows_back_at_low() -> None:
    early, late = single(intake_table=intake_table(30.0)), single(intake_table=intake_table(80.0))
    assert filling(late, 7500) > 1.1 * filling(early, 7500)
    low = simulate(late, 1500 * RPM)
    assert low.filling < 0.9 * filling(early, 1500)
    assert low.traces["runner 1"][1].min() < -5.0  # gas runs back out of the runner


def test_half_the_inlet_coefficient_hurts_most_at_high_speed() -> None:
    full, half = single(), single(intake_table=intake_table(scale=0.5))
    loss = [1.0 - filling(half, n) / filling(full, n) for n in (2000, 4500, 7000)]
    assert loss[0] < 0.03
    assert loss[0] < loss[1] < loss[2]
    assert loss[2] > 0.25


def hot_pipe(wall: float) -> tuple[float, float]:
    """Speed at which the Skim's pipe traps most [rpm], and the time a wave takes along it over that at 1 K [K^-½]."""
    case = json.loads((CASES / "skim.json").read_text())
    case["cell_mm"] = 12
    case["exhaust"] |= {"wall_c": wall, "temperature_c": wall}
    for piece in case["exhaust"]["primaries"][0]:
        piece |= {"heat_factor": 12, "wall_c": wall}
    engine = read_case(json.dumps(case)).to_engine()
    speeds = np.arange(5500.0, 8001.0, 500.0)
    points = [simulate(engine, n * RPM) for n in speeds]
    t = points[2].temperature
    names = ["primary 1", *(f"primary 1 {k}" for k in range(2, 5))]  # as far as the baffle, which throws the wave back
    lengths = [piece["length_mm"] for piece in case["exhaust"]["primaries"][0]]
    return peak(speeds, [p.trapped for p in points]), sum(x / sqrt(t[n]) for n, x in zip(names, lengths, strict=False))


def test_a_hotter_pipe_tunes_higher_by_the_root_of_its_temperature() -> None:
    """N ~ √T (first principles: a = √(γ·R·T), the length stays)."""
    (cool, slow), (warm, quick) = hot_pipe(300), hot_pipe(600)
    assert warm > 1.1 * cool
    assert warm / cool == pytest.approx(slow / quick, rel=0.04)


def test_the_engine_result_settles_as_cells_shrink() -> None:
    torque = [simulate(single(cell=c), 6000 * RPM, tolerance=1e-4).indicated_torque for c in (0.03, 0.015, 0.0075)]
    assert abs(torque[1] - torque[2]) < abs(torque[0] - torque[1])
    assert torque[1] == pytest.approx(torque[2], rel=2e-3)


@pytest.fixture(scope="module")
def heron() -> SpeedPoint:
    engine = read_case((CASES / "heron.json").read_text()).to_engine()
    return simulate(engine, 5100 * RPM)


def test_a_four_cylinder_cycle_balances_mass_and_energy(heron: SpeedPoint) -> None:
    """Within a tenth of a per cent of the heat set free, and of the charge: here to rounding."""
    assert heron.converged
    assert abs(heron.balance) < 1e-9
    assert abs(heron.mass_balance) < 1e-9


def test_a_four_cylinder_looks_like_one(heron: SpeedPoint) -> None:
    """Common practice: filling 0.9 to 1.1, 10 to 13 bar brake, 60 to 110 bar peak, friction 2 to 3 bar at 5,100 rpm."""
    assert 0.9 < heron.filling < 1.15
    assert 10e5 < heron.brake < 13.5e5
    assert 60e5 < heron.peak_pressure < 110e5
    assert 1.5e5 < heron.friction < 3e5
    assert max(heron.filling_each) - min(heron.filling_each) < 0.03
    assert heron.brake_power == pytest.approx(heron.brake_torque * heron.speed)
    assert heron.chamber_pressure.shape == (4, 720)
    firing = [int(np.argmax(c)) / 2 for c in heron.chamber_pressure * 2]
    assert np.diff(sorted(firing)) == pytest.approx(np.full(3, 180 * 720 / 720 / 2), abs=3)


def test_an_eight_cylinder_balances_and_its_banks_share_alike() -> None:
    found = simulate(read_case((CASES / "drover.json").read_text()).to_engine(), 4000 * RPM)
    assert found.converged
    assert abs(found.balance) < 1e-9
    assert len(found.filling_each) == 8
    assert 0.8 < min(found.filling_each) < max(found.filling_each) < 1.15
    assert np.mean(found.filling_each) == pytest.approx(found.filling)


def test_a_two_stroke_loses_fresh_charge_and_a_motored_engine_makes_no_power() -> None:
    case = read_case((CASES / "skim.json").read_text())
    lost = simulate(case.to_engine(), 8000 * RPM)
    assert 0.1 < lost.short_circuited / (lost.short_circuited + lost.trapped) < 0.7
    stirred = case.model_copy(update={"case": case.case.model_copy(update={"strata": 1.0})}).to_engine()
    assert simulate(stirred, 8000 * RPM).trapped < lost.trapped
    motored = simulate(single(burn=Burn(heat=0.0)), 3000 * RPM)
    assert motored.indicated < 0
    assert motored.residual < 0.01


def test_a_rotary_chamber_breathes() -> None:
    """Three chambers a rotor, 1,080° a cycle; filling and balance of a side-port engine."""
    found = simulate(rotary(), 5000 * RPM)
    assert found.converged
    assert 0.7 < found.filling < 1.15
    assert found.chamber_pressure.shape[0] == 3
    assert abs(found.balance) < 1e-9
    assert found.brake_power > 20e3


def test_a_case_fed_by_a_reed_opens_it() -> None:
    case = json.loads((CASES / "skim.json").read_text())
    case["case"]["reed"] = {"frequency_hz": 260, "full_kpa": 12, "most_lift_mm": 8, "width_mm": 120}
    del case["case"]["disc"]
    found = simulate(read_case(json.dumps(case)).to_engine(), 7000 * RPM)
    assert found.filling > 0.5
    assert abs(found.balance) < 1e-9


def test_what_does_not_repeat_says_so_and_a_caller_may_stop_it() -> None:
    short = simulate(single(), 3000 * RPM, most=2)
    assert not short.converged
    assert short.cycles == 2
    seen: list[int] = []
    with pytest.raises(Cancelled, match="was cancelled"):
        simulate(single(), 3000 * RPM, watch=lambda cycle, change: seen.append(cycle) or cycle < 2)
    assert seen[-2:] == [1, 2]
    assert set(seen[:-2]) == {0}  # first on the coarse mesh
    with pytest.raises(InputError, match="between about 100 and 28,000 rpm"):
        simulate(single(), 1.0)
