"""Running an engine at one speed until its cycle repeats, and what the last cycle says."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from longbreath.core.basis.errors import InputError, LongBreathError
from longbreath.core.wave import march as kernels
from longbreath.core.wave import rooms, rows
from longbreath.core.wave.assemble import Built, build
from longbreath.core.wave.engine import WaveEngine
from longbreath.core.wave.mesh import Array
from longbreath.core.wave.network import NetworkRun
from longbreath.core.wave.parts import SolverError
from longbreath.core.wave.periodic import Mixing, State, carry
from longbreath.core.wave.settling import QUICKEST, USUAL, Scales, Settling, marks

TOLERANCE = 0.0005
"""A run ends when it is within this share of its settled value, by its own estimate, several cycles running."""
MOST = 80
COARSE, COARSE_TOLERANCE = 3.0, 0.003
"""First it settles on cells so many times as long, this far: one cycle there costs a ninth."""
FIRST = 1
"""Cycles before mixing begins: the first ones only sweep the start out."""


Watch = Callable[[int, float], bool]
"""Told the cycle (0 on the coarse mesh) and its change [1]; False cancels."""


class Cancelled(LongBreathError):
    """The caller asked to stop."""

    def __init__(self) -> None:
        super().__init__("The simulation was cancelled.")


@dataclass(frozen=True)
class SpeedPoint:
    """What one speed gives. Angles of traces count from cylinder 1's firing dead centre, one sample per share of the cycle.

    speed [rad/s]; filling [1]: fresh gas taken in per cycle over displacement × density outside (one each by chamber);
    trapped and short_circuited [kg a cycle, all chambers, fresh]; residual share [1] of the trapped charge; pumping,
    indicated, friction and brake mean effective pressure [Pa]; torques [N m], powers [W]; peak_pressure [Pa];
    exhaust_temperature [K, by energy]; to_walls [J a cycle]; turbine_power [W]; balance: energy that is not accounted for
    over the heat set free [1], mass_balance likewise over the charge; peak_mach, mean temperature [K] and traces (pressure
    [Pa], velocity [m/s]) by station; chamber_pressure (chambers, samples) [Pa]; change: last change from cycle to cycle [1],
    distance: estimated distance from the settled value [1].
    """

    speed: float
    converged: bool
    cycles: int
    change: float
    distance: float
    filling: float
    filling_each: tuple[float, ...]
    trapped: float
    short_circuited: float
    residual: float
    pumping: float
    indicated: float
    friction: float
    brake: float
    indicated_torque: float
    brake_torque: float
    indicated_power: float
    brake_power: float
    peak_pressure: float
    exhaust_temperature: float
    to_walls: float
    turbine_power: float
    balance: float
    mass_balance: float
    steps: int
    cells: int
    peak_mach: dict[str, float] = field(default_factory=dict)
    temperature: dict[str, float] = field(default_factory=dict)
    traces: dict[str, tuple[Array, Array]] = field(default_factory=dict)
    chamber_pressure: Array = field(default_factory=lambda: np.zeros((0, 0)))


def simulate(
    engine: WaveEngine,
    speed: float,
    tolerance: float = TOLERANCE,
    most: int = MOST,
    watch: Watch | None = None,
    cfl: float | None = None,
    plain: bool = False,
) -> SpeedPoint:
    """Run `engine` at `speed` [rad/s] until it is within `tolerance` [1] of its settled cycle, or for `most` cycles.

    watch(cycle, change) is called after every cycle (0 on the coarse mesh); returning False cancels. plain: from a resting
    start and without acceleration, to check it by. Raises InputError for a speed that cannot
    be, SolverError if the gas state breaks down, Cancelled.
    """
    if not 10.0 < speed < 3000.0:
        raise InputError("A speed lies between about 100 and 28,000 rpm.", "speed")
    seen = watch or (lambda cycle, change: True)
    if not plain:
        try:
            return _run(engine, speed, tolerance, most, seen, cfl, hurried=True)
        except SolverError:
            pass  # cells too long beside a small volume, or a mixed state: the plain way decides
    return _run(engine, speed, tolerance, most, seen, cfl, hurried=False)


def _run(
    engine: WaveEngine, speed: float, tolerance: float, most: int, watch: Watch, cfl: float | None, hurried: bool
) -> SpeedPoint:
    """One run, from a settled coarse mesh and with mixed states if it is `hurried`."""
    made = build(engine)
    run = made.net.build(engine.samples)
    run.cfl = cfl or run.cfl
    course = Settling(tolerance)
    if hurried:
        rough = build(replace(engine, cell=engine.cell * COARSE))
        start = rough.net.build()
        on_rough = Settling(max(COARSE_TOLERANCE, tolerance))
        _settle(engine, rough, start, speed, on_rough, most, lambda _, change: watch(0, change), hurried)
        carry(start, run)
        course.factor = max(on_rough.factor, USUAL)
    gained = _settle(engine, made, run, speed, course, most, watch, hurried)
    return _point(engine, made, run, speed, course, gained)


def _settle(
    engine: WaveEngine,
    made: Built,
    run: NetworkRun,
    speed: float,
    course: Settling,
    most: int,
    watch: Watch,
    hurried: bool,
) -> tuple[float, float]:
    """March cycles until `course` has settled, or `most`; returns what the last one gained of energy [J] and mass [kg].

    Between cycles of four-strokes and rotaries the state is mixed with those before. A two-stroke settles by fronts of
    fresh and burned gas that travel in its short pipe; mixing fronts gains nothing (tried), and its cycles are cheap.
    """
    scales, period, state = Scales.of(engine), engine.cycle / speed, State(run)
    mixed = hurried and engine.kind != "two-stroke"
    mixing = Mixing(state.scale(scales.pressure, scales.density)) if mixed else None
    course.least = QUICKEST if mixed else USUAL
    contents = after = (0.0, 0.0)
    while course.cycles < most and not course.settled:
        begin, contents = state.read(), _contents(run)
        _fresh_accounts(run, period)
        run.march(period, speed)
        after = _contents(run)
        course.add(marks(run, made, scales))
        if not watch(course.cycles, course.change):
            raise Cancelled
        if mixing is not None and course.cycles > FIRST and not state.write(mixing.next(begin, state.read())):
            mixing.forget()
    return after[0] - contents[0], after[1] - contents[1]


def _fresh_accounts(run: NetworkRun, period: float) -> None:
    """Sums, traces and clock as at the beginning of a cycle; the crank stands where it stood a cycle ago."""
    m = run.model
    m.gate_sums[:] = 0.0
    m.peaks[:] = 0.0
    for k in (rooms.WORK, rooms.PUMPING, rooms.TO_WALL, rooms.FROM_FUEL, rooms.P_MAX):
        m.states[:, k] = 0.0
    samples = m.room_traces.shape[1]
    m.clock[kernels.C_TIME] = m.clock[kernels.C_NEXT] = m.clock[kernels.C_TAKEN] = 0.0
    m.clock[kernels.C_BETWEEN] = period / max(samples, 1)
    m.clock[kernels.C_WALL_HEAT] = 0.0


def _contents(run: NetworkRun) -> tuple[float, float]:
    """Energy [J] and mass [kg] in all ducts and moving or still rooms."""
    living = run.model.rooms[:, rooms.KIND] != rooms.FIXED
    states = run.model.states[living]
    return (
        run.total(rows.ENERGY) + float(states[:, rooms.R_ENERGY].sum()),
        run.total(rows.MASS) + float(states[:, rooms.R_MASS].sum()),
    )


def _fresh_in(sums: Array) -> float:
    """Fresh gas that came in through gates less what went out [kg], from their sums (n, columns)."""
    return float((sums[:, kernels.S_FRESH_IN] - sums[:, kernels.S_FRESH_OUT]).sum())


def _point(
    engine: WaveEngine, made: Built, run: NetworkRun, speed: float, course: Settling, gained: tuple[float, float]
) -> SpeedPoint:
    m, states = run.model, run.model.states
    chambers = states[made.chambers]
    outside = engine.air.pressure / (engine.fresh.constant * engine.air.temperature)
    swept, total = engine.chamber.swept, engine.displacement
    into = np.array([_fresh_in(m.gate_sums[list(gates)]) for gates in made.intake_gates])
    out = m.gate_sums[[g for gates in made.exhaust_gates for g in gates]]
    lost = -_fresh_in(out)
    out_mass, out_energy = out[:, kernels.S_MASS].sum(), out[:, kernels.S_ENERGY].sum()
    work = float(chambers[:, rooms.WORK].sum())
    case_work = float(states[made.cases, rooms.WORK].sum()) if made.cases else 0.0
    pumping = case_work if made.cases else float(chambers[:, rooms.PUMPING].sum())
    net = work + case_work
    peak = float(chambers[:, rooms.P_MAX].max())
    lost_pressure = engine.friction.pressure(peak, engine.piston_travel * speed)
    indicated, brake = net / total, net / total - lost_pressure
    per_angle = total / engine.cycle
    trapped, trapped_burned = chambers[:, rooms.TRAPPED].sum(), chambers[:, rooms.TRAPPED_BURNT].sum()
    fuel, walls = float(chambers[:, rooms.FROM_FUEL].sum()), float(chambers[:, rooms.TO_WALL].sum())
    through = [m.gate_sums[g] for g in made.mouths]
    came = sum(float(s[kernels.S_ENERGY]) for s in through)
    arrived = sum(float(s[kernels.S_MASS]) for s in through)
    taken = float(m.gate_sums[:, kernels.S_WORK].sum())
    unexplained = gained[0] - (fuel - walls - net - taken + float(m.clock[kernels.C_WALL_HEAT]) + came)
    cp = engine.burned.heat_capacity
    return SpeedPoint(
        speed=speed,
        converged=course.settled,
        cycles=course.cycles,
        change=course.change,
        distance=course.distance,
        filling=float(into.sum()) / (outside * total),
        filling_each=tuple(float(x) / (outside * swept) for x in into),
        trapped=float(trapped - trapped_burned),
        short_circuited=float(lost),
        residual=float(trapped_burned / trapped) if trapped > 0 else 0.0,
        pumping=pumping / total,
        indicated=indicated,
        friction=lost_pressure,
        brake=brake,
        indicated_torque=indicated * per_angle,
        brake_torque=brake * per_angle,
        indicated_power=indicated * per_angle * speed,
        brake_power=brake * per_angle * speed,
        peak_pressure=peak,
        exhaust_temperature=float(out_energy / (out_mass * cp)) if out_mass > 0 else 0.0,
        to_walls=walls,
        turbine_power=taken * speed / engine.cycle,
        balance=unexplained / max(fuel, abs(net), 1e-9),
        mass_balance=(gained[1] - arrived) / max(trapped, 1e-12),
        steps=int(m.clock[kernels.C_STEPS]),
        cells=sum(d.last - d.first + 1 for d, _, _ in run.net.parts.ducts),
        peak_mach={name: float(m.peaks[k, 0]) for k, (name, _) in enumerate(run.net.parts.stations)},
        temperature={
            name: float(m.peaks[k, 1]) * speed / engine.cycle for k, (name, _) in enumerate(run.net.parts.stations)
        },
        traces={
            name: (m.traces[k, 0].copy(), m.traces[k, 1].copy()) for k, (name, _) in enumerate(run.net.parts.stations)
        },
        chamber_pressure=m.room_traces[made.chambers].copy(),
    )
