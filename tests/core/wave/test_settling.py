"""A run ends when it has settled: against fifty cycles forced from rest, without coarse start or mixed states."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from longbreath.cli.simulate import CASES
from longbreath.core.basis.errors import InputError
from longbreath.core.wave.cycle import simulate
from longbreath.core.wave.engine import WaveEngine, burn_heat, burned_share
from longbreath.core.wave.periodic import Mixing
from longbreath.core.wave.settling import Settling
from longbreath.formats.wave_case import read_case
from tests.core.wave.singles import RPM, rotary, single

FORCED = 50
NEAR = 0.002


def case(name: str, **engine: Any) -> WaveEngine:
    """A case that ships; keys of its engine or of the case replaced."""
    found = json.loads((CASES / f"{name}.json").read_text())
    found["engine"] |= {k: v for k, v in engine.items() if k in ("cylinders", "firing_order")}
    found |= {k: v for k, v in engine.items() if k == "cell_mm"}
    if "groups" in engine:
        found["exhaust"]["groups"] = engine["groups"]
    return read_case(json.dumps(found)).to_engine()


def check(engine: WaveEngine, rpm: float) -> None:
    """Torque and filling as after fifty forced cycles, and the estimate of the distance not too small."""
    found = simulate(engine, rpm * RPM)
    forced = simulate(engine, rpm * RPM, tolerance=0.0, most=FORCED, plain=True)
    assert found.converged
    assert found.distance <= 0.0005
    assert found.indicated_torque == pytest.approx(forced.indicated_torque, rel=NEAR)
    assert found.brake_torque == pytest.approx(forced.brake_torque, rel=NEAR)
    assert found.filling == pytest.approx(forced.filling, rel=NEAR)
    assert found.residual == pytest.approx(forced.residual, abs=0.001)


@pytest.mark.parametrize("rpm", [10500, 11000])
def test_a_single_chamber_is_not_called_settled_by_its_own_size(rpm: float) -> None:
    """The two-stroke moves on for fifteen cycles; a measure that scales by the cycle itself sees nothing of it."""
    check(case("skim"), rpm)


@pytest.mark.parametrize("rpm", [pytest.param(1500, marks=pytest.mark.slow), 4700])
def test_a_long_exhaust_is_waited_for(rpm: float) -> None:
    check(case("heron", cell_mm=30), rpm)


def test_single_and_rotary_settle() -> None:
    check(single(), 4000)
    check(rotary(), 5000)


@pytest.mark.long
@pytest.mark.parametrize("rpm", [1500, 3000, 4700, 6300])
@pytest.mark.parametrize(
    "name", ["heron", "heron three times over", "drover", "skim", "single", "rotary", "heron with one cylinder"]
)
def test_every_kind_is_settled_at_every_speed(name: str, rpm: float) -> None:
    """One to twelve chambers, two-strokes, rotaries."""
    twelve = {"cylinders": 12, "firing_order": [1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10], "cell_mm": 20}
    made = {
        "heron": lambda: (case("heron"), rpm),
        "heron three times over": lambda: (case("heron", groups=[list(range(1, 13))], **twelve), rpm),
        "drover": lambda: (case("drover"), 0.85 * rpm),
        "skim": lambda: (case("skim"), rpm + 5200),
        "single": lambda: (single(), rpm),
        "rotary": lambda: (rotary(), rpm + 1500),
        "heron with one cylinder": lambda: (case("heron", cylinders=1, firing_order=[1], groups=[[1]]), rpm),
    }
    check(*made[name]())


def test_colder_air_moves_torque_by_its_density_and_no_more() -> None:
    """5 K of 298 K are 1.7 % of density; an unsettled run once moved by 5 %."""
    engine = case("heron", cell_mm=22)
    colder = replace(engine, air=replace(engine.air, temperature=engine.air.temperature - 5.0))
    change = simulate(colder, 4700 * RPM).indicated_torque / simulate(engine, 4700 * RPM).indicated_torque - 1.0
    assert 0.0 < change < 0.025


def test_a_slow_approach_is_not_taken_for_the_end() -> None:
    """1 − 0.9^k changes by 0.001 while 0.009 is still to go; and what first moves away is caught by the cycles running."""
    slow = Settling(0.001)
    for k in range(200):
        slow.add(np.array([1.0 - 0.9**k]))
        if slow.settled:
            break
    assert 0.9**k < 0.0012
    turning = Settling(0.001)
    for value in (0.96, 0.9600, 0.9601, 0.9640, 0.97):
        turning.add(np.array([value]))
    assert not turning.settled
    still = Settling(0.001)
    for _ in range(3):
        still.add(np.array([1.0]))
    assert not still.settled  # two changes of nought: three cycles running are asked for
    still.add(np.array([1.0]))
    assert still.settled


def test_mixing_finds_the_fixed_point_of_a_linear_map_in_few_cycles() -> None:
    """Against numpy.linalg.solve: a contraction with three slow modes."""
    rng = np.random.default_rng(3)
    basis = np.linalg.qr(rng.standard_normal((12, 12)))[0]
    jacobian = basis @ np.diag([0.9, 0.8, -0.7, *[0.05] * 9]) @ basis.T
    drive = rng.standard_normal(12)
    exact = np.linalg.solve(np.eye(12) - jacobian, drive)
    mixing, x = Mixing(np.full(12, 1.0)), np.zeros(12)
    for _ in range(12):
        x = mixing.next(x, jacobian @ x + drive)
    assert x == pytest.approx(exact, abs=2e-3)


def test_mixture_has_its_effect_and_its_bounds() -> None:
    """Common practice, no source: most torque some 10 to 14 % rich, about 3 % above the chemically right mixture."""
    ratios = np.linspace(0.8, 1.2, 41)
    heat = np.array([burn_heat(43e6, 14.7, r, 0.88) for r in ratios])
    assert 0.86 <= ratios[int(heat.argmax())] <= 0.90
    assert 1.02 < heat.max() / heat[20] < 1.04
    assert 0.99 < max(burned_share(r) for r in ratios) <= 1.0
    for ratio, spark in ((0.79, True), (1.21, True), (1.0, False)):
        with pytest.raises(InputError, match="no curve"):
            burn_heat(43e6, 14.7, ratio, 0.88, spark)
    lean = replace(single(), burn=replace(single().burn, heat=burn_heat(43e6, 14.7, 1.15, 0.88)))
    rich = replace(single(), burn=replace(single().burn, heat=burn_heat(43e6, 14.7, 0.88, 0.88)))
    assert simulate(lean, 4000 * RPM).brake_torque < 0.92 * simulate(rich, 4000 * RPM).brake_torque


@pytest.mark.slow
def test_friction_and_efficiency_lie_where_engines_lie() -> None:
    """Motored losses by Heywood's four-stroke line, 0.97 + 0.15·N + 0.05·N² bar at N thousand rpm (eq. 13.6, from memory),
    and common practice: indicated 0.31 to 0.37 of the fuel at λ 0.9, brake specific consumption 260 to 330 g/kWh."""
    engine = case("heron", cell_mm=22)
    for thousands in (1.5, 3.0, 4.7):
        p = simulate(engine, thousands * 1000 * RPM)
        lost = p.friction - p.pumping
        assert lost == pytest.approx((0.97 + 0.15 * thousands + 0.05 * thousands**2) * 1e5, rel=0.12)
        fuel = p.trapped / (14.7 * 0.9) * 43e6
        assert 0.31 < p.indicated * engine.displacement / fuel < 0.37
        assert 260 < 3.6e9 / 43e6 * fuel / (p.brake * engine.displacement) < 330
