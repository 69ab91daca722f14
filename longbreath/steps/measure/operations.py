"""What Measure does to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.errors import InputError
from longbreath.store.evidence import section_of
from longbreath.store.models import Application, Element


def save_element(db: Session, application: Application, element: Element | None, **values: Any) -> Element:
    """Add or change an element. Raises InputError where its section or volume is missing or cannot be."""
    found = element or Element(application_id=application.id)
    checked = Element(**values)
    wanted = ("diameter",) if values["shape"] == "round" else ("width", "height")
    for name in wanted:
        if values[name] is None:
            raise InputError("This is missing for the section chosen.", name)
    section_of(checked)
    if values["kind"] in ("plenum", "air box") and values["volume"] is None:
        raise InputError("A plenum or box needs its volume.", "volume")
    if values["provenance"] == "measured" and not values["tool"].strip():
        raise InputError("Say what it was measured with, or mark it nominal.", "tool")
    for name, value in values.items():
        setattr(found, name, value)
    db.add(found)
    return found
