"""What a network is put together from: how the gas stands at the start, reeds, ends of ducts, and the lists of parts."""

from __future__ import annotations

from dataclasses import dataclass, field

from longbreath.core.basis.errors import InputError, LongBreathError
from longbreath.core.wave.mesh import Array, Cells

CFL = 0.92
CONTRACTION = (0.62, 0.38)
"""Weisbach's vena contracta of a sudden narrowing, C_c = 0.62 + 0.38·(A2/A1)³ (from memory)."""


class SolverError(LongBreathError):
    """The march broke off: a sentence says where and what to look at."""


@dataclass(frozen=True)
class Start:
    """What fills a duct or room at the start: pressure [Pa], temperature [K], share of burned gas [1], velocity [m/s]."""

    pressure: float = 101325.0
    temperature: float = 293.15
    burned: float = 0.0
    velocity: float = 0.0

    def __post_init__(self) -> None:
        if not (self.pressure > 0 and self.temperature > 0):
            raise InputError("Pressure and temperature are above absolute nought.", "pressure")
        if not 0 <= self.burned <= 1:
            raise InputError("A share lies between 0 and 1.", "burned")


@dataclass(frozen=True)
class Reed:
    """A reed petal: own frequency [Hz], damping [1], pressure that opens it fully [Pa], most lift [m], flow width [m]."""

    frequency: float
    damping: float
    full_pressure: float
    most_lift: float
    width: float

    def __post_init__(self) -> None:
        for name in ("frequency", "full_pressure", "most_lift", "width"):
            if not getattr(self, name) > 0:
                raise InputError("This must be more than nought.", name)


@dataclass(frozen=True)
class End:
    """One end of a duct, by number."""

    number: int


@dataclass(frozen=True)
class Duct:
    """A meshed duct of a network: its number, both ends, its first and last cell."""

    number: int
    start: End
    finish: End
    first: int
    last: int


@dataclass
class Parts:
    ducts: list[tuple[Duct, Cells, Start]] = field(default_factory=list)
    ends: list[tuple[int, float, float]] = field(default_factory=list)
    used: dict[int, str] = field(default_factory=dict)
    plain: list[tuple[int, int]] = field(default_factory=list)
    gate_ints: list[list[int]] = field(default_factory=list)
    gate_floats: list[list[float]] = field(default_factory=list)
    tables: list[Array] = field(default_factory=list)
    rooms: list[Array] = field(default_factory=list)
    starts: list[Start] = field(default_factory=list)
    steps: list[tuple[int, int, float, float]] = field(default_factory=list)
    junctions: list[list[int]] = field(default_factory=list)
    reeds: list[list[float]] = field(default_factory=list)
    stations: list[tuple[str, int]] = field(default_factory=list)
