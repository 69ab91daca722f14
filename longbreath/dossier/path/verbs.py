"""What the path does to the records: elements, readings of their sizes, trials that are kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select

from longbreath.core.basis.errors import InputError
from longbreath.core.path import losses
from longbreath.core.path.kinds import kind_of
from longbreath.dossier.commands import put
from longbreath.dossier.path.elements import core_element, section_of, size_names
from longbreath.store.models import Application, Element, Face, SizeReading
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class ElementCard:
    """One element of the path as it was measured: sizes [m], angles [rad], volumes [m3], areas [m2], loss [Pa] at a flow
    [m3/s], temperature [K], pressure ratio [1]. `outline` [m] belongs to a traced shape."""

    position: int
    kind: str
    name: str
    side: str
    length: float
    belongs_to: str = "both"
    branches: int = 1
    shape: str = "round"
    given_as: str = "inside"
    diameter: float | None = None
    outside_diameter: float | None = None
    wall: float | None = None
    minor_outside: float | None = None
    width: float | None = None
    height: float | None = None
    corner_radius: float | None = None
    outline: Sequence[Any] | None = None
    exit_diameter: float | None = None
    tool: str = ""
    precision: float | None = None
    provenance: str = "measured"
    nominal_sizes: Sequence[str] = ()
    wall_surface: str = "drawn"
    bend_angle: float | None = None
    bend_radius: float | None = None
    mouth_radius: float | None = None
    burr: float | None = None
    proud: float | None = None
    loss_drop: float | None = None
    loss_flow: float | None = None
    open_share: float | None = None
    pressure_ratio: float | None = None
    outlet_temperature: float | None = None
    volume: float | None = None
    volume_precision: float | None = None
    stack_height: float | None = None
    stack_outside: float | None = None
    spacer_area: float | None = None
    spacer_height: float | None = None


def outline_of(work: UnitOfWork, application: Application, face_id: int | None, element: Element | None) -> list[Any]:
    """The outline of a face that was traced, or the one an element has already. Raises InputError where there is neither."""
    face = work.get(Face, face_id) if face_id else None
    if face is not None and face.application_id == application.id:
        return face.outline
    if element is not None and element.outline:
        return element.outline
    raise InputError("Choose a traced face; trace one under Faces first.", "face_id")


def save_element(work: UnitOfWork, application: Application, element: Element | None, card: ElementCard) -> Element:
    """Add or change an element. Raises InputError where its section or volume is missing or cannot be."""
    _check(card)
    found = element or Element(application_id=application.id)
    if element is None:
        _make_room(work, application, card)
    put(found, card, nominal_sizes=list(card.nominal_sizes))
    work.add(found)
    work.flush()
    return found


def _check(card: ElementCard) -> None:
    section = section_of(card)
    if card.shape == "round" and card.given_as == "outside" and card.diameter is not None:
        raise InputError("Inside and outside are not mixed: leave this empty, or choose “inside”.", "diameter")
    if kind_of(card.kind).holds and card.volume is None:
        raise InputError("A plenum or box needs its volume.", "volume")
    if card.provenance == "measured" and not (card.tool or "").strip():
        raise InputError("Say what it was measured with, or mark it nominal.", "tool")
    if (card.loss_drop is None) != (card.loss_flow is None):
        missing = "loss_flow" if card.loss_flow is None else "loss_drop"
        raise InputError("A measured loss needs both: the drop and the flow it was read at.", missing)
    _check_bend(card, section.hydraulic_diameter)
    for name in ("burr", "proud"):
        try:
            losses.ring(section, getattr(card, name) or 0.0)
        except InputError as error:
            raise InputError(error.message, name) from None
    if card.volume is None and (card.stack_height or card.spacer_height):
        raise InputError("Give the volume they stick into first.", "volume")


def _check_bend(card: ElementCard, diameter: float) -> None:
    if card.bend_angle and card.bend_radius is not None and card.bend_radius < diameter / 2:
        raise InputError("A bend's centre line cannot be tighter than half the diameter.", "bend_radius")
    if card.bend_radius is not None and not card.bend_angle:
        raise InputError("A radius without an angle: how far does it turn?", "bend_angle")


def _make_room(work: UnitOfWork, application: Application, new: ElementCard) -> None:
    """Move the elements behind on by one where a place is taken already by the same version of the path."""
    there = select(Element).where(Element.application_id == application.id, Element.out_reason == "")
    from_here = list(work.scalars(there.where(Element.position >= new.position)))
    same = [e for e in from_here if e.position == new.position]
    if any(e.belongs_to == new.belongs_to or "both" in (e.belongs_to, new.belongs_to) for e in same):
        for e in from_here:
            e.position += 1


@dataclass(frozen=True)
class SizeReadings:
    """Readings of one size with one tool: pairs of value [m] and place, and how good the tool is [m]."""

    size: str
    tool: str
    precision: float
    taken: Sequence[tuple[float, str]]

    @property
    def mean(self) -> float:
        """Their mean [m]."""
        return sum(value for value, _ in self.taken) / len(self.taken)


def add_readings(work: UnitOfWork, element: Element, readings: SizeReadings) -> list[SizeReading]:
    """Record readings of one size; their mean becomes the size. Earlier readings stay, the newest batch counts.

    Raises InputError for a size that this element has not, or a mean that its section cannot have.
    """
    size = readings.size
    if size not in (*size_names(element), "length", "exit_diameter"):
        raise InputError("This element has no such size.", "size")
    newest = work.scalar(select(func.max(SizeReading.batch)).where(SizeReading.element_id == element.id)) or 0
    before = getattr(element, size)
    setattr(element, size, readings.mean)
    try:
        section_of(element)
    except InputError as error:
        setattr(element, size, before)
        words = f"With a mean of {readings.mean * 1000:.2f} mm: {error.message}"
        raise InputError(words, "readings") from None
    element.nominal_sizes = [name for name in element.nominal_sizes if name != size]
    _settle_provenance(element, size)
    found = [
        SizeReading(
            element_id=element.id,
            size=size,
            batch=newest + 1,
            value=value,
            place=place,
            tool=readings.tool,
            precision=readings.precision,
            taken_by_id=work.actor.id,
        )
        for value, place in readings.taken
    ]
    for reading in found:
        reading.taken_by = work.actor
        work.add(reading)
    work.flush()
    work.expire(element, ["readings"])
    return found


def _settle_provenance(element: Element, size: str) -> None:
    """An element marked nominal as a whole is nominal in its other sizes only, once one of them is read."""
    if element.provenance == "nominal":
        element.provenance = "measured"
        element.nominal_sizes = [name for name in (*size_names(element), "length") if name != size]


def keep_trial(work: UnitOfWork, element: Element, diameter: float) -> Element:
    """Make a tried inside diameter [m] the design's size: nominal, until it is measured. Raises InputError for A's parts."""
    if element.belongs_to == "A":
        raise InputError("A stock part is as it is; a trial can only become the product's size.", "diameter")
    element.shape, element.given_as, element.diameter = "round", "inside", diameter
    element.nominal_sizes = sorted({*element.nominal_sizes, "diameter"})
    core_element(element)
    work.flush()
    return element


def bring_back(work: UnitOfWork, element: Element) -> None:
    """Make an element that was taken out a part of the path again."""
    element.out_reason = ""
    work.flush()


def take_out(work: UnitOfWork, element: Element, reason: str) -> None:
    """Take an element out of the path, with the reason; it stays kept."""
    element.out_reason = reason
    work.flush()
