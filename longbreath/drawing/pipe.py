"""A tuned pipe as it would be rolled: its pieces end to end, widths to scale with the length."""

from __future__ import annotations

from collections.abc import Sequence

from markupsafe import Markup, escape

from longbreath.core.engine.tuned_pipe import Piece

WIDTH, EDGE, BELOW = 470, 6, 34


def pipe(pieces: Sequence[Piece]) -> Markup:
    """The pieces of a pipe from header to stinger, to scale in both directions."""
    length = sum(p.length for p in pieces)
    scale = (WIDTH - 2 * EDGE) / length
    widest = max(max(p.entry, p.exit) for p in pieces) * scale
    height = widest + 2 * EDGE + BELOW
    middle = EDGE + widest / 2
    said = ", ".join(f"{p.name} {p.length * 1000:.0f} mm" for p in pieces)
    parts = [
        f'<svg class="pipe" viewBox="0 0 {WIDTH} {height:.0f}" width="{WIDTH}" height="{height:.0f}" role="img" '
        f'aria-label="Tuned pipe: {escape(said)}">'
    ]
    x = float(EDGE)
    for number, p in enumerate(pieces):
        end, a, b = x + p.length * scale, p.entry * scale / 2, p.exit * scale / 2
        corners = (
            f"{x:.1f},{middle - a:.1f} {end:.1f},{middle - b:.1f} {end:.1f},{middle + b:.1f} {x:.1f},{middle + a:.1f}"
        )
        parts.append(f'<polygon class="wall" points="{corners}"/>')
        low = EDGE + widest + (14 if number % 2 == 0 else 29)
        parts.append(
            f'<text class="tick" x="{(x + end) / 2:.1f}" y="{low:.1f}" text-anchor="middle">{escape(p.name)}</text>'
        )
        x = end
    return Markup("".join([*parts, "</svg>"]))
