"""Small marks: an interval against nought, for a cell of the coverage page."""

from __future__ import annotations

from typing import Any

from markupsafe import Markup

WIDTH, HEIGHT = 60, 12


def interval_mark(band: dict[str, Any]) -> Markup:
    """A verdict's interval as a bar about a centre line (nought), with its estimate as a point.

    The half width of the mark is two and a half times the margin of no meaningful difference.
    """
    reach = 2.5 * float(band["margin"])

    def at(value: float) -> float:
        return WIDTH / 2 + max(-1.0, min(1.0, value / reach)) * (WIDTH / 2 - 2)

    low, high = at(band["value"] - band["half_width"]), at(band["value"] + band["half_width"])
    return Markup(  # nothing but numbers goes in
        f'<svg class="interval" width="{WIDTH}" height="{HEIGHT}" viewBox="0 0 {WIDTH} {HEIGHT}" aria-hidden="true">'
        f'<line class="nought" x1="{WIDTH / 2}" y1="0" x2="{WIDTH / 2}" y2="{HEIGHT}"/>'
        f'<line class="span" x1="{low:.1f}" y1="6" x2="{max(high, low + 0.5):.1f}" y2="6"/>'
        f'<circle cx="{at(band["value"]):.1f}" cy="6" r="2.6"/></svg>'
    )
