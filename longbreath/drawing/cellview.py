"""The picture of a cell while it is pulled: torque over speed, the set's band, earlier pulls by letter, the trace."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from markupsafe import Markup, escape

from longbreath.drawing import axes

Array = npt.NDArray[np.float64]
WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM = 720, 330, 52, 12, 14, 30
OTHER = "other"


@dataclass(frozen=True)
class Scale:
    """Where a point lies in the picture: speeds [rpm] and torque in display units at its edges."""

    low: float
    high: float
    bottom: float
    top: float

    def x(self, rpm: Array) -> Array:
        """Across, of speeds [rpm]."""
        return LEFT + (rpm - self.low) / (self.high - self.low) * (WIDTH - LEFT - RIGHT)

    def y(self, torque: Array) -> Array:
        """Down, of torque in display units."""
        return HEIGHT - BOTTOM - (torque - self.bottom) / (self.top - self.bottom) * (HEIGHT - TOP - BOTTOM)

    def points(self, rpm: Array, torque: Array) -> str:
        """Points of a line, within the picture."""
        inside = np.isfinite(torque) & (rpm >= self.low) & (rpm <= self.high)
        torque = np.clip(torque, self.bottom, self.top)
        return " ".join(f"{x:.1f},{y:.1f}" for x, y in zip(self.x(rpm[inside]), self.y(torque[inside]), strict=True))


@dataclass(frozen=True)
class Drawn:
    """One pull: letter, whether it counts, torque in display units on the speeds of the picture, (n,); whether it is the last."""

    label: str
    counts: bool
    torque: Array
    is_last: bool = False


def scale_of(low: float, high: float, greatest: float, least: float = 0.0) -> Scale:
    """A scale over the band of use [rpm] that holds torque from least to greatest [display units] with room around; what does not
    begin at nought says so in the picture."""
    bottom = max(0.0, least - 0.5 * (greatest - least)) if least > 0 else 0.0
    found = axes.ticks(bottom, max(greatest * 1.06, bottom + 1e-9))
    return Scale(low, high, found.low, found.high)


def cell_svg(scale: Scale, speeds: Array, pulls: Sequence[Drawn], label: str, symbol: str) -> Markup:
    """The picture. speeds [rpm], (n,); label: the letter that is pulled now, whose pulls make the band."""
    parts = [*_axes(scale, symbol), _band(scale, speeds, [p.torque for p in pulls if p.label == label and p.counts])]
    for pull in pulls:
        kind = f"is-{pull.label}" if pull.label in "AB" else f"is-{OTHER}"
        state = ("" if pull.counts else " is-out") + (" is-last" if pull.is_last else "")
        parts.append(f'<polyline class="pull {kind}{state}" points="{scale.points(speeds, pull.torque)}"/>')
    parts += _names(scale, speeds, pulls)
    parts.append('<polyline id="trace" class="live" points=""/>')
    told = f"Torque in {symbol} over engine speed: {len(pulls)} pulls, the band of {label}, and the pull that runs now"
    return Markup(
        f'<svg class="cellview" viewBox="0 0 {WIDTH} {HEIGHT}" role="img" aria-label="{escape(told)}">{"".join(parts)}</svg>'
    )


def _axes(scale: Scale, symbol: str) -> list[str]:
    found = axes.ticks(scale.bottom, scale.top)
    parts = axes.upright(found, lambda v: float(scale.y(np.array(v))), LEFT, WIDTH - RIGHT, ("rule", "axis"))
    for rpm in np.arange(np.ceil(scale.low / 1000) * 1000, scale.high + 1, 1000):
        x = float(scale.x(np.array(rpm)))
        if x > WIDTH - RIGHT - 46:
            continue
        parts.append(axes.number("axis", x, HEIGHT - 10, f"{rpm:.0f}"))
    parts.append(axes.number("axis", WIDTH - RIGHT, HEIGHT - 10, "rpm", "end"))
    parts.append(axes.number("axis", LEFT + 4, TOP - 3, f"torque, {symbol}{_from(scale)}", "start"))
    return parts


def _from(scale: Scale) -> str:
    return f", from {scale.bottom:g}" if scale.bottom > 0 else ""


def _band(scale: Scale, speeds: Array, curves: Sequence[Array]) -> str:
    """Least and greatest of the set's pulls, filled."""
    if len(curves) < 2:
        return ""
    stack = np.vstack(curves)
    whole = np.isfinite(stack).all(axis=0)
    low, high, rpm = stack[:, whole].min(axis=0), stack[:, whole].max(axis=0), speeds[whole]
    return f'<polygon class="band" points="{scale.points(rpm, high)} {" ".join(reversed(scale.points(rpm, low).split()))}"/>'


def _names(scale: Scale, speeds: Array, pulls: Sequence[Drawn]) -> list[str]:
    """Each letter once, where its last pull ends."""
    parts = []
    for place, label in enumerate(sorted({p.label for p in pulls if p.counts})):
        curve = [p.torque for p in pulls if p.label == label and p.counts][-1]
        good = np.flatnonzero(np.isfinite(curve))
        if good.size:
            at = good[int(good.size * (0.35 + 0.1 * place))]
            x, y = float(scale.x(speeds[at])), float(scale.y(curve[at]))
            parts.append(f'<text class="letter is-{escape(label)}" x="{x:.1f}" y="{y - 8:.1f}">{escape(label)}</text>')
    return parts
