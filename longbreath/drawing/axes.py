"""Axes: where ticks stand on a round scale, how they read, and the lines and numbers that draw them. No two of one axis read alike."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from math import ceil, floor, log10

from markupsafe import escape

Place = Callable[[float], float]
"""Where a value lies in a picture [points]."""


def nice_step(span: float, wanted: int = 5) -> float:
    """A round step that divides a span into about `wanted` parts."""
    if span <= 0:
        return 1.0
    raw = span / wanted
    power = 10.0 ** floor(log10(raw))
    return float(next(m * power for m in (1, 2, 2.5, 5, 10) if m * power >= raw * 0.999))


@dataclass(frozen=True)
class Ticks:
    """A scale that begins and ends at round values, in display units."""

    low: float
    high: float
    step: float

    @property
    def values(self) -> list[float]:
        """Every tick, in order."""
        return [self.low + k * self.step for k in range(round((self.high - self.low) / self.step) + 1)]

    @property
    def span(self) -> float:
        """From the first to the last."""
        return self.high - self.low

    def part(self, value: float) -> float:
        """How far along the scale a value lies, as a share of one."""
        return (value - self.low) / self.span

    def is_nought(self, value: float) -> bool:
        """Whether a tick is nought, but for what a computer adds up."""
        return abs(value) < self.step / 1000

    def words(self, value: float, signed: bool = False) -> str:
        """A tick as it reads: as many places as the step has; signed: with its sign, and a true minus."""
        if self.is_nought(value):
            return "0"
        places = max(0, 1 - floor(log10(self.step)))
        return f"{round(value, places):{'+' if signed else ''}.10g}".replace("-", "−")


def ticks(low: float, high: float, wanted: int = 5) -> Ticks:
    """A round scale that holds both ends, with about `wanted` parts."""
    step = nice_step(high - low, wanted)
    first = floor(low / step + 1e-9) * step
    return Ticks(first, max(ceil(high / step - 1e-9) * step, first + step), step)


def from_nought(values: Iterable[float], wanted: int = 5) -> Ticks:
    """A round scale that holds values and nought."""
    held = [0.0, *values]
    return ticks(min(held), max(held), wanted)


def upright(
    scale: Ticks, y: Place, left: float, right: float, looks: tuple[str, str] = ("grid", "tick"), signed: bool = False
) -> list[str]:
    """Lines across with their numbers on the left; nought heavy where the scale goes below it. looks: classes of line and number."""
    parts, (line, text) = [], looks
    for value in scale.values:
        heavy = " nought" if signed and scale.is_nought(value) else ""
        parts.append(f'<line class="{line}{heavy}" x1="{left}" x2="{right}" y1="{y(value):.1f}" y2="{y(value):.1f}"/>')
        parts.append(number(text, left - 6, y(value) + 4, scale.words(value, signed), "end"))
    return parts


def level(
    scale: Ticks, x: Place, top: float, bottom: float, looks: tuple[str, str] = ("grid", "tick"), signed: bool = False
) -> list[str]:
    """Lines down with their numbers below, nought heavy."""
    parts, (line, text) = [], looks
    for value in scale.values:
        heavy = " nought" if signed and scale.is_nought(value) else ""
        parts.append(f'<line class="{line}{heavy}" x1="{x(value):.1f}" x2="{x(value):.1f}" y1="{top}" y2="{bottom}"/>')
        parts.append(number(text, x(value), bottom + 18, scale.words(value, signed)))
    return parts


def number(kind: str, x: float, y: float, words: str, anchor: str = "middle") -> str:
    """One number or word at an axis."""
    return f'<text class="{kind}" x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}">{escape(words)}</text>'
