"""Effective areas over the crank's turn: poppet valves from lift and bench coefficients, discs, piston ports, rotary side ports.

Every table has two rows (out of the room, into the room) [m2] over one period of its wheel, evenly spaced from nought.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.discharge import ValveGear
from longbreath.core.timing.wheel import TURN, piston_depth

Array = npt.NDArray[np.float64]
POINTS = 1440
SHAPES = ("sine squared", "parabola", "polynomial")
"""Standard lift shapes over the opening 0 < x < 1: sin²(π·x); 4·x·(1 − x); (4·x·(1 − x))^1.5."""
USUAL_RATIOS = (0.0, 0.05, 0.10, 0.15, 0.20, 0.25, 0.30, 0.35)
USUAL_COEFFICIENTS = (0.70, 0.68, 0.65, 0.62, 0.58, 0.53, 0.47, 0.42)
"""Discharge coefficient on the curtain over lift by diameter of an ordinary port (common practice, from memory): measure yours."""


def lift_shape(name: str, x: Array) -> Array:
    """Lift over greatest lift [1] at shares x [1] of the opening, by a standard shape. Raises InputError for an unknown one."""
    inside = np.clip(x, 0.0, 1.0)
    if name == "sine squared":
        return np.sin(pi * inside) ** 2
    if name == "parabola":
        return 4.0 * inside * (1.0 - inside)
    if name == "polynomial":
        return (4.0 * inside * (1.0 - inside)) ** 1.5
    raise InputError(f"A lift shape is one of: {', '.join(SHAPES)}.", "shape")


@dataclass(frozen=True)
class ValveFlow:
    """What a bench says of a port's valves: discharge coefficients [1] on the curtain area over lift [m], inwards and outwards.

    "Into" the cylinder and "out of" it. Beyond the last lift the effective area stays what it was there.
    """

    gear: ValveGear
    lifts: tuple[float, ...]
    into: tuple[float, ...]
    out_of: tuple[float, ...]

    def __post_init__(self) -> None:
        if not len(self.lifts) == len(self.into) == len(self.out_of) >= 1:
            raise InputError("Every lift has a coefficient for either direction.", "coefficients")
        if min(self.lifts) < 0 or any(b <= a for a, b in zip(self.lifts, self.lifts[1:], strict=False)):
            raise InputError("Lifts increase from nought.", "lifts")
        if not all(0 < c <= 1.2 for c in (*self.into, *self.out_of)):
            raise InputError("A discharge coefficient lies between 0 and about 1.", "coefficients")

    def effective(self, lift: Array, out: bool) -> Array:
        """Effective area [m2] at lifts [m]: measured C_d × curtain, straight between the bench's lifts."""
        lifts = np.array([x for x in self.lifts if x > 0])
        values = np.array(self.out_of if out else self.into)[-len(lifts) :] if len(lifts) else np.array([])
        areas = values * self.gear.curtain(1.0) * lifts
        xs, ys = np.concatenate([[0.0], lifts]), np.concatenate([[0.0], areas])
        return np.array(np.interp(lift, xs, ys), dtype=np.float64)


def usual_flow(gear: ValveGear, scale: float = 1.0) -> ValveFlow:
    """Coefficients of an ordinary port, times `scale` [1], where no bench curve is at hand."""
    lifts = tuple(r * gear.head for r in USUAL_RATIOS[1:])
    values = tuple(c * scale for c in USUAL_COEFFICIENTS[1:])
    return ValveFlow(gear, lifts, values, values)


def _wheel(period: float, points: int = POINTS) -> Array:
    found = np.linspace(0.0, period, points, endpoint=False, dtype=np.float64)
    return found


def _inside(angle: Array, opens: float, closes: float, period: float) -> Array:
    """How far past the opening [rad] each angle is, or a negative number if it is shut."""
    past = np.mod(angle - opens, period)
    return np.where(past < closes - opens, past, -1.0)


def poppet(
    opens: float,
    closes: float,
    flow: ValveFlow,
    most_lift: float = 0.0,
    shape: str = "sine squared",
    table: Sequence[tuple[float, float]] = (),
    period: float = 4.0 * pi,
) -> Array:
    """Table of a poppet valve open from `opens` to `closes` [rad on the wheel of `period`].

    Lift from a standard shape of `most_lift` [m], or a table of (angle on the wheel [rad], lift [m]).
    """
    angle = _wheel(period)
    if table:
        angles, lifts = (np.array(c, dtype=float) for c in zip(*table, strict=True))
        if np.any(np.diff(angles) <= 0) or lifts.min() < 0:
            raise InputError("A lift table has increasing angles and no negative lift.", "lift_table")
        if angles[-1] - angles[0] >= period:
            raise InputError("A lift table is shorter than the cycle.", "lift_table")
        lift = np.interp(np.mod(angle - angles[0], period) + angles[0], angles, lifts, left=0.0, right=0.0)
    else:
        if not 0 < closes - opens < period:
            raise InputError("Read like this the valve never opens, or never closes.", "closes")
        if not most_lift > 0:
            raise InputError("A lift must be more than nought.", "lift")
        past = _inside(angle, opens, closes, period)
        lift = np.where(past >= 0, most_lift * lift_shape(shape, past / (closes - opens)), 0.0)
    return np.array([flow.effective(lift, True), flow.effective(lift, False)])


def window(opens: float, closes: float, ramp: float, area: float, coefficient: float, period: float) -> Array:
    """Table of a window of `area` [m2] that is uncovered over `ramp` [rad], stays and is covered again: a disc, a side port.

    opens, closes, ramp, period [rad]. If the opening is shorter than two ramps it never opens fully.
    """
    if not 0 < closes - opens < period:
        raise InputError("Read like this it never opens, or never closes.", "closes")
    if not (ramp > 0 and area > 0 and 0 < coefficient <= 1):
        raise InputError("A window has a span, an area and a coefficient up to 1.", "area")
    past = _inside(_wheel(period), opens, closes, period)
    share = np.minimum(np.minimum(past, (closes - opens) - past) / ramp, 1.0)
    row = coefficient * area * np.where(past >= 0, np.maximum(share, 0.0), 0.0)
    return np.array([row, row])


def piston_ports(
    depth: float, stroke: float, rod: float, width: float, height: float, coefficient: float, top: bool = False
) -> Array:
    """Table of rectangular ports in the wall that the piston uncovers; width is that of all of them together [m].

    depth: upper edge below top dead centre [m]; `height` [m]. With `top` the skirt uncovers them near top dead centre
    instead, and depth is that of the lower edge above bottom dead centre. One turn of the crank.
    """
    if not (0 < depth < stroke and height > 0 and width > 0 and 0 < coefficient <= 1):
        raise InputError("A port lies inside the stroke and has a width, a height and a coefficient up to 1.", "depth")
    below = np.array([piston_depth(float(angle), stroke, rod) for angle in _wheel(TURN)])
    uncovered = np.clip((stroke - below if top else below) - depth, 0.0, height)
    row = coefficient * width * uncovered
    return np.array([row, row])
