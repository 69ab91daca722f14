"""Time-area of a degree-wheel sheet: what opens, by kind of valve, where the sizes of its window are known."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import pi

from longbreath.core.basis.working import Figure, Given
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.timing import time_area, wheel

Window = Mapping[str, float]
"""Sizes of what opens by name, SI."""


@dataclass(frozen=True)
class Opened:
    """What a window opens: area over angle [m2 rad], how long it is open [rad], how it opens in words, the givens, notes."""

    angle_area: float
    duration: float
    how: str
    givens: tuple[Given, ...]
    notes: tuple[str, ...] = ()


def figures_of(
    sheet: wheel.Sheet, window: Window, stroke: float, rod: float | None, cylinder: float, speed: float
) -> tuple[Figure, ...]:
    """Mean area, time-area and specific time-area of a sheet; empty where the window's sizes are not known.

    stroke, rod [m] of the engine; cylinder = displacement of one [m3]; speed [rad/s].
    """
    found = _BY_KIND[sheet.kind](sheet, window, stroke, rod)
    if found is None:
        return ()
    return time_area.figures(found.angle_area, found.duration, speed, cylinder, found.how, found.givens, found.notes)


def _poppet(sheet: wheel.Sheet, w: Window, stroke: float, rod: float | None) -> Opened | None:
    needed = ("valves", "valve_diameter", "throat_diameter", "peak_lift")
    if not sheet.has("intake") or not all(w.get(name) for name in needed):
        return None
    gear = ValveGear(int(w["valves"]), w["valve_diameter"], w["throat_diameter"], w.get("stem_diameter", 0.0))
    duration = wheel.opening(sheet, "intake").duration
    givens = (Given("L", "peak lift", w["peak_lift"], "length"), Given("θ", "intake duration", duration, "angle"))
    note = "Lift taken as a sine squared over the duration at the checking lift, until a lift table is measured."
    area = time_area.poppet(duration, w["peak_lift"], gear)
    return Opened(area, duration, "smaller of curtain and throat", givens, (note,))


def _disc(sheet: wheel.Sheet, w: Window, stroke: float, rod: float | None) -> Opened | None:
    if not w.get("area") or not w.get("span"):
        return None
    duration = wheel.opening(sheet, "intake").duration
    givens = (
        Given("A", "window", w["area"], "area"),
        Given("φ", "it spans", w["span"], "angle"),
        Given("θ", "duration", duration, "angle"),
    )
    area = time_area.disc_window(duration, w["span"], w["area"])
    return Opened(area, duration, "window uncovered evenly over its span", givens)


def _piston(sheet: wheel.Sheet, w: Window, stroke: float, rod: float | None) -> Opened | None:
    rod = w.get("rod") or rod
    if not w.get("depth") or not w.get("top_width") or rod is None:
        return None
    opens = wheel.port_angle(w["depth"], stroke, rod).value
    area = time_area.piston_port(w["depth"], stroke, rod, w["top_width"], w.get("bottom_width") or None)
    givens = (
        Given("h", "top of the window below top dead centre", w["depth"], "length"),
        Given("w_1", "width at the top", w["top_width"], "length"),
    )
    return Opened(area, 2 * (pi - opens), "exhaust window by the slider crank", givens)


def _rotary(sheet: wheel.Sheet, w: Window, stroke: float, rod: float | None) -> Opened | None:
    if not w.get("area") or not sheet.has("intake"):
        return None
    duration, ramp = wheel.opening(sheet, "intake").duration, w.get("ramp", 0.0)
    area = time_area.trapezoid(ramp, duration - 2 * ramp, ramp, w["area"])
    givens = (Given("A", "intake port", w["area"], "area"), Given("φ", "opens and closes over", ramp, "angle"))
    note = "Of the shaft: a rotor takes three turns of it."
    return Opened(area, duration, "port uncovered evenly over its ramp", givens, (note,))


_BY_KIND: dict[str, Callable[[wheel.Sheet, Window, float, float | None], Opened | None]] = {
    "poppet": _poppet,
    "disc": _disc,
    "piston": _piston,
    "rotary": _rotary,
}
