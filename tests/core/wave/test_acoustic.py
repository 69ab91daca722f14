"""Small waves: order, reflection from every kind of end, resonance. All expected values are first principles (linear acoustics)."""

from __future__ import annotations

from itertools import pairwise
from math import log2, pi, sqrt, tan

import numpy as np
import pytest
from scipy.optimize import brentq

from longbreath.core.wave import rows
from longbreath.core.wave.mesh import FLANGED, UNFLANGED, end_piece
from longbreath.core.wave.network import Network, NetworkRun
from longbreath.core.wave.parts import Duct, End, Start
from tests.core.wave.pipes import AIR, centres, smooth

A, RHO = 343.0, 1.2
P0 = RHO * A * A / 1.4
REST = Start(P0, P0 / (RHO * AIR.constant))


def pulse(x: np.ndarray, height: float = 100.0, at: float = 0.3, width: float = 0.04) -> np.ndarray:
    return height * np.exp(-(((x - at) / width) ** 2))


def launch(run: NetworkRun, duct: Duct, height: float = 100.0, at: float = 0.3, width: float = 0.04) -> None:
    """A small wave that runs towards the finish."""
    p = pulse(centres(run, duct), height, at, width)
    run.set_cells(duct, RHO + p / A**2, p / (RHO * A), P0 + p)


def pipe(cells: int, end: str, length: float = 1.0) -> tuple[NetworkRun, Duct]:
    net = Network(length / cells, AIR, AIR)
    duct = net.duct([smooth(length, 0.05)], REST)
    net.through(duct.start)
    if end == "closed":
        net.closed(duct.finish)
    else:
        net.open_end(duct.finish, net.atmosphere(REST), loss=0.0)
    return net.build(), duct


@pytest.mark.parametrize("meshes", [(100, 200), pytest.param((200, 400, 800), marks=pytest.mark.long)])
def test_a_smooth_pulse_is_carried_at_second_order(meshes: tuple[int, ...]) -> None:
    errors = []
    for cells in meshes:
        run, duct = pipe(cells, "closed")
        launch(run, duct, 1.0, 0.3, 0.08)
        run.march(0.3 / A)
        errors.append(np.abs(run.read(duct, rows.PRS) - P0 - pulse(centres(run, duct), 1.0, 0.6, 0.08)).mean())
    for coarse, fine in pairwise(errors):
        assert log2(coarse / fine) > 1.7


@pytest.mark.parametrize(("end", "sign"), [("closed", 1.0), ("open", -1.0)])
@pytest.mark.parametrize(("cells", "kept"), [(200, 96.2573), (400, 98.7316)])
def test_reflection_has_the_right_sign_delay_and_hardly_any_loss(
    end: str, sign: float, cells: int, kept: float
) -> None:
    """Back at x = 0.3 after 1.4 m; clawpack's own scheme keeps 96.3 and 98.7 of 100 Pa at these cells (run separately)."""
    run, duct = pipe(cells, end)
    launch(run, duct)
    run.march(1.4 / A)
    p, x = run.read(duct, rows.PRS) - P0, centres(run, duct)
    assert sign * p[np.argmax(sign * p)] > kept - 2.0
    assert np.sum(p * x) / np.sum(p) == pytest.approx(0.3, abs=0.005)
    u = run.read(duct, rows.VEL)
    assert -np.sum(u) / np.sum(p) == pytest.approx(1.0 / (RHO * A), rel=0.01)


def test_a_wave_doubles_at_a_wall_and_its_velocity_at_an_open_end() -> None:
    for end, row, expected in (("closed", rows.PRS, 200.0), ("open", rows.VEL, 200.0 / (RHO * A))):
        run, duct = pipe(1000, end)
        launch(run, duct)
        most = 0.0
        for k in range(41):
            run.march((0.68 + k * 0.001) / A)
            most = max(most, run.read(duct, row)[-1] - (P0 if row == rows.PRS else 0.0))
        assert most == pytest.approx(expected, rel=0.01)


@pytest.mark.parametrize("ratio", [0.5, 2.0, 4.0])
def test_a_step_in_area_reflects_and_passes_as_it_should(ratio: float) -> None:
    """R = (A1 − A2)/(A1 + A2), T = 2·A1/(A1 + A2)."""
    net = Network(0.0025, AIR, AIR)
    one, two = net.pipe([smooth(1.0, 0.04), smooth(1.0, 0.04 * sqrt(ratio))], REST)
    net.through(one.start)
    net.through(two.finish)
    run = net.build()
    launch(run, one, 1.0, 0.5, 0.08)
    run.march(0.9 / A)
    back, on = run.read(one, rows.PRS) - P0, run.read(two, rows.PRS) - P0
    expected = (1.0 - ratio) / (1.0 + ratio)
    assert np.sum(back) / np.sum(pulse(centres(run, one), 1.0, 0.5, 0.08)) == pytest.approx(expected, abs=0.02)
    assert on.max() == pytest.approx(2.0 / (1.0 + ratio), rel=0.02)


def test_a_fork_of_three_equal_pipes_reflects_a_third() -> None:
    """(Y1 − Y2 − Y3)/(Y1 + Y2 + Y3) = −1/3."""
    net = Network(0.0025, AIR, AIR)
    ducts = [net.duct([smooth(1.0, 0.04)], REST) for _ in range(3)]
    net.junction([ducts[0].finish, ducts[1].start, ducts[2].start])
    for end in (ducts[0].start, ducts[1].finish, ducts[2].finish):
        net.through(end)
    run = net.build()
    launch(run, ducts[0], 1.0, 0.5, 0.08)
    run.march(0.9 / A)
    assert np.sum(run.read(ducts[0], rows.PRS) - P0) / np.sum(
        pulse(centres(run, ducts[0]), 1.0, 0.5, 0.08)
    ) == pytest.approx(-1 / 3, abs=0.02)
    for duct in ducts[1:]:
        assert (run.read(duct, rows.PRS) - P0).max() == pytest.approx(2 / 3, rel=0.02)


@pytest.mark.parametrize(
    ("ratio", "closed", "opened"), [(1.01, 1.02009, 0.990085), (1.1, 1.20845, 0.907896), (1.2, 1.43335, 0.829280)]
)
def test_a_strong_wave_is_thrown_back_by_the_law_of_simple_waves(ratio: float, closed: float, opened: float) -> None:
    """X_s = 2·X − 1 at a wall, X_r = 2 − X from an open end, X = (p/p0)^(1/7): first principles, before steepening."""
    x_in = ratio ** (1 / 7)
    for end, expected in (("closed", closed), ("open", opened)):
        run, duct = pipe(800, end)
        lift = (x_in - 1.0) * np.clip((0.25 - np.abs(centres(run, duct) - 0.65)) / 0.08, 0.0, 1.0)
        x = 1.0 + lift
        run.set_cells(duct, RHO * x**5, 5.0 * A * lift, P0 * x**7)
        run.march((0.35 if end == "closed" else 0.75) / (A * (1.2 * x_in - 0.2)))
        p = run.read(duct, rows.PRS) / P0
        assert (p.max() if end == "closed" else p.min()) == pytest.approx(expected, rel=2e-3)


def ring(run: NetworkRun, duct: Duct, cell: int, seconds: float, samples: int = 4000) -> float:
    """Frequency [Hz] of what a cell shows, by the strongest line of its spectrum, refined by a parabola."""
    seen = []
    for k in range(1, samples + 1):
        run.march(seconds * k / samples)
        seen.append(run.read(duct, rows.PRS)[cell])
    found = (np.array(seen) - np.mean(seen)) * np.hanning(samples)
    power = np.abs(np.fft.rfft(found, 8 * samples))
    k = int(np.argmax(power[8:])) + 8
    a, b, c = np.log(power[k - 1 : k + 2])
    return (k + 0.5 * (a - c) / (a - 2 * b + c)) / (8 * seconds)


@pytest.mark.parametrize(("factor", "name"), [(UNFLANGED, "unflanged"), (FLANGED, "flanged")])
def test_an_organ_pipe_sounds_at_its_length_with_the_end_correction(factor: float, name: str) -> None:
    """a/(4·(L + k·r)), closed and open; k = 0.6133 (Levine and Schwinger) or 0.8217 (flanged), from memory."""
    length, diameter = 0.5, 0.05
    section = smooth(length, diameter)
    net = Network(0.005, AIR, AIR)
    duct = net.duct([section, end_piece(section.exit, factor)], REST)
    net.closed(duct.start)
    net.open_end(duct.finish, net.atmosphere(REST), loss=0.0)
    run = net.build()
    shape = 50.0 * np.cos(pi / 2.0 * centres(run, duct) / (length + factor * diameter / 2))
    run.set_cells(duct, RHO + shape / A**2, np.zeros_like(shape), P0 + shape)
    assert ring(run, duct, 2, 0.06, 1500) == pytest.approx(A / (4.0 * (length + factor * diameter / 2.0)), rel=0.01), (
        name
    )


def test_a_volume_and_a_neck_ring_at_the_exact_frequency() -> None:
    """tan(k·L) = A/(V·k) for a neck of 50 × 350 mm on 500 cm³ (149.85 Hz); with a large volume Helmholtz's own form holds."""
    for size in (500e-6, 20e-3):
        section = smooth(0.35, 0.05)
        net = Network(0.005, AIR, AIR)
        duct = net.duct([section], REST)
        room = net.volume(size, Start(P0 + 100.0, REST.temperature))
        net.gate(room, end=duct.start, out_area=section.entry.area, in_area=section.entry.area)
        net.open_end(duct.finish, net.atmosphere(REST), loss=0.0)
        run = net.build()
        area = section.entry.area
        k = brentq(lambda k, size=size, area=area: tan(k * 0.35) - area / (size * k), 1e-3, 4.4)
        exact = k * A / (2 * pi)
        assert ring(run, duct, 2, 8 / exact, 1500) == pytest.approx(exact, rel=0.01)
        if size > 1e-3:
            assert exact == pytest.approx(A / (2 * pi) * sqrt(area / (0.35 * size)), rel=0.01)


def test_ends_are_joined_once() -> None:
    net = Network(0.01)
    duct = net.duct([smooth(0.5, 0.05)])
    net.closed(duct.start)
    with pytest.raises(Exception, match="joined twice: closed and through"):
        net.through(duct.start)
    with pytest.raises(Exception, match="1 duct ends lead nowhere"):
        net.build()
    assert duct.finish == End(1)
