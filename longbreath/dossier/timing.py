"""Degree-wheel sheets and the port ladder of a dossier."""

from __future__ import annotations

from dataclasses import dataclass
from math import degrees, pi, radians
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.timing import port_ladder, time_area, wheel
from longbreath.dossier.conditions import engine_of
from longbreath.store.models import Application, LadderRung, User, Vehicle, WheelSheet


def sheets_of(db: Session, application_id: int) -> list[WheelSheet]:
    """All sheets of an application, newest first."""
    return list(
        db.scalars(
            select(WheelSheet).where(WheelSheet.application_id == application_id).order_by(WheelSheet.id.desc())
        )
    )


def standing(sheets: list[WheelSheet]) -> list[WheelSheet]:
    """The sheets that no newer one has taken the place of."""
    gone = {s.supersedes_id for s in sheets}
    return [s for s in sheets if s.id not in gone]


def core_sheet(sheet: WheelSheet) -> wheel.Sheet:
    """A sheet for the core; a stop, where it was met, gives the wheel's false dead centre."""
    offset = 0.0
    if sheet.stop_before is not None and sheet.stop_after is not None:
        offset = wheel.dead_centre_figure(sheet.stop_before, sheet.stop_after).value
    return wheel.Sheet(sheet.kind, sheet.readings, offset, sheet.tares, sheet.totals, sheet.checking_lift)


def rungs_of(db: Session, application_id: int) -> list[LadderRung]:
    """The port ladder of an application, from the lowest rung."""
    query = select(LadderRung).where(LadderRung.application_id == application_id)
    return list(db.scalars(query.order_by(LadderRung.position, LadderRung.id)))


def core_rung(rung: LadderRung) -> port_ladder.Rung:
    """A rung for the core."""
    values = {}
    for key, entry in rung.values.items():
        value = entry["value"]
        values[key] = port_ladder.Value(value if isinstance(value, str) else float(value), entry["grade"])
    return port_ladder.Rung(rung.name, values)


@dataclass(frozen=True)
class Shown:
    """One sheet with all that follows from it."""

    record: WheelSheet
    sheet: wheel.Sheet
    figures: dict[str, Figure]
    findings: tuple[wheel.Finding, ...]
    closing: wheel.Closing | None
    trouble: str


def shown(record: WheelSheet, vehicle: Vehicle, speed: float) -> Shown:
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
        figures |= {f.name: f for f in areas(record, sheet, vehicle, speed)}
        closing = closing_of(record, sheet, vehicle)
    except InputError as error:
        trouble = error.message
    if closing is not None:
        figures["closing-limit"] = closing.limit
    return Shown(record, sheet, figures, wheel.findings(sheet), closing, trouble)


def _cylinder(vehicle: Vehicle) -> float:
    return engine_of(vehicle).displacement / vehicle.cylinders


def areas(record: WheelSheet, sheet: wheel.Sheet, vehicle: Vehicle, speed: float) -> tuple[Figure, ...]:
    """Mean area, time-area and specific time-area, where the window's sizes are known; empty otherwise."""
    found = _ANGLE_AREAS[record.kind](record.window, sheet, vehicle)
    if found is None:
        return ()
    value, duration, how, givens, notes = found
    return time_area.figures(value, duration, speed, _cylinder(vehicle), how, givens, notes)


_Found = tuple[float, float, str, tuple[Given, ...], tuple[str, ...]]


def _poppet(w: dict[str, float], sheet: wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    if not sheet.has("intake") or not all(
        w.get(k) for k in ("valves", "valve_diameter", "throat_diameter", "peak_lift")
    ):
        return None
    gear = ValveGear(int(w["valves"]), w["valve_diameter"], w["throat_diameter"], w.get("stem_diameter", 0.0))
    duration = wheel.opening(sheet, "intake").duration
    givens = (Given("L", "peak lift", w["peak_lift"], "length"), Given("θ", "intake duration", duration, "angle"))
    note = (
        "Lift taken as a sine squared over the duration at the checking lift, until a lift table is measured.",
    )
    return (
        time_area.poppet(duration, w["peak_lift"], gear),
        duration,
        "smaller of curtain and throat",
        givens,
        note,
    )


def _disc(w: dict[str, float], sheet: wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    if not w.get("area") or not w.get("span"):
        return None
    duration = wheel.opening(sheet, "intake").duration
    givens = (
        Given("A", "window", w["area"], "area"),
        Given("φ", "it spans", w["span"], "angle"),
        Given("θ", "duration", duration, "angle"),
    )
    return (
        time_area.disc_window(duration, w["span"], w["area"]),
        duration,
        "window uncovered evenly over its span",
        givens,
        (),
    )


def _piston(w: dict[str, float], sheet: wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    rod = w.get("rod") or vehicle.rod
    if not w.get("depth") or not w.get("top_width") or rod is None:
        return None
    opens = wheel.port_angle(w["depth"], vehicle.stroke, rod).value
    value = time_area.piston_port(w["depth"], vehicle.stroke, rod, w["top_width"], w.get("bottom_width") or None)
    givens = (
        Given("h", "top of the window below top dead centre", w["depth"], "length"),
        Given("w_1", "width at the top", w["top_width"], "length"),
    )
    return value, 2 * (pi - opens), "exhaust window by the slider crank", givens, ()


def _rotary(w: dict[str, float], sheet: wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    if not w.get("area") or not sheet.has("intake"):
        return None
    duration, ramp = wheel.opening(sheet, "intake").duration, w.get("ramp", 0.0)
    value = time_area.trapezoid(ramp, duration - 2 * ramp, ramp, w["area"])
    givens = (Given("A", "intake port", w["area"], "area"), Given("φ", "opens and closes over", ramp, "angle"))
    return (
        value,
        duration,
        "port uncovered evenly over its ramp",
        givens,
        ("Of the shaft: a rotor takes three turns of it.",),
    )


_ANGLE_AREAS = {"poppet": _poppet, "disc": _disc, "piston": _piston, "rotary": _rotary}


def closing_of(record: WheelSheet, sheet: wheel.Sheet, vehicle: Vehicle) -> wheel.Closing | None:
    """How late a disc closes for its inlet; None without an inlet length."""
    length = record.window.get("inlet_length")
    closes = sheet.read("intake_closes")
    if record.kind != "disc" or not length or closes is None:
        return None
    return wheel.judge_closing(closes, length, _cylinder(vehicle))


def headline(a: Shown, b: Shown) -> str:
    """What B does other than A, in a sentence; an empty text if they read the same."""
    found = []
    for name, label in wheel.READINGS[a.record.kind]:
        one, other = a.sheet.read(name), b.sheet.read(name)
        if one is None or other is None or abs(one - other) < radians(0.25):
            continue
        later = (other > one) != ("before" in label)
        found.append(
            f"{label.split(',')[0].lower()} {abs(degrees(other - one)):.1f}° {'later' if later else 'earlier'}"
        )
    if not found:
        return f"{b.record.title} reads the same as {a.record.title}."
    return f"{b.record.title[0].upper()}{b.record.title[1:]}: {', '.join(found)} than {a.record.title}."


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
