"""Kernels of a single duct end: closed, open without reflection, and the gate between a duct and a reservoir.

All states are seen from inside the duct with the velocity counted outwards. A simple wave leaves the end, so that with
X = (p/p_i)^((γ−1)/2γ) the face has u = u_i + 2 a_i/(γ−1)·(1 − X), a = a_i X (R. S. Benson's characteristics with the
entropy of the interior; from memory). Everything else about an end is quasi-steady.
"""

from __future__ import annotations

from math import exp, log, sqrt

from longbreath.core.wave.compiled import kernel

Face = tuple[float, float, float, float, float]
"""Mass flow [kg/s] and energy flow [W] outwards, momentum flow ρu² + p [N] , velocity and speed of sound [m/s] at a face."""
SHUT = 1e-7
"""An effective area below this share of the duct's counts as closed."""
NEAR, TIGHT = 1e-4, 1e-8
"""Newton's method stops after a step below NEAR of the velocity (its error is then about the square of it), a secant at a
mismatch below TIGHT of the speed of sound. Mass and energy balance exactly all the same."""


@kernel
def power(x: float, y: float) -> float:
    """x to the y for x > 0, by exponential and logarithm: half the time of the library's, good to 1e-15·|y·ln x| [1]."""
    return exp(y * log(x))


@kernel
def stop_ratio(u: float, a: float, gamma: float) -> float:
    """X at which the gas [m/s, m/s] comes to rest against the end: 1 + (γ−1)/2·u/a, never below a hundredth."""
    return max(1.0 + 0.5 * (gamma - 1.0) * u / a, 0.01)


@kernel
def closed(p: float, u: float, rho: float, gamma: float, area: float) -> Face:
    """A wall. State [Pa, m/s, kg/m3, 1], area [m2]."""
    a = sqrt(gamma * p / rho)
    x = stop_ratio(u, a, gamma)
    return 0.0, 0.0, area * p * power(x, 2.0 * gamma / (gamma - 1.0)), 0.0, a * x


@kernel
def through(p: float, u: float, rho: float, gamma: float, area: float) -> Face:
    """An end that sends nothing back: the interior state [Pa, m/s, kg/m3, 1] at the face of `area` [m2]."""
    a = sqrt(gamma * p / rho)
    m = rho * u * area
    return m, m * (a * a / (gamma - 1.0) + 0.5 * u * u), m * u + p * area, u, a


@kernel
def first_guess(share: float, drive: float, a: float) -> float:
    """Velocity [m/s] of slow flow through an opening that is `share` [1] of the pipe: v² = s²·(drive − 2·a·v + v²)."""
    s2 = share * share
    return s2 * drive / (s2 * a + sqrt(s2 * s2 * a * a + (1.0 - s2) * s2 * drive))


@kernel
def outflow(p: float, u: float, rho: float, gamma: float, area: float, open_area: float, back: float) -> Face:
    """Out of the duct through an effective `open_area` [m2] into a reservoir at `back` [Pa]; choked where it must.

    The gas goes without loss to the throat, whose pressure is the reservoir's or the critical one. Newton's method on
    v² = s²·(ρ_t/ρ)²·v_t² for the velocity v at the face. A supersonic pipe gives no more than arrives.
    """
    a_i = sqrt(gamma * p / rho)
    g1 = gamma - 1.0
    h1, share = 0.5 * g1, min(open_area / area, 1.0)
    still = a_i * stop_ratio(u, a_i, gamma)
    throat = a_i * power(back / p, h1 / gamma)
    critical, s2 = 2.0 / (gamma + 1.0), share * share
    most = still / (1.0 + h1)
    v = min(first_guess(share, max(2.0 / g1 * (still * still - throat * throat), 0.0), still), most)
    for _ in range(30):
        a = still - h1 * v
        total = a * a + h1 * v * v
        square = throat * throat
        if square > critical * total:
            e = power(square / (a * a), 2.0 / g1)
            jet, d_e, d_jet = 2.0 / g1 * (total - square), 2.0 / a, 2.0 * (v - a)
        else:
            square = critical * total
            e = power(square / (a * a), 2.0 / g1)
            d_total = g1 * (v - a)
            jet, d_e, d_jet = square, 2.0 / g1 * (d_total / total + g1 / a), critical * d_total
        slope = 2.0 * v - s2 * e * (d_e * jet + d_jet)
        if not slope > 1e-9 * still:  # a fully open end that chokes: the sonic velocity is a double root
            v = most
            break
        change = (v * v - s2 * e * jet) / slope
        v = min(max(v - change, 0.0), most)
        if abs(change) < NEAR * v + 1e-10 * a_i:
            break
    a = still - h1 * v
    along = log(a / a_i)
    m = rho * exp(2.0 / g1 * along) * v * area
    if u >= a_i and m > rho * u * area:
        return through(p, u, rho, gamma, area)
    return m, m * (a * a / g1 + 0.5 * v * v), m * v + p * exp(2.0 * gamma / g1 * along) * area, v, a


@kernel
def inflow(
    p: float,
    u: float,
    rho: float,
    gamma: float,
    area: float,
    open_area: float,
    p0: float,
    t0: float,
    gamma0: float,
    r0: float,
) -> Face:
    """Out of a reservoir [Pa, K, its γ and R] through an effective `open_area` [m2] into the duct; choked where it must.

    The jet keeps the throat's pressure and spreads over the duct without loss of energy (constant-pressure model):
    w/T = s·w_t/T_t. Newton's method for the velocity w into the duct.
    """
    a_i = sqrt(gamma * p / rho)
    g1, k0 = gamma - 1.0, (gamma0 - 1.0) / gamma0
    h1, n, share = 0.5 * g1, 2.0 * gamma / g1, min(open_area / area, 1.0)
    cp, s2 = r0 / k0, share * share
    still = a_i * stop_ratio(u, a_i, gamma)
    base, low = log(p / p0), log(2.0 / (gamma0 + 1.0))
    critical = low / k0
    along = n * log(still / a_i)
    drop = 2.0 * cp * t0 * (1.0 - exp(k0 * (base + along)))
    most = 0.98 * sqrt(2.0 * cp * t0)
    w = min(first_guess(share, max(drop, 0.0), still), a_i, most)
    for _ in range(40):
        a = still + h1 * w
        along = base + n * log(a / a_i)
        t = t0 - 0.5 * w * w / cp
        if along < critical:
            pressure, tt = p0 * exp(along), t0 * exp(low)
            jet = share * p0 * exp(critical) / tt * sqrt(2.0 * cp * (t0 - tt))
            change = (w * pressure - jet * t) / (pressure * (1.0 + w * n * h1 / a) + jet * w / cp)
        else:
            tt = t0 * exp(k0 * along)
            d_tt = tt * k0 * n * h1 / a
            square = 2.0 * cp * (t0 - tt)
            f = w * w * tt * tt - s2 * square * t * t
            slope = 2.0 * w * tt * (tt + w * d_tt) + 2.0 * s2 * t * (cp * d_tt * t + square * w / cp)
            change = f / slope
        w = min(max(w - change, 0.0), most)
        if abs(change) < NEAR * w + 1e-10 * a_i:
            break
    pressure = p0 * exp(base + n * log((still + h1 * w) / a_i))
    sound = sqrt(gamma0 * r0 * (t0 - 0.5 * w * w / cp))
    if w > sound:  # sonic at the mouth: nothing from inside reaches it
        tt = t0 * 2.0 / (gamma0 + 1.0)
        w = sound = sqrt(gamma0 * r0 * tt)
        m = open_area * p0 * exp(critical) / (r0 * tt) * w
        pressure = m * r0 * tt / (sound * area)
    else:
        m = pressure * w * area / (r0 * (t0 - 0.5 * w * w / cp))
    return -m, -m * cp * t0, m * w + pressure * area, -w, sound


@kernel
def gate(
    p: float,
    u: float,
    rho: float,
    gamma: float,
    area: float,
    out_area: float,
    in_area: float,
    p0: float,
    t0: float,
    gamma0: float,
    r0: float,
) -> Face:
    """A duct end at a reservoir, with an effective area [m2] for either direction; the direction follows from the pressures."""
    a = sqrt(gamma * p / rho)
    stop = p * power(stop_ratio(u, a, gamma), 2.0 * gamma / (gamma - 1.0))
    if stop > p0 and out_area > SHUT * area:
        return outflow(p, u, rho, gamma, area, out_area, p0)
    if stop < p0 and in_area > SHUT * area:
        return inflow(p, u, rho, gamma, area, in_area, p0, t0, gamma0, r0)
    return closed(p, u, rho, gamma, area)


@kernel
def orifice(open_area: float, p0: float, t0: float, gamma: float, r: float, back: float) -> float:
    """Mass flow [kg/s] from a reservoir [Pa, K] through an effective `open_area` [m2] to `back` [Pa], isentropic or choked."""
    g1 = gamma - 1.0
    along = max(log(min(back / p0, 1.0)), log(2.0 / (gamma + 1.0)) * gamma / g1)
    bracket = exp(2.0 / gamma * along) - exp((gamma + 1.0) / gamma * along)
    return open_area * p0 / sqrt(r * t0) * sqrt(max(2.0 * gamma / g1 * bracket, 0.0))
