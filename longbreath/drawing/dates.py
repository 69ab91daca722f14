"""The line of dates: one row an application, what is owed on it as spans, what waits for what, publishing days as flags."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from markupsafe import Markup, escape

ROW, LEFT, TOP, LANE = 22, 190, 34, 17
LEAST = 11.0
"""Least width of a span, so that a day can be seen and hit."""


@dataclass(frozen=True)
class Span:
    """One thing on the line: days it begins and ends, its words, its mark (bench, wait, dyno, work, end), the address it opens."""

    id: int
    begins: date
    ends: date
    words: str
    mark: str
    href: str
    decides: bool = False
    late: bool = False
    clash: bool = False
    count: int = 1


@dataclass(frozen=True)
class Lane:
    """One application: its part, its vehicle, and spans in order of time."""

    name: str
    below: str
    href: str
    spans: tuple[Span, ...]


def months(first: date, last: date) -> list[date]:
    """The first days of the months from one day to another."""
    at, found = first.replace(day=1), []
    while at <= last:
        found.append(at)
        at = (at + timedelta(days=32)).replace(day=1)
    return found


def _laid(spans: Sequence[Span], place: Callable[[date], float], scale: float) -> dict[int, tuple[float, float, int]]:
    """Left and right end of each span and the line it lies on: what decides in the first, one behind the other; the rest below, so
    that none covers another."""
    found: dict[int, tuple[float, float, int]] = {}
    ends = [0.0]
    for span in sorted(spans, key=lambda s: (not s.decides, s.begins, s.mark == "end", s.ends, s.id)):
        begin = place(span.begins)
        end = max(place(span.ends) + scale, begin + LEAST)
        if span.decides:
            line, shift = 0, max(ends[0] + 2.0 - begin, 0.0)
            begin, end = begin + shift, end + shift
        else:
            line = next((k for k, free in enumerate(ends) if free <= begin - 4.0), len(ends))
        if line == len(ends):
            ends.append(0.0)
        found[span.id] = begin, end, line
        ends[line] = end + (18.0 if span.count > 1 else 0.0)
    return found


def svg(lanes: Sequence[Lane], today: date, width: int = 940) -> Markup:
    """The line of dates as SVG; every span is a link, so that it works by keyboard, and says itself to those who do not see it."""
    spans = [s for lane in lanes for s in lane.spans]
    if not spans:
        return Markup("")
    first = min([today, *(s.begins for s in spans)]) - timedelta(days=2)
    last = max([today, *(s.ends for s in spans)]) + timedelta(days=4)
    days = max((last - first).days, 21)
    scale = (width - LEFT - 60) / days

    def place(day: date) -> float:
        return LEFT + (day - first).days * scale

    parts, y = [], float(TOP)
    for lane in lanes:
        laid = _laid(lane.spans, place, scale)
        height = max((max((line for _, _, line in laid.values()), default=0) + 1) * LANE + 9, 38)
        parts.append(
            f'<a href="{escape(lane.href)}"><text class="lane" x="0" y="{y + 14:.1f}">{escape(lane.name[:31])}</text></a>'
        )
        parts.append(f'<text class="axis" x="0" y="{y + 29:.1f}">{escape(lane.below[:31])}</text>')
        parts.append(f'<line class="rule" x1="0" x2="{width}" y1="{y + height:.1f}" y2="{y + height:.1f}"/>')
        parts += [_span(s, laid[s.id][:2], y + 4 + laid[s.id][2] * LANE) for s in lane.spans]
        y += height
    grid = "".join(
        f'<line class="month" x1="{place(m):.1f}" x2="{place(m):.1f}" y1="{TOP - 8}" y2="{y:.1f}"/>'
        f'<text class="axis" x="{place(m) + 3:.1f}" y="14">{m:%b %Y}</text>'
        for m in months(first, last)
        if place(m) >= LEFT
    )
    now = place(today)
    mark = f'<line class="today" x1="{now:.1f}" x2="{now:.1f}" y1="{TOP - 10}" y2="{y:.1f}"/>'
    mark += f'<text class="axis is-today" x="{now + 3:.1f}" y="28">today</text>'
    title = "What is owed on a line of dates; the table below says the same"
    return Markup(  # every text in it is escaped above
        f'<svg class="dates" viewBox="0 0 {width} {y + 6:.0f}" role="group" aria-label="{title}">{grid}{mark}{"".join(parts)}</svg>'
    )


def _span(span: Span, x: tuple[float, float], y: float) -> str:
    begin, end = x
    classes = f"span is-{span.mark}{' decides' if span.decides else ''}{' late' if span.late else ''}{' clash' if span.clash else ''}"
    told = f"{span.words}, {span.begins.day} {span.begins:%b}"
    told += f" to {span.ends.day} {span.ends:%b}" if span.ends != span.begins else ""
    told += ", late" * span.late + ", double booked" * span.clash
    shape = _shape(span.mark, begin, end, y)
    if span.count > 1:
        shape += f'<text class="axis" x="{end + 3:.1f}" y="{y + 10:.1f}">{span.count}</text>'
    return f'<a class="{classes}" href="{escape(span.href)}" aria-label="{escape(told)}"><title>{escape(told)}</title>{shape}</a>'


def _shape(mark: str, begin: float, end: float, y: float) -> str:
    """A publishing day is a flag, what is waited for an open ring, a dyno day a full bar, other work a thin one."""
    if mark == "end":
        return f'<path d="M{begin:.1f} {y + 12:.1f} V{y:.1f} L{begin + 10:.1f} {y + 4:.1f} L{begin:.1f} {y + 8:.1f}"/>'
    if mark == "wait":
        return f'<circle cx="{begin + 5:.1f}" cy="{y + 6:.1f}" r="4.6"/>'
    tall = 11 if mark == "dyno" else 6
    return f'<rect x="{begin:.1f}" y="{y + 6 - tall / 2:.1f}" width="{end - begin:.1f}" height="{tall}"/>'
