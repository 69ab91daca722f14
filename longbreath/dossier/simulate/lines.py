"""The measured path as lines of a simulation case: inlet, plenum and runners; primaries, collectors and system."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from longbreath.core.air.gases import AIR
from longbreath.core.basis.constants import ZERO_CELSIUS
from longbreath.core.engine.assumptions import ROOM_PRESSURE, ROOM_TEMPERATURE
from longbreath.core.path.kinds import COMPRESSOR, ENGINE, EXHAUST, INTAKE, TURBINE, kind_of
from longbreath.core.path.sections import Section
from longbreath.core.path.walk import COMPRESSOR_EFFICIENCY, PathElement
from longbreath.core.wave.engine import Box
from longbreath.core.wave.measured import item_of
from longbreath.core.wave.mesh import PipePiece
from longbreath.dossier.simulate.notes import Notes
from longbreath.formats.case_parts import BoostIn, Item, VolumeIn, piece_in

WALLS = {INTAKE: 313.15, EXHAUST: 673.15}
"""Temperature of the walls [K] by side, until somebody measures it (common practice, no source)."""


@dataclass(frozen=True)
class IntakeLines:
    """The inlet side: before the plenum, its volume [m3] or None, one runner for every cylinder, and the compressor."""

    inlet: list[Item]
    plenum: float | None
    runner: list[Item]
    boost: BoostIn | None


@dataclass(frozen=True)
class ExhaustLines:
    """The exhaust side: one primary for every cylinder, how many of them merge into one collector, and what follows."""

    primary: list[Item]
    collectors: int
    collector: list[Item]
    system: list[Item]
    has_turbine: bool


def items_of(elements: Sequence[PathElement], side: str, notes: Notes) -> list[Item]:
    """Elements of a side as pieces and volumes of a case, in the direction of flow; a line begins and ends with a pipe."""
    density = AIR.density(ROOM_PRESSURE, ROOM_TEMPERATURE)
    found = [item_of(element, WALLS[side], density) for element in elements]
    if found and isinstance(found[-1], Box):
        found.append(_neck(elements[-1], elements[-1].exit, side, notes))
    if found and isinstance(found[0], Box):
        found.insert(0, _neck(elements[0], elements[0].entry, side, notes))
    return [VolumeIn(volume_l=x.size * 1e3) if isinstance(x, Box) else piece_in(x) for x in found]


def _neck(element: PathElement, section: Section, side: str, notes: Notes) -> PipePiece:
    notes.assumes(f"The opening of {element.name} is taken as a pipe one diameter long.")
    return PipePiece(section.equal_area_diameter, section, section, 0.0, element.roughness, WALLS[side])


def ducts(elements: Sequence[PathElement], side: str) -> list[PathElement]:
    """The elements of a side that air flows through as in a pipe: not the head, not the valves."""
    return [e for e in elements if e.side == side and e.kind != "valve" and kind_of(e.kind).side != ENGINE]


def intake_lines(elements: Sequence[PathElement], cylinders: int, notes: Notes) -> IntakeLines | None:
    """The inlet side of a path; None, noting why, where it does not make one."""
    row = ducts(elements, INTAKE)
    if not row:
        notes.lacks("Intake: no element of its path is measured.")
        return None
    row, boost = _behind_the_compressor(row, notes)
    chambers = [n for n, e in enumerate(row) if e.is_volume and e.volume and e.branches == 1]
    single = [n for n, e in enumerate(row) if e.branches != cylinders]
    last = (chambers[-1] if cylinders == 1 and chambers else max(single, default=-1)) if row else -1
    runner, before = row[last + 1 :], row[: last + 1]
    if not runner:
        notes.lacks(f"Intake: no runner is measured with {cylinders} branches, one for each cylinder.")
        return None
    if not before:
        return IntakeLines([], None, items_of(runner, INTAKE, notes), boost)
    plenum = before[-1]
    if not (plenum.is_volume and plenum.volume):
        notes.lacks(f"Intake: the volume of the plenum that the runners leave ({plenum.name} stands before them).")
        return None
    return IntakeLines(items_of(before[:-1], INTAKE, notes), plenum.volume, items_of(runner, INTAKE, notes), boost)


def _behind_the_compressor(row: list[PathElement], notes: Notes) -> tuple[list[PathElement], BoostIn | None]:
    at = next((n for n, e in enumerate(row) if e.kind == COMPRESSOR), None)
    if at is None:
        return row, None
    ratio = row[at].pressure_ratio
    if ratio is None:
        notes.lacks(f"Intake: the pressure ratio of {row[at].name}.")
        return row[at + 1 :], None
    if at:
        notes.assumes(f"What lies before {row[at].name} is left out: its pressure ratio is counted from the room.")
    hot = ROOM_TEMPERATURE * (1.0 + (ratio ** (1.0 - 1.0 / AIR.gamma) - 1.0) / COMPRESSOR_EFFICIENCY)
    cooled = next((e.outlet_temperature for e in row[at:] if e.outlet_temperature is not None), None)
    share = 0.0 if cooled is None else (hot - cooled) / (hot - ROOM_TEMPERATURE)
    notes.assumes(f"{row[at].name}: efficiency {COMPRESSOR_EFFICIENCY:.0%}, steady.")
    boost = BoostIn(
        pressure_ratio=ratio, efficiency=COMPRESSOR_EFFICIENCY, cooler_effectiveness=min(max(share, 0.0), 1.0)
    )
    return row[at + 1 :], boost


def exhaust_lines(elements: Sequence[PathElement], cylinders: int, notes: Notes) -> ExhaustLines | None:
    """The exhaust side of a path; None, noting why, where it does not make one."""
    row = ducts(elements, EXHAUST)
    if not row:
        notes.lacks("Exhaust: no element of its path is measured.")
        return None
    turbine = next((n for n, e in enumerate(row) if e.kind == TURBINE), None)
    if turbine is not None:
        notes.lacks(f"Exhaust: the effective area of {row[turbine].name}: the path has its pressure ratio alone.")
    stages = [(branches, list(found)) for branches, found in groupby(row, key=lambda e: e.branches)]
    if stages[0][0] != cylinders:
        notes.lacks(f"Exhaust: no primary is measured with {cylinders} branches, one for each cylinder.")
        return None
    if len(stages) > 3 or (len(stages) == 3 and stages[2][0] != 1) or any(cylinders % n for n, _ in stages):
        said = ", then ".join(str(branches) for branches, _ in stages)
        notes.lacks(f"Exhaust: a path that merges by equal groups into one pipe (its branches are {said}).")
        return None
    primary, *after = (items_of(found, EXHAUST, notes) for _, found in stages)
    if len(after) == 2:
        return ExhaustLines(primary, stages[1][0], after[0], after[1], turbine is not None)
    return ExhaustLines(
        primary, stages[1][0] if after else cylinders, after[0] if after else [], [], turbine is not None
    )


def celsius(kelvin: float) -> float:
    """Temperature [°C] as a case has it."""
    return kelvin - ZERO_CELSIUS
