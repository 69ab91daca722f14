"""What the path does to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.path import losses
from longbreath.dossier.path.elements import core_element, elements_of, section_of, size_names
from longbreath.store.models import Application, Element, Face, SizeReading, User

ROUND_BY = ("outside_diameter", "wall")


def save_element(db: Session, application: Application, element: Element | None, **values: Any) -> Element:
    """Add or change an element. Raises InputError where its section or volume is missing or cannot be."""
    face_id = values.pop("face_id", None)
    checked = Element(branches=1, given_as="inside", wall_surface="drawn", nominal_sizes=[])
    for name, value in values.items():
        setattr(checked, name, value)
    if checked.shape == "outline":
        checked.outline = _outline(db, application, face_id, element)
    _check(checked)
    found = element or Element(application_id=application.id)
    if element is None:
        _make_room(db, application, checked)
    for name, value in {**values, "outline": checked.outline}.items():
        setattr(found, name, value)
    db.add(found)
    return found


def _outline(db: Session, application: Application, face_id: int | None, element: Element | None) -> list[Any]:
    face = db.get(Face, face_id) if face_id else None
    if face is not None and face.application_id == application.id:
        return face.outline
    if element is not None and element.outline:
        return element.outline
    raise InputError("Choose a traced face; trace one under Faces first.", "face_id")


def _check(e: Element) -> None:
    section = section_of(e)
    if e.shape == "round" and e.given_as == "outside" and e.diameter is not None:
        raise InputError("Inside and outside are not mixed: leave this empty, or choose “inside”.", "diameter")
    if e.kind in ("plenum", "air box") and e.volume is None:
        raise InputError("A plenum or box needs its volume.", "volume")
    if e.provenance == "measured" and not (e.tool or "").strip():
        raise InputError("Say what it was measured with, or mark it nominal.", "tool")
    if (e.loss_drop is None) != (e.loss_flow is None):
        raise InputError(
            "A measured loss needs both: the drop and the flow it was read at.",
            "loss_flow" if e.loss_flow is None else "loss_drop",
        )
    if e.bend_angle and e.bend_radius is not None and e.bend_radius < section.hydraulic_diameter / 2:
        raise InputError("A bend's centre line cannot be tighter than half the diameter.", "bend_radius")
    if e.bend_radius is not None and not e.bend_angle:
        raise InputError("A radius without an angle: how far does it turn?", "bend_angle")
    for name in ("burr", "proud"):
        try:
            losses.ring(section, getattr(e, name) or 0.0)
        except InputError as error:
            raise InputError(error.message, name) from None
    if e.volume is None and (e.stack_height or e.spacer_height):
        raise InputError("Give the volume they stick into first.", "volume")


def _make_room(db: Session, application: Application, new: Element) -> None:
    """Move the elements behind on by one where a place is taken already by the same version of the path."""
    there = elements_of(db, application.id)
    same = [e for e in there if e.position == new.position]
    if any(e.belongs_to == new.belongs_to or "both" in (e.belongs_to, new.belongs_to) for e in same):
        for e in there:
            if e.position >= new.position:
                e.position += 1


def add_readings(
    db: Session,
    element: Element,
    actor: User,
    size: str,
    tool: str,
    precision: float,
    taken: list[tuple[float, str]],
) -> list[SizeReading]:
    """Record readings of one size; their mean becomes the size. Earlier readings stay, the newest batch counts.

    Raises InputError for a size that this element has not, or a mean that its section cannot have.
    """
    if size not in (*size_names(element), "length", "exit_diameter"):
        raise InputError("This element has no such size.", "size")
    newest = db.scalar(select(func.max(SizeReading.batch)).where(SizeReading.element_id == element.id)) or 0
    found = [SizeReading(element_id=element.id, size=size, batch=newest + 1, value=value, place=place, tool=tool,
                         precision=precision, taken_by_id=actor.id) for value, place in taken]  # fmt: skip
    before = getattr(element, size)
    setattr(element, size, sum(value for value, _ in taken) / len(taken))
    try:
        section_of(element)
    except InputError as error:
        setattr(element, size, before)
        raise InputError(
            f"With a mean of {sum(v for v, _ in taken) / len(taken) * 1000:.2f} mm: {error.message}", "readings"
        ) from None
    element.nominal_sizes = [name for name in element.nominal_sizes if name != size]
    _settle_provenance(element, size)
    for reading in found:
        reading.taken_by = actor
        db.add(reading)
    db.flush()
    db.expire(element, ["readings"])
    return found


def _settle_provenance(element: Element, size: str) -> None:
    """An element marked nominal as a whole is nominal in its other sizes only, once one of them is read."""
    if element.provenance == "nominal":
        element.provenance = "measured"
        element.nominal_sizes = [name for name in (*size_names(element), "length") if name != size]


def keep_trial(db: Session, element: Element, diameter: float) -> Element:
    """Make a tried inside diameter [m] the design's size: nominal, until it is measured. Raises InputError for A's parts."""
    if element.belongs_to == "A":
        raise InputError("A stock part is as it is; a trial can only become the product's size.", "diameter")
    element.shape, element.given_as, element.diameter = "round", "inside", diameter
    element.nominal_sizes = sorted({*element.nominal_sizes, "diameter"})
    core_element(element)
    db.flush()
    return element


def bring_back(db: Session, element: Element) -> None:
    """Make an element that was taken out a part of the path again."""
    element.out_reason = ""
    db.flush()


def take_out(db: Session, element: Element, reason: str) -> None:
    """Take an element out of the path, with the reason; it stays kept."""
    element.out_reason = reason
    db.flush()
