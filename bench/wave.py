"""Speed of the wave core on one core, beside the general-purpose package clawpack on the same shock tube, and a sweep of the
four-cylinder Heron on two. Run: .venv/bin/python bench/wave.py   (clawpack: pip install clawpack, needs gfortran; without
it only our own figures are printed)
"""

from __future__ import annotations

import time
from pathlib import Path
from statistics import median

import numpy as np

from longbreath.core.air.gases import Gas
from longbreath.core.path.sections import Section
from longbreath.core.wave import rows
from longbreath.core.wave.cycle import simulate
from longbreath.core.wave.mesh import PipePiece
from longbreath.core.wave.network import Network
from longbreath.formats.wave_case import load_case, speeds
from longbreath.jobs.simulation import run as sweep

CELLS = (200, 400, 800, 1600, 3200)
HERON = Path(__file__).parents[1] / "longbreath" / "demo" / "cases" / "heron.json"
STAR = (0.303130178050646, 0.927452620048921, 0.426319428178493, 0.265573711705307, 1.752155732030178)
"""p*, u*, densities left and right of the contact, shock speed of Sod's tube (exact Riemann solution)."""


def exact(cells: int, sub: int = 400) -> np.ndarray:
    """Mean density of each cell at t = 0.2."""
    p, u, left, right, shock = STAR
    xi = ((np.arange(cells * sub) + 0.5) / (cells * sub) - 0.5) / 0.2
    a, tail = 1.4**0.5, u - (1.4 * p / left) ** 0.5
    fan = ((2 * a - 0.4 * xi) / 2.4 / a) ** 5
    rho = np.select(
        [xi < -a, xi < tail, xi < u, xi < shock],
        [np.ones_like(xi), fan, np.full_like(xi, left), np.full_like(xi, right)],
        0.125,
    )
    return rho.reshape(cells, sub).mean(1)


def start(cells: int) -> tuple[np.ndarray, np.ndarray]:
    """Density and pressure of Sod's tube."""
    left = (np.arange(cells) + 0.5) / cells < 0.5
    return np.where(left, 1.0, 0.125), np.where(left, 1.0, 0.1)


def ours(cells: int) -> tuple[float, int, np.ndarray]:
    """Seconds, steps and density; the product's network of one duct with open ends, friction and all in the kernel."""
    gas, unit = Gas("gas", 1.4, 287.05), Section(1.0, 4.0)
    net = Network(1.0 / cells, gas, gas)
    duct = net.duct([PipePiece(1.0, unit, unit, roughness=0.0, friction=0.0, heating=0.0)])
    net.through(duct.start)
    net.through(duct.finish)
    run = net.build()
    run.cfl = 0.9
    rho, p = start(cells)
    run.set_cells(duct, rho, np.zeros(cells), p)
    begun = time.perf_counter()
    steps = run.march(0.2)
    return time.perf_counter() - begun, steps, run.read(duct, rows.RHO)


def claw(cells: int) -> tuple[float, int, np.ndarray]:
    """The same with clawpack: euler_with_efix_1D, second order, MC limiter, CFL 0.9."""
    from clawpack import pyclaw, riemann

    solver = pyclaw.ClawSolver1D(riemann.euler_with_efix_1D)
    solver.order, solver.limiters, solver.kernel_language = 2, pyclaw.limiters.tvd.MC, "Fortran"
    solver.cfl_desired, solver.cfl_max, solver.dt_initial = 0.9, 1.0, 0.1 / cells
    solver.bc_lower[0] = solver.bc_upper[0] = pyclaw.BC.extrap
    domain = pyclaw.Domain(pyclaw.Dimension(0.0, 1.0, cells, name="x"))
    state = pyclaw.State(domain, 3)
    state.problem_data["gamma"], state.problem_data["gamma1"] = 1.4, 0.4
    rho, p = start(cells)
    state.q[0], state.q[1], state.q[2] = rho, 0.0, p / 0.4
    control = pyclaw.Controller()
    control.solution, control.solver, control.tfinal = pyclaw.Solution(state, domain), solver, 0.2
    control.num_output_times, control.output_format, control.keep_copy, control.verbosity = 1, None, True, 0
    begun = time.perf_counter()
    control.run()
    return time.perf_counter() - begun, solver.status["numsteps"], np.asarray(control.frames[-1].q[0]).copy()


def shock_tubes() -> None:
    """Cell updates per second and L1 error: runs in turn, so that a busy machine strikes both, and the middle one of five."""
    try:
        claw(50)
        others = [("clawpack", claw)]
    except ImportError:
        print("clawpack is not installed: only our own figures")
        others = []
    ours(50)
    for cells in CELLS:
        found: dict[str, list[tuple[float, int, np.ndarray]]] = {}
        for _ in range(5):
            for name, solve in [("longbreath", ours), *others]:
                found.setdefault(name, []).append(solve(cells))
        rates = {name: [cells * steps / seconds for seconds, steps, _ in runs] for name, runs in found.items()}
        errors = {name: float(np.abs(runs[0][2] - exact(cells)).mean()) for name, runs in found.items()}
        line = "; ".join(f"{n} {median(rates[n]) / 1e6:.1f} M cell updates/s, L1 {errors[n]:.6f}" for n in rates)
        ratios = [a / b for a, b in zip(rates["longbreath"], rates.get("clawpack", []), strict=False)]
        print(f"Sod, {cells} cells: {line}" + (f"; {median(ratios):.1f} times as fast" if ratios else ""))


def heron() -> None:
    """A 14-speed sweep of the Heron on two processes, after compilation; and how cost grows."""
    case = load_case(HERON)
    engine, all_speeds = case.to_engine(), speeds(case.rpm)
    sweep(engine, all_speeds[-2:], workers=2)
    for some in (all_speeds[::2], all_speeds):
        begun = time.perf_counter()
        done = sweep(engine, some, workers=2)
        seconds = time.perf_counter() - begun
        settled = all(d.point and d.point.converged for d in done)
        cycles = sum(d.point.cycles for d in done if d.point) / len(done)
        print(
            f"Heron, {done[0].point.cells} cells, {len(some)} speeds on two processes: {seconds:.1f} s with their start, "
            f"{cycles:.1f} cycles a speed after the coarse mesh, {'all' if settled else 'NOT all'} settled"
        )


def growth() -> None:
    """What a step costs as the same engine is cut into more cells: ends and chambers a fixed part, the rest in proportion."""
    case = load_case(HERON)
    for cell in (22.0, 11.0, 5.5, 2.75):
        engine = case.model_copy(update={"cell_mm": cell}).to_engine()
        simulate(engine, 600.0, most=1, plain=True)
        begun = time.perf_counter()
        point = simulate(engine, 600.0, most=2, plain=True)
        each = (time.perf_counter() - begun) / point.steps
        print(f"Heron, {point.cells} cells: {each * 1e6:.0f} µs a step")


if __name__ == "__main__":
    shock_tubes()
    heron()
    growth()
