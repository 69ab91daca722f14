"""The step in time of a whole model: ducts, ends, joints, gates, rooms, reeds; and what is written down on the way."""

from __future__ import annotations

from math import sqrt
from typing import Any, NamedTuple

from longbreath.core.wave import duct, ends, joints, rooms
from longbreath.core.wave.compiled import kernel
from longbreath.core.wave.rooms import IN_BURNT, IN_ENERGY, IN_MASS, MID_GAMMA, MID_P, MID_R, MID_T, OUT_Y, P_NOW
from longbreath.core.wave.rows import (
    BURNED,
    ENERGY,
    F_BURNED,
    F_ENERGY,
    F_MASS,
    F_MOMENTUM,
    FRAC,
    GAM,
    HEAT,
    LEFT_FRAC,
    LEFT_PRS,
    LEFT_RHO,
    LEFT_VEL,
    MASS,
    MOMENTUM,
    PER_LENGTH,
    PRS,
    RATE,
    RHO,
    RIGHT_FRAC,
    RIGHT_PRS,
    RIGHT_RHO,
    RIGHT_VEL,
    SOUND,
    VEL,
)

OK, NOT_A_NUMBER, TOO_MANY_STEPS, EMPTY = 0, 1, 2, 3
CLOSED, THROUGH = 0, 1
WALL_STEPS = 8
"""Wall friction and film coefficients are found anew every so many steps: they change slowly."""
GENTLE_STEPS, GENTLE = 10, 0.2
"""The first steps are short: at the start two different gases may meet."""

# a gate's whole numbers and floats
G_END, G_ROOM, G_OTHER, G_TABLE, G_REED = 0, 1, 2, 3, 4
G_OUT, G_IN, G_OFFSET, G_PERIOD, G_EFFICIENCY = 0, 1, 2, 3, 4
"""OUT is out of its (first) room, IN into it [m2, effective]; EFFICIENCY of a turbine that the gas drives out of the room."""
# what went through a gate: net out of the room, and of that fresh gas, energy; fresh gas both ways; turbine work
S_MASS, S_FRESH, S_ENERGY, S_FRESH_OUT, S_FRESH_IN, S_WORK = 0, 1, 2, 3, 4, 5
# a reed: own frequency [rad/s], damping [1], pressure per lift [Pa/m], most lift [m], effective area per lift [m], its state
REED_W, REED_Z, REED_STIFF, REED_MOST, REED_PER, REED_X, REED_V = 0, 1, 2, 3, 4, 5, 6
# the clock: time [s], fastest rate [1/s], steps, longest step [s], next sample [s], between samples [s], samples taken
C_TIME, C_RATE, C_STEPS, C_LONGEST, C_NEXT, C_BETWEEN, C_TAKEN, C_WALL_HEAT = 0, 1, 2, 3, 4, 5, 6, 7


class Model(NamedTuple):
    """The arrays of a model, as the kernels take them; built by `network.Network`."""

    work: Any
    gas: Any
    end_cell: Any
    end_side: Any
    end_area: Any
    plain: Any
    gate_ints: Any
    gate_floats: Any
    gate_sums: Any
    tables: Any
    rooms: Any
    states: Any
    step_ends: Any
    step_necks: Any
    junction_first: Any
    junction_ends: Any
    reeds: Any
    duct_first: Any
    duct_last: Any
    stations: Any
    peaks: Any
    traces: Any
    room_traces: Any
    clock: Any


@kernel
def inside(w: Any, gas: Any, i: int, side: float) -> tuple[float, float, float, float, float, float]:
    """Pressure [Pa], velocity outwards [m/s], density, share of burned gas, γ and R just inside a duct end, half a step on.

    The share is handed on as it is, also where it overshoots 0 or 1 a little: cut off here, the surplus could never leave
    the cell again and grew from cycle to cycle.
    """
    if side > 0.0:
        p, u, rho, y = w[LEFT_PRS + i + 1], w[LEFT_VEL + i + 1], w[LEFT_RHO + i + 1], w[LEFT_FRAC + i + 1]
    else:
        p, u, rho, y = w[RIGHT_PRS + i], -w[RIGHT_VEL + i], w[RIGHT_RHO + i], w[RIGHT_FRAC + i]
    r, gamma = rooms.gas_of(gas, min(max(y, 0.0), 1.0))
    return p, u, rho, y, gamma, r


@kernel
def put(
    w: Any, i: int, side: float, mass: float, energy: float, push: float, burned: float, u: float, a: float
) -> None:
    """Write the flows outwards through a duct end [kg/s, W, N, kg/s; m/s] as fluxes of its face."""
    face = i + 1 if side > 0.0 else i
    w[F_MASS + face], w[F_MOMENTUM + face], w[F_ENERGY + face] = side * mass, push, side * energy
    w[F_BURNED + face], w[RATE + face] = side * burned, (abs(u) + a) * w[PER_LENGTH + i]


@kernel
def plain_ends(m: Model) -> None:
    """Closed ends and ends that send nothing back."""
    for k in range(m.plain.shape[0]):
        end = m.plain[k, 0]
        i, side = m.end_cell[end], m.end_side[end]
        p, u, rho, y, gamma, _ = inside(m.work, m.gas, i, side)
        if m.plain[k, 1] == CLOSED:
            mass, energy, push, v, a = ends.closed(p, u, rho, gamma, m.end_area[end])
        else:
            mass, energy, push, v, a = ends.through(p, u, rho, gamma, m.end_area[end])
        put(m.work, i, side, mass, energy, push, mass * y, v, a)


@kernel
def opening(whole: Any, floats: Any, tables: Any, reeds: Any, way: int, angle: float) -> float:
    """Effective area [m2] of a gate out of (way 0) or into (1) its room, at the crank's `angle` [rad]."""
    reed = whole[G_REED]
    if reed >= 0:
        return reeds[reed, REED_PER] * reeds[reed, REED_X] * floats[way]
    table = whole[G_TABLE]
    if table < 0:
        return floats[way]
    points = tables.shape[2]
    where = rooms.past(angle, floats[G_OFFSET], floats[G_PERIOD]) / floats[G_PERIOD] * points
    j = int(where)
    j = j if j < points else points - 1
    k = j + 1 if j + 1 < points else 0
    share = where - j
    return tables[table, way, j] * (1.0 - share) + tables[table, way, k] * share


@kernel
def count(sums: Any, out: float, fresh: float, energy: float, dt: float) -> None:
    """Add what went out of the room through a gate: mass [kg/s], of that fresh gas, energy [W]."""
    sums[S_MASS] += dt * out
    sums[S_FRESH] += dt * fresh
    sums[S_ENERGY] += dt * energy
    if fresh > 0.0:
        sums[S_FRESH_OUT] += dt * fresh
    else:
        sums[S_FRESH_IN] -= dt * fresh


@kernel
def give(state: Any, mass: float, energy: float, burned: float) -> None:
    """Add flows into a room: mass [kg/s], energy [W], burned gas [kg/s]."""
    state[IN_MASS] += mass
    state[IN_ENERGY] += energy
    state[IN_BURNT] += burned


@kernel
def gates(m: Model, angle: float, dt: float) -> None:
    """All gates at the crank's `angle` [rad], over dt [s]: between a duct end and a room, and between two rooms."""
    for gate in range(m.gate_ints.shape[0]):
        whole, floats, sums = m.gate_ints[gate], m.gate_floats[gate], m.gate_sums[gate]
        state, reed = m.states[whole[G_ROOM]], whole[G_REED]
        out = opening(whole, floats, m.tables, m.reeds, 0, angle)
        into = opening(whole, floats, m.tables, m.reeds, 1, angle)
        if whole[G_END] >= 0:
            end = whole[G_END]
            i, side = m.end_cell[end], m.end_side[end]
            p = duct_gate(m.work, m.gas, i, side, m.end_area[end], state, sums, out, into, dt)
        else:
            other = m.states[whole[G_OTHER]]
            p = other[MID_P]
            room_gate(state, other, sums, out, into, floats[G_EFFICIENCY], dt)
        if reed >= 0:
            swing(m.reeds[reed], p - state[MID_P], dt)


@kernel
def duct_gate(
    w: Any, gas: Any, i: int, side: float, area: float, state: Any, sums: Any, out: float, into: float, dt: float
) -> float:
    """A gate between a duct end and a room; returns the pressure [Pa] just inside the duct."""
    p, u, rho, y, gamma, _ = inside(w, gas, i, side)
    mass, energy, push, v, a = ends.gate(
        p, u, rho, gamma, area, into, out, state[MID_P], state[MID_T], state[MID_GAMMA], state[MID_R]
    )
    burned = mass * (y if mass > 0.0 else state[OUT_Y])
    put(w, i, side, mass, energy, push, burned, v, a)
    give(state, mass, energy, burned)
    count(sums, -mass, burned - mass, -energy, dt)
    return p


@kernel
def room_gate(first: Any, other: Any, sums: Any, out: float, into: float, efficiency: float, dt: float) -> None:
    """A gate between two rooms by its effective areas [m2]; a turbine if it has an efficiency [1]."""
    forward = first[MID_P] >= other[MID_P]
    source = first if forward else other
    back = other[MID_P] if forward else first[MID_P]
    area = out if forward else into
    flow = ends.orifice(area, source[MID_P], source[MID_T], source[MID_GAMMA], source[MID_R], back)
    g = source[MID_GAMMA]
    energy = flow * g * source[MID_R] / (g - 1.0) * source[MID_T]
    burned = flow * source[OUT_Y]
    sign = 1.0 if forward else -1.0
    taken = 0.0
    if forward and efficiency > 0.0:
        taken = energy * efficiency * (1.0 - (back / source[MID_P]) ** ((g - 1.0) / g))
        sums[S_WORK] += dt * taken
    give(first, -sign * flow, -sign * energy, -sign * burned)
    give(other, sign * flow, sign * energy - taken, sign * burned)
    count(sums, sign * flow, sign * (flow - burned), sign * energy, dt)


@kernel
def swing(reed: Any, pressure: float, dt: float) -> None:
    """A reed petal under a pressure difference [Pa]: one mass on a spring, stopped at its seat and at its stop."""
    pull = reed[REED_W] ** 2 * (pressure / reed[REED_STIFF] - reed[REED_X])
    v = (reed[REED_V] + dt * pull) / (1.0 + 2.0 * dt * reed[REED_Z] * reed[REED_W])
    x = reed[REED_X] + dt * v
    if x < 0.0 or x > reed[REED_MOST]:
        x, v = min(max(x, 0.0), reed[REED_MOST]), 0.0
    reed[REED_X], reed[REED_V] = x, v


@kernel
def steps_between(m: Model) -> None:
    """Joints of two ducts: the end at which the gas would stop at the higher pressure gives."""
    w = m.work
    for k in range(m.step_ends.shape[0]):
        one, two = m.step_ends[k, 0], m.step_ends[k, 1]
        i1, i2, side1, side2 = m.end_cell[one], m.end_cell[two], m.end_side[one], m.end_side[two]
        area1, area2, neck = m.end_area[one], m.end_area[two], m.step_necks[k, 0]
        p1, u1, rho1, y1, g1, r1 = inside(w, m.gas, i1, side1)
        p2, u2, rho2, y2, g2, r2 = inside(w, m.gas, i2, side2)
        a1, a2 = sqrt(g1 * p1 / rho1), sqrt(g2 * p2 / rho2)
        stop1 = p1 * ends.power(ends.stop_ratio(u1, a1, g1), 2.0 * g1 / (g1 - 1.0))
        stop2 = p2 * ends.power(ends.stop_ratio(u2, a2, g2), 2.0 * g2 / (g2 - 1.0))
        if stop1 < stop2:
            neck = m.step_necks[k, 1]
            i1, i2, side1, side2, area1, area2 = i2, i1, side2, side1, area2, area1
            p1, u1, rho1, y1, g1, r1, p2, u2, a2, g2 = p2, u2, rho2, y2, g2, r2, p1, u1, a1, g1
        flow, v, a, p, v_to, p_to, t0, _ = joints.step(p1, u1, rho1, g1, r1, area1, neck, p2, u2, a2, g2, area2)
        cp = g1 * r1 / (g1 - 1.0)
        a_to = sqrt(g1 * r1 * max(t0 - 0.5 * v_to * v_to / cp, 1.0))
        put(w, i1, side1, flow, flow * cp * t0, flow * v + p * area1, flow * y1, v, a)
        put(w, i2, side2, -flow, -flow * cp * t0, flow * v_to + p_to * area2, -flow * y1, v_to, a_to)


@kernel
def junctions(m: Model, mouth: Any, face: Any) -> None:
    """Junctions of several ducts; `mouth` and `face` are room to work in."""
    for k in range(m.junction_first.shape[0] - 1):
        first = m.junction_first[k]
        n = m.junction_first[k + 1] - first
        for j in range(n):
            end = m.junction_ends[first + j]
            p, u, rho, y, gamma, r = inside(m.work, m.gas, m.end_cell[end], m.end_side[end])
            mouth[j, 0], mouth[j, 1], mouth[j, 2], mouth[j, 3], mouth[j, 4] = p, u, rho, gamma, r
            mouth[j, 5], mouth[j, 6] = m.end_area[end], y
        joints.junction(n, mouth, face)
        for j in range(n):
            end = m.junction_ends[first + j]
            i, side = m.end_cell[end], m.end_side[end]
            put(m.work, i, side, face[j, 0], face[j, 1], face[j, 2], face[j, 3], face[j, 4], face[j, 5])


@kernel
def ghost(w: Any, at: int, near: int, next_: int) -> None:
    """A ghost cell beyond a duct end: carries the smaller of the two inner slopes on, or none at an extremum."""
    for row in (RHO, VEL, PRS, FRAC):
        one = w[row + near] - w[row + next_]
        two = w[row + next_] - w[row + 2 * next_ - near]
        least = one if abs(one) < abs(two) else two
        w[row + at] = w[row + near] + (least if one * two > 0.0 else 0.0)
    w[RHO + at] = max(w[RHO + at], 0.1 * w[RHO + near])
    w[PRS + at] = max(w[PRS + at], 0.1 * w[PRS + near])
    w[GAM + at], w[SOUND + at] = w[GAM + near], w[SOUND + near]
    w[MASS + at], w[MOMENTUM + at] = w[MASS + near], w[MOMENTUM + near]
    w[ENERGY + at], w[BURNED + at] = w[ENERGY + near], w[BURNED + near]


@kernel
def ghosts(m: Model) -> None:
    """Fill the ghost cells of all ducts."""
    for k in range(m.duct_first.shape[0]):
        first, last = m.duct_first[k], m.duct_last[k]
        ghost(m.work, first - 1, first, first + 1)
        ghost(m.work, last + 1, last, last - 1)


@kernel
def write_down(m: Model, before: float, dt: float, held: Any) -> None:
    """Peak Mach numbers, temperature × time [K s], samples [Pa, m/s] at the stations and of pressure in the rooms."""
    w, clock = m.work, m.clock
    n, rooms_n = m.stations.shape[0], m.states.shape[0]
    for k in range(n):
        i = m.stations[k]
        m.peaks[k, 0] = max(m.peaks[k, 0], abs(w[VEL + i]) / w[SOUND + i])
        r, _ = rooms.gas_of(m.gas, w[FRAC + i])
        m.peaks[k, 1] += dt * w[PRS + i] / (w[RHO + i] * r)
    while clock[C_TAKEN] < m.room_traces.shape[1] and clock[C_NEXT] <= before + dt * (1.0 + 1e-12):
        j = int(clock[C_TAKEN])
        share = (clock[C_NEXT] - before) / dt
        for k in range(n):
            i = m.stations[k]
            m.traces[k, 0, j] = held[k, 0] + share * (w[PRS + i] - held[k, 0])
            m.traces[k, 1, j] = held[k, 1] + share * (w[VEL + i] - held[k, 1])
        for k in range(rooms_n):
            m.room_traces[k, j] = held[n + k, 0] + share * (m.states[k, P_NOW] - held[n + k, 0])
        clock[C_TAKEN] += 1.0
        clock[C_NEXT] += clock[C_BETWEEN]
    hold(m, held)


@kernel
def hold(m: Model, held: Any) -> None:
    """Keep what the stations and rooms show now, for the next sample."""
    n = m.stations.shape[0]
    for k in range(n):
        held[k, 0], held[k, 1] = m.work[PRS + m.stations[k]], m.work[VEL + m.stations[k]]
    for k in range(m.states.shape[0]):
        held[n + k, 0] = m.states[k, P_NOW]


@kernel
def march(m: Model, until: float, speed: float, cfl: float, most_steps: int, mouth: Any, face: Any, held: Any) -> int:
    """Step the model on to the time `until` [s] with the crank at `speed` [rad/s]; returns a status.

    The step is cfl over the fastest wave of the last step per cell. Status: OK, NOT_A_NUMBER, TOO_MANY_STEPS, EMPTY.
    """
    w, clock, gas = m.work, m.clock, m.gas
    last = m.duct_last[m.duct_last.shape[0] - 1] + 2 if m.duct_last.shape[0] > 0 else 1
    hold(m, held)
    taken, warming = 0, 0.0
    while clock[C_TIME] < until * (1.0 - 1e-14):
        if taken >= most_steps:
            return TOO_MANY_STEPS
        now = clock[C_TIME]
        dt = min(cfl / max(clock[C_RATE], 1e-9), clock[C_LONGEST])
        if clock[C_STEPS] < GENTLE_STEPS:
            dt *= GENTLE
        if now + dt >= until or until - now - dt < 1e-3 * dt:
            dt = until - now
        if taken % WALL_STEPS == 0:
            duct.walls(w, gas, last)
            warming = duct.total(w, HEAT, last)
        duct.faces(w, gas, dt, last)
        angle = speed * now
        for k in range(m.states.shape[0]):
            rooms.prepare(m.rooms[k], m.states[k], gas, angle - m.rooms[k, rooms.OFFSET], dt, speed)
        plain_ends(m)
        gates(m, angle + 0.5 * speed * dt, dt)
        steps_between(m)
        junctions(m, mouth, face)
        rate = duct.forward(w, gas, dt, last)
        for k in range(m.states.shape[0]):
            if not rooms.settle(m.rooms[k], m.states[k], gas, angle - m.rooms[k, rooms.OFFSET], dt, speed):
                return EMPTY
        clock[C_WALL_HEAT] += dt * warming
        ghosts(m)
        clock[C_RATE] = rate
        if taken % WALL_STEPS == 0 and not duct.total(w, SOUND, last) < 1e12:
            return NOT_A_NUMBER
        write_down(m, now, dt, held)
        clock[C_TIME] = now + dt
        clock[C_STEPS] += 1.0
        taken += 1
    return OK if duct.total(w, SOUND, last) < 1e12 else NOT_A_NUMBER
