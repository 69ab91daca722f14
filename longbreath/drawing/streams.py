"""Mach number along the measured path, one line an engine speed: where the air is fastest, and how near to choking."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.drawing import axes

WIDTH, HEIGHT = 780, 330
LEFT, RIGHT, TOP, BOTTOM = 46, 104, 26, 58
LETTERS = 7.0
"""Width of a letter of a name [points]."""


@dataclass(frozen=True)
class Section:
    """One measured element: name, and its Mach numbers at entry and exit, one pair a speed that still flows."""

    name: str
    machs: tuple[tuple[float, float], ...]


def streams(sections: Sequence[Section], speeds: Sequence[str], limit: float, side: str) -> Markup:
    """The Mach numbers of sections in the order of the flow, at speeds (words); limit: the mean that chokes at its peaks."""
    scale = axes.from_nought([limit * 1.1, *(m for s in sections for pair in s.machs for m in pair)])
    slot = (WIDTH - LEFT - RIGHT) / max(1, len(sections))

    def py(mach: float) -> float:
        return HEIGHT - BOTTOM - scale.part(mach) * (HEIGHT - TOP - BOTTOM)

    said = "; ".join(f"{s.name} {max(s.machs[-1]):.2f}" for s in sections if s.machs)
    parts = [
        f'<svg class="curves is-{escape(side)}" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" role="img" '
        f'aria-label="Mach number along the path at the highest speed: {escape(said)}">',
        '<text class="axis" x="2" y="12">Mach number, mean while it flows</text>',
    ]
    parts += axes.upright(scale, py, LEFT, WIDTH - RIGHT)
    y = py(limit)
    parts.append(f'<line class="limit" x1="{LEFT}" x2="{WIDTH - RIGHT}" y1="{y:.1f}" y2="{y:.1f}"/>')
    parts.append(f'<text class="tick" x="{WIDTH - RIGHT + 6}" y="{y + 4:.1f}">peaks choke</text>')
    for number, section in enumerate(sections):
        x = LEFT + number * slot
        words = (
            section.name
            if len(section.name) * LETTERS < slot * 1.9
            else section.name[: int(slot * 1.8 / LETTERS)] + "…"
        )
        low = HEIGHT - BOTTOM + (17 if number % 2 == 0 else 34)
        parts.append(f'<text class="tick" x="{x + slot / 2:.1f}" y="{low}" text-anchor="middle">{escape(words)}</text>')
    parts += _lines(sections, speeds, slot, py)
    return Markup("".join([*parts, "</svg>"]))


def _lines(sections: Sequence[Section], speeds: Sequence[str], slot: float, py) -> list[str]:  # type: ignore[no-untyped-def]
    """One line a speed, heavier with speed, with its name at its end where names do not cover one another."""
    parts: list[str] = []
    taken: list[float] = []
    for at, words in reversed(list(enumerate(speeds))):
        points = []
        for number, section in enumerate(sections):
            if at >= len(section.machs):
                continue
            left, inset = LEFT + number * slot, slot * 0.1
            entry, exit = section.machs[at]
            points += [f"{left + inset:.1f},{py(entry):.1f}", f"{left + slot - inset:.1f},{py(exit):.1f}"]
        if not points:
            continue
        width = 1.0 + 1.6 * at / max(1, len(speeds) - 1)
        parts.append(f'<polyline class="curve" fill="none" points="{" ".join(points)}" stroke-width="{width:.1f}"/>')
        y = float(points[-1].split(",")[1]) + 4
        while any(abs(y - other) < 15 for other in taken):
            y += 15
        taken.append(y)
        parts.append(f'<text class="name" x="{WIDTH - RIGHT + 6}" y="{y:.1f}">{escape(words)}</text>')
    return parts
