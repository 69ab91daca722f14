"""Angle-area and time-area of an opening: how much window for how long, at a speed."""

from __future__ import annotations

from collections.abc import Callable
from math import pi, sin

from scipy.integrate import quad

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.timing.wheel import TURN, piston_depth, port_angle


def trapezoid(up: float, dwell: float, down: float, area: float) -> float:
    """Angle-area [m2 rad] of a window that opens over `up`, stays for `dwell` and closes over `down` [rad], `area` [m2].

    Closed form A·(up/2 + dwell + down/2). Raises InputError for a negative part.
    """
    if min(up, dwell, down) < 0 or area <= 0:
        raise InputError("A window has an area, and no part of its opening is negative.", "area")
    return area * (up / 2.0 + dwell + down / 2.0)


def disc_window(duration: float, window: float, area: float) -> float:
    """Angle-area [m2 rad] of a disc: it uncovers a window that spans `window` [rad] and covers it again; `area` [m2].

    `duration` [rad] from first opening to full closing. Raises InputError if it is too short to open at all.
    """
    if not 0 < window < TURN:
        raise InputError("The window spans some part of the disc.", "window")
    if duration <= 0:
        raise InputError("A duration must be more than nought.", "duration")
    if duration >= 2.0 * window:
        return trapezoid(window, duration - 2.0 * window, window, area)
    reached = area * duration / (2.0 * window)
    return trapezoid(duration / 2.0, 0.0, duration / 2.0, reached)


def piston_port(depth: float, stroke: float, rod: float, top_width: float, bottom_width: float | None = None) -> float:
    """Angle-area [m2 rad] of a window in the wall from `depth` [m] below top dead centre down to bottom dead centre.

    Uncovered from its top; widths at top and bottom [m], straight sides. Source: slider crank, integrated by quadrature.
    """
    low = top_width if bottom_width is None else bottom_width
    if min(top_width, low) <= 0:
        raise InputError("A window has a width.", "top_width")
    opens = port_angle(depth, stroke, rod).value
    full = stroke - depth

    def area(angle: float) -> float:
        h = max(0.0, piston_depth(angle, stroke, rod) - depth)
        return h * (top_width + (top_width + (low - top_width) * h / full)) / 2.0

    return 2.0 * float(quad(area, opens, pi, epsabs=1e-12, epsrel=1e-9)[0])


def lifted(duration: float, peak_lift: float) -> Callable[[float], float]:
    """A symmetrical lift [m] over the angle since opening [rad]: peak·sin²(π·φ/θ). A stand-in for a measured lift table."""
    return lambda angle: peak_lift * sin(pi * angle / duration) ** 2 if 0 < angle < duration else 0.0


def poppet(duration: float, peak_lift: float, gear: ValveGear) -> float:
    """Angle-area [m2 rad] of poppet valves: the smaller of curtain and throat over a symmetrical lift; duration [rad], lift [m]."""
    if duration <= 0 or peak_lift <= 0:
        raise InputError("Duration and lift must be more than nought.", "duration")
    lift = lifted(duration, peak_lift)
    return float(quad(lambda a: min(gear.curtain(lift(a)), gear.throat_area), 0.0, duration, limit=200)[0])


def figures(
    angle_area: float,
    duration: float,
    speed: float,
    displacement: float,
    how: str,
    givens: tuple[Given, ...] = (),
    notes: tuple[str, ...] = (),
) -> tuple[Figure, Figure, Figure]:
    """Mean area [m2], time-area [m2 s] at `speed` [rad/s], specific time-area [s/m] over one cylinder's `displacement` [m3].

    angle_area [m2 rad], duration [rad]. how: the rule in words. Raises InputError for values of nought or less.
    """
    for name, value in (("duration", duration), ("speed", speed), ("displacement", displacement)):
        if value <= 0:
            raise InputError("This must be more than nought.", name)
    time_area, mean = angle_area / speed, angle_area / duration
    base = (
        *givens,
        Given("N", "engine speed", speed, "speed"),
        Given("V", "displacement of one cylinder", displacement, "volume"),
    )
    first = Step("A_m", f"{how}, over the duration", mean, "area")
    second = Step("Z", "A_m·θ/N", time_area, "time_area")
    third = Step("Z/V", "time-area over displacement", time_area / displacement, "specific_time_area")

    def figure(name: str, label: str, value: float, kind: str, *steps: Step) -> Figure:
        return Figure(name, label, value, kind, Working(label, base, steps, "First principles; " + how + ".", notes))

    return (
        figure("mean_area", "Mean area over the opening", mean, "area", first),
        figure("time_area", "Time-area", time_area, "time_area", first, second),
        figure("specific", "Specific time-area", time_area / displacement, "specific_time_area", first, second, third),
    )


def trapezoid_figures(
    up: float, dwell: float, down: float, area: float, speed: float, displacement: float
) -> tuple[Figure, ...]:
    """Figures of a window that opens over `up`, stays and closes over `down` [rad]; area [m2], speed [rad/s], cylinder [m3]."""
    how = "window opened and closed evenly"
    return figures(trapezoid(up, dwell, down, area), up + dwell + down, speed, displacement, how)


def piston_figures(
    depth: float, stroke: float, rod: float, widths: tuple[float, float | None], speed: float, displacement: float
) -> tuple[Figure, ...]:
    """Figures of a window in the wall whose top lies `depth` below top dead centre; widths at top and bottom [m]."""
    area = piston_port(depth, stroke, rod, *widths)
    duration = 2 * (pi - port_angle(depth, stroke, rod).value)
    return figures(area, duration, speed, displacement, "window in the wall, by the slider crank")


def poppet_figures(
    duration: float, peak_lift: float, gear: ValveGear, speed: float, displacement: float
) -> tuple[Figure, ...]:
    """Figures of poppet valves that lift by `peak_lift` [m] over a duration [rad]; speed [rad/s], cylinder [m3]."""
    how = "smaller of curtain and throat, lift as a sine squared"
    return figures(poppet(duration, peak_lift, gear), duration, speed, displacement, how)
