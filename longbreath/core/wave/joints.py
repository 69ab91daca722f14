"""Kernels where ducts meet: the step between two ducts (widening, narrowing, a throttle in the pipe) and the junction of several."""

from __future__ import annotations

from math import exp, log, sqrt
from typing import Any

from longbreath.core.wave.compiled import kernel
from longbreath.core.wave.ends import TIGHT, power, stop_ratio

Step = tuple[float, float, float, float, float, float, float, float]


@kernel
def flow_number(mach: float, gamma: float) -> float:
    """M·(1 + (γ−1)/2·M²)^(−(γ+1)/(2(γ−1))): mass flow per area at given total state [1]."""
    return mach * power(1.0 + 0.5 * (gamma - 1.0) * mach * mach, -0.5 * (gamma + 1.0) / (gamma - 1.0))


@kernel
def subsonic_mach(number: float, gamma: float) -> float:
    """Subsonic Mach number [1] of a flow number [1] (Newton's method); 1 for what would choke."""
    top = flow_number(1.0, gamma)
    if number >= top:
        return 1.0
    m = min(number * (1.0 + number * number), 0.98)
    for _ in range(40):
        f = flow_number(m, gamma)
        square = m * m
        step = (number - f) * m * (1.0 + 0.5 * (gamma - 1.0) * square) / (f * (1.0 - square) + 1e-30)
        new = m + step
        m = 0.5 * (m + 1.0) if new >= 1.0 else max(new, 0.1 * m)
        if abs(step) < 1e-10:
            break
    return m


@kernel
def _step_at(
    v: float, p: float, u: float, rho: float, gamma: float, r: float, area: float, neck: float, to_area: float
) -> Step:
    """A donor at velocity v through a neck: its m, v, a, p; the receiver's velocity and p; T0; Mach number in the neck."""
    g1 = gamma - 1.0
    a_i = sqrt(gamma * p / rho)
    a = a_i + 0.5 * g1 * (u - v)
    along = log(a / a_i)
    pressure = p * exp(2.0 * gamma / g1 * along)
    m = rho * exp(2.0 / g1 * along) * v * area
    mach = v / a
    t0 = (a * a + 0.5 * g1 * v * v) / (gamma * r)
    if neck < area * (1.0 - 1e-12):
        there = subsonic_mach(flow_number(mach, gamma) * area / neck, gamma)
        inner = (1.0 + 0.5 * g1 * mach * mach) / (1.0 + 0.5 * g1 * there * there)
        p_neck, v_neck = pressure * power(inner, gamma / g1), there * a * sqrt(inner)
    else:
        there, p_neck, v_neck = mach, pressure, v
    thrust = p_neck * to_area + m * v_neck
    root = sqrt(max(thrust * thrust - 2.0 * (gamma + 1.0) / gamma * m * m * r * t0, 0.0))
    v_to = 2.0 * m * r * t0 / (thrust + root)
    return m, v, a, pressure, v_to, (thrust - m * v_to) / to_area, t0, there


@kernel
def step(
    p: float,
    u: float,
    rho: float,
    gamma: float,
    r: float,
    area: float,
    neck: float,
    p_to: float,
    u_to: float,
    a_to: float,
    gamma_to: float,
    to_area: float,
) -> Step:
    """From a donor duct through a neck (effective area) into a receiver duct; u outwards of either [SI].

    Without loss to the neck, then Borda and Carnot's sudden widening: the neck's pressure on the whole annulus. The
    donor's velocity is found by a guarded secant from the acoustic solution.
    Returns m, donor's velocity, a, p, receiver's velocity (into it), p and T0, and the Mach number in the neck.
    """
    a_i, h1 = sqrt(gamma * p / rho), 0.5 * (gamma - 1.0)
    b_to, n_to = 2.0 * a_to / (gamma_to - 1.0), 0.5 * (gamma_to - 1.0) / gamma_to
    z, z_to = rho * a_i, gamma_to * p_to / a_to
    pull = area / to_area + z / z_to  # how the mismatch grows with v in slow flow
    sonic = (a_i + h1 * u) / (1.0 + h1)
    low, high = 0.0, sonic
    v = min(max((p - p_to + z * u - z_to * u_to) / (z + z_to * area / to_area), 0.0), 0.999 * sonic)
    found = _step_at(v, p, u, rho, gamma, r, area, neck, to_area)
    slope, before, g_before, limited = pull, v, 0.0, False
    for turn in range(60):
        if found[7] >= 0.999 and not limited:  # the neck chokes: see whether it stays so
            limited = True
            most = subsonic_mach(flow_number(1.0, gamma) * min(neck / area, 1.0), gamma) * (1.0 - 1e-9)
            high = most * (a_i + h1 * u) / (1.0 + most * h1)
            found = _step_at(high, p, u, rho, gamma, r, area, neck, to_area)
            if u >= a_i and found[0] > rho * u * area:  # a supersonic pipe gives no more than arrives
                found = _step_at(u, p, u, rho, gamma, r, area, neck, to_area)
                return _choked(found, p_to, u_to, a_to, gamma_to, to_area, gamma, r)
            if found[4] + u_to + b_to * (1.0 - power(found[5] / p_to, n_to)) <= 0.0:
                return _choked(found, p_to, u_to, a_to, gamma_to, to_area, gamma, r)
            v = before = 0.5 * (low + high)
            found = _step_at(v, p, u, rho, gamma, r, area, neck, to_area)
        g = found[4] + u_to + b_to * (1.0 - power(found[5] / p_to, n_to))
        if abs(g) < TIGHT * a_i:
            break
        if g > 0.0:
            high = v
        else:
            low = v
        if turn > 0 and v != before and (g - g_before) / (v - before) > 0.0:
            slope = (g - g_before) / (v - before)
        before, g_before = v, g
        v = v - g / slope
        if not low < v < high:
            v = 0.5 * (low + high)
        if high - low < TIGHT * a_i or abs(v - before) < 0.01 * TIGHT * a_i:
            break
        found = _step_at(v, p, u, rho, gamma, r, area, neck, to_area)
    return found


@kernel
def _choked(
    found: Step, p_to: float, u_to: float, a_to: float, gamma_to: float, to_area: float, gamma: float, r: float
) -> Step:
    """The receiver's state when the neck is choked: its mass and energy are given, its pressure follows from its own wave."""
    m, t0 = found[0], found[6]
    cp = gamma * r / (gamma - 1.0)
    b_to, n_to = 2.0 * a_to / (gamma_to - 1.0), 2.0 * gamma_to / (gamma_to - 1.0)
    low, high = stop_ratio(u_to, a_to, gamma_to), max(power(found[5] / p_to, 1.0 / n_to), 0.02)
    v = pressure = 0.0
    for _ in range(100):
        x = 0.5 * (low + high)
        pressure = p_to * power(x, n_to)
        k = m * r / (pressure * to_area)
        v = 2.0 * k * t0 / (1.0 + sqrt(1.0 + 2.0 * k * k * t0 / cp))
        if v + u_to + b_to * (1.0 - x) > 0.0:
            low = x
        else:
            high = x
        if abs(high - low) < TIGHT:
            break
    sonic = sqrt(2.0 * gamma * r * t0 / (gamma + 1.0))
    if v > sonic:  # nothing from inside the receiver reaches its mouth
        v = sonic
        pressure = m * r * (t0 - 0.5 * v * v / cp) / (v * to_area)
    return m, found[1], found[2], found[3], v, pressure, t0, found[7]


@kernel
def junction(count: int, inside: Any, face: Any) -> float:
    """Several duct ends at one static pressure; masses balance, what flows out carries the mixture of what flowed in.

    inside[k] = p, u (outwards), ρ, γ, R, area, share of burned gas of each end; face[k] becomes mass, energy, momentum
    and burned-gas flow outwards, velocity and speed of sound. Returns the pressure [Pa].
    """
    weight = flow = scale = 0.0
    for k in range(count):
        p, u, rho, gamma, area = inside[k, 0], inside[k, 1], inside[k, 2], inside[k, 3], inside[k, 5]
        a = sqrt(gamma * p / rho)
        weight += area / a
        flow += area / a * (p + rho * a * u)
        scale += rho * a * area
    pressure = max(flow / weight, 1.0)
    before, before_sum, total, slope = 0.0, 0.0, 0.0, -weight
    for turn in range(60):
        total = _junction_at(count, inside, face, pressure)
        if abs(total) < TIGHT * scale:
            break
        if turn > 0 and pressure != before:
            found = (total - before_sum) / (pressure - before)
            slope = found if found < -0.2 * weight else -weight
        before, before_sum = pressure, total
        pressure = max(pressure - total / slope, 0.2 * pressure)
    # what little is left of the balance goes to those that receive, so that nothing is lost
    given = taken = energy = burned = 0.0
    for k in range(count):
        if face[k, 0] > 0.0:
            given += face[k, 0]
            energy += face[k, 1]
            burned += face[k, 3]
        else:
            taken -= face[k, 0]
    for k in range(count):
        if face[k, 0] <= 0.0 and taken > 0.0:
            share = -face[k, 0] / taken
            face[k, 0], face[k, 1], face[k, 3] = -share * given, -share * energy, -share * burned
        elif taken <= 0.0:
            face[k, 0] = face[k, 1] = face[k, 3] = 0.0
    return pressure


@kernel
def _junction_at(count: int, inside: Any, face: Any, pressure: float) -> float:
    """Faces of all ends of a junction at `pressure` [Pa]; returns what flows in less what flows out [kg/s]."""
    given = energy = burned = heat_capacity = gas = 0.0
    for k in range(count):
        p, u, rho, gamma, area = inside[k, 0], inside[k, 1], inside[k, 2], inside[k, 3], inside[k, 5]
        g1 = gamma - 1.0
        a_i = sqrt(gamma * p / rho)
        x = power(pressure / p, 0.5 * g1 / gamma)
        b = 2.0 * a_i / g1
        at = pressure
        if u + b * (1.0 - x) > a_i * x:  # no more than sonic out of a pipe
            x = (u + b) / (b + a_i)
            at = p * power(x, 2.0 * gamma / g1)
        v, a = u + b * (1.0 - x), a_i * x
        if u >= a_i and power(x, 2.0 / g1) * v > u:  # a supersonic pipe gives no more than arrives
            x, v, a, at = 1.0, u, a_i, p
        face[k, 4], face[k, 5] = v, a
        if v > 0.0:
            m = rho * power(x, 2.0 / g1) * v * area
            face[k, 0], face[k, 1] = m, m * (a * a / g1 + 0.5 * v * v)
            face[k, 2], face[k, 3] = m * v + at * area, m * inside[k, 6]
            given += m
            energy += face[k, 1]
            burned += face[k, 3]
            heat_capacity += m * gamma * inside[k, 4] / g1
            gas += m * inside[k, 4]
    total = given
    for k in range(count):
        v = face[k, 4]
        if v > 0.0:
            continue
        area = inside[k, 5]
        if given > 0.0:
            cp, r = heat_capacity / given, gas / given
            g, t0 = cp / (cp - r), energy / heat_capacity
            v = max(v, -sqrt(2.0 * g * r * t0 / (g + 1.0)))  # no more than sonic into a pipe
            t = t0 - 0.5 * v * v / cp
            m = pressure / (r * t) * v * area
            face[k, 4], face[k, 5] = v, sqrt(g * r * t)
            share, h0 = burned / given, energy / given
        else:
            m, share, h0 = inside[k, 2] * v * area, 0.0, 0.0
        face[k, 0], face[k, 1], face[k, 2], face[k, 3] = m, m * h0, m * v + pressure * area, m * share
        total += m
    return total
