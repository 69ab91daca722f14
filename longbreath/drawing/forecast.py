"""A forecast as it was said, with its band, and what was found over it once that is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

from markupsafe import Markup, escape

from longbreath.drawing.curves import nice_step

LEFT, RIGHT, TOP, BOTTOM = 48, 14, 30, 30


@dataclass(frozen=True)
class Said:
    """What was said at one place: place, least, expected, most, in display units."""

    x: float
    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class Seen:
    """What was found in one band: from and to, value and half of its interval, in display units."""

    start: float
    end: float
    value: float
    half: float


def forecast(
    said: Sequence[Said], seen: Sequence[Seen], x_words: str, y_words: str, width: int = 300, height: int = 190
) -> Markup:
    """The band that was said as an area with its middle as a line; what was found as bars with their intervals."""
    xs = [p.x for p in said]
    first, last = min(xs), max(xs)
    if last <= first:
        first, last = first - 1.0, last + 1.0
        said = [Said(x, p.low, p.middle, p.high) for p in said for x in (first, last)]
    lows = [p.low for p in said] + [s.value - s.half for s in seen] + [0.0]
    highs = [p.high for p in said] + [s.value + s.half for s in seen] + [0.0]
    step = nice_step(max(max(highs) - min(lows), 1e-9), 4)
    bottom, top = floor(min(lows) / step) * step, ceil(max(highs) / step) * step

    def px(x: float) -> float:
        return LEFT + (min(max(x, first), last) - first) / (last - first) * (width - LEFT - RIGHT)

    def py(y: float) -> float:
        return height - BOTTOM - (y - bottom) / (top - bottom) * (height - TOP - BOTTOM)

    words = "; ".join(f"{s.value:+.3g} ± {s.half:.2g} found" for s in seen) or "nothing found yet"
    parts = [
        f'<svg class="curves forecast" viewBox="0 0 {width} {height}" width="{width}" height="{height}" role="img" '
        f'aria-label="Forecast of B less A, {escape(y_words)}: {escape(words)}">',
        f'<text class="axis" x="2" y="12">{escape(y_words)}</text>',
    ]
    for n in range(round((top - bottom) / step) + 1):
        y = bottom + n * step
        heavy = " zero" if abs(y) < step / 1000 else ""
        parts.append(f'<line class="grid{heavy}" x1="{LEFT}" x2="{width - RIGHT}" y1="{py(y):.1f}" y2="{py(y):.1f}"/>')
        shown = f"{0.0 if heavy else y:+.3g}".replace("-", "−") if not heavy else "0"
        parts.append(f'<text class="tick" x="{LEFT - 6}" y="{py(y) + 4:.1f}" text-anchor="end">{shown}</text>')
    upper = [f"{px(p.x):.1f},{py(p.high):.1f}" for p in said]
    lower = [f"{px(p.x):.1f},{py(p.low):.1f}" for p in reversed(said)]
    middle = " ".join(f"{px(p.x):.1f},{py(p.middle):.1f}" for p in said)
    parts.append(f'<polygon class="band" points="{" ".join([*upper, *lower])}"/>')
    parts.append(f'<polyline class="curve" fill="none" stroke-dasharray="5 3" stroke-width="1.6" points="{middle}"/>')
    for s in seen:
        parts += _bar(px(s.start), px(s.end), py(s.value), py(s.value - s.half), py(s.value + s.half))
    if x_words:
        low = height - 12
        for x, anchor in ((first, "start"), (last, "end")):
            parts.append(f'<text class="tick" x="{px(x):.1f}" y="{low}" text-anchor="{anchor}">{x:.4g}</text>')
        middle_x = (LEFT + width - RIGHT) / 2
        parts.append(f'<text class="axis" x="{middle_x:.0f}" y="{low}" text-anchor="middle">{escape(x_words)}</text>')
    return Markup("".join([*parts, "</svg>"]))


def _bar(start: float, end: float, value: float, low: float, high: float) -> list[str]:
    """One band that was found: a heavy bar with its interval."""
    at = (start + end) / 2
    return [
        f'<line class="curve" x1="{start + 3:.1f}" x2="{end - 3:.1f}" y1="{value:.1f}" y2="{value:.1f}" stroke-width="2.8"/>',
        f'<line class="curve" x1="{at:.1f}" x2="{at:.1f}" y1="{low:.1f}" y2="{high:.1f}" stroke-width="1.3"/>',
        f'<circle class="full" cx="{at:.1f}" cy="{value:.1f}" r="3.4"/>',
    ]
