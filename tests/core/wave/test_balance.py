"""Nothing is lost: mass, energy and burned gas of a closed model to rounding."""

from __future__ import annotations

import numpy as np
import pytest

from longbreath.core.air.gases import AIR
from longbreath.core.path.sections import round_section
from longbreath.core.wave import march, rooms, rows
from longbreath.core.wave.march import C_WALL_HEAT
from longbreath.core.wave.mesh import PipePiece
from longbreath.core.wave.network import Network, NetworkRun
from longbreath.core.wave.parts import Reed, Start
from tests.core.wave.pipes import smooth


def totals(run: NetworkRun) -> np.ndarray:
    """Mass, energy, burned gas of ducts and rooms."""
    return np.array(
        [
            run.total(row) + run.model.states[:, k].sum()
            for row, k in ((rows.MASS, 0), (rows.ENERGY, 1), (rows.BURNED, 2))
        ]
    )


def closed_model(heating: float = 0.0) -> NetworkRun:
    """Every kind of joint, no way out: volumes, a step, a throttle, a fork, a reed, two gases, a bang in the middle."""
    net = Network(0.01)
    hot, cold = Start(4e5, 900.0, 1.0), Start(1e5, 300.0)
    one, two = net.pipe(
        [PipePiece(0.3, round_section(0.03), round_section(0.05), heating=heating), smooth(0.2, 0.06)], hot
    )
    three = net.duct([smooth(0.25, 0.04)], cold)
    net.step(two.finish, three.start, 4e-4)
    arms = [net.duct([smooth(0.3, 0.03, 0.05)], cold) for _ in range(2)]
    net.junction([three.finish, arms[0].start, arms[1].start])
    net.closed(one.start)
    first, second = net.volume(1e-3, cold), net.volume(3e-3, hot)
    net.open_end(arms[0].finish, first, 0.5)
    net.gate(second, end=arms[1].finish, out_area=0.8, in_area=0.9, reed=Reed(180.0, 0.1, 8e3, 6e-3, 0.12))
    net.gate(first, other=second, out_area=2e-5, in_area=2e-5)
    return net.build()


def test_a_closed_model_keeps_mass_energy_and_burned_gas_to_rounding() -> None:
    run = closed_model()
    before = totals(run)
    steps = run.march(0.03)
    assert steps > 1000
    assert totals(run) == pytest.approx(before, rel=1e-12)
    assert np.ptp(run.model.states[:, rooms.R_MASS]) > 0


def test_what_the_walls_give_is_what_the_gas_takes() -> None:
    run = closed_model(heating=1.0)
    before = totals(run)[1]
    run.march(0.03)
    assert totals(run)[1] - before == pytest.approx(run.model.clock[C_WALL_HEAT], rel=1e-9)
    assert run.model.clock[C_WALL_HEAT] < -1.0


def test_a_motored_cylinder_with_shut_valves_is_isentropic() -> None:
    """p·V^γ stays within 0.01 % over a turn; the work of a whole turn is nought."""
    net = Network(0.01)
    start = Start(1e5, 300.0)
    room = net.moving(
        start,
        kind=rooms.CRANKED,
        base=50e-6,
        piston=5.6e-3,
        crank=0.0444,
        rod=0.141,
        cycle=4 * np.pi,
        trap=0.0,
        offset=np.pi,
    )
    run = net.build(longest_step=2e-6)
    speed = 3000 * np.pi / 30
    constants, state = run.model.rooms[room], run.model.states[room]
    v0 = rooms.volume(constants, -np.pi)
    run.march(np.pi / speed, speed)
    v1 = rooms.volume(constants, 0.0)
    assert v1 == pytest.approx(50e-6, rel=1e-9)
    assert state[rooms.P_NOW] == pytest.approx(1e5 * (v0 / v1) ** 1.4, rel=1e-4)
    run.march(2 * np.pi / speed, speed)
    assert state[rooms.P_NOW] == pytest.approx(1e5, rel=1e-4)
    assert abs(state[rooms.WORK]) < 1e-3


def test_a_turbine_takes_its_share_of_the_ideal_expansion() -> None:
    """First principles: η·c_p·T·(1 − (p₂/p₁)^((γ−1)/γ)) for each kilogram, 2 bar and 900 K into 1.2 bar, fresh air."""
    net = Network(0.01, AIR, AIR)
    duct = net.duct([smooth(0.1, 0.05)], Start())
    net.closed(duct.start)
    net.closed(duct.finish)
    hot, behind = net.atmosphere(Start(2e5, 900.0)), net.atmosphere(Start(1.2e5, 700.0))
    gate = net.gate(hot, other=behind, out_area=1e-3, in_area=1e-3, efficiency=0.65)
    run = net.build()
    run.march(2e-3)
    sums = run.model.gate_sums[gate]
    ideal = AIR.heat_capacity * 900.0 * (1.0 - (1.2 / 2.0) ** ((AIR.gamma - 1.0) / AIR.gamma))
    assert sums[march.S_MASS] > 0
    assert sums[march.S_WORK] == pytest.approx(0.65 * ideal * sums[march.S_MASS], rel=1e-6)
