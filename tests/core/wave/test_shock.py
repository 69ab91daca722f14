"""Shock tubes against the exact Riemann solution (first principles, solved by scipy), and clawpack's error as a yardstick."""

from __future__ import annotations

import itertools
from math import log2

import numpy as np
import pytest

from longbreath.core.air.gases import Gas
from longbreath.core.wave import rows
from longbreath.core.wave.network import Network
from longbreath.core.wave.parts import Start
from tests.core.wave.exact import Riemann
from tests.core.wave.pipes import smooth, tube

SOD = ((1.0, 0.0, 1.0), (0.125, 0.0, 0.1))
LAX = ((0.445, 0.698, 3.528), (0.5, 0.0, 0.571))
CLAWPACK_MC = {200: 0.00181344, 400: 0.000965501, 800: 0.000484495}
"""L1 density error against cell means, clawpack 5.14 euler_with_efix_1D, MC limiter, CFL 0.9 (run separately, Sod, t = 0.2)."""


def error(cells: int, states: tuple, time: float) -> float:
    run, duct = tube(cells)
    run.cfl = 0.9
    x = (np.arange(cells) + 0.5) / cells
    left = x < 0.5
    rho, u, p = (np.where(left, states[0][k], states[1][k]) for k in range(3))
    run.set_cells(duct, rho, u, p)
    run.march(time)
    return float(np.abs(run.read(duct, rows.RHO) - Riemann(*states, 1.4).cell_means(cells, 0.5, time)).mean())


def test_the_exact_solution_has_the_published_star_state() -> None:
    """p* 0.30313, u* 0.92745, densities 0.42632 and 0.26557: Toro's textbook, from memory."""
    sod = Riemann(*SOD, 1.4)
    assert (sod.p, sod.u) == (pytest.approx(0.30313, abs=5e-6), pytest.approx(0.92745, abs=5e-6))
    assert sod.star_density(0) == pytest.approx(0.42632, abs=5e-6)
    assert sod.star_density(1) == pytest.approx(0.26557, abs=5e-6)


@pytest.mark.parametrize("cells", [200, 400, 800])
def test_sod_is_no_worse_than_clawpack(cells: int) -> None:
    assert error(cells, SOD, 0.2) < CLAWPACK_MC[cells]


@pytest.mark.parametrize(("states", "time"), [(SOD, 0.2), (LAX, 0.14)], ids=["Sod", "Lax"])
def test_shock_tubes_converge_at_the_order_that_a_contact_allows(states: tuple, time: float) -> None:
    """First order at shocks, 2/3 to 1 at contacts for a second-order scheme with a compressive limiter (common knowledge)."""
    errors = [error(n, states, time) for n in (100, 200, 400, 800)]
    orders = [log2(a / b) for a, b in itertools.pairwise(errors)]
    assert min(orders) > 0.55
    assert np.mean(orders) > 0.8
    assert errors[-1] < 0.01 * max(states[0][0], states[1][0])


def test_an_exhaust_like_discontinuity_has_the_right_plateau() -> None:
    """5 bar, 1,500 K into 1 bar, 600 K at γ 1.33: p* 256.16 kPa, u* 367.06 m/s (exact Riemann, first principles)."""
    gas = Gas("hot", 1.33, 290.0)
    net = Network(0.005, gas, gas)
    duct = net.duct([smooth(2.0, 0.04)])
    net.closed(duct.start)
    net.closed(duct.finish)
    run = net.build()
    x = np.arange(400)
    t = np.where(x < 200, 1500.0, 600.0)
    p = np.where(x < 200, 5e5, 1e5)
    run.set_cells(duct, p / (290.0 * t), np.zeros(400), p)
    run.march(1.0e-3)
    shock, contact = 740.247e-3, 367.057e-3
    middle = 200 + int((shock + contact) / 2 / 0.005)
    assert run.read(duct, rows.PRS)[middle] == pytest.approx(256157.0, rel=2e-3)
    assert run.read(duct, rows.VEL)[middle] == pytest.approx(367.057, rel=2e-3)
    assert run.read(duct, rows.RHO)[middle] == pytest.approx(1.13998, rel=5e-3)
    front = np.argmax(run.read(duct, rows.PRS) < 1.8e5)
    assert (front - 200) * 0.005 == pytest.approx(shock, abs=0.01)


@pytest.mark.parametrize(("mach", "ratio"), [(1.1, 1.53971), (1.2, 2.23710), (1.5, 5.42529)])
def test_a_shock_that_meets_a_wall_is_thrown_back_at_the_exact_pressure(mach: float, ratio: float) -> None:
    """p5/p1 of a reflected shock: the exact jump relations (first principles)."""
    p2 = 1.0 + 2.8 / 2.4 * (mach**2 - 1.0)
    rho2 = 2.4 * mach**2 / (2.0 + 0.4 * mach**2)
    u2 = 1.4**0.5 * mach * (1.0 - 1.0 / rho2)
    net = Network(0.0025, Gas("a", 1.4, 287.05), Gas("a", 1.4, 287.05))
    duct = net.duct([smooth(1.0, 0.1)])
    net.through(duct.start)
    net.closed(duct.finish)
    run = net.build()
    behind = np.arange(400) < 160
    run.set_cells(duct, np.where(behind, rho2, 1.0), np.where(behind, u2, 0.0), np.where(behind, p2, 1.0))
    run.march((0.6 + 0.25) / (1.4**0.5 * mach))
    assert run.read(duct, rows.PRS)[-20] == pytest.approx(ratio, rel=1e-3)


def test_a_front_of_burned_gas_travels_without_much_noise() -> None:
    """A front between two gases at one pressure and speed should stay so; a conservative scheme whose γ follows the mass
    mixture leaves a little pressure noise. It stays under a per cent for air at 300 K against burned gas at 900 K."""
    net = Network(0.005)
    duct = net.duct([smooth(2.0, 0.04)])
    net.through(duct.start)
    net.through(duct.finish)
    run = net.build()
    n = duct.last - duct.first + 1
    burned = (np.arange(n) < 100).astype(float)
    p = np.full(n, 1e5)
    rho = np.where(burned > 0, 1e5 / (290.0 * 900.0), 1e5 / (287.05 * 300.0))
    run.set_cells(duct, rho, np.full(n, 60.0), p, burned)
    run.march(0.01)
    y = run.read(duct, rows.FRAC)
    assert y.min() > -1e-9
    assert y.max() < 1 + 1e-9
    front = int(np.argmax(y < 0.5))
    assert front == pytest.approx(100 + 60 * 0.01 / 0.005, abs=3)
    assert np.sum((y > 0.05) & (y < 0.95)) <= 6
    assert np.abs(run.read(duct, rows.PRS) / 1e5 - 1.0).max() < 0.03
    assert Start().burned == 0.0
