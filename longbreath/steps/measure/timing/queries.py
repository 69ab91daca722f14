"""Reads of timing: figures of sheets, the wheel, time-area, and how late a disc may close."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import degrees, pi, radians

from markupsafe import Markup

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.timing import time_area
from longbreath.core.timing import wheel as timing_wheel
from longbreath.dossier.evidence import engine_of
from longbreath.dossier.timing import core_sheet
from longbreath.drawing.wheel import Arc, wheel
from longbreath.store.models import Vehicle, WheelSheet


@dataclass(frozen=True)
class Shown:
    """One sheet with all that follows from it."""

    record: WheelSheet
    sheet: timing_wheel.Sheet
    figures: dict[str, Figure]
    findings: tuple[timing_wheel.Finding, ...]
    closing: timing_wheel.Closing | None
    trouble: str


def shown(record: WheelSheet, vehicle: Vehicle, speed: float) -> Shown:
    """Figures, findings and time-area of a sheet at a speed [rad/s]."""
    sheet = core_sheet(record)
    rows = (f"{record.title}, {record.held_on:%d %b %Y}, read by {record.taken_by.name}",)
    figures: dict[str, Figure] = {}
    for port in timing_wheel.PORTS[record.kind]:
        if sheet.has(port):
            figures |= timing_wheel.port_figures(sheet, port, rows)
    figures |= timing_wheel.pair_figures(sheet, rows)
    if record.stop_before and record.stop_after:
        figures["dead-centre"] = timing_wheel.dead_centre_figure(record.stop_before, record.stop_after)
    trouble, closing = "", None
    try:
        figures |= {f.name: f for f in areas(record, sheet, vehicle, speed)}
        closing = closing_of(record, sheet, vehicle)
    except InputError as error:
        trouble = error.message
    if closing is not None:
        figures["closing-limit"] = closing.limit
    return Shown(record, sheet, figures, timing_wheel.findings(sheet), closing, trouble)


def _cylinder(vehicle: Vehicle) -> float:
    return engine_of(vehicle).displacement / vehicle.cylinders


def areas(record: WheelSheet, sheet: timing_wheel.Sheet, vehicle: Vehicle, speed: float) -> tuple[Figure, ...]:
    """Mean area, time-area and specific time-area, where the window's sizes are known; empty otherwise."""
    found = _ANGLE_AREAS[record.kind](record.window, sheet, vehicle)
    if found is None:
        return ()
    value, duration, how, givens, notes = found
    return time_area.figures(value, duration, speed, _cylinder(vehicle), how, givens, notes)


_Found = tuple[float, float, str, tuple[Given, ...], tuple[str, ...]]


def _poppet(w: dict[str, float], sheet: timing_wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    if not sheet.has("intake") or not all(
        w.get(k) for k in ("valves", "valve_diameter", "throat_diameter", "peak_lift")
    ):
        return None
    gear = ValveGear(int(w["valves"]), w["valve_diameter"], w["throat_diameter"], w.get("stem_diameter", 0.0))
    duration = timing_wheel.opening(sheet, "intake").duration
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


def _disc(w: dict[str, float], sheet: timing_wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    if not w.get("area") or not w.get("span"):
        return None
    duration = timing_wheel.opening(sheet, "intake").duration
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


def _piston(w: dict[str, float], sheet: timing_wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    rod = w.get("rod") or vehicle.rod
    if not w.get("depth") or not w.get("top_width") or rod is None:
        return None
    opens = timing_wheel.port_angle(w["depth"], vehicle.stroke, rod).value
    value = time_area.piston_port(w["depth"], vehicle.stroke, rod, w["top_width"], w.get("bottom_width") or None)
    givens = (
        Given("h", "top of the window below top dead centre", w["depth"], "length"),
        Given("w_1", "width at the top", w["top_width"], "length"),
    )
    return value, 2 * (pi - opens), "exhaust window by the slider crank", givens, ()


def _rotary(w: dict[str, float], sheet: timing_wheel.Sheet, vehicle: Vehicle) -> _Found | None:
    if not w.get("area") or not sheet.has("intake"):
        return None
    duration, ramp = timing_wheel.opening(sheet, "intake").duration, w.get("ramp", 0.0)
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


def closing_of(record: WheelSheet, sheet: timing_wheel.Sheet, vehicle: Vehicle) -> timing_wheel.Closing | None:
    """How late a disc closes for its inlet; None without an inlet length."""
    length = record.window.get("inlet_length")
    closes = sheet.read("intake_closes")
    if record.kind != "disc" or not length or closes is None:
        return None
    return timing_wheel.judge_closing(closes, length, _cylinder(vehicle))


def picture(chosen: Sequence[Shown]) -> Markup:
    """The wheel with one or two sheets of one kind on it."""
    arcs = []
    kind = chosen[0].record.kind
    for place, item in enumerate(chosen):
        look = "" if len(chosen) == 1 else "AB"[place]
        for port in timing_wheel.PORTS[kind]:
            if item.sheet.has(port):
                made = timing_wheel.opening(item.sheet, port)
                opens, closes = (
                    f"{degrees(item.sheet.read(f'{port}_{end}') or 0):.1f}°" for end in ("opens", "closes")
                )
                arcs.append(Arc(port, look, made.opens, made.closes, made.turn, opens, closes))
    return wheel(arcs, timing_wheel.PORTS[kind], arcs[0].turn if arcs else 2 * pi)


def headline(a: Shown, b: Shown) -> str:
    """What B does other than A, in a sentence; an empty text if they read the same."""
    found = []
    for name, label in timing_wheel.READINGS[a.record.kind]:
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
