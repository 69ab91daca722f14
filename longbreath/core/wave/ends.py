"""Kernels of a single duct end: closed, open without reflection, and the gate between a duct and a reservoir.

All states are seen from inside the duct with the velocity counted outwards. A simple wave leaves the end, so that with
X = (p/p_i)^((γ−1)/2γ) the face has u = u_i + 2 a_i/(γ−1)·(1 − X), a = a_i X (R. S. Benson's characteristics with the
entropy of the interior; from memory). Everything else about an end is quasi-steady.
"""

from __future__ import annotations

from math import sqrt

from longbreath.core.wave.compiled import kernel

Face = tuple[float, float, float, float, float]
"""Mass flow [kg/s] and energy flow [W] outwards, momentum flow ρu² + p [N] , velocity and speed of sound [m/s] at a face."""
SHUT = 1e-7
"""An effective area below this share of the duct's counts as closed."""
TIGHT = 1e-12


@kernel
def stop_ratio(u: float, a: float, gamma: float) -> float:
    """X at which the gas [m/s, m/s] comes to rest against the end: 1 + (γ−1)/2·u/a, never below a hundredth."""
    return max(1.0 + 0.5 * (gamma - 1.0) * u / a, 0.01)


@kernel
def closed(p: float, u: float, rho: float, gamma: float, area: float) -> Face:
    """A wall. State [Pa, m/s, kg/m3, 1], area [m2]."""
    a = sqrt(gamma * p / rho)
    x = stop_ratio(u, a, gamma)
    return 0.0, 0.0, area * p * x ** (2.0 * gamma / (gamma - 1.0)), 0.0, a * x


@kernel
def through(p: float, u: float, rho: float, gamma: float, area: float) -> Face:
    """An end that sends nothing back: the interior state [Pa, m/s, kg/m3, 1] at the face of `area` [m2]."""
    a = sqrt(gamma * p / rho)
    m = rho * u * area
    return m, m * (a * a / (gamma - 1.0) + 0.5 * u * u), m * u + p * area, u, a


@kernel
def outflow(p: float, u: float, rho: float, gamma: float, area: float, open_area: float, back: float) -> Face:
    """Out of the duct through an effective `open_area` [m2] into a reservoir at `back` [Pa]; choked where it must.

    The gas goes without loss to the throat, whose pressure is the reservoir's or the critical one. A supersonic pipe
    gives no more than arrives.
    """
    a_i = sqrt(gamma * p / rho)
    g1 = gamma - 1.0
    b, share = 2.0 * a_i / g1, min(open_area / area, 1.0)
    throat = a_i * (back / p) ** (0.5 * g1 / gamma)
    sonic = (u + b) / (b + a_i)
    low, high = max(throat / a_i, sonic), stop_ratio(u, a_i, gamma)
    g_low = g_high = 0.0
    x = high
    for turn in range(60):
        if turn == 0:
            x = high
        elif turn == 1:
            x = low
        elif g_high == g_low:
            break
        else:
            x = (low * g_high - high * g_low) / (g_high - g_low)
        a, v = a_i * x, u + b * (1.0 - x)
        total = a * a + 0.5 * g1 * v * v
        square = max(throat * throat, 2.0 / (gamma + 1.0) * total)
        jet = sqrt(max(2.0 / g1 * (total - square), 0.0))
        g = v - share * (square / (a * a)) ** (1.0 / g1) * jet
        if turn == 0:
            g_high = g
        elif turn == 1:
            g_low = g
            if g_low <= 0.0:
                break
        elif g > 0.0:
            low, g_low = x, g
            g_high *= 0.5
        else:
            high, g_high = x, g
            g_low *= 0.5
        if turn > 1 and (abs(g) < TIGHT * a_i or high - low < TIGHT):
            break
    a, v = a_i * x, max(u + b * (1.0 - x), 0.0)
    m = rho * x ** (2.0 / g1) * v * area
    if u >= a_i and m > rho * u * area:
        return through(p, u, rho, gamma, area)
    pressure = p * x ** (2.0 * gamma / g1)
    return m, m * (a * a / g1 + 0.5 * v * v), m * v + pressure * area, v, a


@kernel
def nozzle(p: float, area: float, open_area: float, p0: float, t0: float, gamma: float, r: float) -> tuple[float, float]:
    """Velocity in a duct of `area` [m2] at p [Pa] that a reservoir [Pa, K] feeds through `open_area` [m2], and the mass flow [kg/s].

    The jet keeps the throat's pressure and spreads over the duct without loss of energy (constant-pressure model).
    """
    g1 = gamma - 1.0
    critical = p0 * (2.0 / (gamma + 1.0)) ** (gamma / g1)
    t = t0 * (max(p, critical) / p0) ** (g1 / gamma)
    cp = gamma * r / g1
    m = min(open_area, area) * max(p, critical) / (r * t) * sqrt(max(2.0 * cp * (t0 - t), 0.0))
    k = m * r / (p * area)
    return 2.0 * k * t0 / (1.0 + sqrt(1.0 + 2.0 * k * k * t0 / cp)), m


@kernel
def inflow(
    p: float, u: float, rho: float, gamma: float, area: float, open_area: float,
    p0: float, t0: float, gamma0: float, r0: float,
) -> Face:  # fmt: skip
    """Out of a reservoir [Pa, K, its γ and R] through an effective `open_area` [m2] into the duct; choked where it must."""
    a_i = sqrt(gamma * p / rho)
    g1 = gamma - 1.0
    b, n = 2.0 * a_i / g1, 2.0 * gamma / g1
    low, high = stop_ratio(u, a_i, gamma), (p0 / p) ** (1.0 / n)
    g_low = g_high = 0.0
    x, w, m, pressure = low, 0.0, 0.0, p
    for turn in range(60):
        if turn == 0:
            x = low
        elif turn == 1:
            x = high
        elif g_high == g_low:
            break
        else:
            x = (low * g_high - high * g_low) / (g_high - g_low)
        pressure = p * x**n
        w, m = nozzle(pressure, area, open_area, p0, t0, gamma0, r0)
        g = w + u + b * (1.0 - x)
        if turn == 0:
            g_low = g
        elif turn == 1:
            g_high = g
            if g_high >= 0.0:
                break
        elif g > 0.0:
            low, g_low = x, g
            g_high *= 0.5
        else:
            high, g_high = x, g
            g_low *= 0.5
        if turn > 1 and (abs(g) < TIGHT * a_i or high - low < TIGHT):
            break
    cp = gamma0 * r0 / (gamma0 - 1.0)
    sound = sqrt(gamma0 * r0 * (t0 - 0.5 * w * w / cp))
    if w > sound:  # sonic at the mouth: nothing from inside reaches it
        t = 2.0 * t0 / (gamma0 + 1.0)
        w = sound = sqrt(gamma0 * r0 * t)
        pressure = m * r0 * t / (sound * area)
    else:  # by the wave: near rest the jet's velocity is the root of a rounding error
        w = max(-u - b * (1.0 - x), 0.0)
        m = pressure * w * area / (r0 * (t0 - 0.5 * w * w / cp))
    return -m, -m * cp * t0, m * w + pressure * area, -w, sound


@kernel
def gate(
    p: float, u: float, rho: float, gamma: float, area: float, out_area: float, in_area: float,
    p0: float, t0: float, gamma0: float, r0: float,
) -> Face:  # fmt: skip
    """A duct end at a reservoir, with an effective area [m2] for either direction; the direction follows from the pressures."""
    a = sqrt(gamma * p / rho)
    stop = p * stop_ratio(u, a, gamma) ** (2.0 * gamma / (gamma - 1.0))
    if stop > p0 and out_area > SHUT * area:
        return outflow(p, u, rho, gamma, area, out_area, p0)
    if stop < p0 and in_area > SHUT * area:
        return inflow(p, u, rho, gamma, area, in_area, p0, t0, gamma0, r0)
    return closed(p, u, rho, gamma, area)


@kernel
def orifice(open_area: float, p0: float, t0: float, gamma: float, r: float, back: float) -> float:
    """Mass flow [kg/s] from a reservoir [Pa, K] through an effective `open_area` [m2] to `back` [Pa]; isentropic, choked where it must."""
    g1 = gamma - 1.0
    ratio = max(min(back / p0, 1.0), (2.0 / (gamma + 1.0)) ** (gamma / g1))
    bracket = ratio ** (2.0 / gamma) - ratio ** ((gamma + 1.0) / gamma)
    return open_area * p0 / sqrt(r * t0) * sqrt(max(2.0 * gamma / g1 * bracket, 0.0))
