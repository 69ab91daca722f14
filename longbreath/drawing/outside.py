"""Somebody else's table as curves over speed, in a look that no measurement of the house has: dotted and grey."""

from __future__ import annotations

from collections.abc import Sequence

from markupsafe import Markup, escape

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.drawing import axes

WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM = 620, 260, 52, 110, 16, 30
DASHES = ("2 3", "7 3", "1 4 6 4", "10 3 2 3")


def svg(columns: Sequence[str], rows: Sequence[Sequence[float]], kind: str, system: str) -> Markup:
    """The curves; rows of speed [rad/s] and values [SI], one a column."""
    symbol = units.kind_named(kind).symbol(system)
    speeds = [row[0] / RPM for row in rows]
    curves = [[units.to_unit(row[k + 1], kind, symbol) for row in rows] for k in range(len(columns))]
    scale = axes.ticks(min(map(min, curves)), max(map(max, curves)), 4)

    def x(speed: float) -> float:
        return LEFT + (speed - speeds[0]) / (speeds[-1] - speeds[0]) * (WIDTH - LEFT - RIGHT)

    def y(value: float) -> float:
        return HEIGHT - BOTTOM - scale.part(value) * (HEIGHT - TOP - BOTTOM)

    parts = axes.upright(scale, y, LEFT, WIDTH - RIGHT, ("rule", "axis"))
    parts += [axes.number("axis", x(speed), HEIGHT - 10, f"{speed:.0f} rpm") for speed in (speeds[0], speeds[-1])]
    for k, (name, curve) in enumerate(zip(columns, curves, strict=True)):
        line = " ".join(f"{x(s):.1f},{y(v):.1f}" for s, v in zip(speeds, curve, strict=True))
        parts.append(f'<polyline class="others" points="{line}" stroke-dasharray="{DASHES[k % len(DASHES)]}"/>')
        parts.append(
            f'<text class="axis" x="{WIDTH - RIGHT + 6}" y="{y(curve[-1]) + 4 + 12 * (k % 2):.1f}">{escape(name)}</text>'
        )
    parts.append(f'<text class="axis" x="4" y="12">{escape(symbol)}</text>')
    told = f"{', '.join(columns)} over speed, from somebody else’s test"
    return Markup(
        f'<svg class="outside" viewBox="0 0 {WIDTH} {HEIGHT}" role="img" aria-label="{escape(told)}">{"".join(parts)}</svg>'
    )
