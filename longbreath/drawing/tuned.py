"""Speeds at which a runner tunes, school by school, on one axis of engine speed with the band of use shaded."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.core.basis.constants import RPM
from longbreath.drawing.axes import nice_step, number

WIDTH, LEFT, RIGHT, TOP, ROW, BOTTOM = 470, 136, 14, 12, 38, 34


@dataclass(frozen=True)
class TunedRow:
    """One school: its name, and its speeds [rad/s] with the word that stands over each."""

    name: str
    speeds: tuple[tuple[float, str], ...]


def tuned_axis(rows: Sequence[TunedRow], band: tuple[float, float], end: float) -> Markup:
    """Rows of schools on one axis from nought to `end` [rad/s]; band: the band of use [rad/s]. Speeds beyond the end fall out."""
    height = TOP + ROW * len(rows) + BOTTOM
    top = end / RPM

    def px(speed: float) -> float:
        return LEFT + speed / RPM / top * (WIDTH - LEFT - RIGHT)

    said = "; ".join(f"{r.name}: {', '.join(f'{s / RPM:.0f}' for s, _ in r.speeds if s <= end)}" for r in rows)
    low, high = px(band[0]), px(band[1])
    parts = [
        f'<svg class="curves tuned" viewBox="0 0 {WIDTH} {height}" width="{WIDTH}" height="{height}" role="img" '
        f'aria-label="Tuned speeds in rpm. {escape(said)}">',
        f'<rect class="band" x="{low:.1f}" y="{TOP}" width="{max(0.0, high - low):.1f}" height="{ROW * len(rows)}"/>',
    ]
    for place, row in enumerate(rows):
        y = TOP + ROW * (place + 0.5) + 7
        parts.append(f'<line class="grid" x1="{LEFT}" x2="{WIDTH - RIGHT}" y1="{y:.1f}" y2="{y:.1f}"/>')
        parts.append(f'<text class="name" x="{LEFT - 10}" y="{y + 4:.1f}" text-anchor="end">{escape(row.name)}</text>')
        last = -99.0
        for speed, word in sorted(row.speeds):
            if speed > end:
                continue
            x = px(speed)
            parts.append(f'<circle class="full" cx="{x:.1f}" cy="{y:.1f}" r="5"/>')
            if x - last > 16:
                parts.append(number("tick", x, y - 10, word))
                last = x
    step = nice_step(top, 4)
    for n in range(int(top / step) + 1):
        x, words = LEFT + n * step / top * (WIDTH - LEFT - RIGHT), f"{n * step:,.0f}".replace(",", "\u202f")
        parts.append(number("tick", x, height - 14, words))
    parts.append(number("axis", LEFT - 10, height - 14, "rpm, use shaded", "end"))
    return Markup("".join([*parts, "</svg>"]))
