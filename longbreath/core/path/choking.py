"""Where a path chokes first, and from which engine speed on."""

from __future__ import annotations

from collections.abc import Callable

from scipy.optimize import brentq

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.path.walk import Side

PEAK = 1.6
"""Momentary peak over the mean velocity of a stroke (first principles, maximum over mean piston speed)."""
LEAST = 1.0 / PEAK
"""Mean Mach number at which the momentary peak reaches the speed of sound."""


def chokes_first(
    at: Callable[[float], Side], low: float, high: float, flows: float, filling: float
) -> tuple[str, Figure] | None:
    """Where, and from which speed [rad/s] on, the momentary peak reaches the speed of sound; None where not between `low` and `high`.

    at: the side of a path at a speed; it raises InputError where no pressure drives that flow. flows: a speed at which it does;
    filling: volumetric efficiency it is reckoned with [1]. Source: quasi-steady flow, first principles.
    """

    def above(speed: float) -> float:
        try:
            return max((s.mach for s in at(speed).stations), default=0.0) - LEAST
        except InputError:
            return 1.0  # no pressure drives it any more

    if above(high) < 0 or above(low) > 0:
        return None
    speed = float(brentq(above, low, high, xtol=5.0 * RPM))
    try:
        side = at(0.999 * speed)
    except InputError:  # no pressure drives it so far: the fastest place just before
        side = at(min(speed, flows))
    station = max(side.stations, key=lambda s: s.mach)
    name = next(p.element.name for p in side.pieces if p.element.key == station.key)
    return name, reckoned(
        "chokes",
        f"{name} chokes first, at",
        (
            Given("", "narrowest for its flow", name),
            Given("A", "its area, one branch", station.area, "area"),
            Given("k", "momentary peak over the mean of a stroke", PEAK, "ratio"),
            Given("η", "volumetric efficiency", filling, "percent"),
        ),
        (
            Step("M", "mean Mach number there at that speed, 1/k", LEAST, "ratio"),
            Step("N", "speed at which the mean reaches it", speed, "speed"),
        ),
        "First principles: quasi-steady flow through the measured path, solved for speed.",
        ("Waves are left out: a tuned runner carries more, a badly tuned one chokes sooner.",),
    )
