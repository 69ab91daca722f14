"""Charts of a boosted comparison and of several variants, as Vega-Lite specifications in the manner of the others."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

import altair as alt
import numpy as np

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.compare.bands import Band
from longbreath.core.weigh.boost import EqualBoost
from longbreath.core.weigh.several import Several
from longbreath.drawing import charts
from longbreath.drawing.palette import PALETTES, Palette

DASHES = ([1, 0], [9, 3], [2, 3], [9, 3, 2, 3], [14, 3], [5, 5], [1, 2], [12, 3, 2, 3, 2, 3])
"""Line styles of further variants, so that they are told apart without colour."""


def boost_chart(found: EqualBoost, bands: Sequence[Band], system: str, theme: str, width: int = 760) -> dict[str, Any]:
    """Absolute pressure of A and B above; B − A as set and at equal pressure below, the latter with its band."""
    rpm = found.grid / RPM
    torque, pressure = (units.scale(kind, system) for kind in ("torque", "pressure"))
    equal, half = found.difference / torque, found.half_width / torque
    ok = np.isfinite(equal)
    rows: dict[str, charts.Rows] = {
        "bands": charts.bands_of_use(bands),
        "pressures": charts.rows_of(rpm, a=found.pressure / pressure, b=found.pressure_b / pressure),
        "set": charts.rows_of(rpm, d=found.as_set / torque),
        "equal": charts.rows_of(rpm[ok], d=equal[ok], low=(equal - half)[ok], high=(equal + half)[ok]),
        "nought": [{"y": 0}],
    }
    return charts.filled(_boost_picture(system, theme, width), rows, [float(rpm[0]), float(rpm[-1])])


@cache
def _boost_picture(system: str, theme: str, width: int) -> dict[str, Any]:
    palette = PALETTES[theme]
    torque, pressure = (units.kind_named(kind).symbol(system) for kind in ("torque", "pressure"))
    x = _speed(labels=False)
    base = alt.Chart(charts.held("pressures"))
    title = f"manifold pressure, absolute, {pressure}: A thin, B heavy (the axis does not start at nought)"
    y = alt.Y("a:Q", scale=alt.Scale(zero=False), axis=charts.titled_axis(title, -30, -8, tickCount=4))
    upper = alt.layer(
        *charts.zones(palette, top=True),
        base.mark_line(strokeWidth=1.3, color=palette.ink).encode(x=x, y=y),
        base.mark_line(strokeWidth=2.8, color=palette.ink).encode(x=x, y=alt.Y("b:Q")),
    ).properties(width=width, height=104)
    x = _speed(labels=True)
    axis = charts.titled_axis(
        f"B − A, {torque}: as set dashed, at equal boost heavy, with its band", -30, -10, tickCount=5
    )
    equal, as_set = alt.Chart(charts.held("equal")), alt.Chart(charts.held("set"))
    lower = alt.layer(
        *charts.zones(palette, top=False),
        equal.mark_area(color=palette.band, opacity=0.75).encode(x=x, y=alt.Y("low:Q", axis=axis), y2="high:Q"),
        equal.mark_line(strokeWidth=2.4, color=palette.ink).encode(x=x, y="d:Q"),
        as_set.mark_line(strokeWidth=1.6, strokeDash=[7, 4], color=palette.ink).encode(x=x, y="d:Q"),
        alt.Chart(charts.held("nought")).mark_rule(color=palette.ink, strokeWidth=1).encode(y="y:Q"),
    ).properties(width=width, height=150)
    return charts.picture(alt.vconcat(upper, lower, spacing=22), palette)


def _speed(labels: bool) -> alt.X:
    return alt.X(
        "rpm:Q",
        scale=alt.Scale(domain=charts.DOMAIN, nice=False),
        axis=charts.rpm_axis("rpm" if labels else None, labels=labels),
    )


def several_chart(
    found: Several,
    others: Sequence[tuple[str, Sequence[float], Sequence[float]]],
    system: str,
    theme: str,
    width: int = 760,
) -> dict[str, Any]:
    """Mean torque of every variant over speed, told apart by line style; others' curves (name, rpm, torque [N m]) as crosses."""
    scale = units.scale("torque", system)
    rpm = found.grid / RPM
    rows = [
        {"rpm": float(r), "torque": round(float(t) / scale, 3), "label": letter}
        for letter in found.letters
        for r, t in zip(rpm, found.mean_of(letter), strict=True)
    ]
    ends = [{**row, "text": row["label"]} for row in rows if row["rpm"] == float(rpm[-1])]
    beside = [
        {"rpm": float(r), "torque": round(float(t) / scale, 3), "label": name}
        for name, speeds, values in others
        for r, t in zip(speeds, values, strict=True)
        if rpm[0] <= r <= rpm[-1]
    ]
    data: dict[str, charts.Rows] = {
        "bands": charts.bands_of_use([band for band, _ in found.bands]),
        "curves": rows,
        "ends": ends,
        **({"beside": beside} if beside else {}),
    }
    spec = charts.filled(
        _several_picture(system, theme, width, found.letters, bool(beside)), data, [float(rpm[0]), float(rpm[-1])]
    )
    return spec


@cache
def _several_picture(system: str, theme: str, width: int, letters: tuple[str, ...], has_others: bool) -> dict[str, Any]:
    palette: Palette = PALETTES[theme]
    symbol = units.kind_named("torque").symbol(system)
    x = _speed(labels=True)
    crosses = "; crosses: others’ tables, never ranked" if has_others else ""
    title = f"torque, {symbol}{charts.NOT_FROM_NOUGHT}{crosses}"
    y = alt.Y("torque:Q", scale=alt.Scale(zero=False), axis=charts.titled_axis(title, -30, -8, tickCount=6))
    base = alt.Chart(charts.held("curves"))
    lines = [
        base.transform_filter(alt.datum.label == letter)
        .mark_line(strokeWidth=1.2 + 0.5 * (k > 0), strokeDash=DASHES[k % len(DASHES)], color=palette.ink)
        .encode(x=x, y=y)
        for k, letter in enumerate(letters)
    ]
    ends = (
        alt.Chart(charts.held("ends")).mark_text(align="left", dx=5, color=palette.ink).encode(x=x, y=y, text="text:N")
    )
    cross = alt.Chart(charts.held("beside")).mark_point(shape="cross", size=60, color=palette.soft).encode(x=x, y=y)
    layered = alt.layer(*charts.zones(palette, top=True), *lines, ends, *([cross] if has_others else []))
    return charts.picture(layered.properties(width=width - 14, height=230), palette)
