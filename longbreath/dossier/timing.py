"""Degree-wheel sheets and the port ladder of a dossier."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.timing import closing as closing_rules
from longbreath.core.timing import port_ladder, wheel, windows
from longbreath.dossier.commands import put
from longbreath.dossier.conditions import cylinder_of
from longbreath.store.models import Application, LadderRung, Vehicle, WheelSheet
from longbreath.store.unit_of_work import UnitOfWork


def sheets_of(db: Session, application_id: int) -> list[WheelSheet]:
    """All sheets of an application, newest first."""
    return list(
        db.scalars(select(WheelSheet).where(WheelSheet.application_id == application_id).order_by(WheelSheet.id.desc()))
    )


def standing(sheets: list[WheelSheet]) -> list[WheelSheet]:
    """The sheets that no newer one has taken the place of."""
    gone = {s.supersedes_id for s in sheets}
    return [s for s in sheets if s.id not in gone]


def core_sheet(sheet: WheelSheet | WheelCard) -> wheel.Sheet:
    """A sheet for the core; a stop, where it was met, gives the wheel's false dead centre."""
    offset = 0.0
    if sheet.stop_before is not None and sheet.stop_after is not None:
        offset = wheel.dead_centre_figure(sheet.stop_before, sheet.stop_after).value
    return wheel.Sheet(sheet.kind, sheet.readings, offset, sheet.tares, sheet.totals, sheet.checking_lift)


def rungs_of(db: Session, application_id: int) -> list[LadderRung]:
    """The port ladder of an application, from the lowest rung."""
    query = select(LadderRung).where(LadderRung.application_id == application_id)
    return list(db.scalars(query.order_by(LadderRung.position, LadderRung.id)))


def core_rung(rung: LadderRung) -> port_ladder.PortRung:
    """A rung for the core."""
    values = {}
    for key, entry in rung.values.items():
        value = entry["value"]
        values[key] = port_ladder.Value(value if isinstance(value, str) else float(value), entry["grade"])
    return port_ladder.PortRung(rung.name, values)


def usual_kind(vehicle: Vehicle) -> str:
    """What a vehicle's timing is read from, as a start."""
    return {"rotary": "rotary", "two-stroke": "disc"}.get(vehicle.cycle, "poppet")


@dataclass(frozen=True)
class WheelShown:
    """One sheet with all that follows from it."""

    record: WheelSheet
    sheet: wheel.Sheet
    figures: dict[str, Figure]
    findings: tuple[wheel.Finding, ...]
    closing: closing_rules.Closing | None
    trouble: str


def shown(record: WheelSheet, vehicle: Vehicle, speed: float) -> WheelShown:
    """Figures, findings and time-area of a sheet at a speed [rad/s]."""
    sheet = core_sheet(record)
    rows = (f"{record.title}, {record.held_on:%d %b %Y}, read by {record.taken_by.name}",)
    figures: dict[str, Figure] = {}
    for port in wheel.PORTS[record.kind]:
        if sheet.has(port):
            figures |= wheel.port_figures(sheet, port, rows)
    figures |= wheel.pair_figures(sheet, rows)
    if record.stop_before and record.stop_after:
        figures["dead-centre"] = wheel.dead_centre_figure(record.stop_before, record.stop_after)
    trouble, closing = "", None
    try:
        opened = windows.figures_of(
            sheet, record.window, vehicle.stroke or 0.0, vehicle.rod, cylinder_of(vehicle), speed
        )
        figures |= {f.name: f for f in opened}
        closing = closing_of(record, sheet, vehicle)
    except InputError as error:
        trouble = error.message
    if closing is not None:
        figures["closing-limit"] = closing.limit
    return WheelShown(record, sheet, figures, wheel.findings(sheet), closing, trouble)


def closing_of(record: WheelSheet, sheet: wheel.Sheet, vehicle: Vehicle) -> closing_rules.Closing | None:
    """How late a disc closes for its inlet; None without an inlet length."""
    length = record.window.get("inlet_length")
    closes = sheet.read("intake_closes")
    if record.kind != "disc" or not length or closes is None:
        return None
    return closing_rules.judge_closing(closes, length, cylinder_of(vehicle))


@dataclass(frozen=True)
class WheelCard:
    """What a degree wheel reads: angles by name [rad], noted totals, what is taken off for worked ports, sizes of the
    window [SI], the piston stop met twice [rad], checking lift [m]."""

    title: str
    kind: str
    held_on: date
    readings: dict[str, float]
    label: str = ""
    totals: dict[str, float] = field(default_factory=dict)
    tares: dict[str, float] = field(default_factory=dict)
    window: dict[str, float] = field(default_factory=dict)
    stop_before: float | None = None
    stop_after: float | None = None
    checking_lift: float | None = None
    says: str = ""
    note: str = ""
    why: str = ""


def add_sheet(
    work: UnitOfWork, application: Application, card: WheelCard, as_read: bool = False, again: WheelSheet | None = None
) -> WheelSheet:
    """Record a degree-wheel sheet; read again, it takes the place of the one before, which stays kept.

    Raises InputError beside a reading that cannot be, and beside a total that the parts miss unless it is kept `as_read`.
    """
    if (card.stop_before is None) != (card.stop_after is None):
        missing = "stop_after" if card.stop_after is None else "stop_before"
        raise InputError("A stop is met twice: before and after.", missing)
    if again is not None and not card.why:
        raise InputError("Say why it was read again.", "why")
    _check_readings(core_sheet(card), as_read)
    sheet = WheelSheet(
        application_id=application.id, taken_by_id=work.actor.id, supersedes_id=again.id if again else None
    )
    put(sheet, card)
    sheet.taken_by = work.actor
    work.add(sheet)
    work.flush()
    return sheet


def _check_readings(sheet: wheel.Sheet, as_read: bool) -> None:
    """At least one port whole, each opening possible, and totals that add up unless they are kept as read."""
    ports = [port for port in wheel.PORTS[sheet.kind] if sheet.has(port)]
    if not ports:
        first = wheel.READINGS[sheet.kind][0][0]
        raise InputError("Read at least one port, its opening and its closing.", f"read_{first}")
    for port in ports:
        try:
            wheel.opening(sheet, port)
        except InputError as error:
            raise InputError(error.message, f"read_{error.field}") from None
    if not as_read and (wrong := wheel.findings(sheet)):
        field_name = wrong[0].field
        total = field_name.endswith("_total")
        name = f"total_{field_name.removesuffix('_total')}" if total else f"read_{field_name}"
        raise InputError(f"{wrong[0].words} To keep it all the same, tick “{KEEP_AS_READ}” below.", name)


KEEP_AS_READ = "Keep it as read, although it does not add up"
"""What the box is called that keeps readings which do not add up."""


@dataclass(frozen=True)
class RungCard:
    """One step of porting: its place on the ladder, its name, and its values with their grade by column."""

    name: str
    position: int
    values: dict[str, dict[str, Any]]


def save_rung(work: UnitOfWork, application: Application, rung: LadderRung | None, card: RungCard) -> LadderRung:
    """Add or change a step of porting. Raises InputError for a speed range that runs backwards."""
    for key, entry in card.values.items():
        port_ladder.Value(entry["value"], entry["grade"])
        if key not in port_ladder.BY_KEY:
            raise InputError("The ladder has no such column.", "name")
    low, high = (card.values.get(key, {}).get("value") for key in ("speed_from", "speed_to"))
    if low is not None and high is not None and high <= low:
        raise InputError("It pulls from a lower speed to a higher one.", "value_speed_to")
    found = rung or LadderRung(application_id=application.id)
    put(found, card)
    work.add(found)
    work.flush()
    return found
