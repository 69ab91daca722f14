"""Steady flow that the marching solver settles to, against closed forms and tables of gas dynamics (first principles)."""

from __future__ import annotations

from math import exp, pi, sqrt

import numpy as np
import pytest
from scipy.optimize import brentq

from longbreath.core.air.moist import Weather, density
from longbreath.core.bench.discharge import ideal_flow
from longbreath.core.path.sections import round_section
from longbreath.core.wave import rows
from longbreath.core.wave.march import C_LONGEST
from longbreath.core.wave.mesh import PipePiece
from longbreath.core.wave.network import Network, NetworkRun
from longbreath.core.wave.parts import Duct, Start
from tests.core.wave.pipes import AIR, smooth

CHOKED = 0.684731
"""√γ·(2/(γ+1))^((γ+1)/(2(γ−1))) at γ 1.4."""


def mach(run: NetworkRun, duct: Duct) -> np.ndarray:
    return run.read(duct, rows.VEL) / run.read(duct, rows.SOUND)


def flow(run: NetworkRun, duct: Duct) -> np.ndarray:
    """Mass flow through the inner faces [kg/s]."""
    return run.model.work[rows.F_MASS + duct.first : rows.F_MASS + duct.last + 2].copy()


def fanno(m: float, g: float = 1.4) -> float:
    """4·f·L*/D of Fanno flow."""
    return (1 - m * m) / (g * m * m) + (g + 1) / (2 * g) * np.log((g + 1) * m * m / (2 + (g - 1) * m * m))


@pytest.mark.parametrize(("number", "tabled"), [(0.2, 14.5333), (0.3, 5.29925), (0.5, 1.06906)])
def test_the_fanno_function_is_the_tabled_one(number: float, tabled: float) -> None:
    """Standard compressible-flow tables, γ 1.4 (from memory)."""
    assert fanno(number) == pytest.approx(tabled, rel=1e-5)


def test_friction_in_a_pipe_follows_fanno() -> None:
    """M 0.2 in, 4·f·L/D = 10 on: M 0.31777 and p2/p1 0.62561 (root of the Fanno function)."""
    d, length = 0.04, 2.0
    net = Network(0.01, AIR, AIR)
    # a known constant loss spread over the pipe stands in for 4·f/D
    duct = net.duct([smooth(length, d, loss=10.0)], Start(2e5, 300.0, velocity=70.0))
    p_star = sqrt(1.2 / (1 + 0.2 * 0.04)) / 0.2
    p_out = 2e5 * 0.625614
    t0 = 300.0 * (1 + 0.2 * 0.04)
    net.gate(net.atmosphere(Start(2e5 * (1 + 0.2 * 0.04) ** 3.5, t0)), end=duct.start, out_area=1, in_area=1)
    net.gate(net.atmosphere(Start(p_out, 300.0)), end=duct.finish, out_area=1, in_area=1)
    run = net.build()
    run.march(0.4)
    m, p = mach(run, duct), run.read(duct, rows.PRS)
    here = [
        brentq(lambda q, x=x: fanno(q) - (fanno(0.2) - 10.0 * x / length), 0.05, 0.9)
        for x in (np.arange(200) + 0.5) / 200 * length
    ]
    assert m == pytest.approx(np.array(here), rel=3e-3)
    assert p[-1] / p[0] == pytest.approx(0.6256, abs=6e-3)
    assert p_star > 5
    assert flow(run, duct) == pytest.approx(flow(run, duct)[0], rel=1e-5)


def test_wall_friction_is_blasius_in_a_smooth_pipe() -> None:
    """Drop over a metre of smooth 30 mm pipe against 0.316/Re^¼·L/D·½ρu² (Blasius, a handbook form from memory)."""
    net = Network(0.01, AIR, AIR)
    section = round_section(0.03)
    duct = net.duct(
        [PipePiece(1.0, section, section, roughness=0.0, heating=0.0)], Start(101000.0, 293.0, velocity=35.0)
    )
    net.open_end(duct.start, net.atmosphere(Start(102000.0, 293.15)), 0.0)
    net.open_end(duct.finish, net.atmosphere(Start(101000.0, 293.15)), 0.0)
    run = net.build()
    run.march(0.3)
    u, rho = run.read(duct, rows.VEL), run.read(duct, rows.RHO)
    reynolds = rho[50] * u[50] * 0.03 / 1.81e-5
    drop = run.read(duct, rows.PRS)[10] - run.read(duct, rows.PRS)[90]
    speeding = (rho * u * u)[90] - (rho * u * u)[10]
    assert drop - speeding == pytest.approx(0.3164 / reynolds**0.25 * 0.8 / 0.03 * 0.5 * (rho * u * u)[50], rel=0.01)


@pytest.mark.parametrize("back", [110e3, 60e3])
def test_a_converging_nozzle_passes_the_isentropic_flow_choked_or_not(back: float) -> None:
    """120 kPa, 300 K through 5 cm²: 0.079658 kg/s at 110 kPa (M 0.35477); below 63.4 kPa A·p0·0.684731/√(R·T0)."""
    area = 5e-4
    d = sqrt(4 * area / pi)
    net = Network(0.004, AIR, AIR)
    duct = net.duct([smooth(0.4, 3 * d, d), smooth(0.02, d)], Start(115e3, 298.0))
    net.open_end(duct.start, net.atmosphere(Start(120e3, 300.0)), 0.0)
    net.open_end(duct.finish, net.atmosphere(Start(back, 300.0)), 0.0)
    run = net.build()
    run.march(0.15)
    expected = 0.0796580 if back > 100e3 else CHOKED * area * 120e3 / sqrt(287.05 * 300.0)
    assert flow(run, duct)[-1] == pytest.approx(expected, rel=4e-3)
    assert flow(run, duct) == pytest.approx(flow(run, duct)[-1], rel=3e-3)
    assert mach(run, duct)[-1] == pytest.approx(0.354767 if back > 100e3 else 1.0, rel=0.05)
    total = run.read(duct, rows.PRS) * (1 + 0.2 * mach(run, duct) ** 2) ** 3.5
    assert total[:-3] == pytest.approx(120e3, rel=2e-3)


def test_a_venturi_speeds_up_and_recovers_without_loss() -> None:
    """20 cm² to 10 cm² and back, M 0.6 in the throat: M 0.252994 before and after (isentropic area function)."""
    wide, narrow = sqrt(4 * 20e-4 / pi), sqrt(4 * 10e-4 / pi)
    p0, t0, m1 = 150e3, 300.0, 0.252994
    net = Network(0.005, AIR, AIR)
    duct = net.duct(
        [
            smooth(0.2, wide),
            smooth(0.3, wide, narrow),
            smooth(0.1, narrow),
            smooth(0.3, narrow, wide),
            smooth(0.2, wide),
        ],
        Start(145e3, 297.0, velocity=80.0),
    )
    net.open_end(duct.start, net.atmosphere(Start(p0, t0)), 0.0)
    net.open_end(duct.finish, net.atmosphere(Start(p0 / (1 + 0.2 * m1**2) ** 3.5, t0)), 0.0)
    run = net.build()
    run.march(0.25)
    m = mach(run, duct)
    assert m[10] == pytest.approx(m1, rel=0.01)
    assert m[-10] == pytest.approx(m1, rel=0.01)
    assert m[110] == pytest.approx(0.6, rel=0.01)


@pytest.mark.parametrize(
    ("number", "m2", "rise"), [(0.3, 0.215810, 1.02569), (0.5, 0.345317, 1.07730), (0.8, 0.492431, 1.23800)]
)
def test_a_sudden_widening_follows_borda_and_carnot(number: float, m2: float, rise: float) -> None:
    """Area ratio 1.3611: mass, momentum with p1 on the annulus, energy (first principles); K tends to (1 − A1/A2)²."""
    net = Network(0.01, AIR, AIR)
    p1, d = 1e5, 0.06
    one, two = net.pipe([smooth(0.5, d), smooth(0.5, d * sqrt(1.361111))], Start(p1, 300.0, velocity=number * 340.0))
    lift = 1 + 0.2 * number**2
    net.open_end(one.start, net.atmosphere(Start(p1 * lift**3.5, 300.0 * lift)), 0.0)
    net.open_end(two.finish, net.atmosphere(Start(p1 * rise, 300.0)), 0.0)
    run = net.build()
    run.march(0.4)
    assert mach(run, one)[-1] == pytest.approx(number, rel=5e-3)
    assert mach(run, two)[0] == pytest.approx(m2, rel=5e-3)
    assert run.read(two, rows.PRS)[0] / run.read(one, rows.PRS)[-1] == pytest.approx(rise, rel=1e-3)
    assert flow(run, one)[-1] == flow(run, two)[0]


def test_a_narrowing_loses_what_its_vena_contracta_loses() -> None:
    """K = (1/C_c − 1)² on the narrow pipe, C_c = 0.62 + 0.38·(A2/A1)³ (Weisbach, from memory).

    0.25 at half the area; handbooks give 0.2 to 0.3."""
    net = Network(0.01, AIR, AIR)
    one, two = net.pipe([smooth(0.4, 0.06), smooth(0.4, 0.06 / sqrt(2.0))], Start(100e3, 300.0, velocity=20.0))
    net.open_end(one.start, net.atmosphere(Start(100.4e3, 300.0)), 0.0)
    net.open_end(two.finish, net.atmosphere(Start(100e3, 300.0)), 0.0)
    run = net.build()
    run.march(0.6)
    total = [run.read(x, rows.PRS)[k] * (1 + 0.2 * mach(run, x)[k] ** 2) ** 3.5 for x, k in ((one, -15), (two, 20))]
    head = 0.5 * (run.read(two, rows.RHO) * run.read(two, rows.VEL) ** 2)[20]
    k = (1 / (0.62 + 0.38 / 8) - 1) ** 2
    assert 0.2 < k < 0.3
    assert (total[0] - total[1]) / head == pytest.approx(k, rel=0.02)


def test_a_throttle_chokes() -> None:
    """A neck of a tenth of the pipe between 200 and 60 kPa passes the choked flow of its effective area."""
    neck = 1e-4
    net = Network(0.01, AIR, AIR)
    one, two = (net.duct([smooth(0.3, 0.0357)], Start(2e5, 300.0)), net.duct([smooth(0.3, 0.0357)], Start(6e4, 300.0)))
    net.step(one.finish, two.start, neck)
    net.open_end(one.start, net.atmosphere(Start(2e5, 300.0)), 0.0)
    net.open_end(two.finish, net.atmosphere(Start(6e4, 300.0)), 0.0)
    run = net.build()
    run.march(0.2)
    assert flow(run, two)[0] == pytest.approx(CHOKED * neck * 2e5 / sqrt(287.05 * 300.0), rel=3e-3)


def test_gas_at_rest_in_a_cone_stays_at_rest_to_rounding() -> None:
    """With a step, a junction and a volume beside it."""
    net = Network(0.01)
    start = Start(101325.0, 293.15)
    one, two = net.pipe([smooth(0.5, 0.03, 0.08), smooth(0.2, 0.05)], start)
    arms = [net.duct([smooth(0.3, 0.03, 0.05)], start) for _ in range(2)]
    net.junction([two.finish, arms[0].start, arms[1].start])
    net.open_end(one.start, net.atmosphere(start))
    net.closed(arms[0].finish)
    room = net.volume(2e-3, start)
    net.open_end(arms[1].finish, room)
    run = net.build()
    run.march(0.02)
    for duct in (one, two, *arms):
        assert np.abs(run.read(duct, rows.VEL)).max() < 1e-9
        assert np.abs(run.read(duct, rows.PRS) / 101325.0 - 1).max() < 1e-12


@pytest.mark.parametrize("longest", [2e-4])
def test_a_vessel_blows_down_by_the_closed_form(longest: float) -> None:
    """10 litres from 8 bar through 20 mm² × 0.8, adiabatic: 223,265 Pa and 208.33 K after one time constant, 3.11043 s."""
    net = Network(0.01, AIR, AIR)
    vessel = net.volume(10e-3, Start(8e5, 300.0))
    net.gate(vessel, other=net.atmosphere(Start(101325.0, 300.0)), out_area=16e-6, in_area=16e-6)
    run = net.build(longest_step=longest)
    tau = 10e-3 / (CHOKED * 16e-6 * sqrt(287.05 * 300.0))
    assert tau == pytest.approx(3.11043, rel=1e-5)
    run.march(tau)
    state = run.model.states[vessel]
    pressure = state[1] * 0.4 / 10e-3
    assert pressure == pytest.approx(223265.0, rel=2e-4)
    assert pressure * 10e-3 / (state[0] * 287.05) == pytest.approx(208.333, rel=2e-4)
    assert run.model.clock[C_LONGEST] == longest
    assert pressure == pytest.approx(8e5 * 1.2**-7, rel=2e-4)


def test_a_pipe_takes_the_heat_of_its_wall() -> None:
    """Mean temperature nears the wall's as 1 − exp(−4·St·L/D), St = f/2·Pr^(−2/3) (Colburn's analogy, from memory)."""
    net = Network(0.01, AIR, AIR)
    section = round_section(0.03)
    duct = net.duct([PipePiece(1.0, section, section, roughness=0.0, wall=400.0)], Start(101e3, 300.0, velocity=40.0))
    net.open_end(duct.start, net.atmosphere(Start(102.6e3, 300.0)), 0.0)
    net.open_end(duct.finish, net.atmosphere(Start(101e3, 300.0)), 0.0)
    run = net.build()
    run.march(0.4)
    rho, u = run.read(duct, rows.RHO), run.read(duct, rows.VEL)
    t = run.read(duct, rows.PRS) / (rho * 287.05)
    reynolds = (rho * u)[50] * 0.03 / 1.95e-5
    stanton = 0.0791 / reynolds**0.25 / 2 * 0.71 ** (-2 / 3)
    assert (t[90] - t[10]) / (400.0 - t[10]) == pytest.approx(1 - exp(-4 * stanton * 0.8 / 0.03), rel=0.04)


def test_a_port_on_the_bench_flows_what_its_coefficient_says() -> None:
    """Air through a runner and a valve held open, at 28 inches of water: C_d × the ideal flow of core/discharge, within 0.1 %."""
    drop, area = 28 * 249.08891, 0.55 * 2 * pi * 0.034 * 0.008
    net = Network(0.01, AIR, AIR)
    runner = net.duct([smooth(0.35, 0.046)], Start(100e3, 293.15))
    net.open_end(runner.start, net.atmosphere(Start(101325.0, 293.15)), 0.0)
    net.gate(net.atmosphere(Start(101325.0 - drop, 293.15)), end=runner.finish, out_area=area, in_area=area)
    run = net.build()
    run.march(0.25)
    room = Weather(293.15, 101325.0, 0.0)
    assert flow(run, runner)[-1] == pytest.approx(ideal_flow(area, drop, room) * density(room), rel=1e-3)
