"""When a cycle repeats: what must stay the same, on scales that do not move, and how far from its end value it still is.

The slow part of settling (the gas in a long exhaust, a large box filling) approaches its end geometrically, and the work
first moves *away* from it; so the change from one cycle to the next, alone, deceives. The distance still to go is
change·q/(1 − q) with the factor q seen over the last cycles, and it must be small several cycles running.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from longbreath.core.wave import rooms, rows
from longbreath.core.wave.assemble import Built
from longbreath.core.wave.engine import WaveEngine
from longbreath.core.wave.mesh import Array
from longbreath.core.wave.network import NetworkRun

RUNNING = 3
"""So many cycles running must be as near as asked."""
INTERNAL = 2.5
"""Internal energy of air over p·V [1]."""
SLOWEST, USUAL, QUICKEST = 0.95, 0.8, 0.6
"""Factor per cycle with which the distance is judged: the one seen, below the first and above the last where states are mixed,
above the middle one where they are not; a run from a coarse mesh begins with the one seen there, at least the middle one."""


@dataclass
class Settling:
    """The course of a run: changes from cycle to cycle [1] and estimated distances from the settled value [1].

    factor: what the distance shrinks by in a cycle [1], as long as the run has not shown it itself; least [1]: it is not
    taken for less.
    """

    tolerance: float
    factor: float = SLOWEST
    least: float = USUAL
    cycles: int = 0
    changes: list[float] = field(default_factory=list)
    distances: list[float] = field(default_factory=list)
    _before: Array | None = None

    def add(self, marks: Array) -> None:
        """Take the marks (n,) of one more cycle."""
        self.cycles += 1
        if self._before is not None:
            self.changes.append(float(np.max(np.abs(marks - self._before))))
            self.distances.append(self.changes[-1] * self._remaining())
        self._before = marks

    def _remaining(self) -> float:
        """q/(1 − q) [1], q the middle of the last factors per cycle."""
        last = self.changes[-1 - RUNNING :]
        seen = [b / a for a, b in pairwise(last) if a > 0.0]
        if len(seen) >= RUNNING:
            self.factor = min(max(float(np.median(seen)), self.least), SLOWEST)
        return self.factor / (1.0 - self.factor)

    @property
    def change(self) -> float:
        """The last change [1]; infinite before there was one."""
        return self.changes[-1] if self.changes else float("inf")

    @property
    def distance(self) -> float:
        """Estimated distance from the settled value [1]; infinite before it can be told."""
        return self.distances[-1] if self.distances else float("inf")

    @property
    def settled(self) -> bool:
        """Whether the distance was within the tolerance several cycles running."""
        return len(self.distances) >= RUNNING and max(self.distances[-RUNNING:]) <= self.tolerance


@dataclass(frozen=True)
class Scales:
    """What changes are measured by, fixed for a run: mass of a chamber full outside [kg], work of a chamber [J], pressure [Pa]
    and density [kg/m3] outside."""

    charge: float
    work: float
    pressure: float
    density: float

    @classmethod
    def of(cls, engine: WaveEngine) -> Scales:
        """The scales of an engine: work at an efficiency of 0.3, or at half the pressure outside if it is motored."""
        density = engine.fresh.density(engine.air.pressure, engine.air.temperature)
        charge = density * engine.chamber.swept
        work = max(0.3 * engine.burn.heat * charge, 0.5 * engine.air.pressure * engine.chamber.swept)
        return cls(charge, work, engine.air.pressure, density)


def marks(run: NetworkRun, made: Built, scales: Scales) -> Array:
    """What must repeat, as shares of `scales`: work and trapped mass of each chamber, work of each case, and at the end of the
    cycle mass, fresh gas and energy of each duct and energy of each still volume; shape (n,)."""
    w, states, constants = run.model.work, run.model.states, run.model.rooms
    found = [
        states[made.chambers, rooms.TRAPPED] / scales.charge,
        states[made.chambers, rooms.TRAPPED_BURNT] / scales.charge,
        states[made.chambers, rooms.WORK] / scales.work,
        states[made.cases, rooms.WORK] / scales.work,
    ]
    for duct, _, _ in run.net.parts.ducts:
        a, b = duct.first, duct.last + 1
        volume = float(w[rows.VOLUME + a : rows.VOLUME + b].sum())
        mass, burned, energy = (float(w[row + a : row + b].sum()) for row in (rows.MASS, rows.BURNED, rows.ENERGY))
        full = scales.density * volume
        found.append(np.array([mass / full, burned / full, energy / (INTERNAL * scales.pressure * volume)]))
    still = constants[:, rooms.KIND] == rooms.STILL
    found.append(states[still, rooms.R_ENERGY] / (INTERNAL * scales.pressure * constants[still, rooms.BASE]))
    return np.concatenate(found)
