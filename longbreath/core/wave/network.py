"""The front of the solver: ducts, rooms, gates, joints put together in words; checked; packed for the kernels; marched."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from math import inf, pi
from typing import Any

import numpy as np

from longbreath.core.air.gases import AIR, BURNED, Gas
from longbreath.core.basis.errors import InputError
from longbreath.core.wave import march as kernels
from longbreath.core.wave import rooms, rows
from longbreath.core.wave.mesh import Array, Cells, PipePiece, continuous, mesh
from longbreath.core.wave.parts import Duct, End, Parts, Reed, SolverError, Start

CFL = 0.92
CONTRACTION = (0.62, 0.38)
"""Weisbach's vena contracta of a sudden narrowing, C_c = 0.62 + 0.38·(A2/A1)³ (from memory)."""


class Network:
    """A model under construction. `cell`: wanted cell length [m]; two gases, fresh and burned."""

    def __init__(self, cell: float = 0.01, fresh: Gas = AIR, burned: Gas = BURNED) -> None:
        if not cell > 1e-6:
            raise InputError("A cell has a length.", "cell")
        self.cell, self.fresh, self.burned = cell, fresh, burned
        self.parts = Parts()
        self._next = 1

    # --- ducts

    def duct(self, pieces: Sequence[PipePiece], start: Start | None = None, cell: float | None = None) -> Duct:
        """A duct of pieces that meet without a step; `cell` [m] if not the network's. Raises InputError for a step."""
        if len(continuous(pieces)) > 1:
            raise InputError("These pieces meet at a step; use pipe().", "pieces")
        cells = mesh(pieces, cell or self.cell)
        n = len(cells.volume)
        first = self._next + 1
        if first + n + 8 > rows.WIDTH:
            raise InputError(f"The model has more than {rows.WIDTH} cells. Take longer cells.", "cell")
        self._next = first + n + 1
        number = len(self.parts.ducts)
        e = len(self.parts.ends)
        duct = Duct(number, End(e), End(e + 1), first, first + n - 1)
        self.parts.ends += [(first, -1.0, float(cells.area[0])), (first + n - 1, 1.0, float(cells.area[-1]))]
        self.parts.ducts.append((duct, cells, start or Start()))
        return duct

    def pipe(self, pieces: Sequence[PipePiece], start: Start | None = None, cell: float | None = None) -> list[Duct]:
        """Ducts for a row of pieces, joined by steps where their areas differ. Lengths [m]."""
        ducts = [self.duct(run, start, cell) for run in continuous(pieces)]
        for a, b in itertools.pairwise(ducts):
            self.step(a.finish, b.start)
        return ducts

    def area(self, end: End) -> float:
        """Area of a duct end [m2]."""
        return self.parts.ends[end.number][2]

    def station(self, name: str, duct: Duct, share: float) -> None:
        """A place to watch: `share` [0..1] of the way along a duct."""
        n = duct.last - duct.first + 1
        self.parts.stations.append((name, duct.first + min(int(share * n), n - 1)))

    # --- what ends meet

    def _use(self, end: End, what: str) -> int:
        if end.number in self.parts.used:
            raise InputError(f"A duct end is joined twice: {self.parts.used[end.number]} and {what}.", "ends")
        self.parts.used[end.number] = what
        return end.number

    def closed(self, end: End) -> None:
        """A wall."""
        self.parts.plain.append((self._use(end, "closed"), kernels.CLOSED))

    def through(self, end: End) -> None:
        """An end that sends nothing back."""
        self.parts.plain.append((self._use(end, "through"), kernels.THROUGH))

    def step(self, one: End, two: End, neck: float | None = None) -> None:
        """Joins two ducts; `neck` [m2] is the effective area of a throttle or orifice between them, if there is one."""
        a, b = self.area(one), self.area(two)

        def throat(here: float, there: float) -> float:
            if neck is not None:
                return min(neck, here, there)
            return here if there >= here else there * (CONTRACTION[0] + CONTRACTION[1] * (there / here) ** 3)

        if neck is not None and not neck > 0:
            raise InputError("A throttle that is shut is a closed end.", "neck")
        self.parts.steps.append((self._use(one, "step"), self._use(two, "step"), throat(a, b), throat(b, a)))

    def junction(self, ends: Sequence[End]) -> None:
        """Joins three or more ducts at one static pressure."""
        if len(ends) < 3:
            raise InputError("A junction joins three ducts or more; use step() for two.", "ends")
        self.parts.junctions.append([self._use(e, "junction") for e in ends])

    def gate(
        self,
        room: int,
        end: End | None = None,
        other: int | None = None,
        out_area: float = 1.0,
        in_area: float = 1.0,
        table: Array | None = None,
        offset: float = 0.0,
        period: float = 4.0 * pi,
        efficiency: float = 0.0,
        reed: Reed | None = None,
    ) -> int:
        """A passage of a room to a duct end or to another room; returns its number.

        out_area, in_area: effective area [m2] out of and into `room` (with a reed: discharge coefficients [1]);
        table: 2 × n effective areas [m2] over a `period` [rad], `offset` [rad] later; efficiency of a turbine [1].
        """
        if (end is None) == (other is None):
            raise InputError("A gate leads to a duct end or to another room.", "gate")
        if min(out_area, in_area) < 0 or (table is not None and float(table.min()) < 0):
            raise InputError("An effective area is not negative.", "area")
        number = -1
        if table is not None:
            number = len(self.parts.tables)
            self.parts.tables.append(table)
        sprung = -1
        if reed is not None:
            sprung = len(self.parts.reeds)
            self.parts.reeds.append(
                [
                    2.0 * pi * reed.frequency,
                    reed.damping,
                    reed.full_pressure / reed.most_lift,
                    reed.most_lift,
                    reed.width,
                    0.0,
                    0.0,
                ]
            )
        self.parts.gate_ints.append(
            [-1 if end is None else self._use(end, "gate"), room, -1 if other is None else other, number, sprung]
        )
        self.parts.gate_floats.append([out_area, in_area, offset, period, efficiency])
        return len(self.parts.gate_ints) - 1

    def open_end(self, end: End, room: int, loss: float = 0.5) -> int:
        """An open end at a room: out at the room's pressure, in losing `loss` [1] velocity heads (0.5 sharp, 0.03 bellmouth)."""
        if loss < 0:
            raise InputError("A loss is not negative.", "loss")
        area = self.area(end)
        return self.gate(room, end=end, out_area=area / (1.0 + loss) ** 0.5, in_area=area)

    # --- rooms

    def _room(self, start: Start, **constants: float) -> int:
        found = np.zeros(rooms.CONSTANTS)
        for name, value in constants.items():
            found[getattr(rooms, name.upper())] = value
        self.parts.rooms.append(found)
        self.parts.starts.append(start)
        return len(self.parts.rooms) - 1

    def atmosphere(self, start: Start) -> int:
        """A room that never changes: the air outside, a boosted supply."""
        return self._room(start, kind=rooms.FIXED, base=1.0)

    def volume(self, size: float, start: Start, surface: float = 0.0, wall: float = 300.0) -> int:
        """A plenum, box or muffler of `size` [m3]."""
        if not size > 0:
            raise InputError("A volume must be more than nought.", "volume")
        return self._room(start, kind=rooms.STILL, base=size, surface=surface, wall_t=wall)

    def moving(self, start: Start, **constants: float) -> int:
        """A room whose volume the crank moves; constants by the names in `rooms` [SI]."""
        return self._room(start, **constants)

    # --- packing

    def build(self, samples: int = 0, longest_step: float = inf) -> NetworkRun:
        """Pack for the kernels. samples: how many a trace holds; longest_step [s]. Raises InputError for an end left open-handed."""
        loose = [k for k in range(len(self.parts.ends)) if k not in self.parts.used]
        if loose:
            raise InputError(f"{len(loose)} duct ends lead nowhere: close, open or join them.", "ends")
        return NetworkRun(self, samples, longest_step)


def _ints(found: Sequence[object], columns: int) -> np.ndarray[tuple[int, ...], np.dtype[np.int64]]:
    return np.array(found, dtype=np.int64).reshape(-1, columns)


class NetworkRun:
    """A packed model with its state; `march` steps it on. Arrays in `model`, see `march.Model` and `rows`."""

    def __init__(self, net: Network, samples: int, longest_step: float) -> None:
        parts = net.parts
        self.net, self.cfl = net, CFL
        gas = np.array(
            [
                net.fresh.constant,
                net.fresh.constant / (net.fresh.gamma - 1.0),
                net.burned.constant,
                net.burned.constant / (net.burned.gamma - 1.0),
            ]
        )
        self.gas = gas
        work = np.zeros(rows.ROWS * rows.WIDTH)
        for row in (
            rows.RHO,
            rows.PRS,
            rows.LEFT_RHO,
            rows.LEFT_PRS,
            rows.MASS,
            rows.ENERGY,
            rows.SOUND,
            rows.VOLUME,
            rows.PER_VOLUME,
            rows.FOUR_BY_D,
            rows.WALL,
        ):
            work[row : row + rows.WIDTH] = (
                1.0  # cells between ducts are computed and thrown away; they must be harmless
            )
        work[rows.GAM : rows.GAM + rows.WIDTH] = 1.4
        for duct, cells, start in parts.ducts:
            self._fill_duct(work, duct, cells, start)
        table = np.array(parts.tables) if parts.tables else np.zeros((0, 2, 1))
        starts = np.concatenate([[0], np.cumsum([len(j) for j in parts.junctions])]).astype(np.int64)
        count = len(parts.rooms)
        self.model = kernels.Model(
            work=work,
            gas=gas,
            end_cell=np.array([e[0] for e in parts.ends], dtype=np.int64),
            end_side=np.array([e[1] for e in parts.ends], dtype=float),
            end_area=np.array([e[2] for e in parts.ends], dtype=float),
            plain=_ints(parts.plain, 2),
            gate_ints=_ints(parts.gate_ints, 5),
            gate_floats=np.array(parts.gate_floats, dtype=float).reshape(-1, 5),
            gate_sums=np.zeros((len(parts.gate_ints), 6)),
            tables=table,
            rooms=np.array(parts.rooms, dtype=float).reshape(-1, rooms.CONSTANTS),
            states=np.zeros((count, rooms.STATES)),
            step_ends=_ints([s[:2] for s in parts.steps], 2),
            step_necks=np.array([s[2:] for s in parts.steps], dtype=float).reshape(-1, 2),
            junction_first=starts,
            junction_ends=np.array([e for j in parts.junctions for e in j], dtype=np.int64),
            reeds=np.array(parts.reeds, dtype=float).reshape(-1, 7),
            duct_first=np.array([d.first for d, _, _ in parts.ducts], dtype=np.int64),
            duct_last=np.array([d.last for d, _, _ in parts.ducts], dtype=np.int64),
            stations=np.array([s[1] for s in parts.stations], dtype=np.int64),
            peaks=np.zeros((len(parts.stations), 2)),
            traces=np.zeros((len(parts.stations), 2, max(samples, 1))),
            room_traces=np.zeros((count, samples)),
            clock=np.zeros(8),
        )
        widest = max([len(j) for j in parts.junctions], default=1)
        self._mouth, self._face = np.zeros((widest, 7)), np.zeros((widest, 6))
        self._held = np.zeros((len(parts.stations) + count, 2))
        self.model.clock[kernels.C_LONGEST] = longest_step
        for k, start in enumerate(parts.starts):
            self._fill_room(k, start, 0.0)
        self.refresh()

    def mixture(self, burned: Array | float) -> tuple[Any, Any]:
        """R and c_v [J/(kg K)] of a mixture with a share `burned` [1] by mass; arrays of the same shape."""
        g = self.gas
        return g[0] + burned * (g[2] - g[0]), g[1] + burned * (g[3] - g[1])

    def _fill_duct(self, work: Array, duct: Duct, cells: Cells, start: Start) -> None:
        span = slice(duct.first, duct.last + 1)

        def put(row: int, value: Array | float) -> None:
            work[row + span.start : row + span.stop] = value

        r, _ = self.mixture(start.burned)
        work[rows.AREA + duct.first : rows.AREA + duct.last + 2] = cells.area
        put(rows.VOLUME, cells.volume)
        put(rows.PER_VOLUME, 1.0 / cells.volume)
        put(rows.PER_LENGTH, 1.0 / cells.length)
        for row, value in (
            (rows.FOUR_BY_D, cells.four_by_d),
            (rows.ROUGH, cells.rough),
            (rows.SKIN, cells.skin),
            (rows.LOSS, cells.loss),
            (rows.WALL, cells.wall),
            (rows.HEATING, cells.heating),
        ):
            put(row, value)
        n = len(cells.volume)
        self.set_cells(
            duct,
            np.full(n, start.pressure / (r * start.temperature)),
            np.full(n, start.velocity),
            np.full(n, start.pressure),
            np.full(n, start.burned),
            work,
        )

    def set_cells(
        self,
        duct: Duct,
        rho: Array,
        velocity: Array,
        pressure: Array,
        burned: Array | None = None,
        work: Array | None = None,
    ) -> None:
        """Set a duct's cells: density [kg/m3], velocity [m/s], pressure [Pa], share of burned gas [1], shape (cells,)."""
        w = self.model.work if work is None else work
        y = np.zeros_like(rho) if burned is None else burned
        a, b = duct.first, duct.last + 1
        volume = w[rows.VOLUME + a : rows.VOLUME + b]
        r, cv = self.mixture(y)
        mass = rho * volume
        for row, value in (
            (rows.RHO, rho),
            (rows.VEL, velocity),
            (rows.PRS, pressure),
            (rows.FRAC, y),
            (rows.GAM, 1.0 + r / cv),
            (rows.SOUND, np.sqrt((1.0 + r / cv) * pressure / rho)),
            (rows.MASS, mass),
            (rows.MOMENTUM, mass * velocity),
            (rows.ENERGY, pressure * volume * cv / r + 0.5 * mass * velocity**2),
            (rows.BURNED, mass * y),
        ):
            w[row + a : row + b] = value
        if work is None:
            self.refresh()

    def set_everywhere(self, rho: Array, velocity: Array, pressure: Array, burned: Array) -> None:
        """Set the cells of all ducts, one after another, as `set_cells`; arrays (all cells,)."""
        done = 0
        for duct, _, _ in self.net.parts.ducts:
            span = slice(done, done + duct.last - duct.first + 1)
            self.set_cells(duct, rho[span], velocity[span], pressure[span], burned[span], self.model.work)
            done = span.stop
        self.refresh()

    def _fill_room(self, k: int, start: Start, angle: float) -> None:
        constants, state = self.model.rooms[k], self.model.states[k]
        r, cv = self.mixture(start.burned)
        size = rooms.volume(constants, angle - constants[rooms.OFFSET])
        mass = start.pressure * size / (r * start.temperature)
        state[:3] = mass, mass * cv * start.temperature, mass * start.burned
        state[rooms.MID_P], state[rooms.MID_T] = start.pressure, start.temperature
        state[rooms.MID_Y] = state[rooms.OUT_Y] = start.burned
        state[rooms.MID_R], state[rooms.MID_GAMMA] = r, 1.0 + r / cv
        state[rooms.P_NOW] = start.pressure

    def refresh(self) -> None:
        """Ghost cells and the fastest wave, after cells were set by hand."""
        if not self.net.parts.ducts:
            return
        kernels.ghosts(self.model)
        w, rate = self.model.work, 0.0
        for duct, cells, _ in self.net.parts.ducts:
            a, b = duct.first, duct.last + 1
            speed = np.abs(w[rows.VEL + a : rows.VEL + b]) + w[rows.SOUND + a : rows.SOUND + b]
            rate = max(rate, float(speed.max()) / cells.length)
        self.model.clock[kernels.C_RATE] = rate

    def march(self, until: float, speed: float = 0.0, most_steps: int = 20_000_000) -> int:
        """Step on to the time `until` [s] with the crank at `speed` [rad/s]; returns how many steps [count] it took.

        Raises SolverError if a state is no number, a room runs empty or the steps run out.
        """
        before = self.model.clock[kernels.C_STEPS]
        status = kernels.march(self.model, until, speed, self.cfl, most_steps, self._mouth, self._face, self._held)
        if status == kernels.NOT_A_NUMBER:
            raise SolverError(
                f"The gas state broke down after {self.time * 1000:.2f} ms: look for a very steep cone, "
                "a very small volume or an extreme pressure."
            )
        if status == kernels.EMPTY:
            raise SolverError(f"A volume ran empty after {self.time * 1000:.2f} ms: it is too small for its openings.")
        if status == kernels.TOO_MANY_STEPS:
            raise SolverError(f"{most_steps} steps were not enough.")
        return int(self.model.clock[kernels.C_STEPS] - before)

    @property
    def time(self) -> float:
        """Time marched [s]."""
        return float(self.model.clock[kernels.C_TIME])

    def read(self, duct: Duct, row: int) -> Array:
        """A row of a duct's cells, see `rows` for what and its unit; shape (cells,)."""
        found: Array = self.model.work[row + duct.first : row + duct.last + 1].copy()
        return found

    def total(self, row: int) -> float:
        """Sum of a conserved row over all ducts [its unit]."""
        return float(sum(self.read(d, row).sum() for d, _, _ in self.net.parts.ducts))
