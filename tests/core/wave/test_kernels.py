"""The kernels: the same compiled and as plain Python, from the cache, robust at odd states."""

from __future__ import annotations

import os
import subprocess
import sys

import numpy as np
import pytest

from longbreath.core.bench.discharge import flow_function
from longbreath.core.wave import compiled, ends, joints

SMALL = """
import numpy as np
from tests.core.wave.test_balance import closed_model
from tests.core.wave.pipes import tube
from longbreath.core.wave import rows
run, duct = tube(30)
x = np.arange(30) < 15
run.set_cells(duct, np.where(x, 1.0, 0.125), np.zeros(30), np.where(x, 1.0, 0.1))
run.march(0.1)
closed = closed_model(heating=1.0)
closed.march(2.5e-4)
found = [run.read(duct, rows.RHO), closed.model.states[:, :3].ravel(), [closed.total(rows.ENERGY)]]
print(repr(np.concatenate(found).tolist()))
"""


def small(plain: bool) -> np.ndarray:
    done = subprocess.run(
        [sys.executable, "-W", "error::RuntimeWarning", "-c", SMALL],
        capture_output=True,
        text=True,
        check=True,
        timeout=300,
        env={**os.environ, "NUMBA_DISABLE_JIT": "1" if plain else "0"},
    )
    return np.array(eval(done.stdout))


@pytest.mark.slow
def test_compiled_and_plain_python_agree_to_rounding() -> None:
    assert small(plain=True) == pytest.approx(small(plain=False), rel=1e-10)


@pytest.mark.slow
def test_a_second_process_takes_the_kernels_from_the_cache() -> None:
    small(plain=False)
    counts = "for found in (march.stats.cache_hits, march.stats.cache_misses):\n    print(sum(found.values()))"
    told = f"{SMALL}\nfrom longbreath.core.wave.march import march\n{counts}"
    done = subprocess.run([sys.executable, "-c", told], capture_output=True, text=True, check=True, timeout=300)
    assert done.stdout.splitlines()[-2:] == ["1", "0"]
    assert compiled.is_compiled()
    assert compiled.fingerprint() in str(compiled.CACHE)


def test_gates_answer_sanely_at_any_state() -> None:
    """Random states over the range of an engine: finite, right in direction, what an orifice passes, never more than choked flow."""
    rng = np.random.default_rng(4)
    for _ in range(3000):
        p, t = 10 ** rng.uniform(4.3, 6.3), rng.uniform(240, 2000)
        rho = p / (290.0 * t)
        a = (1.33 * p / rho) ** 0.5
        u = rng.uniform(-1.3, 1.3) * a
        out, into = 1e-3 * rng.uniform(0, 1, 2) ** 3
        p0, t0 = 10 ** rng.uniform(4.3, 7.0), rng.uniform(240, 2800)
        m, energy, push, v, sound = ends.gate(p, u, rho, 1.33, 1e-3, out, into, p0, t0, 1.4, 287.05)
        assert np.all(np.isfinite([m, energy, push, v, sound]))
        assert m * v >= 0
        assert m * energy >= 0
        face = (push - m * v) / 1e-3
        if m < 0 and -v < 0.999 * sound:  # what the reservoir's orifice passes at the pressure found at the face
            assert -m == pytest.approx(ends.orifice(into, p0, t0, 1.4, 287.05, face), rel=2e-4, abs=1e-9)
        elif m > 0 and u < a:  # what an orifice passes from the total state found at the face
            total = energy / m * 0.33 / (1.33 * 290.0)
            lift = total / (sound * sound / (1.33 * 290.0))
            assert m == pytest.approx(
                ends.orifice(out, face * lift ** (1.33 / 0.33), total, 1.33, 290.0, p0), rel=2e-4, abs=1e-9
            )
        assert -m <= into * p0 * flow_function(0.0) / (287.05 * t0) ** 0.5 * (1 + 1e-4)


def test_an_orifice_passes_the_isentropic_flow() -> None:
    """Against the flow function of the bench (isentropic, from rest), choked and not."""
    for ratio in (0.999, 0.95, 0.8, 0.5, 0.2):
        expected = 1e-4 * 2e5 * flow_function(ratio) / (287.05 * 300.0) ** 0.5
        assert ends.orifice(1e-4, 2e5, 300.0, 1.4, 287.05, ratio * 2e5) == pytest.approx(expected, rel=1e-12)


def test_an_exhaust_valve_passes_the_tabled_choked_flow() -> None:
    """0.7 × 300 mm², 400 kPa, 1,200 K, γ 1.30, R 290: 0.0950137 kg/s (first principles)."""
    assert ends.orifice(0.7 * 300e-6, 4e5, 1200.0, 1.30, 290.0, 1.1e5) == pytest.approx(0.0950137, rel=1e-5)


@pytest.mark.parametrize(("ratio", "mach"), [(1.1, 0.692399), (1.5, 0.430262), (2.0, 0.305904), (4.0, 0.146548)])
def test_the_subsonic_mach_number_of_an_area_ratio_is_the_tabled_one(ratio: float, mach: float) -> None:
    """A/A* tables of isentropic flow, γ 1.4 (standard tables)."""
    assert joints.subsonic_mach(joints.flow_number(1.0, 1.4) / ratio, 1.4) == pytest.approx(mach, rel=1e-5)


def test_a_pipe_end_in_the_open_gives_room_pressure() -> None:
    """Subsonic outflow through a fully open end: the face has the room's pressure, along the gas's isentrope."""
    p, u, rho, area = 1.2e5, 40.0, 1.3, 1e-3
    m, energy, push, v, a = ends.gate(p, u, rho, 1.4, area, area, area, 1.0e5, 300.0, 1.4, 287.05)
    assert push - m * v == pytest.approx(1.0e5 * area, rel=1e-9)
    assert a == pytest.approx((1.4 * p / rho) ** 0.5 * (1.0 / 1.2) ** (1 / 7), rel=1e-9)
    assert energy / m == pytest.approx(a * a / 0.4 + v * v / 2)


def test_steps_balance_at_any_state() -> None:
    """Random pipes and necks: the receiver's face carries the donor's mass at its own temperature, and lies on its own wave."""
    rng = np.random.default_rng(3)
    g, r = 1.33, 290.0
    off_wave = 0
    for _ in range(3000):
        pipes = []
        for _ in range(2):
            p, t = 10 ** rng.uniform(4.5, 6), rng.uniform(250, 1800)
            a = (g * r * t) ** 0.5
            u = rng.uniform(-0.9, 0.9) * a
            pipes.append((p * ends.stop_ratio(u, a, g) ** (2 * g / (g - 1)), p, u, p / (r * t), a))
        (_, p, u, rho, _), (_, p_to, u_to, _, a_to) = sorted(pipes, reverse=True)
        area, to_area = 10 ** rng.uniform(-3.5, -2.5, 2)
        neck = min(area, to_area) * rng.uniform(0.02, 1)
        m, _, _, _, v, p_face, t0, _ = joints.step(p, u, rho, g, r, area, neck, p_to, u_to, a_to, g, to_area)
        t = t0 - v * v / (2 * g * r / (g - 1))
        assert m == pytest.approx(p_face / (r * t) * v * to_area, rel=1e-6)
        wave = -u_to - 2 * a_to / (g - 1) * (1 - (p_face / p_to) ** ((g - 1) / (2 * g)))
        if v < 0.999 * (g * r * t) ** 0.5 and abs(wave - v) > 1e-4 * a_to:
            off_wave += 1
    assert off_wave <= 3
