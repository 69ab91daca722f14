"""Kernels of the zero-dimensional rooms: the atmosphere, plenums and boxes, cylinders, crankcases, rotary chambers.

Hohenberg's film coefficient (SAE 790825, 1979) and Wiebe's burned fraction, both from memory. Angles are local: nought
at the dead centre at which a cylinder fires.
"""

from __future__ import annotations

from math import cos, exp, pi, sqrt
from typing import Any

from longbreath.core.wave.compiled import kernel
from longbreath.core.wave.rows import CV_BURNED, CV_FRESH, R_BURNED, R_FRESH

# constants of a room
KIND, BASE, PISTON, CRANK, ROD, OFFSET, CYCLE = 0, 1, 2, 3, 4, 5, 6
SURFACE, GIRTH, WALL_T, HEAT_FACTOR = 7, 8, 9, 10
BURN_START, BURN_LENGTH, BURN_SHAPE, BURN_HEAT, TRAP = 11, 12, 13, 14, 15
PUMP_FROM, PUMP_TO, STROKE, STRATA = 16, 17, 18, 19
CONSTANTS = 20
FIXED, STILL, CRANKED, ROTOR = 0.0, 1.0, 2.0, 3.0
"""Kinds: BASE is the smallest volume [m3] (of a crankcase the largest); PISTON its area [m2], negative under the piston,
or a rotor's swept volume [m3]; SURFACE the wall's fixed area [m2], GIRTH what the piston's travel adds [m]; STRATA k: what
leaves has a fresh share of (1 − y)^k where the room's is 1 − y: 1 well stirred (also 0), more: the burned gas goes first."""

# state of a room
R_MASS, R_ENERGY, R_BURNT, D_MASS, D_ENERGY, D_BURNT = 0, 1, 2, 3, 4, 5
MID_P, MID_T, MID_GAMMA, MID_R, MID_Y, IN_MASS, IN_ENERGY, IN_BURNT = 6, 7, 8, 9, 10, 11, 12, 13
FRESH, WORK, PUMPING, TO_WALL, FROM_FUEL, P_MAX, TRAPPED, TRAPPED_BURNT, P_NOW, OUT_Y = (
    14,
    15,
    16,
    17,
    18,
    19,
    20,
    21,
    22,
    23,
)
STATES = 24
WIEBE = 6.908
"""Leaves a thousandth of the charge unburned at the end of the burn."""


@kernel
def volume(room: Any, angle: float) -> float:
    """Volume [m3] of a room at a local `angle` [rad]: slider crank without offset, or a rotor's trochoid (sine law)."""
    if room[KIND] == CRANKED:
        r, rod = room[CRANK], room[ROD]
        c = cos(angle)
        depth = r + rod - r * c - sqrt(rod * rod - r * r * (1.0 - c * c))
        return room[BASE] + room[PISTON] * depth
    if room[KIND] == ROTOR:
        return room[BASE] + 0.5 * room[PISTON] * (1.0 - cos(angle / 1.5))
    return room[BASE]


@kernel
def past(angle: float, mark: float, cycle: float) -> float:
    """How far `angle` is past `mark` on a wheel of `cycle` [rad], 0 ≤ … < cycle."""
    found = (angle - mark) % cycle
    return found


@kernel
def wiebe(done: float, length: float, shape: float) -> float:
    """Share burned [1] after `done` of `length` [rad]; 1 at the end."""
    if done >= length:
        return 1.0
    return (1.0 - exp(-WIEBE * (done / length) ** (shape + 1.0))) / (1.0 - exp(-WIEBE))


@kernel
def gas_of(gas: Any, y: float) -> tuple[float, float]:
    """R [J/(kg K)] and γ [1] of a mixture with a share y [1] of burned gas by mass."""
    r = gas[R_FRESH] + y * (gas[R_BURNED] - gas[R_FRESH])
    cv = gas[CV_FRESH] + y * (gas[CV_BURNED] - gas[CV_FRESH])
    return r, 1.0 + r / cv


@kernel
def prepare(room: Any, state: Any, gas: Any, angle: float, dt: float, speed: float) -> None:
    """The state half a step [s] on, by the last step's rates, and no flow counted yet; `angle` [rad] now, `speed` [rad/s]."""
    state[IN_MASS] = state[IN_ENERGY] = state[IN_BURNT] = 0.0
    if room[KIND] == FIXED:
        return
    half = 0.5 * dt
    mass, energy = state[R_MASS] + half * state[D_MASS], state[R_ENERGY] + half * state[D_ENERGY]
    y = min(max((state[R_BURNT] + half * state[D_BURNT]) / mass, 0.0), 1.0)
    r, gamma = gas_of(gas, y)
    state[MID_P] = (gamma - 1.0) * energy / volume(room, angle + half * speed)
    state[MID_T] = (gamma - 1.0) * energy / (mass * r)
    state[MID_GAMMA], state[MID_R], state[MID_Y] = gamma, r, y
    state[OUT_Y] = 1.0 - (1.0 - y) ** room[STRATA] if room[STRATA] > 1.0 else y


@kernel
def film(volume_now: float, pressure: float, temperature: float, stroke_speed: float) -> float:
    """Hohenberg's film [W/(m2 K)]: 130·V^−0.06·p^0.8·T^−0.4·(v + 1.4)^0.8; p in bar, V [m3], T [K], piston speed v [m/s]."""
    return 130.0 * volume_now**-0.06 * (pressure * 1e-5) ** 0.8 * temperature**-0.4 * (stroke_speed + 1.4) ** 0.8


@kernel
def burn(room: Any, state: Any, before: float, after: float, dt: float) -> float:
    """Turn fresh into burned gas from one local angle to the next [rad]; returns the heat set free [J]."""
    if room[BURN_LENGTH] <= 0.0:
        return 0.0
    done, was = past(after, room[BURN_START], room[CYCLE]), past(before, room[BURN_START], room[CYCLE])
    if done < was:  # the burn starts within this step
        was = 0.0
        state[FRESH] = max(state[R_MASS] - state[R_BURNT], 0.0)
    if was >= room[BURN_LENGTH]:
        return 0.0
    share = wiebe(done, room[BURN_LENGTH], room[BURN_SHAPE]) - wiebe(was, room[BURN_LENGTH], room[BURN_SHAPE])
    turned = min(state[FRESH] * share, max(state[R_MASS] - state[R_BURNT], 0.0))
    state[IN_BURNT] += turned / dt
    return turned * room[BURN_HEAT]


@kernel
def settle(room: Any, state: Any, gas: Any, angle: float, dt: float, speed: float) -> bool:
    """Add dt [s] of flows, work, burn and wall heat; keep the cycle's accounts. False if the room ran empty."""
    if room[KIND] == FIXED:
        return True
    after = angle + dt * speed
    v0, v1 = volume(room, angle), volume(room, after)
    work = state[MID_P] * (v1 - v0)
    lost, heat = 0.0, 0.0
    if room[HEAT_FACTOR] > 0.0:
        middle = 0.5 * (v0 + v1)
        depth = (middle - room[BASE]) / room[PISTON] if room[KIND] == CRANKED else 0.0
        h = film(middle, state[MID_P], state[MID_T], room[STROKE] * abs(speed) / pi)
        area = room[SURFACE] + room[GIRTH] * depth
        lost = dt * room[HEAT_FACTOR] * h * area * (state[MID_T] - room[WALL_T])
    if room[CYCLE] > 0.0:
        heat = burn(room, state, angle, after, dt)
        local = past(angle, 0.0, room[CYCLE])
        if room[PUMP_FROM] <= local < room[PUMP_TO]:
            state[PUMPING] += work
        if past(after, room[TRAP], room[CYCLE]) < past(angle, room[TRAP], room[CYCLE]):
            state[TRAPPED], state[TRAPPED_BURNT] = state[R_MASS], state[R_BURNT]
    state[WORK] += work
    state[TO_WALL] += lost
    state[FROM_FUEL] += heat
    state[D_MASS], state[D_BURNT] = state[IN_MASS], state[IN_BURNT]
    state[D_ENERGY] = state[IN_ENERGY] + (heat - lost - work) / dt
    state[R_MASS] += dt * state[D_MASS]
    state[R_ENERGY] += dt * state[D_ENERGY]
    state[R_BURNT] += dt * state[D_BURNT]
    if not (state[R_MASS] > 0.0 and state[R_ENERGY] > 0.0):
        return False
    y = min(max(state[R_BURNT] / state[R_MASS], 0.0), 1.0)
    state[P_NOW] = (gas_of(gas, y)[1] - 1.0) * state[R_ENERGY] / v1
    state[P_MAX] = max(state[P_MAX], state[P_NOW])
    return True
