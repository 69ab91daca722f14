"""The water column of the desk as SVG; a script moves its level, nothing else."""

from __future__ import annotations

from markupsafe import Markup, escape

from longbreath.drawing.axes import nice_step, number

WIDTH, HEIGHT = 150, 420
_TOP, _BOTTOM, _LEFT, _RIGHT = 14, 8, 52, 88


def scale_top(test_pressure: float) -> float:
    """Where the scale ends, for a test pressure in the same display unit: a little above it, at a round figure."""
    step = nice_step(test_pressure, 7)
    return step * (int(test_pressure * 1.12 / step) + 1)


def water_column(test_pressure: float, unit: str) -> Markup:
    """The glass with its scale and the mark of the test pressure (display unit). The level stands in `#level` and
    `#meniscus`; `data-top`, `data-bottom` say where nought and the end of the scale lie."""
    top = scale_top(test_pressure)
    step = nice_step(test_pressure, 7)
    zero = HEIGHT - _BOTTOM

    def y(value: float) -> float:
        return zero - value / top * (zero - _TOP)

    parts = [
        f'<svg class="column" id="column" viewBox="0 0 {WIDTH} {HEIGHT}" data-zero="{zero}" data-full="{_TOP}" role="img" '
        f'aria-label="Water column, asked {test_pressure:g} {escape(unit)}">',
        f'<rect class="glass" x="{_LEFT}" y="{_TOP}" width="{_RIGHT - _LEFT}" height="{zero - _TOP}"/>',
        f'<rect class="water" id="level" x="{_LEFT}" y="{zero}" width="{_RIGHT - _LEFT}" height="0"/>',
        f'<line class="meniscus" id="meniscus" x1="{_LEFT}" x2="{_RIGHT}" y1="{zero}" y2="{zero}"/>',
    ]
    for i in range(round(top / step) + 1):
        value = i * step
        if abs(value - test_pressure) > step * 0.3:
            parts.append(number("tick", _LEFT - 14, y(value) + 4.5, f"{value:.3g}", "end"))
        parts.append(f'<line class="mark" x1="{_LEFT - 10}" x2="{_LEFT}" y1="{y(value):.1f}" y2="{y(value):.1f}"/>')
    asked = y(test_pressure)
    parts.append(f'<line class="asked" x1="{_LEFT - 12}" x2="{_RIGHT + 14}" y1="{asked:.1f}" y2="{asked:.1f}"/>')
    parts.append(f'<text class="asked" x="{_RIGHT + 18}" y="{asked + 5:.1f}">{test_pressure:.3g} asked</text>')
    return Markup("".join([*parts, "</svg>"]))
