"""A forecast as it was said, with its band, and what was found over it once that is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.drawing import axes

LEFT, RIGHT, TOP, BOTTOM = 48, 14, 30, 30


@dataclass(frozen=True)
class SaidPoint:
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


@dataclass(frozen=True)
class _Frame:
    """Where the axes lie: first and last place, the scale of values, size of the picture."""

    first: float
    last: float
    scale: axes.Ticks
    width: int
    height: int

    def x(self, place: float) -> float:
        within = min(max(place, self.first), self.last)
        return LEFT + (within - self.first) / (self.last - self.first) * (self.width - LEFT - RIGHT)

    def y(self, value: float) -> float:
        return self.height - BOTTOM - self.scale.part(value) * (self.height - TOP - BOTTOM)


def _frame(said: Sequence[SaidPoint], seen: Sequence[Seen], width: int, height: int) -> _Frame:
    values = [v for p in said for v in (p.low, p.high)] + [
        v for s in seen for v in (s.value - s.half, s.value + s.half)
    ]
    first, last = min(p.x for p in said), max(p.x for p in said)
    if last <= first:
        first, last = first - 1.0, last + 1.0
    return _Frame(first, last, axes.from_nought(values, 4), width, height)


def forecast(
    said: Sequence[SaidPoint], seen: Sequence[Seen], x_words: str, y_words: str, width: int = 300, height: int = 190
) -> Markup:
    """The band that was said as an area with its middle as a line; what was found as bars with their intervals."""
    frame = _frame(said, seen, width, height)
    if len({p.x for p in said}) == 1:
        said = [SaidPoint(x, p.low, p.middle, p.high) for p in said for x in (frame.first, frame.last)]
    words = "; ".join(f"{s.value:+.3g} ± {s.half:.2g} found" for s in seen) or "nothing found yet"
    upper = [f"{frame.x(p.x):.1f},{frame.y(p.high):.1f}" for p in said]
    lower = [f"{frame.x(p.x):.1f},{frame.y(p.low):.1f}" for p in reversed(said)]
    middle = " ".join(f"{frame.x(p.x):.1f},{frame.y(p.middle):.1f}" for p in said)
    parts = [
        f'<svg class="curves forecast" viewBox="0 0 {width} {height}" width="{width}" height="{height}" role="img" '
        f'aria-label="Forecast of B less A, {escape(y_words)}: {escape(words)}">',
        f'<text class="axis" x="2" y="12">{escape(y_words)}</text>',
        *_axes(frame, x_words),
        f'<polygon class="band" points="{" ".join([*upper, *lower])}"/>',
        f'<polyline class="curve" fill="none" stroke-dasharray="5 3" stroke-width="1.6" points="{middle}"/>',
    ]
    for s in seen:
        heights = (frame.y(v) for v in (s.value, s.value - s.half, s.value + s.half))
        parts += _bar(frame.x(s.start), frame.x(s.end), *heights)
    return Markup("".join([*parts, "</svg>"]))


def _axes(frame: _Frame, x_words: str) -> list[str]:
    """Lines and numbers of the value axis, nought heavier; the ends of the other axis with its unit."""
    right = frame.width - RIGHT
    parts = axes.upright(frame.scale, frame.y, LEFT, right, signed=True)
    if x_words:
        low, middle = frame.height - 12, (LEFT + right) / 2
        for x, anchor in ((frame.first, "start"), (frame.last, "end")):
            parts.append(axes.number("tick", frame.x(x), low, f"{x:.4g}", anchor))
        parts.append(axes.number("axis", middle, low, x_words))
    return parts


def _bar(start: float, end: float, value: float, low: float, high: float) -> list[str]:
    """One band that was found: a heavy bar with its interval."""
    at = (start + end) / 2
    return [
        f'<line class="curve" x1="{start + 3:.1f}" x2="{end - 3:.1f}" y1="{value:.1f}" y2="{value:.1f}" stroke-width="2.8"/>',
        f'<line class="curve" x1="{at:.1f}" x2="{at:.1f}" y1="{low:.1f}" y2="{high:.1f}" stroke-width="1.3"/>',
        f'<circle class="full" cx="{at:.1f}" cy="{value:.1f}" r="3.4"/>',
    ]
