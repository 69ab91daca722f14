"""Charts as Vega-Lite specifications, made with Altair; one description for the screen and the printed sheet.

A is a thin line with open markers, B a heavy line with filled markers. Gain is hatched rising to the right, loss
falling to the right: fills `url(#gain)` and `url(#loss)`, defined once on the page.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import altair as alt
import numpy as np
import vl_convert
from altair.utils.schemapi import disable_debug_mode

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.dyno.bands import Band, Weighing
from longbreath.drawing.palette import PALETTES, Palette

# the specifications are checked by the tests; checking each part again on every request costs most of the time
disable_debug_mode()

TEXT = "Archivo Variable, Archivo, sans-serif"
FIGURES = "Martian Mono Variable, Martian Mono, monospace"

HATCHES = (
    '<defs><pattern id="gain" width="6" height="6" patternUnits="userSpaceOnUse">'
    '<path d="M-1,1 l2,-2 M0,6 l6,-6 M5,7 l2,-2" stroke="{ink}" stroke-width="1"/></pattern>'
    '<pattern id="loss" width="6" height="6" patternUnits="userSpaceOnUse">'
    '<path d="M-1,5 l2,2 M0,0 l6,6 M5,-1 l2,2" stroke="{ink}" stroke-width="1"/></pattern></defs>'
)


def hatches(theme: str) -> str:
    """The two pattern definitions in a theme's ink, to stand once in a page or an exported SVG."""
    return HATCHES.format(ink=PALETTES[theme].ink)


def _rows(x: np.ndarray, **columns: np.ndarray) -> list[dict[str, Any]]:
    return [
        {"rpm": round(float(v), 1), **{k: round(float(c[i]), 4) for k, c in columns.items()}} for i, v in enumerate(x)
    ]


class _Datasets(dict[str, list[dict[str, Any]]]):
    """The rows of a chart by name, kept out of the specification while it is built (which copies it many times)."""

    def hold(self, rows: Sequence[dict[str, Any]]) -> alt.NamedData:
        """Keep rows and return the reference to them."""
        name = f"rows{len(self)}"
        self[name] = list(rows)
        return alt.NamedData(name)


def _configured(chart: Any, palette: Palette, data: _Datasets) -> dict[str, Any]:
    spec = (
        chart.configure(
            aria=False, background="transparent", font=TEXT, padding={"left": 2, "right": 12, "top": 4, "bottom": 2}
        )
        .configure_view(stroke=None)
        .configure_mark(aria=False)
        .configure_axis(
            aria=False,
            labelFont=FIGURES,
            labelFontSize=12.5,
            labelColor=palette.ink,
            titleFont=TEXT,
            titleFontSize=13,
            titleFontWeight="normal",
            titleColor=palette.soft,
            gridColor=palette.rule,
            domain=False,
            ticks=False,
            labelPadding=6,
        )
        .configure_text(font=TEXT, fontSize=13, color=palette.ink)
        .to_dict(validate=False)
    )
    spec["datasets"] = dict(data)
    spec["usermeta"] = {"embedOptions": {"actions": False, "renderer": "svg"}}
    return dict(spec)


def _rpm_axis(title: str | None = None, labels: bool = True) -> alt.Axis:
    return alt.Axis(title=title, labels=labels, format=",.0f", grid=False, tickCount=7, labelExpr=_THIN)


def _titled_axis(title: str, x: int, y: int, **more: Any) -> alt.Axis:
    """An upright axis whose title lies flat above it, shifted by x and y pixels."""
    return alt.Axis(title=title, titleAnchor="end", titleAngle=0, titleAlign="left", titleX=x, titleY=y, **more)


_THIN = "replace(datum.label, ',', '\\u202f')"


def _zones(bands: Sequence[Band], palette: Palette, data: _Datasets, top: bool) -> list[alt.Chart]:
    """The middle band lifted off the ground, and the names of the bands."""
    rows = [{"from": b.low / RPM, "to": b.high / RPM, "name": b.name} for b in bands]
    held = data.hold(rows)
    x, x2 = alt.X("from:Q", scale=alt.Scale(zero=False, nice=False)), alt.X2("to:Q")
    shade = (
        alt.Chart(held)
        .transform_filter("datum.name == 'middle'")
        .mark_rect(color=palette.sheet, stroke=palette.rule, strokeWidth=1)
        .encode(x=x, x2=x2)
    )
    names = (
        alt.Chart(held)
        .mark_text(align="left", dx=6, baseline="top", color=palette.soft)
        .encode(x=x, y=alt.value(4), text="name:N")
    )
    return [shade, names] if top else [shade]


def weigh_chart(
    weighing: Weighing, bands: Sequence[Band], system: str, theme: str, width: int = 760, brush: bool = True
) -> dict[str, Any]:
    """A and B over speed with all repeats, B − A below on the same axis with its simultaneous band.

    With `brush`, a band may be dragged across the lower picture.
    """
    palette = PALETTES[theme]
    data = _Datasets()
    c = weighing.comparison
    scale = units.scale("torque", system)
    symbol = units.kind_named("torque").symbol(system)
    rpm = c.grid / RPM
    domain = [float(rpm[0]), float(rpm[-1])]
    x = alt.X("rpm:Q", scale=alt.Scale(domain=domain, nice=False), axis=_rpm_axis(labels=False))
    repeats = [
        {"rpm": float(r), "torque": round(float(t) / scale, 3), "pull": run.order, "label": run.label}
        for run in c.runs
        for r, t in zip(rpm, run.torque, strict=True)
    ]
    y = alt.Y("torque:Q", scale=alt.Scale(zero=False), axis=_titled_axis(f"torque, {symbol}", -30, -8, tickCount=6))
    faint = alt.Chart(data.hold(repeats)).mark_line(strokeWidth=0.8, opacity=0.35, color=palette.soft)
    curves = data.hold(_rows(rpm, a=c.a / scale, b=c.b / scale))
    layers: list[Any] = [
        *_zones(bands, palette, data, top=True),
        faint.encode(x=x, y=y, detail="pull:N"),
        alt.Chart(curves).mark_line(strokeWidth=1.3, color=palette.ink).encode(x=x, y=alt.Y("a:Q")),
        alt.Chart(curves).mark_line(strokeWidth=2.8, color=palette.ink).encode(x=x, y=alt.Y("b:Q")),
        *_markers(rpm, c.a / scale, c.b / scale, palette, x, data),
        *_names(rpm, c.a / scale, c.b / scale, palette, x, data),
    ]
    upper = alt.layer(*layers).properties(width=width, height=212)
    lower = _difference(weighing, bands, system, palette, domain, data, brush).properties(width=width, height=104)
    return _configured(alt.vconcat(upper, lower, spacing=22), palette, data)


def _markers(rpm: np.ndarray, a: np.ndarray, b: np.ndarray, palette: Palette, x: alt.X, data: _Datasets) -> list[Any]:
    """Open circles on A, filled ones on B."""
    some = slice(3, None, 10)
    held = data.hold(_rows(rpm[some], a=a[some], b=b[some]))
    return [
        alt.Chart(held)
        .mark_point(size=34, filled=False, stroke=palette.ink, fill=palette.paper, opacity=1, strokeWidth=1.3)
        .encode(x=x, y=alt.Y("a:Q")),
        alt.Chart(held).mark_point(size=34, filled=True, color=palette.ink, opacity=1).encode(x=x, y=alt.Y("b:Q")),
    ]


def _names(rpm: np.ndarray, a: np.ndarray, b: np.ndarray, palette: Palette, x: alt.X, data: _Datasets) -> list[Any]:
    """The names A and B, where the curves lie far apart, on the outer side of each and off its slope."""
    inner = slice(rpm.size // 8, max(rpm.size * 6 // 7, rpm.size // 8 + 2))
    at = inner.start + int(np.argmax(np.abs((b - a)[inner])))
    up = 1 if b[at] >= a[at] else -1
    aside = 34 if a[min(at + 1, a.size - 1)] < a[at - 1] else -34
    names: tuple[tuple[np.ndarray, str, int, Any], ...] = ((a, "A stock", up, "normal"), (b, "B product", -up, "bold"))
    return [
        alt.Chart(data.hold([{"rpm": float(rpm[at]), "y": float(curve[at]), "text": text}]))
        .mark_text(dy=17 * way, dx=-aside * way, fontWeight=weight, color=palette.ink)
        .encode(x=x, y=alt.Y("y:Q"), text="text:N")
        for curve, text, way, weight in names
    ]


def _difference(
    weighing: Weighing,
    bands: Sequence[Band],
    system: str,
    palette: Palette,
    domain: list[float],
    data: _Datasets,
    brush: bool,
) -> Any:
    c = weighing.comparison
    scale = units.scale("torque", system)
    symbol = units.kind_named("torque").symbol(system)
    rpm, d, h = c.grid / RPM, c.difference / scale, c.half_width / scale
    proven_gain, proven_loss = d - h > 0, d + h < 0
    held = data.hold(
        _rows(rpm, d=d, low=d - h, high=d + h, gain=np.where(proven_gain, d, 0.0), loss=np.where(proven_loss, d, 0.0))
    )
    x = alt.X("rpm:Q", scale=alt.Scale(domain=domain, nice=False), axis=_rpm_axis("rpm"))
    title = f"B − A, {symbol}, with its 95 % band for the whole curve at once"
    axis = _titled_axis(
        title,
        -30,
        -10,
        tickCount=4,
        format="+,.0f",
        labelExpr="datum.value == 0 ? '0' : replace(datum.label, '-', '−')",
    )
    base = alt.Chart(held)
    asked = alt.selection_interval(
        name="asked",
        encodings=["x"],
        empty=False,
        mark=alt.BrushConfig(fill=palette.ink, fillOpacity=0.08, stroke=palette.ink),
    )
    return alt.layer(
        *_zones(bands, palette, data, top=False),
        base.mark_area(color=palette.band, opacity=0.75)
        .encode(x=x, y=alt.Y("low:Q", axis=axis), y2="high:Q")
        .add_params(*([asked] if brush else [])),
        base.mark_area(fill="url(#gain)", opacity=1).encode(x=x, y="gain:Q"),
        base.mark_area(fill="url(#loss)", opacity=1).encode(x=x, y="loss:Q"),
        base.mark_line(strokeWidth=1.8, color=palette.ink).encode(x=x, y="d:Q"),
        alt.Chart(data.hold([{"y": 0}])).mark_rule(color=palette.ink, strokeWidth=1).encode(y="y:Q"),
    )


def demand_chart(rows: Sequence[dict[str, Any]], flow_unit: str, theme: str, width: int = 380) -> dict[str, Any]:
    """Air demand over speed. rows: rpm and flow in display units."""
    palette = PALETTES[theme]
    data = _Datasets()
    x = alt.X("rpm:Q", axis=_rpm_axis("rpm"), scale=alt.Scale(nice=False))
    y = alt.Y("flow:Q", axis=_titled_axis(f"air demand, {flow_unit}", -26, -8, tickCount=4))
    line = alt.Chart(data.hold(rows)).mark_line(strokeWidth=2, color=palette.intake).encode(x=x, y=y)
    return _configured(line.properties(width=width, height=150), palette, data)


def pull_chart(curves: Sequence[dict[str, Any]], torque_unit: str, theme: str, width: int = 740) -> dict[str, Any]:
    """All pulls of a session over speed. curves: rows with rpm, torque, pull, label and counts."""
    palette = PALETTES[theme]
    data = _Datasets()
    x = alt.X("rpm:Q", axis=_rpm_axis("rpm"), scale=alt.Scale(nice=False, zero=False))
    y = alt.Y(
        "torque:Q", scale=alt.Scale(zero=False), axis=_titled_axis(f"torque, {torque_unit}", -26, -8, tickCount=5)
    )
    base = alt.Chart(data.hold(curves))
    layers = [
        base.transform_filter("datum.counts && datum.label == 'A'").mark_line(strokeWidth=1.1, color=palette.soft),
        base.transform_filter("datum.counts && datum.label == 'B'").mark_line(strokeWidth=2.2, color=palette.ink),
        base.transform_filter("!datum.counts").mark_line(strokeWidth=1.2, color=palette.soft, strokeDash=[3, 3]),
    ]
    drawn = [layer.encode(x=x, y=y, detail="pull:N") for layer in layers]
    if (means := _means(curves)) is not None:
        drawn += [*_markers(*means, palette, x, data), *_names(*means, palette, x, data)]
    return _configured(alt.layer(*drawn).properties(width=width, height=170), palette, data)


def _means(curves: Sequence[dict[str, Any]]) -> tuple[np.ndarray, np.ndarray, np.ndarray] | None:
    """Speeds that all pulls share [rpm], and there the mean of the pulls of A and of B that count; None without both."""
    by_pull: dict[Any, list[dict[str, Any]]] = {}
    for row in curves:
        if row["counts"] and row["torque"] is not None:
            by_pull.setdefault((row["label"], row["pull"]), []).append(row)
    if {label for label, _ in by_pull} < {"A", "B"}:
        return None
    sweeps = [(label, sorted(rows, key=lambda row: row["rpm"])) for (label, _), rows in by_pull.items()]
    low, high = max(rows[0]["rpm"] for _, rows in sweeps), min(rows[-1]["rpm"] for _, rows in sweeps)
    if high <= low:
        return None
    grid = np.linspace(low, high, 60)
    on_grid = [
        (label, np.interp(grid, [r["rpm"] for r in rows], [r["torque"] for r in rows])) for label, rows in sweeps
    ]
    a, b = (np.mean([values for label, values in on_grid if label == wanted], axis=0) for wanted in "AB")
    return grid, a, b


def to_svg(spec: dict[str, Any], theme: str = "paper") -> str:
    """A specification as SVG text with the hatches defined in it."""
    text: str = vl_convert.vegalite_to_svg(spec, vl_version="6.1")
    head, bracket, tail = text.partition(">")
    return head + bracket + hatches(theme) + tail
