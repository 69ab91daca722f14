"""One dyno pull as logged, and its curve on a common grid of speeds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.pull.channels import MIXTURE, POWER, SPEED, TORQUE

Array = npt.NDArray[np.float64]

MINIMUM_ROWS = 10


@dataclass(frozen=True)
class Sweep:
    """One pull as logged: channels by name, each (n,) in SI. Speed [rad/s] and torque [N m] are always among them."""

    channels: Mapping[str, Array]

    def __post_init__(self) -> None:
        if self.speed.size < MINIMUM_ROWS:
            raise InputError(f"{self.speed.size} rows with numbers; a sweep needs at least {MINIMUM_ROWS}.", "file")

    @property
    def speed(self) -> Array:
        """Engine speed [rad/s], (n,)."""
        return self.channels[SPEED]

    @property
    def torque(self) -> Array:
        """Torque [N m], (n,)."""
        return self.channels[TORQUE]

    @property
    def power(self) -> Array | None:
        """Power [W], (n,), if it was logged beside torque."""
        return self.channels.get(POWER)

    @property
    def mixture(self) -> Array | None:
        """Lambda [1], (n,), if it was logged."""
        return self.channels.get(MIXTURE)

    def seen(self, name: str) -> Array | None:
        """Another channel [SI], (n,), or None where it was not logged or holds hardly any figures."""
        found = self.channels.get(name)
        return found if found is not None and int(np.isfinite(found).sum()) >= MINIMUM_ROWS else None


def make_sweep(channels: Mapping[str, Array]) -> Sweep:
    """A sweep from whatever was logged: rows without speed, torque or power fall out; torque is made from power.

    channels: speed [rad/s], torque [N m], power [W] and any others by name, arrays (n,) with NaN where a cell was empty.
    Raises InputError if neither torque nor power is there, or if fewer than 10 rows are left.
    """
    speed, torque, power = channels[SPEED], channels.get(TORQUE), channels.get(POWER)
    if torque is None and power is None:
        raise InputError("Neither torque nor power is mapped. Choose at least one of them.", TORQUE)
    with np.errstate(divide="ignore", invalid="ignore"):
        curve = torque if torque is not None else power / speed  # type: ignore[operator]
    good = np.isfinite(speed) & np.isfinite(curve) & (speed > 0)
    kept = {name: values[good] for name, values in channels.items() if name != POWER or torque is not None}
    return Sweep({**kept, TORQUE: curve[good]})


def speed_grid(low: float, high: float, step: float = 100.0 * RPM) -> Array:
    """Speeds [rad/s] from low to high on multiples of `step` [rad/s]."""
    first, last = int(np.ceil(low / step - 1e-9)), int(np.floor(high / step + 1e-9))
    return np.arange(first, last + 1, dtype=np.float64) * step


def on_grid(sweep: Sweep, grid: Array) -> Array:
    """Torque [N m] of a sweep at the speeds of `grid` [rad/s], (m,).

    Local straight-line fit with a triangular weight one grid step wide on each side; plain interpolation where the
    log is coarser than that. NaN outside the sweep.
    """
    order = np.argsort(sweep.speed, kind="stable")
    speed, torque = sweep.speed[order], sweep.torque[order]
    width = float(grid[1] - grid[0]) if grid.size > 1 else 100.0 * RPM
    begin, end = np.searchsorted(speed, grid - width), np.searchsorted(speed, grid + width, side="right")
    near = begin[:, None] + np.arange(max(int((end - begin).max()), 1))  # only the rows that a grid speed can see
    counts, near = near < end[:, None], np.minimum(near, speed.size - 1)
    distance, seen = speed[near] - grid[:, None], torque[near]
    weight = np.where(counts, np.clip(1.0 - np.abs(distance) / width, 0.0, None), 0.0)
    total = weight.sum(axis=1)
    first, second = (weight * distance).sum(axis=1), (weight * distance**2).sum(axis=1)
    value, slope = (weight * seen).sum(axis=1), (weight * distance * seen).sum(axis=1)
    determinant = total * second - first**2
    plain = np.interp(grid, speed, torque)
    usable = ((weight > 0).sum(axis=1) >= 4) & (determinant > 1e-9 * width**2)
    with np.errstate(divide="ignore", invalid="ignore"):
        fitted = (second * value - first * slope) / determinant
    curve = np.where(usable, fitted, plain)
    slack = 0.01 * grid
    outside = (grid < speed[0] - slack) | (grid > speed[-1] + slack)
    return np.where(outside, np.nan, curve)
