"""Flow over lift as SVG: the growing curve of the desk and the picture of the bench sheet. A thin with open markers,
B heavy with filled markers, references dashed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from longbreath.drawing import axes

LEFT, RIGHT, TOP, BOTTOM = 40, 16, 26, 34
CROWD = 3
"""With more curves than this, references are drawn without their names."""
PRINTED = (
    "<style>.grid{stroke:#DDD5C6}.curve{stroke:#22262B}.open{fill:#fff;stroke:#22262B;stroke-width:1.3}"
    ".full,.small{fill:#22262B}text{font-family:Archivo;font-size:12.5px;fill:#22262B}</style>"
)
"""Ink and type of a picture that is printed: there it takes none from the page around it."""
_LOOKS = {
    "A": 'stroke-width="1.3"',
    "B": 'stroke-width="2.6"',
    "": 'stroke-width="1.6"',
    "reference": 'stroke-width="1" stroke-dasharray="4 3"',
}


@dataclass(frozen=True)
class Curve:
    """One trace to draw: name, look ("A", "B", "" or "reference"), points of lift and flow in display units, and half
    the interval of each flow."""

    name: str
    look: str
    points: Sequence[tuple[float, float]]
    spreads: Sequence[float] = ()


def flow_curves(
    curves: Sequence[Curve], lift_unit: str, flow_unit: str, width: int = 244, height: int = 260, printed: bool = False
) -> Markup:
    """The curves on common axes from nought, as an SVG that takes its ink from the text around it."""
    xs = [x for c in curves for x, _ in c.points] or [1.0]
    ys = [y for c in curves for _, y in c.points] or [1.0]
    lifts, flows = axes.from_nought([max(xs)]), axes.from_nought([max(ys)])

    def px(x: float) -> float:
        return LEFT + lifts.part(x) * (width - LEFT - RIGHT)

    def py(y: float) -> float:
        return height - BOTTOM - flows.part(y) * (height - TOP - BOTTOM)

    parts = [
        f'<svg class="curves" viewBox="0 0 {width} {height}" width="{width}" height="{height}" role="img" '
        f'aria-label="Flow over lift: {escape(", ".join(c.name for c in curves) or "nothing yet")}">'
    ]
    if printed:
        parts.append(PRINTED)
    parts += axes.upright(flows, py, LEFT, width - RIGHT)
    parts += [axes.number("tick", px(x), height - BOTTOM + 17, lifts.words(x)) for x in lifts.values[1:]]
    parts.append(
        f'<text class="axis" x="{width - RIGHT}" y="{height - 3}" text-anchor="end">lift, {escape(lift_unit)}</text>'
    )
    parts.append(f'<text class="axis" x="2" y="11">{escape(flow_unit)}</text>')
    for curve in curves:
        parts += _drawn(curve, px, py)
    named = [c for c in curves if c.points and (c.look != "reference" or len(curves) <= CROWD)]
    parts += _names(named, px, py, width)
    return Markup("".join([*parts, "</svg>"]))


def _drawn(curve: Curve, px, py) -> list[str]:  # type: ignore[no-untyped-def]
    line = " ".join(f"{px(x):.1f},{py(y):.1f}" for x, y in curve.points)
    parts = [f'<polyline class="curve" fill="none" points="{line}" {_LOOKS.get(curve.look, _LOOKS[""])}/>']
    for (x, y), spread in zip(curve.points, curve.spreads, strict=False):
        if abs(py(y + spread) - py(y - spread)) > 3:
            at, low, high = px(x), py(y - spread), py(y + spread)
            parts.append(f'<line class="curve" x1="{at:.1f}" x2="{at:.1f}" y1="{low:.1f}" y2="{high:.1f}"/>')
    kind = {"A": "open", "B": "full"}.get(curve.look, "small")
    parts += [
        f'<circle class="{kind}" cx="{px(x):.1f}" cy="{py(y):.1f}" r="{2 if kind == "small" else 3.4}"/>'
        for x, y in curve.points
    ]
    return parts


def _names(curves: Sequence[Curve], px, py, width: int) -> list[str]:  # type: ignore[no-untyped-def]
    """The highest curve's name above its end, the others' below theirs, moved down where they would cover one another."""
    taken: list[float] = []
    parts = []
    for number, curve in enumerate(sorted(curves, key=lambda c: py(c.points[-1][1]))):
        x, y = px(curve.points[-1][0]), py(curve.points[-1][1])
        beside = x < LEFT + (width - LEFT) * 0.62
        y += 5 if beside else -10 if number == 0 else 22
        while any(abs(y - other) < 15 for other in taken):
            y += 15
        taken.append(y)
        heavy = ' font-weight="650"' if curve.look == "B" else ""
        at, anchor = (x + 8, "start") if beside else (min(x, width - RIGHT), "end")
        parts.append(
            f'<text class="name" x="{at:.1f}" y="{y:.1f}" text-anchor="{anchor}"{heavy}>{escape(curve.name)}</text>'
        )
    return parts
