"""Reads of the path: the duty asked for, both versions walked, and everything the page shows of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import pi

from longbreath.core.basis.working import Figure
from longbreath.core.path import figures, remedy, sections, volumes, walk
from longbreath.core.path.kinds import RUNNER, kind_of
from longbreath.core.path.volumes import VolumeRow
from longbreath.core.path.walk import Duty, Side
from longbreath.dossier.conditions import engine_of
from longbreath.dossier.path.duty import Flowing
from longbreath.dossier.path.elements import area_figure, core_element, exit_of, plenum_figure, section_of
from longbreath.store.models import Element, Vehicle


@dataclass(frozen=True)
class Version:
    """One version of the path walked: its look ("A", "B" or "trial"), rows, core elements, and the side."""

    look: str
    rows: tuple[Element, ...]
    elements: tuple[walk.PathElement, ...]
    side: Side


def walked(
    look: str, rows: Sequence[Element], side: str, duty: Duty, trials: Mapping[int, float] | None = None
) -> Version:
    """Walk one version. trials: inside diameters [m] tried, by element id."""
    chosen = tuple(e for e in rows if e.side == side)
    elements = tuple(_tried(core_element(e), (trials or {}).get(e.id)) for e in chosen)
    return Version(look, chosen, elements, walk.flow_through(elements, side, duty))


def _tried(element: walk.PathElement, diameter: float | None) -> walk.PathElement:
    """An element with another inside diameter; a taper keeps its ratio."""
    if diameter is None:
        return element
    entry = sections.round_section(diameter)
    ratio = element.exit.equal_area_diameter / element.entry.equal_area_diameter
    return replace(element, entry=entry, exit=sections.round_section(diameter * ratio), round_area=None)


def figures_of(version: Version, prefix: str) -> dict[str, Figure]:
    """Loss and share of each element and the whole side, by key."""
    found = {f"{prefix}-total": figures.total_figure(version.side)}
    for piece in version.side.pieces:
        key = piece.element.key
        found[f"{prefix}-loss-{key}"] = figures.loss_figure(version.side, piece)
        found[f"{prefix}-share-{key}"] = figures.share_figure(version.side, piece)
    if (mach := figures.peak_mach(version.side)) is not None:
        found[f"{prefix}-mach"] = mach
    return found


def areas(rows: Sequence[Element]) -> dict[str, Figure]:
    """Inside area of each element by key."""
    return {f"area-{e.id}": area_figure(e) for e in rows}


def remedies(version: Version, at: Flowing, vehicle: Vehicle) -> list[remedy.Advice]:
    """The weakest element with its remedy, and one elsewhere that gives clearly more."""
    return remedy.ranked(version.elements, version.side, engine_of(vehicle).displacement, at.speed)


def marks_by(version: Version, system: str) -> dict[int, tuple[str, ...]]:
    """Remarks in words by element, grave ones first."""
    found: dict[int, list[remedy.Mark]] = {}
    for mark in remedy.marks(version.elements):
        found.setdefault(mark.key, []).append(mark)
    return {
        key: tuple(m.said.words(system) for m in sorted(marks, key=lambda m: not m.grave))
        for key, marks in found.items()
    }


def volume_rows(vehicle: Vehicle, rows: Sequence[Element], at: Flowing) -> list[VolumeRow]:
    """Volumes of a version: its stretches, its plenums and boxes net of what sticks in, and a two-stroke's crankcase."""
    motor = engine_of(vehicle)
    elements = [core_element(e) for e in rows]
    ducts = volumes.duct_rows(elements, motor.displacement, motor.cylinders, at.volume_flow, at.duty.pressure)
    runners = next((r.branches for r in rows if r.kind == RUNNER), 0)
    boxes = []
    for e in rows:
        if kind_of(e.kind).holds and (figure := plenum_figure(e, runners)) is not None:
            boxes.append(VolumeRow(e.name, figure, volumes.ratio_figure(figure, motor.displacement)))
    cases = []
    if vehicle.case_volume and vehicle.bore and vehicle.stroke:
        figures_of_case = volumes.crankcase_figures(vehicle.bore, vehicle.stroke, vehicle.case_volume)
        cases = [VolumeRow("crankcase, piston up", *figures_of_case)]
    first = [row for row in ducts if row.what == volumes.RUNNER_AND_PORT_WORDS]
    return [*first, *boxes, *(row for row in ducts if row not in first), *cases]


def stretch(version: Version) -> dict[int, float]:
    """Where each element begins on the axis [m]."""
    found, x = {}, 0.0
    for e in version.elements:
        found[e.key] = x
        x += e.length
    return found


def heights(element: Element) -> tuple[float, float]:
    """Height of an element at entry and exit as it is drawn [m]: equal-area diameter, or the round vessel of its volume."""
    if element.volume:
        vessel = (4.0 * element.volume / (pi * element.length)) ** 0.5
        return vessel, vessel
    return section_of(element).equal_area_diameter, exit_of(element).equal_area_diameter
