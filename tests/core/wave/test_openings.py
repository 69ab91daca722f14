"""Effective areas over the turn, and meshes, against closed forms and the rest of the core."""

from __future__ import annotations

from math import cos, pi, radians

import numpy as np
import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.path import volumes
from longbreath.core.path.sections import round_section, rounded_rectangle
from longbreath.core.timing import time_area, wheel
from longbreath.core.wave import openings, rooms
from longbreath.core.wave.engine import Chamber, Exhaust, Friction, Intake, WaveEngine, burn_heat
from longbreath.core.wave.mesh import PipePiece, continuous, mesh, rough_factor
from longbreath.core.wave.network import Network
from longbreath.core.wave.parts import Reed, Start
from tests.core.wave.pipes import smooth
from tests.core.wave.singles import single

GEAR = ValveGear(2, 0.034, 0.029, 0.006)


def test_a_valve_flows_what_the_bench_measured() -> None:
    """Effective area at a bench lift is C_d × n·π·D·L; straight between lifts; held beyond the last."""
    flow = openings.ValveFlow(GEAR, (0.002, 0.006), (0.65, 0.55), (0.6, 0.5))
    got = flow.effective(np.array([0.0, 0.002, 0.004, 0.006, 0.012]), out=False)
    curtain = 2 * pi * 0.034
    assert got == pytest.approx(
        [
            0,
            0.65 * curtain * 0.002,
            (0.65 * 0.002 + 0.55 * 0.006) / 2 * curtain,
            0.55 * curtain * 0.006,
            0.55 * curtain * 0.006,
        ]
    )
    assert flow.effective(np.array([0.006]), out=True)[0] < got[3]


@pytest.mark.parametrize(("shape", "mean"), [("sine squared", 0.5), ("parabola", 2 / 3), ("polynomial", 3 * pi / 16)])
def test_lift_shapes_have_their_mean_lift(shape: str, mean: float) -> None:
    """∫sin², ∫4x(1−x) = 2/3, ∫(4x(1−x))^1.5 = 3π/16 (closed forms)."""
    x = (np.arange(20000) + 0.5) / 20000
    assert openings.lift_shape(shape, x).mean() == pytest.approx(mean, rel=1e-6)


def test_a_valve_is_open_between_its_angles_only() -> None:
    opens, closes = 2 * pi - radians(18), 3 * pi + radians(50)
    table = openings.poppet(opens, closes, openings.usual_flow(GEAR), 0.01)
    angle = np.arange(openings.POINTS) * 4 * pi / openings.POINTS
    assert np.all((table[0] > 0) <= ((angle > opens - 1e-9) & (angle < closes + 1e-9)))
    assert angle[np.argmax(table[0])] == pytest.approx((opens + closes) / 2, abs=0.4)
    lifted = [(2 * pi + radians(a), 0.01 * (1 - ((a - 100) / 120) ** 2)) for a in range(-20, 221, 10)]
    given = openings.poppet(opens, closes, openings.usual_flow(GEAR), table=lifted)
    assert angle[np.argmax(given[0])] == pytest.approx(2 * pi + radians(100), abs=0.5)


def test_a_disc_has_the_angle_area_of_its_closed_form() -> None:
    opens, closes, span, area = -radians(145), radians(65), radians(46), 640e-6
    table = openings.window(opens, closes, span, area, 1.0, openings.TURN)
    got = table[0].sum() * openings.TURN / openings.POINTS
    assert got == pytest.approx(time_area.disc_window(closes - opens, span, area), rel=1e-4)
    assert table[0].max() == pytest.approx(area)


def test_piston_ports_have_the_angle_area_of_quadrature() -> None:
    """116,103 mm²·° for a 38 mm wide window 29 mm below top of a 54 mm stroke, rod 105 mm (scipy's quadrature)."""
    table = openings.piston_ports(0.029, 0.054, 0.105, 0.038, 0.025, 1.0)
    assert table[0].sum() * 360 / openings.POINTS == pytest.approx(116103e-6, rel=1e-4)
    opens = wheel.port_angle(0.029, 0.054, 0.105).value
    angle = np.arange(openings.POINTS) * openings.TURN / openings.POINTS
    assert angle[np.argmax(table[0] > 0)] == pytest.approx(opens, abs=0.005)
    skirt = openings.piston_ports(0.029, 0.054, 0.105, 0.038, 0.025, 1.0, top=True)
    assert skirt[0][0] > 0 == skirt[0][openings.POINTS // 2]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda: openings.window(1.0, 0.5, 0.1, 1e-4, 0.7, 6.28), "never opens, or never closes"),
        (lambda: openings.window(0.5, 1.0, 0.1, 1e-4, 1.7, 6.28), "coefficient up to 1"),
        (lambda: openings.piston_ports(0.06, 0.054, 0.105, 0.04, 0.02, 0.7), "inside the stroke"),
        (lambda: openings.poppet(0.0, 1.0, openings.usual_flow(GEAR)), "lift must be more than nought"),
        (lambda: openings.lift_shape("ramp", np.zeros(2)), "one of: sine squared"),
        (lambda: openings.ValveFlow(GEAR, (0.004, 0.002), (0.6, 0.6), (0.6, 0.6)), "Lifts increase"),
        (lambda: openings.ValveFlow(GEAR, (0.004,), (1.6,), (0.6,)), "between 0 and about 1"),
        (lambda: openings.poppet(0, 1, openings.usual_flow(GEAR), table=[(1, 0.0), (0.5, 0.01)]), "increasing angles"),
        (lambda: PipePiece(-0.1, round_section(0.05), round_section(0.05)), "length must be more"),
        (lambda: PipePiece(0.005, round_section(0.02), round_section(0.1)), "steeper than"),
        (lambda: continuous([]), "at least one piece"),
        (lambda: Network(0.01).volume(0.0, Start()), "volume must be more"),
        (lambda: Start(pressure=-1.0), "above absolute nought"),
        (lambda: Network(0.01).gate(0), "leads to a duct end or to another room"),
        (lambda: Reed(0.0, 0.1, 1e4, 0.005, 0.1), "must be more than nought"),
        (lambda: Chamber(0.08, 0.08, 0.03, 10.0), "rod is longer"),
        (lambda: Chamber(0.08, 0.08, 0.13, 0.9), "ratio is more than 1"),
        (lambda: single(cylinders=2), "firing order names each"),
        (lambda: single(kind="turbine"), "one of: four-stroke"),
        (lambda: single(exhaust=Exhaust([[smooth(0.2, 0.04)]], [[2]])), "groups name each"),
        (lambda: single(intake=Intake([[smooth(0.2, 0.04)]] * 3)), "one line of runners"),
        (lambda: burn_heat(43e6, 14.7, 0.9, 1.3), "efficiency up to 1"),
        (lambda: Network(0.01).junction([]), "three ducts or more"),
        (lambda: Network(0.00005).duct([smooth(1.0, 0.04)]), "more than 8232 cells"),
        (lambda: Network(0.01).duct([smooth(0.2, 0.04), smooth(0.2, 0.06)]), "meet at a step"),
    ],
)
def test_what_cannot_be_is_refused_with_a_sentence(change: object, words: str) -> None:
    with pytest.raises(InputError, match=words):
        change()


def test_cells_have_the_volume_of_the_cone_and_the_losses_of_the_bend() -> None:
    """Volume against the frustum's closed form; K spread over the piece; wetted wall of the sections."""
    port = rounded_rectangle(0.046, 0.034, 0.009)
    pieces = [
        PipePiece(0.3, round_section(0.04), round_section(0.08), loss=0.4),
        PipePiece(0.1, round_section(0.08), round_section(0.08)),
    ]
    cells = mesh(pieces, 0.01)
    volume = volumes.frustum(round_section(0.04), round_section(0.08), 0.3) + 0.1 * round_section(0.08).area
    assert cells.volume.sum() == pytest.approx(volume, rel=1e-12)
    assert (cells.loss * cells.length).sum() == pytest.approx(0.4)
    straight = mesh([PipePiece(0.2, port, port)], 0.01)
    assert straight.four_by_d == pytest.approx(4 / port.hydraulic_diameter)
    assert straight.area == pytest.approx(port.area)


def test_a_rough_pipe_has_nikuradses_friction() -> None:
    """Darcy 0.0379 at ε/D = 0.01 (Moody's chart, fully rough): Fanning is a quarter."""
    assert 4 * rough_factor(0.1, 0.001) == pytest.approx(0.0379, rel=2e-3)
    assert rough_factor(0.1, 0.0) == 0.0


def test_chamber_volumes_follow_the_crank_and_the_rotor() -> None:
    """Piston travel 51.1066 mm at 90° of an 88.392 mm stroke on a 144.78 mm rod (first principles)."""
    net = Network(0.01)
    crank = net.moving(Start(), kind=rooms.CRANKED, base=50e-6, piston=8e-3, crank=0.044196, rod=0.14478)
    rotor = net.moving(Start(), kind=rooms.ROTOR, base=70e-6, piston=654e-6)
    made = net.parts.rooms
    assert rooms.volume(made[crank], pi / 2) == pytest.approx(50e-6 + 8e-3 * 51.1066e-3, rel=1e-6)
    assert [rooms.volume(made[rotor], a) for a in (0, 1.5 * pi, 3 * pi)] == pytest.approx([70e-6, 724e-6, 70e-6])


def test_the_burn_and_the_film_follow_their_authors() -> None:
    """Wiebe: half burned where 1 − exp(−a·x^(m+1)) = ½; Hohenberg's form at 30 bar, 2,000 K; Chen and Flynn's sum (from memory)."""
    half = (np.log(2.0) / rooms.WIEBE) ** (1 / 3)
    assert rooms.wiebe(half, 1.0, 2.0) == pytest.approx(0.5, abs=1e-3)
    assert rooms.wiebe(1.0, 1.0, 2.0) == 1.0
    expected = 130 * 6e-5**-0.06 * 30**0.8 * 2000**-0.4 * (12 + 1.4) ** 0.8
    assert rooms.film(6e-5, 30e5, 2000.0, 12.0) == pytest.approx(expected)
    assert Friction().pressure(80e5, 15.0) == pytest.approx((0.4 + 0.005 * 80 + 0.09 * 15 + 0.0009 * 225) * 1e5)
    assert cos(0) == 1.0
    assert isinstance(single(), WaveEngine)
