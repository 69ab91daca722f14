"""What timing does to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.timing import port_ladder, wheel
from longbreath.dossier.timing import core_sheet
from longbreath.store.models import Application, LadderRung, User, WheelSheet


def add_sheet(
    db: Session, application: Application, actor: User, as_read: bool = False, again: WheelSheet | None = None, **values: Any
) -> WheelSheet:  # fmt: skip
    """Record a degree-wheel sheet; read again, it takes the place of the one before, which stays kept.

    Raises InputError beside a reading that cannot be, and beside a total that the parts miss unless it is kept `as_read`.
    """
    if (values.get("stop_before") is None) != (values.get("stop_after") is None):
        raise InputError(
            "A stop is met twice: before and after.",
            "stop_after" if values.get("stop_after") is None else "stop_before",
        )
    if again is not None and not values.get("why"):
        raise InputError("Say why it was read again.", "why")
    sheet = WheelSheet(
        application_id=application.id, taken_by_id=actor.id, supersedes_id=again.id if again else None, **values
    )
    checked = core_sheet(sheet)
    ports = [port for port in wheel.PORTS[sheet.kind] if checked.has(port)]
    if not ports:
        first = wheel.READINGS[sheet.kind][0][0]
        raise InputError("Read at least one port, its opening and its closing.", f"read_{first}")
    for port in ports:
        try:
            wheel.opening(checked, port)
        except InputError as error:
            raise InputError(error.message, f"read_{error.field}") from None
    if not as_read and (wrong := wheel.findings(checked)):
        field = wrong[0].field
        name = f"total_{field.removesuffix('_total')}" if field.endswith("_total") else f"read_{field}"
        raise InputError(f"{wrong[0].words} To keep it all the same, tick “as read” below.", name)
    sheet.taken_by = actor
    db.add(sheet)
    db.flush()
    return sheet


def save_rung(db: Session, application: Application, rung: LadderRung | None, **values: Any) -> LadderRung:
    """Add or change a step of porting. Raises InputError for a speed range that runs backwards."""
    entered = values["values"]
    for key, entry in entered.items():
        port_ladder.Value(entry["value"], entry["grade"])
        if key not in port_ladder.BY_KEY:
            raise InputError("The ladder has no such column.", "name")
    low, high = (entered.get(key, {}).get("value") for key in ("speed_from", "speed_to"))
    if low is not None and high is not None and high <= low:
        raise InputError("It pulls from a lower speed to a higher one.", "value_speed_to")
    found = rung or LadderRung(application_id=application.id)
    for name, value in values.items():
        setattr(found, name, value)
    db.add(found)
    db.flush()
    return found
