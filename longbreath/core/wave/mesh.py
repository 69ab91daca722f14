"""From measured pieces of pipe to cells: face areas, volumes, wetted walls, friction."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from math import log10, pi

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError
from longbreath.core.path.sections import Section

Array = npt.NDArray[np.float64]
FEWEST = 3
"""A duct has at least so many cells: its ends look at three."""
UNFLANGED, FLANGED = 0.6133, 0.8217
"""End corrections in radii (Levine and Schwinger; flanged: Nomura and others; from memory)."""
STEP = 0.03
"""Two pieces whose areas differ by more than this share meet at a step; less is evened out."""


@dataclass(frozen=True)
class PipePiece:
    """A straight-tapered piece of pipe: `length` [m], sections at either end, further loss coefficient K [1] spread over it
    (a bend, a filter), wall roughness [m] and temperature [K], and what multiplies wall friction and heat [1].
    """

    length: float
    entry: Section
    exit: Section
    loss: float = 0.0
    roughness: float = 1e-5
    wall: float = 300.0
    friction: float = 1.0
    heating: float = 1.0

    def __post_init__(self) -> None:
        if not self.length > 0:
            raise InputError("A length must be more than nought.", "length")
        for name in ("loss", "roughness", "friction", "heating"):
            if getattr(self, name) < 0:
                raise InputError("This cannot be negative.", name)
        if not self.wall > 0:
            raise InputError("A wall temperature is above absolute nought.", "wall")
        if min(self.entry.area, self.exit.area) <= 0:
            raise InputError("A section has an area.", "diameter")
        taper = abs(self.exit.equal_area_diameter - self.entry.equal_area_diameter) / 2.0
        if taper > self.length * 3.0:
            raise InputError(
                "This cone is steeper than 143° over all; enter it as a step between two diameters.", "length"
            )


@dataclass(frozen=True)
class Cells:
    """A meshed duct of n cells: areas [m2] of n + 1 faces; volume [m3], length [m] and the walls of each cell."""

    area: Array
    volume: Array
    length: float
    four_by_d: Array
    rough: Array
    skin: Array
    loss: Array
    wall: Array
    heating: Array


def rough_factor(diameter: float, roughness: float) -> float:
    """Fanning friction factor [1] of a fully rough wall: 1/√(4 f) = 2·log10(3.7·D/ε) (Nikuradse); diameter, roughness [m]."""
    if roughness <= 0:
        return 0.0
    return 0.25 / (2.0 * log10(3.7 * max(diameter / roughness, 4.0))) ** 2


def continuous(pieces: Sequence[PipePiece]) -> list[list[PipePiece]]:
    """Pieces in runs that have no step inside (areas within STEP [1] of each other, relative)."""
    if not pieces:
        raise InputError("A pipe has at least one piece.", "pieces")
    runs = [[pieces[0]]]
    for before, piece in itertools.pairwise(pieces):
        if abs(piece.entry.area / before.exit.area - 1.0) > STEP:
            runs.append([piece])
        else:
            runs[-1].append(piece)
    return runs


def end_piece(section: Section, factor: float) -> PipePiece:
    """The end correction of an open end as a frictionless piece: `factor` radii [1] long."""
    if factor < 0:
        raise InputError("An end correction is not negative.", "end")
    return PipePiece(
        factor * section.equal_area_diameter / 2.0, section, section, roughness=0.0, friction=0.0, heating=0.0
    )


def mesh(pieces: Sequence[PipePiece], cell: float) -> Cells:
    """Cells of about `cell` [m] for a run of pieces without a step. Areas as of cones, volumes exact."""
    edges = np.concatenate([[0.0], np.cumsum([p.length for p in pieces])])
    total = float(edges[-1])
    n = max(FEWEST, round(total / cell))
    x = np.linspace(0.0, total, n + 1)
    diameters, perimeters = [], []
    for p in pieces:
        diameters.append((p.entry.equal_area_diameter, p.exit.equal_area_diameter))
        perimeters.append((p.entry.perimeter, p.exit.perimeter))
    volume = np.diff([_volume_to(at, edges, diameters) for at in x])
    surface = np.diff([_surface_to(at, edges, perimeters) for at in x])
    middle = (x[:-1] + x[1:]) / 2.0
    which = np.clip(np.searchsorted(edges, middle, side="right") - 1, 0, len(pieces) - 1)
    area = np.array([_area_at(at, edges, diameters) for at in x])
    rough = np.array(
        [rough_factor(4.0 * v / s, pieces[k].roughness) for v, s, k in zip(volume, surface, which, strict=True)]
    )
    spread = np.array(
        [
            sum(
                _overlap(a, b, lo, hi) / (b - a) * p.loss / (hi - lo)
                for p, lo, hi in zip(pieces, edges[:-1], edges[1:], strict=True)
            )
            for a, b in itertools.pairwise(x)
        ]
    )
    return Cells(
        area,
        volume,
        total / n,
        surface / volume,
        rough,
        np.array([pieces[k].friction for k in which]),
        spread,
        np.array([pieces[k].wall for k in which]),
        np.array([pieces[k].heating for k in which]),
    )


def _overlap(a: float, b: float, low: float, high: float) -> float:
    return max(min(b, high) - max(a, low), 0.0)


def _place(at: float, edges: Array) -> tuple[int, float]:
    k = int(np.clip(np.searchsorted(edges, at, side="right") - 1, 0, len(edges) - 2))
    return k, (at - float(edges[k])) / float(edges[k + 1] - edges[k])


def _area_at(at: float, edges: Array, diameters: list[tuple[float, float]]) -> float:
    k, share = _place(at, edges)
    d = diameters[k][0] + share * (diameters[k][1] - diameters[k][0])
    return pi / 4.0 * d * d


def _volume_to(at: float, edges: Array, diameters: list[tuple[float, float]]) -> float:
    k, share = _place(at, edges)
    total = 0.0
    for j in range(k + 1):
        d0, d1 = diameters[j]
        s = share if j == k else 1.0
        d = d0 + s * (d1 - d0)
        total += pi / 12.0 * s * float(edges[j + 1] - edges[j]) * (d0 * d0 + d0 * d + d * d)
    return total


def _surface_to(at: float, edges: Array, perimeters: list[tuple[float, float]]) -> float:
    k, share = _place(at, edges)
    total = 0.0
    for j in range(k + 1):
        p0, p1 = perimeters[j]
        s = share if j == k else 1.0
        total += s * float(edges[j + 1] - edges[j]) * (p0 + 0.5 * s * (p1 - p0))
    return total
