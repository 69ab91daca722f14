"""The long section of one side of a path: walls to scale, bends unrolled, volumes as boxes, lips where they stand; and
strips on the same axis below for area, velocity, Mach number and pressure lost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.drawing import axes

LEFT, RIGHT, TOP = 54, 14, 34
STRIP, GAP = 66, 24
NAME_WIDTH = 6.6
ARC_WANTS = 40
"""Height of a duct [points] in which the arc of a bend finds room above its angle."""


@dataclass(frozen=True)
class Block:
    """One element to draw: key, name, kind, side; its place and length, heights at entry and exit [m]; branches; bend in
    words; marks in words (grave ones first); its address; its inside diameter as a text where its wall may be dragged;
    what a volume holds as a text."""

    key: int
    name: str
    kind: str
    side: str
    x: float
    length: float
    entry: float
    exit: float
    is_volume: bool = False
    branches: int = 1
    bend: str = ""
    marks: tuple[str, ...] = ()
    nominal: bool = False
    href: str = ""
    drag: str = ""
    holds: str = ""


@dataclass(frozen=True)
class PathRow:
    """The elements of one version of the path. look: "A", "B" or "trial"."""

    look: str
    blocks: tuple[Block, ...]


@dataclass(frozen=True)
class Series:
    """One line of a strip: look, and its unbroken runs of place [m] and value in display units."""

    look: str
    runs: tuple[tuple[tuple[float, float], ...], ...]


@dataclass(frozen=True)
class Strip:
    """One strip: title with unit, its lines, and a limit to mark with its words."""

    title: str
    series: tuple[Series, ...]
    limit: float | None = None
    limit_words: str = ""


LOOKS = {"A": 'stroke-width="1.1"', "B": 'stroke-width="2.3"', "trial": 'stroke-width="1.6" stroke-dasharray="5 3"'}


def long_section(
    rows: Sequence[PathRow],
    strips: Sequence[Strip],
    side: str,
    lit: int | None = None,
    times: float = 1.0,
    width: int = 800,
    scale_text: tuple[float, str] = (0.1, "100 mm"),
) -> Markup:
    """Draw the rows over each other, the last one filled, and the strips below. times: how much taller heights are drawn.

    scale_text: a length [m] for the scale bar and its words.
    """
    blocks = [b for row in rows for b in row.blocks]
    length = max((b.x + b.length for b in blocks), default=0.0)
    if length <= 0:
        return Markup("")
    scale = (width - LEFT - RIGHT) / length
    tallest = max(max(b.entry, b.exit) for b in blocks) * scale * times
    middle = TOP + tallest / 2 + 8
    below = middle + tallest / 2 + 58
    height = below + len(strips) * (STRIP + GAP) + 6
    parts = [
        f'<svg class="long-section is-{side}" viewBox="0 0 {width} {height:.0f}" width="{width}" height="{height:.0f}" '
        f'role="group" aria-label="Long section of the {side} side, {len(rows[-1].blocks)} elements" '
        f'data-scale="{scale * times:.4f}" data-middle="{middle:.2f}">'
    ]
    for number, row in enumerate(rows):
        on_top = number == len(rows) - 1
        parts += _walls(row, on_top, scale, times, middle, lit)
    parts += _names(rows[-1].blocks, scale, middle + tallest / 2 + 17, width)
    parts += _marks(rows[-1].blocks, scale, times, middle, width)
    parts += _scale_bar(scale, scale_text, times, width)
    top = below
    for strip in strips:
        parts += _strip(strip, rows[-1].blocks, scale, top, width)
        top += STRIP + GAP
    return Markup("".join([*parts, "</svg>"]))


def _x(at: float, scale: float) -> float:
    return LEFT + at * scale


def _walls(row: PathRow, on_top: bool, scale: float, times: float, middle: float, lit: int | None) -> list[str]:
    parts = []
    for b in row.blocks:
        left, right = _x(b.x, scale), _x(b.x + b.length, scale)
        a, z = b.entry * scale * times / 2, b.exit * scale * times / 2
        shape = f"{left:.1f},{middle - a:.1f} {right:.1f},{middle - z:.1f} {right:.1f},{middle + z:.1f} {left:.1f},{middle + a:.1f}"
        if not on_top:
            parts.append(
                f'<polygon class="ghost-wall" points="{shape}" fill="none" {LOOKS.get(row.look, LOOKS["trial"])}/>'
            )
            continue
        state = "".join(
            (" is-lit" if b.key == lit else "", " is-nominal" if b.nominal else "", " is-volume" if b.is_volume else "")
        )
        branches = f", {b.branches} beside each other" if b.branches > 1 else ""
        parts.append(
            f'<a href="{escape(b.href)}" class="block{state}" data-key="{b.key}"><title>{escape(b.name)}{branches}</title>'
            f'<polygon points="{shape}"/>'
        )
        parts += _inside(b, (left + right) / 2, middle, 2 * min(a, z))
        parts.append("</a>")
        if b.drag:
            parts.append(
                f'<rect class="wall-grip" tabindex="0" role="slider" data-drag="{b.key}" data-size="{b.entry:.6f}" '
                f'aria-valuenow="{b.entry * 1000:.1f}" aria-valuetext="{escape(b.drag)}" '
                f'aria-label="Inside diameter of {escape(b.name)}: drag or arrow keys to try another" '
                f'x="{left + 1:.1f}" y="{middle - a - 5:.1f}" width="{max(right - left - 2, 4):.1f}" height="9"/>'
            )
    return parts


def _inside(b: Block, x: float, middle: float, room: float) -> list[str]:
    """What stands inside an element: how many there are, how far it turns, what it holds."""
    words = ", ".join(part for part in (f"× {b.branches}" if b.branches > 1 else "", b.bend, b.holds) if part)
    bends_alone = bool(b.bend) and b.branches == 1 and room > ARC_WANTS
    y = middle + (16 if bends_alone else 4)
    parts = (
        [f'<text class="branches" x="{x:.1f}" y="{y:.1f}" text-anchor="middle">{escape(words)}</text>'] if words else []
    )
    if bends_alone:
        parts.append(f'<path class="turn" d="M{x - 9:.1f} {middle + 2:.1f} q9 -14 18 0"/>')
    return parts


def _names(blocks: Sequence[Block], scale: float, y: float, width: int) -> list[str]:
    """Names in one line, the longest elements first; those without room go to a second line or are left to the table."""
    taken: dict[int, list[tuple[float, float]]] = {0: [], 1: []}
    found = []
    for b in sorted(blocks, key=lambda b: -b.length):
        centre, half = _x(b.x + b.length / 2, scale), len(b.name) * NAME_WIDTH / 2 + 3
        at = min(max(centre, half + 2), width - half - 2)
        for line in (0, 1):
            if all(at + half <= low or at - half >= high for low, high in taken[line]):
                taken[line].append((at - half, at + half))
                found.append(
                    f'<text class="part-name" x="{at:.1f}" y="{y + line * 15:.1f}" text-anchor="middle">{escape(b.name)}</text>'
                )
                break
    return found


def _marks(blocks: Sequence[Block], scale: float, times: float, middle: float, width: int) -> list[str]:
    """A small flag where something is wrong; the words stand as a title and in the table."""
    parts = []
    for b in blocks:
        if not b.marks:
            continue
        x, y = _x(b.x, scale), middle - b.entry * scale * times / 2 - 6
        parts.append(
            f'<g class="trouble"><title>{escape("; ".join(b.marks))}</title><path d="M{x:.1f} {y + 5:.1f} v-11 l9 3.5 l-9 3.5"/></g>'
        )
    return parts


def _scale_bar(scale: float, scale_text: tuple[float, str], times: float, width: int) -> list[str]:
    size, words = scale_text
    right = width - RIGHT
    left = right - size * scale
    tall = f"; heights drawn {times:g} times as large" if times != 1 else ", lengths and heights alike"
    return [
        f'<path class="scale" d="M{left:.1f} 8 v6 h{right - left:.1f} v-6"/>',
        f'<text class="scale" x="{left - 8:.1f}" y="15" text-anchor="end">{escape(words)}{tall}</text>',
    ]


def _strip(strip: Strip, blocks: Sequence[Block], scale: float, top: float, width: int) -> list[str]:
    values = [v for s in strip.series for run in s.runs for _, v in run] or [0.0]
    ticks = axes.from_nought(values, 3)

    def y(value: float) -> float:
        return top + STRIP - ticks.part(value) * STRIP

    title = f"{strip.title}; dashed: {strip.limit_words}" if strip.limit is not None else strip.title
    parts = [f'<text class="axis" x="{LEFT}" y="{top - 6:.1f}">{escape(title)}</text>']
    parts += axes.upright(ticks, y, LEFT, width - RIGHT)
    for b in blocks[1:]:
        parts.append(
            f'<line class="joint" x1="{_x(b.x, scale):.1f}" x2="{_x(b.x, scale):.1f}" y1="{top:.1f}" y2="{top + STRIP:.1f}"/>'
        )
    if strip.limit is not None and strip.limit <= ticks.high:
        at = y(strip.limit)
        parts.append(f'<line class="limit" x1="{LEFT}" x2="{width - RIGHT}" y1="{at:.1f}" y2="{at:.1f}"/>')
    for series in strip.series:
        for run in series.runs:
            line = " ".join(f"{_x(px, scale):.1f},{y(v):.1f}" for px, v in run)
            parts.append(
                f'<polyline class="curve" fill="none" points="{line}" {LOOKS.get(series.look, LOOKS["trial"])}/>'
            )
    return parts
