"""A port's face as SVG: grid to walk over, or a map of velocities in tones with their figures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.core.bench.traverse import Cell, Outline

SIZE = 320
_MARGIN = 14


@dataclass(frozen=True)
class Tone:
    """One cell to draw: its outline [m], middle [m], text, and how strong its tone is, 0 to 1."""

    outline: Outline
    x: float
    y: float
    text: str
    strength: float


def tones(cells: Sequence[Cell], bounds: Sequence[float], texts: Sequence[str]) -> list[Tone]:
    """Cells with the strength of the step their velocity falls in; `bounds` [m/s] as of `steps_of`."""
    steps = max(len(bounds) - 1, 1)
    found = []
    for cell, text in zip(cells, texts, strict=True):
        place = sum(cell.spot.velocity > bound for bound in bounds[1:])
        found.append(Tone(cell.outline, cell.spot.x, cell.spot.y, text, (place + 0.5) / steps))
    return found


def face(
    outline: Outline, cells: Sequence[Tone], marks: Sequence[tuple[float, float, str]], side: str, label: str
) -> Markup:
    """The face to one scale, y upwards. marks: places still to read, with their number."""
    left, right = min(x for x, _ in outline), max(x for x, _ in outline)
    bottom, top = min(y for _, y in outline), max(y for _, y in outline)
    scale = (SIZE - 2 * _MARGIN) / max(right - left, top - bottom)
    width, height = (right - left) * scale + 2 * _MARGIN, (top - bottom) * scale + 2 * _MARGIN

    def at(x: float, y: float) -> str:
        return f"{_MARGIN + (x - left) * scale:.1f},{_MARGIN + (top - y) * scale:.1f}"

    def polygon(points: Outline, extra: str) -> str:
        return f'<polygon points="{" ".join(at(x, y) for x, y in points)}" {extra}/>'

    parts = [
        f'<svg class="face is-{side}" viewBox="0 0 {width:.0f} {height:.0f}" width="{width:.0f}" height="{height:.0f}" '
        f'role="img" aria-label="{escape(label)}">'
    ]
    for cell in cells:
        parts.append(polygon(cell.outline, f'class="cell-tone" fill-opacity="{cell.strength:.2f}"'))
    parts.append(polygon(outline, 'class="rim" fill="none"'))
    for cell in cells:
        x, y = at(cell.x, cell.y).split(",")
        parts.append(
            f'<text class="figure" x="{x}" y="{float(y) + 4.5:.1f}" text-anchor="middle">{escape(cell.text)}</text>'
        )
    for mx, my, text in marks:
        x, y = at(mx, my).split(",")
        parts.append(f'<circle class="to-read" cx="{x}" cy="{y}" r="3"/>')
        parts.append(f'<text class="to-read" x="{float(x) + 6:.1f}" y="{float(y) - 4:.1f}">{escape(text)}</text>')
    return Markup("".join([*parts, "</svg>"]))
