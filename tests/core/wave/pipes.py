"""Small networks that several tests use."""

from __future__ import annotations

import numpy as np

from longbreath.core.air.gases import Gas
from longbreath.core.path.sections import Section, round_section
from longbreath.core.wave import rows
from longbreath.core.wave.mesh import PipePiece
from longbreath.core.wave.network import Network, NetworkRun
from longbreath.core.wave.parts import Duct

AIR = Gas("air", 1.4, 287.05)
PLAIN = {"friction": 0.0, "heating": 0.0, "roughness": 0.0}


def smooth(length: float, diameter: float, exit: float | None = None, **more: float) -> PipePiece:
    """A frictionless round piece; sizes [m]."""
    return PipePiece(length, round_section(diameter), round_section(exit or diameter), **{**PLAIN, **more})


def tube(cells: int, gamma: float = 1.4) -> tuple[NetworkRun, Duct]:
    """A unit pipe of unit section, both ends open without reflection."""
    gas = Gas("gas", gamma, 287.05)
    net = Network(1.0 / cells, gas, gas)
    unit = Section(1.0, 4.0)
    duct = net.duct([PipePiece(1.0, unit, unit, **PLAIN)])
    net.through(duct.start)
    net.through(duct.finish)
    return net.build(), duct


def centres(run: NetworkRun, duct: Duct) -> np.ndarray:
    """Cell centres [m]."""
    n = duct.last - duct.first + 1
    return (np.arange(n) + 0.5) / run.model.work[rows.PER_LENGTH + duct.first]
