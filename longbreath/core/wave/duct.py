"""Kernels of the duct: quasi-one-dimensional Euler equations, second order in space and time (MUSCL-Hancock, HLLC).

Sources: B. van Leer's MUSCL with the monotonised central limiter, Hancock's half step, the HLLC solver of Toro, Spruce
and Speares with pressure-based wave speeds; all from memory, checked against exact solutions.
"""

from __future__ import annotations

from math import copysign, sqrt
from typing import Any

import numpy as np

from longbreath.core.wave.compiled import kernel
from longbreath.core.wave.rows import (
    AREA,
    BURNED,
    CV_BURNED,
    CV_FRESH,
    DRAG,
    ENERGY,
    F_BURNED,
    F_ENERGY,
    F_MASS,
    F_MOMENTUM,
    FORCE,
    FOUR_BY_D,
    FRAC,
    GAM,
    HEAT,
    HEATING,
    LEFT_FRAC,
    LEFT_PRS,
    LEFT_RHO,
    LEFT_VEL,
    LOSS,
    MASS,
    MOMENTUM,
    PER_LENGTH,
    PER_VOLUME,
    PRS,
    R_BURNED,
    R_FRESH,
    RATE,
    RHO,
    RIGHT_FRAC,
    RIGHT_PRS,
    RIGHT_RHO,
    RIGHT_VEL,
    ROUGH,
    SKIN,
    SOUND,
    VEL,
    VOLUME,
    WALL,
    WARMING,
)

PRANDTL_FACTOR = 0.71 ** (-2.0 / 3.0)
BLOCK = 160
"""Cells of a block: its rows of the reconstruction fit into 32 KiB."""
FLOOR = 0.02
"""A reconstructed density or pressure stays above this share of its cell's."""


@kernel
def central(back: float, ahead: float) -> float:
    """Half the monotonised central slope from a cell's two differences [any unit]: min(|a|, |b|, |a + b|/4); 0 at an extremum."""
    b, a, m = abs(back), abs(ahead), 0.25 * abs(back + ahead)
    least = b if b < a else a
    least = m if m < least else least
    return copysign(least, back) if back * ahead > 0.0 else 0.0


@kernel
def sharp(back: float, ahead: float) -> float:
    """Half the superbee slope [any unit]: max(min(|a|, |b|/2), min(|a|/2, |b|)); 0 at an extremum. Keeps a contact front narrow."""
    b, a = abs(back), abs(ahead)
    low, high = (b, a) if b < a else (a, b)
    most = low if 2.0 * low < high else 0.5 * high
    return copysign(most, back) if back * ahead > 0.0 else 0.0


@kernel
def walls(w: Any, gas: Any, last: int) -> None:
    """Write the wall's drag [1/s] and warming [W/m3, W] of cells 1..last−1 from their present state.

    Fanning friction f is the largest of laminar 16/Re, smooth 0.0791/Re^¼ (Blasius) and the fully rough wall; the film
    coefficient follows by Reynolds' and Colburn's analogy, St = f/2·Pr^(−2/3). Viscosity by Sutherland's law for air.
    """
    r0, dr = gas[R_FRESH], gas[R_BURNED] - gas[R_FRESH]
    for i in range(1, last):
        rho, u, gamma = w[RHO + i], w[VEL + i], w[GAM + i]
        r = r0 + w[FRAC + i] * dr
        t = w[PRS + i] / (rho * r)
        nu = 1.458e-6 * t * sqrt(t) / ((t + 110.4) * rho)
        speed = abs(u)
        four = w[FOUR_BY_D + i]
        re = 4.0 * speed / (four * nu) + 1.0
        laminar = 4.0 * nu * four  # 16/Re times speed
        smooth = 0.0791 * speed / sqrt(sqrt(re))
        rough = w[ROUGH + i] * speed
        fu = smooth if smooth > rough else rough
        fu = laminar if laminar > fu else fu
        w[DRAG + i] = 0.5 * (w[SKIN + i] * fu * four + w[LOSS + i] * speed)
        cp = gamma * r / (gamma - 1.0)
        warming = 0.5 * w[HEATING + i] * PRANDTL_FACTOR * fu * four * rho * cp * (w[WALL + i] - t)
        w[WARMING + i] = warming
        w[HEAT + i] = warming * w[VOLUME + i]


@kernel
def reconstruct(w: Any, dt: float, last: int) -> None:
    """Face values half of dt [s] on, and the walls' force, of cells 1..last−1 (their neighbours are read)."""
    for i in range(1, last):
        rho, u, p, y, gamma = w[RHO + i], w[VEL + i], w[PRS + i], w[FRAC + i], w[GAM + i]
        stiff = gamma * p
        per = 1.0 / (stiff * rho)
        per_rho, per_square = stiff * per, rho * rho * per
        p_back, p_ahead = p - w[PRS + i - 1], w[PRS + i + 1] - p
        h_u = central(u - w[VEL + i - 1], w[VEL + i + 1] - u)
        h_p = central(p_back, p_ahead)
        h_rho = per_square * h_p + sharp(
            rho - w[RHO + i - 1] - per_square * p_back, w[RHO + i + 1] - rho - per_square * p_ahead
        )
        h_y = sharp(y - w[FRAC + i - 1], w[FRAC + i + 1] - y)
        widening = w[AREA + i + 1] - w[AREA + i]
        over = dt * w[PER_LENGTH + i]  # half a step over half a slope
        drift = over * u
        out = over * h_u + 0.5 * dt * u * widening * w[PER_VOLUME + i]
        drag, warming = w[DRAG + i], w[WARMING + i]
        n_rho = rho - drift * h_rho - rho * out
        n_u = u - drift * h_u - over * h_p * per_rho - 0.5 * dt * drag * u
        n_p = p - drift * h_p - stiff * out + 0.5 * dt * (gamma - 1.0) * (warming + rho * drag * u * u)
        n_y = y - drift * h_y
        low_rho, low_p = FLOOR * rho, FLOOR * p
        a, b = n_rho - h_rho, n_rho + h_rho
        w[RIGHT_RHO + i] = a if a > low_rho else low_rho
        w[LEFT_RHO + i + 1] = b if b > low_rho else low_rho
        a, b = n_p - h_p, n_p + h_p
        w[RIGHT_PRS + i] = a if a > low_p else low_p
        w[LEFT_PRS + i + 1] = b if b > low_p else low_p
        w[RIGHT_VEL + i] = n_u - h_u
        w[LEFT_VEL + i + 1] = n_u + h_u
        w[RIGHT_FRAC + i] = n_y - h_y
        w[LEFT_FRAC + i + 1] = n_y + h_y
        w[FORCE + i] = n_p * widening - n_rho * n_u * drag * w[VOLUME + i]


@kernel
def fluxes(w: Any, gas: Any, last: int) -> None:
    """HLLC fluxes through faces 1..last−1 from their two reconstructed states; the fastest wave over cell length [1/s] to RATE."""
    r0, dr = gas[R_FRESH], gas[R_BURNED] - gas[R_FRESH]
    c0, dc = gas[CV_FRESH], gas[CV_BURNED] - gas[CV_FRESH]
    for i in range(1, last):
        rl, ul, pl, yl = w[LEFT_RHO + i], w[LEFT_VEL + i], w[LEFT_PRS + i], w[LEFT_FRAC + i]
        rr, ur, pr, yr = w[RIGHT_RHO + i], w[RIGHT_VEL + i], w[RIGHT_PRS + i], w[RIGHT_FRAC + i]
        cl, cr = w[SOUND + i - 1], w[SOUND + i]
        back_l, back_r = ul - cl, ur - cr
        sl = back_l if back_l < back_r else back_r
        on_l, on_r = ul + cl, ur + cr
        sr = on_l if on_l > on_r else on_r
        ml, mr = rl * (sl - ul), rr * (sr - ur)
        middle = (pr - pl + ml * ul - mr * ur) / (ml - mr)
        onward = middle >= 0.0
        yl = yl if yl > -1.0 else -1.0  # never so: but without a use of both, one is fetched cell by cell
        yr = yr if yr > -1.0 else -1.0
        rho = rl if onward else rr
        u = ul if onward else ur
        p = pl if onward else pr
        y = yl if onward else yr
        m = ml if onward else mr
        s = sl if onward else sr
        r, fan = r0 + y * dr, s - middle
        both = 1.0 / (r * fan)  # one division for two
        energy = p * (c0 + y * dc) * fan * both + 0.5 * rho * u * u
        per, gain = r * both, middle - u
        p_star = p + m * gain
        e_star = per * ((s - u) * energy + gain * (m * middle + p))
        starred = (sl < 0.0) if onward else (sr > 0.0)
        rho = m * per if starred else rho
        u = middle if starred else u
        p = p_star if starred else p
        energy = e_star if starred else energy
        f_mass = w[AREA + i] * rho * u
        w[F_MASS + i] = f_mass
        w[F_MOMENTUM + i] = f_mass * u + w[AREA + i] * p
        w[F_ENERGY + i] = w[AREA + i] * u * (energy + p)
        w[F_BURNED + i] = f_mass * y
        w[RATE + i] = (-sl if -sl > sr else sr) * w[PER_LENGTH + i]


@kernel
def faces(w: Any, gas: Any, dt: float, last: int) -> None:
    """Reconstruct and find the fluxes of faces 1..last−1 over dt [s], block by block: what the one writes the other still
    finds in the nearest cache. A block is the work array from some cell on, so that both loops begin at 1, which the
    compiler needs to use vector instructions."""
    for begin in range(0, last - 1, BLOCK):
        block, end = w[begin:], min(BLOCK + 1, last - begin)
        reconstruct(block, dt, end)
        fluxes(block, gas, end)


@kernel
def advance_cells(w: Any, gas: Any, dt: float, last: int) -> None:
    """Add dt [s] of fluxes, force and heat to cells 1..last−1 and find their primitive state."""
    r0, dr = gas[R_FRESH], gas[R_BURNED] - gas[R_FRESH]
    c0, dc = gas[CV_FRESH], gas[CV_BURNED] - gas[CV_FRESH]
    for i in range(1, last):
        mass = w[MASS + i] + dt * (w[F_MASS + i] - w[F_MASS + i + 1])
        momentum = w[MOMENTUM + i] + dt * (w[F_MOMENTUM + i] - w[F_MOMENTUM + i + 1] + w[FORCE + i])
        energy = w[ENERGY + i] + dt * (w[F_ENERGY + i] - w[F_ENERGY + i + 1] + w[HEAT + i])
        burned = w[BURNED + i] + dt * (w[F_BURNED + i] - w[F_BURNED + i + 1])
        w[MASS + i] = mass
        w[MOMENTUM + i] = momentum
        w[ENERGY + i] = energy
        w[BURNED + i] = burned
        gas_r, gas_cv = r0 * mass + dr * burned, c0 * mass + dc * burned
        both = 1.0 / (mass * gas_cv)  # one division for two
        per = gas_cv * both
        u = momentum * per
        ratio = gas_r * mass * both
        inner = energy - 0.5 * momentum * u
        w[RHO + i] = mass * w[PER_VOLUME + i]
        w[VEL + i] = u
        w[PRS + i] = inner * ratio * w[PER_VOLUME + i]
        w[FRAC + i] = burned * per
        w[GAM + i] = 1.0 + ratio
        w[SOUND + i] = sqrt((1.0 + ratio) * ratio * inner * per)


@kernel
def fastest(w: Any, last: int) -> float:
    """Largest RATE [1/s] of the faces 1..last−1.

    Floats that are not negative have the order of their bits read as whole numbers, and of those the largest is found with
    vector instructions.
    """
    bits = w.view(np.int64)
    most = 0
    for i in range(1, last):
        found = bits[RATE + i]
        most = found if found > most else most
    at = np.array([most])
    return float(at.view(np.float64)[0])


@kernel
def forward(w: Any, gas: Any, dt: float, last: int) -> float:
    """Advance cells 1..last−1 by dt [s], block by block; returns the fastest wave over cell length [1/s]."""
    rate = 0.0
    for begin in range(0, last - 1, BLOCK):
        block, end = w[begin:], min(BLOCK + 1, last - begin)
        advance_cells(block, gas, dt, end)
        rate = max(rate, fastest(block, end))
    return rate


@kernel
def total(w: Any, row: int, last: int) -> float:
    """Sum of a row over cells 1..last−1 and up to three beyond, in the row's unit; not a number if one of them is not."""
    a = b = c = d = 0.0
    for i in range(1, last, 4):
        a += w[row + i]
        b += w[row + i + 1]
        c += w[row + i + 2]
        d += w[row + i + 3]
    return (a + b) + (c + d)
