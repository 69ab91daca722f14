"""Two port faces laid over each other as SVG: what they share, what stands in the flow, and the lip on each side."""

from __future__ import annotations

from collections.abc import Sequence

from markupsafe import Markup, escape

from longbreath.core.bench.traverse import Outline
from longbreath.core.path.faces import Rings

SIZE, MARGIN, BESIDE = 420, 58, 92
"""Size of the picture, room above and below, and room at both sides for the words [points]."""


def overlay(
    upstream: Outline,
    downstream: Outline,
    common: Sequence[Rings],
    stands: Sequence[Rings],
    lips: Sequence[tuple[str, str]],
    worst_at: tuple[float, float] | None,
    side: str,
    names: tuple[str, str],
    scale_text: tuple[float, str] = (0.01, "10 mm"),
    shift: tuple[float, float] = (0.0, 0.0),
) -> Markup:
    """The upstream face thin, the downstream face heavy, both at one scale, y upwards.

    lips: side (“right”, “top”, “left”, “bottom”) and what to write there. worst_at: the largest edge against the flow [m].
    shift: where the downstream face lies now [m], for the hand that moves it.
    """
    every = [*upstream, *downstream]
    left, right = min(x for x, _ in every), max(x for x, _ in every)
    bottom, top = min(y for _, y in every), max(y for _, y in every)
    scale = min((SIZE - 2 * BESIDE) / (right - left), (SIZE - 2 * MARGIN) / (top - bottom))
    width, height = (right - left) * scale + 2 * BESIDE, (top - bottom) * scale + 2 * MARGIN

    def at(x: float, y: float) -> str:
        return f"{BESIDE + (x - left) * scale:.1f},{MARGIN + (top - y) * scale:.1f}"

    def polygon(points: Outline, extra: str) -> str:
        return f'<polygon points="{" ".join(at(x, y) for x, y in points)}" {extra}/>'

    def area(rings: Rings, extra: str) -> str:
        drawn = " ".join(f"M{' L'.join(at(x, y) for x, y in ring)} Z" for ring in rings)
        return f'<path d="{drawn}" fill-rule="evenodd" {extra}/>'

    size = f'viewBox="0 0 {width:.0f} {height:.0f}" width="{width:.0f}" height="{height:.0f}"'
    hand = f'data-scale="{scale:.4f}" data-right="{shift[0]:.6f}" data-up="{shift[1]:.6f}"'
    label = escape(f"{names[1]} laid over {names[0]}")
    parts = [f'<svg class="overlay is-{side}" {size} role="group" {hand} aria-label="{label}">']
    parts += [area(rings, 'class="shared"') for rings in common]
    parts += [area(rings, 'class="stands" fill="url(#loss)"') for rings in stands]
    parts.append(polygon(upstream, 'class="rim" fill="none" stroke-width="1.2"'))
    parts.append(polygon(downstream, 'class="rim moves" fill="transparent" stroke-width="2.6"'))
    if worst_at is not None:
        x, y = at(*worst_at).split(",")
        parts.append(f'<circle class="worst" cx="{x}" cy="{y}" r="7"/>')
    parts += _lips(lips, width, height)
    bar = scale_text[0] * scale
    parts.append(f'<path class="scale" d="M{BESIDE} {height - 10:.1f} v5 h{bar:.1f} v-5"/>')
    parts.append(f'<text class="scale" x="{BESIDE + bar + 6:.1f}" y="{height - 4:.1f}">{escape(scale_text[1])}</text>')
    return Markup("".join([*parts, "</svg>"]))


def _lips(lips: Sequence[tuple[str, str]], width: float, height: float) -> list[str]:
    places = {
        "right": (width - 4, height / 2 + 4, "end"),
        "left": (4, height / 2 + 4, "start"),
        "top": (width / 2, 18, "middle"),
        "bottom": (width / 2, height - MARGIN / 2 + 8, "middle"),
    }
    found = []
    for side, words in lips:
        x, y, anchor = places[side]
        found.append(f'<text class="lip" x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}">{escape(words)}</text>')
    return found
