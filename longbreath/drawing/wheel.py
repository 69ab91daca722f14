"""The degree wheel as SVG: each port's opening as an arc on its own ring, two sheets over each other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, pi, sin

from markupsafe import Markup, escape

SIZE = 440
MIDDLE = SIZE / 2
OUTER = 164
RING = 26
LOOKS = {"A": 'stroke-width="3"', "B": 'stroke-width="9"', "": 'stroke-width="6"'}


@dataclass(frozen=True)
class Arc:
    """One opening to draw: port, look ("A", "B" or ""), opening and closing [rad after top dead centre], the wheel's
    round [rad], and the words at both ends."""

    port: str
    look: str
    opens: float
    closes: float
    turn: float
    open_words: str
    close_words: str


def wheel(arcs: Sequence[Arc], ports: Sequence[str], turn: float) -> Markup:
    """The wheel with top dead centre up and angles clockwise; ring by port, thin and heavy beside each other on it."""
    said = escape("; ".join(f"{a.port} {a.look} opens {a.open_words}, closes {a.close_words}" for a in arcs))
    parts = [
        f'<svg class="wheel" viewBox="0 0 {SIZE} {SIZE}" width="{SIZE}" height="{SIZE}" role="img" '
        f'aria-label="Degree wheel: {said}">',
        *_scale(turn),
    ]
    for number, port in enumerate(ports):
        parts += _ring([a for a in arcs if a.port == port], OUTER - 30 - number * (RING + 16))
    return Markup("".join([*parts, "</svg>"]))


def _ring(arcs: Sequence[Arc], radius: float) -> list[str]:
    """One port's ring with its arcs beside each other; the last, which lies heavy, tells its angles."""
    parts = [f'<circle class="ring" cx="{MIDDLE}" cy="{MIDDLE}" r="{radius}"/>']
    heavy = -5 if len(arcs) > 1 else 0
    for arc in arcs:
        at = radius + (6 if arc.look == "A" else heavy)
        parts += _arc(arc, at)
        if arc is arcs[-1]:
            parts += _ends(arc, at)
    return parts


def _at(angle: float, turn: float, radius: float) -> tuple[float, float]:
    """A place on the wheel: angle [rad] of the shaft, top up, clockwise."""
    round_angle = angle / turn * 2.0 * pi
    return MIDDLE + radius * sin(round_angle), MIDDLE - radius * cos(round_angle)


def _scale(turn: float) -> list[str]:
    degrees = round(turn * 180.0 / pi)
    step = 10 if degrees <= 360 else 30
    parts = []
    for degree in range(0, degrees, step):
        long = degree % (step * 3) == 0
        x1, y1 = _at(degree * pi / 180.0, turn, OUTER)
        x2, y2 = _at(degree * pi / 180.0, turn, OUTER + (12 if long else 6))
        parts.append(f'<line class="tick" x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}"/>')
    parts.append(f'<circle class="hub" cx="{MIDDLE}" cy="{MIDDLE}" r="3"/>')
    centres = (
        [("top", 0.0), ("bottom", pi)]
        if degrees <= 360
        else [("top", 0.0), ("bottom", 1.5 * pi), ("top", 3 * pi), ("bottom", 4.5 * pi)]
    )
    for words, angle in centres:
        x, y = _at(angle, turn, OUTER + 26)
        parts.append(f'<text class="centre" x="{x:.1f}" y="{y + 5:.1f}" text-anchor="middle">{words}</text>')
        x, y = _at(angle, turn, OUTER)
        parts.append(f'<line class="centre-line" x1="{MIDDLE}" y1="{MIDDLE}" x2="{x:.1f}" y2="{y:.1f}"/>')
    return parts


def _arc(arc: Arc, radius: float) -> list[str]:
    side = "exhaust" if arc.port == "exhaust" else "intake"
    (x1, y1), (x2, y2) = _at(arc.opens, arc.turn, radius), _at(arc.closes, arc.turn, radius)
    share = (arc.closes - arc.opens) / arc.turn
    large = 1 if share % 1.0 > 0.5 else 0
    bow = f"M{x1:.1f} {y1:.1f} A{radius} {radius} 0 {large} 1 {x2:.1f} {y2:.1f}"
    ends = []
    for angle in (arc.opens, arc.closes):
        (a, b), (c, d) = _at(angle, arc.turn, radius - 8), _at(angle, arc.turn, radius + 8)
        ends.append(f'<line class="end" x1="{a:.1f}" y1="{b:.1f}" x2="{c:.1f}" y2="{d:.1f}"/>')
    return [f'<path class="arc is-{side}" d="{bow}" fill="none" {LOOKS.get(arc.look, LOOKS[""])}/>', *ends]


def _ends(arc: Arc, radius: float) -> list[str]:
    """The angles at both ends of an arc, inside its ring."""
    found = []
    for angle, words, lean in ((arc.opens, arc.open_words, 0.13), (arc.closes, arc.close_words, -0.13)):
        x, y = _at(angle + lean * arc.turn / (2.0 * pi), arc.turn, radius - 30)
        found.append(f'<text class="end-words" x="{x:.1f}" y="{y + 4:.1f}" text-anchor="middle">{escape(words)}</text>')
    return found
