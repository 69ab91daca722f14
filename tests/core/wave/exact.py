"""Exact solution of the Riemann problem of a perfect gas, by scipy's root finder: independent of the solver."""

from __future__ import annotations

from math import sqrt

import numpy as np
from scipy.optimize import brentq


class Riemann:
    """Left and right state (ρ, u, p) in consistent units, γ; star state and the solution over x/t."""

    def __init__(self, left: tuple[float, float, float], right: tuple[float, float, float], gamma: float) -> None:
        self.left, self.right, self.g = left, right, gamma
        self.sound = [sqrt(gamma * s[2] / s[0]) for s in (left, right)]
        self.p = brentq(
            lambda p: self._f(p, 0) + self._f(p, 1) + right[1] - left[1], 1e-12, 1e9, xtol=1e-14, rtol=1e-13
        )
        self.u = 0.5 * (left[1] + right[1]) + 0.5 * (self._f(self.p, 1) - self._f(self.p, 0))

    def _f(self, p: float, side: int) -> float:
        rho, _, pk = (self.left, self.right)[side]
        g = self.g
        if p > pk:
            return (p - pk) * sqrt(2.0 / ((g + 1.0) * rho) / (p + (g - 1.0) / (g + 1.0) * pk))
        return 2.0 * self.sound[side] / (g - 1.0) * ((p / pk) ** ((g - 1.0) / (2.0 * g)) - 1.0)

    def star_density(self, side: int) -> float:
        """Density beside the contact."""
        rho, _, pk = (self.left, self.right)[side]
        z, k = self.p / pk, (self.g - 1.0) / (self.g + 1.0)
        return rho * ((z + k) / (k * z + 1.0) if z > 1 else z ** (1.0 / self.g))

    def density(self, xi: np.ndarray) -> np.ndarray:
        """Density over x/t."""
        found = np.where(xi < self.u, self.star_density(0), self.star_density(1))
        for side, sign in ((0, 1.0), (1, -1.0)):
            rho, u, pk = (self.left, self.right)[side]
            a, g = self.sound[side], self.g
            out = sign * (self.u - xi) > 0
            if self.p > pk:
                speed = u - sign * a * sqrt((g + 1) / (2 * g) * self.p / pk + (g - 1) / (2 * g))
                found = np.where(out & (sign * (xi - speed) < 0), rho, found)
            else:
                tail = self.u - sign * a * (self.p / pk) ** ((g - 1) / (2 * g))
                fan = rho * np.maximum(2 / (g + 1) + sign * (g - 1) / ((g + 1) * a) * (u - xi), 1e-9) ** (2 / (g - 1))
                found = np.where(out & (sign * (xi - tail) < 0), fan, found)
                found = np.where(out & (sign * (xi - (u - sign * a)) < 0), rho, found)
        return found

    def cell_means(self, cells: int, middle: float, time: float, sub: int = 200) -> np.ndarray:
        """Mean density of equal cells on 0..1 with the diaphragm at `middle`."""
        x = (np.arange(cells * sub) + 0.5) / (cells * sub)
        return self.density((x - middle) / time).reshape(cells, sub).mean(1)
