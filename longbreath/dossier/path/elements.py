"""Turns rows of the path into core inputs: sections, elements, what is nominal, and what is still to be measured."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Protocol

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.core.basis.working import Figure, Given
from longbreath.core.path import calliper, sections, volumes, walk
from longbreath.core.path.kinds import ENGINE, kind_of
from longbreath.core.path.sections import Section
from longbreath.store.models import Element, SizeReading, Vehicle

SURFACES = {"drawn": walk.DRAWN, "cast": walk.CAST, "smooth": 1.0e-6}
SYMBOLS = {
    "diameter": ("D", "inside diameter"),
    "outside_diameter": ("OD", "outside diameter"),
    "wall": ("t", "wall"),
    "minor_outside": ("H", "outside height after squashing"),
    "width": ("w", "width"),
    "height": ("h", "height"),
    "corner_radius": ("r", "corner radius"),
    "length": ("L", "length"),
    "exit_diameter": ("D_2", "inside diameter at exit"),
}


def elements_of(db: Session, application_id: int, label: str = "") -> list[Element]:
    """Elements from mouth to tail; with a label, those of the path with A or B fitted."""
    query = select(Element).where(Element.application_id == application_id, Element.out_reason == "")
    if label:
        query = query.where(Element.belongs_to.in_((label, "both")))
    query = query.options(selectinload(Element.readings)).order_by(Element.position, Element.belongs_to, Element.id)
    return list(db.scalars(query))


def taken_out(db: Session, application_id: int) -> list[Element]:
    """Elements that are not part of the path any more, with the reason."""
    query = select(Element).where(Element.application_id == application_id, Element.out_reason != "")
    return list(db.scalars(query.order_by(Element.position, Element.id)))


class Sized(Protocol):
    """An element or a card of one, as far as its section goes: shape, whether inside or outside was measured, sizes [m]."""

    @property
    def shape(self) -> str: ...
    @property
    def given_as(self) -> str: ...
    @property
    def outline(self) -> Sequence[Any] | None: ...


def size_names(element: Sized) -> tuple[str, ...]:
    """The sizes that make the section of an element."""
    if element.shape == "round" and element.given_as == "outside":
        return ("outside_diameter", "wall")
    return sections.SHAPES[element.shape][1]


def section_of(element: Sized) -> Section:
    """The inside cross-section of an element at its entry. Raises InputError beside the size that is missing."""
    sizes = {name: getattr(element, name) for name in SYMBOLS}
    if element.shape == "round" and element.given_as == "outside":
        for name in ("outside_diameter", "wall"):
            if sizes[name] is None:
                raise InputError("This is missing: outside diameter and wall give the inside.", name)
        sizes["diameter"] = sections.tube_inside(sizes["outside_diameter"] or 0.0, sizes["wall"] or 0.0)
    return sections.section_of(element.shape, sizes, [(x, y) for x, y in element.outline or ()])


def exit_of(element: Element) -> Section:
    """The section at the exit: as at entry unless another diameter was measured there."""
    return sections.round_section(element.exit_diameter) if element.exit_diameter else section_of(element)


def is_nominal(element: Element) -> bool:
    """Whether any size of the section or the length is nominal or remembered."""
    return element.provenance == "nominal" or bool(set(element.nominal_sizes) & {*size_names(element), "length"})


def precision_of(element: Element) -> float | None:
    """± of its sizes [m]: the newest readings' or the tool's; widened for nominal sizes."""
    taken = [
        readings_figures(element, name).mean.uncertainty or 0.0
        for name in size_names(element)
        if batch_of(element, name)
    ]
    known = max(taken) if taken else element.precision
    if is_nominal(element):
        return calliper.widened(section_of(element).hydraulic_diameter, known)
    return known


def batch_of(element: Element, size: str) -> list[SizeReading]:
    """The readings of a size that count: those of its newest batch."""
    found = [r for r in element.readings if r.size == size]
    newest = max((r.batch for r in found), default=0)
    return [r for r in found if r.batch == newest]


def readings_figures(element: Element, size: str) -> calliper.Callipers:
    """Mean, ovality and out-of-round of the readings of a size that count."""
    found = batch_of(element, size)
    rows = tuple(
        f"{r.value * 1000:.3f} mm {r.place} with {r.tool}, by {r.taken_by.name}, {r.taken_at:%d %b %Y}" for r in found
    )
    return calliper.read(
        [r.value for r in found],
        max((r.precision for r in found), default=0.0),
        f"{element.name}, {SYMBOLS[size][1]}",
        rows,
    )


def area_figure(element: Element) -> Figure:
    """The inside area of an element at entry, with working."""
    givens: list[Given] = []
    rows: tuple[str, ...] = ()
    for name in size_names(element):
        symbol, meaning = SYMBOLS[name]
        read = batch_of(element, name)
        origin = f"mean of {len(read)} readings" if read else element.tool
        givens.append(Given(symbol, meaning, getattr(element, name) or 0.0, "length", origin))
        if read:
            rows = (*rows, *readings_figures(element, name).mean.working.rows)
    return sections.area_figure(
        element.name,
        section_of(element),
        tuple(givens),
        precision_of(element),
        is_nominal(element),
        element.shape,
        rows,
    )


def core_element(element: Element) -> walk.PathElement:
    """An element for the core."""
    round_area = None
    if element.shape == "squashed" and element.outside_diameter is not None:
        round_area = sections.round_section(sections.tube_inside(element.outside_diameter, element.wall or 0.0)).area
    return walk.PathElement(
        element.id,
        element.name,
        element.kind,
        element.side,
        element.length,
        section_of(element),
        exit_of(element),
        branches=element.branches,
        roughness=SURFACES[element.wall_surface],
        bend_angle=element.bend_angle or 0.0,
        bend_radius=element.bend_radius,
        mouth_radius=element.mouth_radius or 0.0,
        volume=net_volume(element),
        drop=element.loss_drop,
        drop_flow=element.loss_flow,
        burr=element.burr or 0.0,
        proud=element.proud or 0.0,
        round_area=round_area,
        pressure_ratio=element.pressure_ratio,
        outlet_temperature=element.outlet_temperature,
        open_share=element.open_share or 1.0,
        nominal=is_nominal(element),
    )


def plenum_figure(element: Element, stacks: int) -> Figure | None:
    """Net volume of a plenum or box: as measured, less what `stacks` runners stick into it, plus its spacer. None without a volume."""
    if element.volume is None:
        return None
    outside = sections.round_section(element.stack_outside).area if element.stack_outside else 0.0
    return volumes.plenum_figure(
        element.volume,
        stacks if element.stack_height else 0,
        outside,
        element.stack_height or 0.0,
        element.spacer_area or 0.0,
        element.spacer_height or 0.0,
        element.volume_precision,
    )


def net_volume(element: Element) -> float | None:
    """Volume of a box or plenum for the core [m3]: with its spacer, without what sticks in for one branch each."""
    spacer = (element.spacer_area or 0.0) * (element.spacer_height or 0.0)
    return None if element.volume is None else element.volume + spacer


@dataclass(frozen=True)
class Owed:
    """Something about the path that is still to be measured: the element, what, and whether a claim waits for it."""

    element: Element
    words: str


def owed(elements: Sequence[Element], vehicle: Vehicle) -> list[Owed]:
    """To-dos of a path: nominal sizes, losses nobody measured, branches that do not share out the cylinders."""
    found = []
    for e in elements:
        names = [SYMBOLS[n][1] for n in e.nominal_sizes if n in SYMBOLS] or (
            ["all sizes"] if e.provenance == "nominal" else []
        )
        if names:
            found.append(Owed(e, f"measure {', '.join(names)}: nominal so far"))
        if kind_of(e.kind).own_loss and e.loss_drop is None and e.side != ENGINE:
            found.append(Owed(e, "measure the pressure drop across it: none is counted for its own inside"))
        if vehicle.cylinders % e.branches and e.branches % vehicle.cylinders:
            branches, cylinders = counted(e.branches, "branch", "branches"), counted(vehicle.cylinders, "cylinder")
            found.append(Owed(e, f"{branches} do not share out {cylinders}: count again"))
    return found
