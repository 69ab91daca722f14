"""A log at a glance: speed over its rows with the pulls that were found in it; and one channel of a pull beside its set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from markupsafe import Markup, escape

from longbreath.drawing import axes

Array = npt.NDArray[np.float64]
WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM = 380, 140, 44, 10, 18, 22
TALL = 220
"""Height of the picture of a channel."""
MOST_POINTS = 700
WHOLE = 0.8
"""A check that speaks of this share of a pull speaks of all of it: nothing is shaded."""


@dataclass(frozen=True)
class LogPiece:
    """A stretch of a log: first and last row of the picture's, the word that stands over it, whether it is a pull."""

    first: int
    last: int
    word: str
    is_pull: bool


def _line(xs: Array, ys: Array, kind: str) -> str:
    good = np.isfinite(ys)
    points = " ".join(f"{x:.1f},{y:.1f}" for x, y in zip(xs[good], ys[good], strict=True))
    return f'<polyline class="{kind}" points="{points}"/>' if points else ""


def _thinned(size: int) -> npt.NDArray[np.int64]:
    return np.unique(np.linspace(0, size - 1, min(size, MOST_POINTS)).astype(np.int64))


def log_svg(speed: Array, pieces: Sequence[LogPiece], time: Array | None = None) -> Markup:
    """Speed [rpm] over time [s], or over its rows, with the stretches that were found."""
    axis = (
        time
        if time is not None and np.isfinite(time).all() and np.ptp(time) > 0
        else np.arange(speed.size, dtype=float)
    )
    top = float(np.nanmax(speed)) if np.isfinite(speed).any() else 1.0
    scale = axes.from_nought([max(top, 1.0)], 3)
    xs = LEFT + (axis - axis[0]) / max(float(axis[-1] - axis[0]), 1e-9) * (WIDTH - LEFT - RIGHT)
    ys = HEIGHT - BOTTOM - speed / scale.high * (HEIGHT - TOP - BOTTOM)
    parts = []
    for piece in pieces:
        left, right = xs[piece.first], xs[min(piece.last, xs.size - 1)]
        parts.append(
            f'<rect class="{"found" if piece.is_pull else "aside"}" x="{left:.1f}" y="{TOP}" '
            f'width="{max(right - left, 1.0):.1f}" height="{HEIGHT - TOP - BOTTOM}"/>'
            f'<text class="axis" x="{(left + right) / 2:.1f}" y="{TOP - 4}" text-anchor="middle">{escape(piece.word)}</text>'
        )
    tall = HEIGHT - TOP - BOTTOM
    parts += axes.upright(
        scale, lambda v: HEIGHT - BOTTOM - scale.part(v) * tall, LEFT, WIDTH - RIGHT, ("rule", "axis")
    )
    some = _thinned(speed.size)
    parts.append(_line(xs[some], ys[some], "curve"))
    unit = "s" if axis is time else "rows"
    for place, anchor in ((0, "start"), (-1, "end")):
        parts.append(axes.number("axis", float(xs[place]), HEIGHT - 6, f"{axis[place]:.0f} {unit}", anchor))
    told = f"Engine speed in rpm over the log, {sum(p.is_pull for p in pieces)} pulls found"
    return Markup(
        f'<svg class="logview" viewBox="0 0 {WIDTH} {HEIGHT}" role="img" aria-label="{escape(told)}">{"".join(parts)}</svg>'
    )


@dataclass(frozen=True)
class Curve:
    """One pull's course of a channel: speed [rpm] and values in display units; own: the pull that is looked at."""

    speed: Array
    values: Array
    own: bool


def channel_svg(curves: Sequence[Curve], label: str, symbol: str, where: tuple[float, float] | None = None) -> Markup:
    """A channel over speed: the pull drawn strong, the others of its letter thin, the place that a check speaks of shaded [rpm]."""
    shown = [c for c in curves if np.isfinite(c.values).any() and np.isfinite(c.speed).any()]
    if not shown:
        return Markup("")
    low, high = min(float(np.nanmin(c.values)) for c in shown), max(float(np.nanmax(c.values)) for c in shown)
    if high - low < 1e-9:
        low, high = low - 1.0, high + 1.0
    scale = axes.ticks(low, high, 4)
    first, last = min(float(np.nanmin(c.speed)) for c in shown), max(float(np.nanmax(c.speed)) for c in shown)
    wide, tall = WIDTH - LEFT - RIGHT, TALL - TOP - BOTTOM

    def x(speed: Array | float) -> Array | float:
        return LEFT + (speed - first) / max(last - first, 1e-9) * wide

    def y(value: Any) -> Any:
        return TALL - BOTTOM - scale.part(value) * tall

    parts = []
    if where is not None and where[1] - where[0] < WHOLE * (last - first):
        a, b = (float(np.clip(v, first, last)) for v in where)
        parts.append(
            f'<rect class="told" x="{x(a) - 3:.1f}" y="{TOP}" width="{float(x(b)) - float(x(a)) + 6:.1f}" height="{tall}"/>'
        )
    parts += axes.upright(scale, y, LEFT, WIDTH - RIGHT, ("rule", "axis"))
    for curve in sorted(shown, key=lambda c: c.own):
        some = _thinned(curve.speed.size)
        xs, ys = np.asarray(x(curve.speed[some])), np.asarray(y(curve.values[some]))
        parts.append(_line(xs, ys, "curve own" if curve.own else "curve other"))
    for speed, anchor in ((first, "start"), (last, "end")):
        parts.append(axes.number("axis", float(x(speed)), TALL - 6, f"{speed:.0f} rpm", anchor))
    parts.append(
        f'<text class="axis" x="{LEFT}" y="11">{escape(label)}{f", {escape(symbol)}" if symbol else ""}</text>'
    )
    told = f"{label} over engine speed, beside the other pulls of its letter"
    return Markup(
        f'<svg class="logview" viewBox="0 0 {WIDTH} {TALL}" role="img" aria-label="{escape(told)}">{"".join(parts)}</svg>'
    )
