"""From cycle to cycle faster: a start on a coarse mesh, and Anderson's acceleration of the state that repeats.

A cycle is a map of the state at its beginning to the state at its end; the settled cycle is its fixed point. Anderson's
mixing (1965; as "vector extrapolation" in many texts; from memory) takes the combination of the last states whose
changes cancel best. A combination that is no gas (negative mass, pressure far down) is not used.
"""

from __future__ import annotations

import numpy as np

from longbreath.core.wave import march as kernels
from longbreath.core.wave import rooms, rows
from longbreath.core.wave.mesh import Array
from longbreath.core.wave.network import NetworkRun
from longbreath.core.wave.settling import INTERNAL

DEPTH = 5
"""Former cycles that are mixed."""
CELL_ROWS = (rows.MASS, rows.MOMENTUM, rows.ENERGY, rows.BURNED)
ROOM_STATES = (rooms.R_MASS, rooms.R_ENERGY, rooms.R_BURNT, rooms.FRESH)
REED_STATES = (kernels.REED_X, kernels.REED_V)
NOISE = 2e-4
"""A change of state smaller than this is left alone: mixing noise only makes more of it."""
BEYOND = 1.5
"""A mixed density or pressure lies within the lowest and highest of the cells there are, by this factor."""


class State:
    """The state of a run as one vector, and back: conserved rows of all cells, living rooms, reeds."""

    def __init__(self, run: NetworkRun) -> None:
        self.run = run
        spans = [np.arange(d.first, d.last + 1) for d, _, _ in run.net.parts.ducts]
        self.cells = np.concatenate(spans) if spans else np.arange(0)
        self.living = np.flatnonzero(run.model.rooms[:, rooms.KIND] != rooms.FIXED)

    def read(self) -> Array:
        """The state now, shape (n,), SI."""
        m = self.run.model
        return np.concatenate(
            [
                *(m.work[row + self.cells] for row in CELL_ROWS),
                *(m.states[self.living, k] for k in ROOM_STATES),
                *(m.reeds[:, k] for k in REED_STATES),
            ]
        )

    def scale(self, pressure: float, density: float) -> Array:
        """What a change of each component is measured by, (n,): cells by their full content outside, weighted by volume."""
        m = self.run.model
        volume = m.work[rows.VOLUME + self.cells]
        weight = np.sqrt(volume / volume.sum())
        mass, energy = density * volume / weight, INTERNAL * pressure * volume / weight
        room_mass, room_energy = (max(float(m.states[self.living, k].max()), 1e-12) for k in ROOM_STATES[:2])
        lift, living = m.reeds[:, kernels.REED_MOST], np.ones(len(self.living))
        return np.concatenate(
            [
                *(mass, mass * (1.4 * pressure / density) ** 0.5, energy, mass),
                *(living * room_mass, living * room_energy, living * room_mass, living * room_mass),
                *(lift, lift * m.reeds[:, kernels.REED_W]),
            ]
        )

    def write(self, found: Array) -> bool:
        """Put a state (n,) in, if it is a gas; whether it was."""
        m = self.run.model
        cells, living = len(self.cells), len(self.living)
        mass, momentum, energy, burned = found[: 4 * cells].reshape(4, cells)
        held = found[4 * cells : 4 * (cells + living)].reshape(4, living)
        lift, swing = found[4 * (cells + living) :].reshape(2, len(m.reeds))
        if not ((mass > 0.0).all() and (held[:2] > 0.0).all()):
            return False
        velocity, volume = momentum / mass, m.work[rows.VOLUME + self.cells]
        density, present = mass / volume, m.work[rows.FRAC + self.cells]
        share = np.clip(burned / mass, present.min(), present.max())
        r, cv = self.run.mixture(share)
        pressure = (energy - 0.5 * momentum * velocity) * r / (cv * volume)
        if not (self._likely(density, rows.RHO) and self._likely(pressure, rows.PRS)):
            return False
        self.run.set_everywhere(density, velocity, pressure, share)
        held[2], held[3] = np.clip(held[2], 0.0, held[0]), np.maximum(held[3], 0.0)
        m.states[np.ix_(self.living, np.array(ROOM_STATES))] = held.T
        m.reeds[:, kernels.REED_X] = np.clip(lift, 0.0, m.reeds[:, kernels.REED_MOST])
        m.reeds[:, kernels.REED_V] = swing
        return True

    def _likely(self, found: Array, row: int) -> bool:
        present = self.run.model.work[row + self.cells]
        return bool((found > present.min() / BEYOND).all() and (found < present.max() * BEYOND).all())


class Mixing:
    """Anderson's mixing of the states (n,) at which cycles began and ended; `scale` (n,) weighs their changes."""

    def __init__(self, scale: Array, depth: int = DEPTH) -> None:
        self.scale, self.depth = scale, depth
        self._ends: list[Array] = []
        self._changes: list[Array] = []

    def next(self, begin: Array, end: Array) -> Array:
        """Where the next cycle should begin, (n,), after one from `begin` to `end`."""
        self._ends.append(end)
        self._changes.append((end - begin) / self.scale)
        del self._ends[: -1 - self.depth], self._changes[: -1 - self.depth]
        if len(self._ends) < 2 or float(np.linalg.norm(self._changes[-1])) < NOISE:
            return end
        changes, ends = np.diff(self._changes, axis=0).T, np.diff(self._ends, axis=0).T
        shares = np.linalg.lstsq(changes, self._changes[-1], rcond=1e-3)[0]
        found: Array = end - ends @ shares
        return found

    def forget(self) -> None:
        """Begin anew."""
        self._ends.clear()
        self._changes.clear()


def carry(coarse: NetworkRun, fine: NetworkRun) -> None:
    """Give a run the state of one of the same parts on a coarser mesh: straight lines between the middles of its cells."""
    a, b = coarse.model, fine.model
    for (old, _, _), (new, _, _) in zip(coarse.net.parts.ducts, fine.net.parts.ducts, strict=True):
        middles, wanted = _middles(old.last - old.first + 1), _middles(new.last - new.first + 1)
        read = [coarse.read(old, row) for row in (rows.RHO, rows.VEL, rows.PRS, rows.FRAC)]
        rho, velocity, pressure, burned = (np.interp(wanted, middles, values) for values in read)
        fine.set_cells(new, rho, velocity, pressure, burned, b.work)
    b.states[:], b.reeds[:] = a.states, a.reeds
    fine.refresh()


def _middles(cells: int) -> Array:
    return (np.arange(cells) + 0.5) / cells
