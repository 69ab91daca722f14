"""Pictures of Weigh: from observed to net as a waterfall, variants with their intervals and groups, a factor's effects beside
each other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.drawing import axes

ROW, LEFT, RIGHT, TOP, BOTTOM = 30, 270, 26, 12, 30


@dataclass(frozen=True)
class Bar:
    """One stage in display units: its label, kind (observed, measured, bounded, net), by how much it moves, half width."""

    label: str
    kind: str
    value: float
    half: float


@dataclass(frozen=True)
class _Scale:
    ticks: axes.Ticks
    width: int

    def x(self, value: float) -> float:
        return LEFT + self.ticks.part(value) * (self.width - LEFT - RIGHT)


def _axis(scale: _Scale, height: int, unit: str) -> list[str]:
    parts = axes.level(scale.ticks, scale.x, TOP, height - BOTTOM, ("grid", "axis"), signed=True)
    return [*parts, axes.number("axis", LEFT - 12, height - BOTTOM + 18, unit, "end")]


def _svg(kind: str, width: int, height: int, words: str, parts: Sequence[str]) -> Markup:
    head = (
        f'<svg class="weighing {kind}" viewBox="0 0 {width} {height}" width="{width}" height="{height}" role="img" '
        f'aria-label="{escape(words)}">'
    )
    return Markup(head + "".join(parts) + "</svg>")


def waterfall(bars: Sequence[Bar], unit: str, width: int = 720) -> Markup:
    """From observed (first) to net (last): what is taken off hangs between, each with its interval; in display units."""
    totals, running = [], 0.0
    for bar in bars:
        start = 0.0 if bar.kind in ("observed", "net") else running
        running = bar.value if bar.kind in ("observed", "net") else running + bar.value
        totals.append((start, running))
    ends = [(min(a, b) - bar.half, max(a, b) + bar.half) for bar, (a, b) in zip(bars, totals, strict=True)]
    scale = _Scale(axes.from_nought([edge for e in ends for edge in e], 6), width)
    height = TOP + ROW * len(bars) + BOTTOM
    parts = _axis(scale, height, unit)
    for k, (bar, (start, end)) in enumerate(zip(bars, totals, strict=True)):
        y = TOP + ROW * k + ROW / 2
        x0, x1 = sorted((scale.x(start), scale.x(end)))
        parts.append(
            f'<text class="label" x="{LEFT - 12}" y="{y + 4:.1f}" text-anchor="end">{escape(_short(bar.label))}</text>'
        )
        parts.append(
            f'<rect class="bar is-{bar.kind}" x="{x0:.1f}" y="{y - 8:.1f}" width="{max(x1 - x0, 1.2):.1f}" height="16"/>'
        )
        low, high = scale.x(end - bar.half), scale.x(end + bar.half)
        parts.append(
            f'<path class="whisker" d="M{low:.1f} {y - 5:.1f}v10M{low:.1f} {y:.1f}H{high:.1f}M{high:.1f} {y - 5:.1f}v10"/>'
        )
        if k + 1 < len(bars):
            parts.append(
                f'<line class="hang" x1="{scale.x(end):.1f}" x2="{scale.x(end):.1f}" y1="{y + 8:.1f}" y2="{y + ROW - 8:.1f}"/>'
            )
    words = "; ".join(f"{bar.label} {bar.value:+.3g} ± {bar.half:.2g} {unit}" for bar in bars)
    return _svg("waterfall", width, height, f"From observed to net: {words}", parts)


def _short(text: str) -> str:
    return text if len(text) <= 40 else text[:39] + "…"


@dataclass(frozen=True)
class RankedVariant:
    """A variant against the reference in display units: letter, what it is, difference, half width; is_reference: the one against
    which."""

    letter: str
    name: str
    value: float
    half: float
    is_reference: bool = False


def ranking(variants: Sequence[RankedVariant], groups: Sequence[Sequence[str]], unit: str, width: int = 780) -> Markup:
    """Variants, best first, each with its interval against the reference; those that cannot be told apart hang on one line at the
    right."""
    room = 22 * len([g for g in groups if len(g) > 1])
    edges = [edge for v in variants for edge in (v.value - v.half, v.value + v.half)]
    scale = _Scale(axes.from_nought(edges, 6), width - room)
    height = TOP + ROW * len(variants) + BOTTOM
    parts = _axis(scale, height, unit)
    at = {v.letter: TOP + ROW * k + ROW / 2 for k, v in enumerate(variants)}
    for variant in variants:
        y, x = at[variant.letter], scale.x(variant.value)
        name = escape(_short(f"{variant.letter}  {variant.name}"))
        parts.append(f'<text class="label" x="{LEFT - 12}" y="{y + 4:.1f}" text-anchor="end">{name}</text>')
        if variant.half > 0:
            low, high = scale.x(variant.value - variant.half), scale.x(variant.value + variant.half)
            parts.append(f'<line class="span" x1="{low:.1f}" x2="{high:.1f}" y1="{y:.1f}" y2="{y:.1f}"/>')
        kind = "reference" if variant.is_reference else "dot"
        parts.append(f'<circle class="{kind}" cx="{x:.1f}" cy="{y:.1f}" r="5"/>')
    for n, group in enumerate(g for g in groups if len(g) > 1):
        x = width - room + 22 * n + 8
        ys = [at[letter] for letter in group]
        parts.append(f'<line class="together" x1="{x}" x2="{x}" y1="{min(ys) - 9:.1f}" y2="{max(ys) + 9:.1f}"/>')
        parts += [f'<circle class="knot" cx="{x}" cy="{y:.1f}" r="3.2"/>' for y in ys]
    told = ", ".join(f"{v.letter} {v.value:+.3g}" for v in variants)
    together = "; ".join(" and ".join(g) for g in groups if len(g) > 1)
    return _svg(
        "ranking", width, height, f"Best first: {told} {unit}. Cannot be told apart: {together or 'none'}", parts
    )


@dataclass(frozen=True)
class Panel:
    """One small picture: its title, speeds [rpm], difference and half width of its band in display units."""

    title: str
    rpm: Sequence[float]
    difference: Sequence[float]
    half: Sequence[float]


PANEL, TALL, GAP, SIDE = 228, 132, 18, 60


def small_multiples(panels: Sequence[Panel], unit: str) -> Markup:
    """The same difference under several settings beside each other, on one scale, each with its band."""
    lows = [d - h for p in panels for d, h in zip(p.difference, p.half, strict=True)]
    highs = [d + h for p in panels for d, h in zip(p.difference, p.half, strict=True)]
    scale = axes.from_nought([*lows, *highs], 4)
    across = min(len(panels), 3)
    down = -(-len(panels) // across)
    width, height = SIDE + across * (PANEL + GAP), down * (TALL + 46)
    parts = []
    for n, panel in enumerate(panels):
        left, up = SIDE + (n % across) * (PANEL + GAP), (n // across) * (TALL + 46) + 20
        parts += _panel(panel, left, up, scale, n % across == 0, unit)
    words = "; ".join(f"{p.title}: {min(p.difference):+.3g} to {max(p.difference):+.3g} {unit}" for p in panels)
    return _svg("multiples", width, height, f"B minus A under each setting. {words}", parts)


def _panel(panel: Panel, left: float, up: float, scale: axes.Ticks, first: bool, unit: str) -> list[str]:
    low, high = panel.rpm[0], panel.rpm[-1]

    def x(rpm: float) -> float:
        return left + (rpm - low) / (high - low) * PANEL

    def y(value: float) -> float:
        return up + TALL - scale.part(value) * TALL

    parts = [f'<text class="label" x="{left:.0f}" y="{up - 7:.0f}">{escape(_short(panel.title))}</text>']
    drawn = axes.upright(scale, y, left, left + PANEL, ("grid", "axis"), signed=True)
    parts += drawn if first else [part for part in drawn if part.startswith("<line")]
    if first:
        parts.append(axes.number("axis", left - 6, up - 7, unit, "end"))
    points = list(zip(panel.rpm, panel.difference, panel.half, strict=True))
    band = [f"{x(r):.1f},{y(d + h):.1f}" for r, d, h in points] + [
        f"{x(r):.1f},{y(d - h):.1f}" for r, d, h in reversed(points)
    ]
    parts.append(f'<polygon class="band" points="{" ".join(band)}"/>')
    parts.append(f'<polyline class="line" points="{" ".join(f"{x(r):.1f},{y(d):.1f}" for r, d, _ in points)}"/>')
    for rpm, anchor in ((low, "start"), (high, "end")):
        parts.append(
            f'<text class="axis" x="{x(rpm):.1f}" y="{up + TALL + 16:.0f}" text-anchor="{anchor}">{rpm:.0f}</text>'
        )
    return parts
