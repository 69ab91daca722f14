"""Charts as Vega-Lite specifications, made with Altair; one description for the screen and the printed sheet.

A is a thin line with open markers, B a heavy line with filled markers. Gain is hatched rising to the right, loss
falling to the right: fills `url(#gain)` and `url(#loss)`, defined once on the page.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

import altair as alt
import numpy as np
import vl_convert
from altair.utils.schemapi import disable_debug_mode

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.compare.bands import Band, Weighing
from longbreath.drawing.palette import PALETTES, Palette

# the specifications are checked by the tests; checking each part again on every request costs most of the time
disable_debug_mode()

TEXT = "Archivo Variable, Archivo, sans-serif"
FIGURES = "Martian Mono Variable, Martian Mono, monospace"

WEIGHED_WIDE, PULLED_WIDE = 760, 740
"""Widths of the two main pictures on their pages."""
HATCHES = (
    '<defs><pattern id="gain" width="6" height="6" patternUnits="userSpaceOnUse">'
    '<path d="M-1,1 l2,-2 M0,6 l6,-6 M5,7 l2,-2" stroke="{ink}" stroke-width="1"/></pattern>'
    '<pattern id="loss" width="6" height="6" patternUnits="userSpaceOnUse">'
    '<path d="M-1,5 l2,2 M0,0 l6,6 M5,-1 l2,2" stroke="{ink}" stroke-width="1"/></pattern></defs>'
)


def hatches(theme: str) -> str:
    """The two pattern definitions in a theme's ink, to stand once in a page or an exported SVG."""
    return HATCHES.format(ink=PALETTES[theme].ink)


def rows_of(x: np.ndarray, **columns: np.ndarray) -> list[dict[str, Any]]:
    """Rows of columns (m,) over speeds x [rpm] (m,)."""
    return [
        {"rpm": round(float(v), 1), **{k: round(float(c[i]), 4) for k, c in columns.items()}} for i, v in enumerate(x)
    ]


Rows = Sequence[dict[str, Any]]
DOMAIN = [-1.0, -2.0]
"""Stands in a picture for the speeds it is drawn over, which each drawing puts in its place [rpm]."""


def held(name: str) -> alt.NamedData:
    """The rows of that name. A picture is made once, without any: making one takes a hundred times as long as filling it."""
    return alt.NamedData(name)


def picture(chart: Any, palette: Palette) -> dict[str, Any]:
    """A chart as a specification, in the house's type and inks."""
    spec: dict[str, Any] = chart.to_dict(validate=False)
    axis = {
        "aria": False,
        "labelFont": FIGURES,
        "labelFontSize": 12.5,
        "labelColor": palette.ink,
        "titleFont": TEXT,
        "titleFontSize": 13,
        "titleFontWeight": "normal",
        "titleColor": palette.soft,
        "gridColor": palette.rule,
        "domain": False,
        "ticks": False,
        "labelPadding": 6,
    }
    spec["config"] = {
        "aria": False,
        "background": "transparent",
        "font": TEXT,
        "padding": {"left": 2, "right": 12, "top": 4, "bottom": 2},
        "view": {"stroke": None},
        "mark": {"aria": False},
        "axis": axis,
        "text": {"font": TEXT, "fontSize": 13, "color": palette.ink},
    }
    spec["usermeta"] = {"embedOptions": {"actions": False, "renderer": "svg"}}
    return spec


Shifts = dict[float, float]
"""Where names go off their curves [points], by what stands for it in a picture."""


def filled(
    picture: dict[str, Any], rows: dict[str, Rows], domain: Sequence[float] = (), shifts: Shifts | None = None
) -> dict[str, Any]:
    """A picture with its rows, with the speeds it is drawn over [rpm], and where its names stand."""
    spec: dict[str, Any] = _placed(picture, list(domain), shifts or {})
    spec["datasets"] = {name: list(held) for name, held in rows.items()}
    return spec


def _placed(part: Any, domain: list[float], shifts: Shifts) -> Any:
    if part == DOMAIN:
        return domain
    if isinstance(part, dict):
        return {name: _placed(value, domain, shifts) for name, value in part.items()}
    if isinstance(part, list):
        return [_placed(value, domain, shifts) for value in part]
    return shifts.get(part, part) if isinstance(part, float) else part


def rpm_axis(title: str | None = None, labels: bool = True) -> alt.Axis:
    """The axis of speeds."""
    return alt.Axis(title=title, labels=labels, format=",.0f", grid=False, tickCount=7, labelExpr=_THIN)


def titled_axis(title: str, x: int, y: int, **more: Any) -> alt.Axis:
    """An upright axis whose title lies flat above it, shifted by x and y pixels."""
    return alt.Axis(title=title, titleAnchor="end", titleAngle=0, titleAlign="left", titleX=x, titleY=y, **more)


NOT_FROM_NOUGHT = " (the axis does not start at nought)"
_THIN = "replace(datum.label, ',', '\\u202f')"


def bands_of_use(bands: Sequence[Band]) -> Rows:
    """Rows of the bands of use [rpm]."""
    return [{"from": b.low / RPM, "to": b.high / RPM, "name": b.name} for b in bands]


def zones(palette: Palette, top: bool) -> list[alt.Chart]:
    """The middle band lifted off the ground, and the names of the bands."""
    zone = held("bands")
    x, x2 = alt.X("from:Q", scale=alt.Scale(zero=False, nice=False)), alt.X2("to:Q")
    shade = (
        alt.Chart(zone)
        .transform_filter("datum.name == 'middle'")
        .mark_rect(color=palette.sheet, stroke=palette.rule, strokeWidth=1)
        .encode(x=x, x2=x2)
    )
    names = (
        alt.Chart(zone)
        .mark_text(align="left", dx=6, baseline="top", color=palette.soft)
        .encode(x=x, y=alt.value(4), text="name:N")
    )
    return [shade, names] if top else [shade]


def weigh_chart(
    weighing: Weighing,
    bands: Sequence[Band],
    system: str,
    theme: str,
    width: int = WEIGHED_WIDE,
    brush: bool = True,
    off: Sequence[int] = (),
) -> dict[str, Any]:
    """A and B over speed with all repeats, B − A below on the same axis with its simultaneous band.

    With `brush`, a band may be dragged across the lower picture. off: places of pulls that are not drawn; they count all the same.
    """
    c = weighing.comparison
    scale = units.scale("torque", system)
    rpm, a, b = c.grid / RPM, c.a / scale, c.b / scale
    repeats = [
        {"rpm": float(r), "torque": round(float(t) / scale, 3), "pull": run.order, "label": run.label}
        for run in c.runs
        if run.order not in off
        for r, t in zip(rpm, run.torque, strict=True)
    ]
    names, shifts = _names(rpm, a, b)
    rows = {
        "bands": bands_of_use(bands),
        "repeats": repeats,
        "curves": rows_of(rpm, a=a, b=b),
        "marks": _marked(rpm, a, b),
        **names,
        "difference": _differences(rpm, c.difference / scale, c.half_width / scale),
        "nought": [{"y": 0}],
    }
    return filled(_weigh_picture(system, theme, width, brush), rows, [float(rpm[0]), float(rpm[-1])], shifts)


@cache
def _weigh_picture(system: str, theme: str, width: int, brush: bool) -> dict[str, Any]:
    palette = PALETTES[theme]
    symbol = units.kind_named("torque").symbol(system)
    x = alt.X("rpm:Q", scale=alt.Scale(domain=DOMAIN, nice=False), axis=rpm_axis(labels=False))
    y = alt.Y(
        "torque:Q",
        scale=alt.Scale(zero=False),
        axis=titled_axis(f"torque, {symbol}{NOT_FROM_NOUGHT}", -30, -8, tickCount=6),
    )
    faint = alt.Chart(held("repeats")).mark_line(strokeWidth=0.8, opacity=0.35, color=palette.soft)
    curves = held("curves")
    layers: list[Any] = [
        *zones(palette, top=True),
        faint.encode(x=x, y=y, detail="pull:N"),
        alt.Chart(curves).mark_line(strokeWidth=1.3, color=palette.ink).encode(x=x, y=alt.Y("a:Q")),
        alt.Chart(curves).mark_line(strokeWidth=2.8, color=palette.ink).encode(x=x, y=alt.Y("b:Q")),
        *_marks(palette, x),
        *_named(palette, x),
    ]
    upper = alt.layer(*layers).properties(width=width, height=212)
    lower = _difference_picture(symbol, palette, brush).properties(width=width, height=104)
    return picture(alt.vconcat(upper, lower, spacing=22), palette)


def _marked(rpm: np.ndarray, a: np.ndarray, b: np.ndarray) -> Rows:
    """Where markers stand on A and B."""
    some = slice(3, None, 10)
    return rows_of(rpm[some], a=a[some], b=b[some])


def _marks(palette: Palette, x: alt.X) -> list[Any]:
    """Open circles on A, filled ones on B."""
    marks = held("marks")
    return [
        alt.Chart(marks)
        .mark_point(size=34, filled=False, stroke=palette.ink, fill=palette.paper, opacity=1, strokeWidth=1.3)
        .encode(x=x, y=alt.Y("a:Q")),
        alt.Chart(marks).mark_point(size=34, filled=True, color=palette.ink, opacity=1).encode(x=x, y=alt.Y("b:Q")),
    ]


ACROSS, DOWN = {"A": 9001.0, "B": 9002.0}, {"A": 9003.0, "B": 9004.0}
"""Stand in a picture for where the names go off their curves."""


def _names(rpm: np.ndarray, a: np.ndarray, b: np.ndarray) -> tuple[dict[str, Rows], Shifts]:
    """The names A and B where the curves lie far apart, on the outer side of each curve and off its slope."""
    inner = slice(rpm.size // 8, max(rpm.size * 6 // 7, rpm.size // 8 + 2))
    at = inner.start + int(np.argmax(np.abs((b - a)[inner])))
    up = 1 if b[at] >= a[at] else -1
    side = 1 if a[min(at + 1, a.size - 1)] < a[at - 1] else -1
    rows: dict[str, Rows] = {
        f"name {text[0]}": [{"rpm": float(rpm[at]), "y": float(curve[at]), "text": text}]
        for curve, text in ((a, "A stock"), (b, "B product"))
    }
    ways = (("A", up), ("B", -up))
    across = {ACROSS[label]: -34.0 * way * side for label, way in ways}
    return rows, across | {DOWN[label]: 17.0 * way for label, way in ways}


def _named(palette: Palette, x: alt.X) -> list[Any]:
    """The names, thin for A and heavy for B."""
    weights: tuple[tuple[str, Any], ...] = (("A", "normal"), ("B", "bold"))
    return [
        alt.Chart(held(f"name {label}"))
        .mark_text(dy=DOWN[label], dx=ACROSS[label], fontWeight=weight, color=palette.ink)
        .encode(x=x, y=alt.Y("y:Q"), text="text:N")
        for label, weight in weights
    ]


def _differences(rpm: np.ndarray, d: np.ndarray, h: np.ndarray) -> Rows:
    """B − A with its band, and the parts of it that are proven."""
    gain, loss = np.where(d - h > 0, d, 0.0), np.where(d + h < 0, d, 0.0)
    return rows_of(rpm, d=d, low=d - h, high=d + h, gain=gain, loss=loss)


def _difference_picture(symbol: str, palette: Palette, brush: bool) -> Any:
    x = alt.X("rpm:Q", scale=alt.Scale(domain=DOMAIN, nice=False), axis=rpm_axis("rpm"))
    title = f"B − A, {symbol}, with its band for the whole curve at once"
    axis = titled_axis(
        title, -30, -10, tickCount=4, format="+,~r", labelExpr="datum.value == 0 ? '0' : replace(datum.label, '-', '−')"
    )
    base = alt.Chart(held("difference"))
    asked = alt.selection_interval(
        name="asked",
        encodings=["x"],
        empty=False,
        mark=alt.BrushConfig(fill=palette.ink, fillOpacity=0.08, stroke=palette.ink),
    )
    return alt.layer(
        *zones(palette, top=False),
        base.mark_area(color=palette.band, opacity=0.75)
        .encode(x=x, y=alt.Y("low:Q", axis=axis), y2="high:Q")
        .add_params(*([asked] if brush else [])),
        base.mark_area(fill="url(#gain)", opacity=1).encode(x=x, y="gain:Q"),
        base.mark_area(fill="url(#loss)", opacity=1).encode(x=x, y="loss:Q"),
        base.mark_line(strokeWidth=1.8, color=palette.ink).encode(x=x, y="d:Q"),
        alt.Chart(held("nought")).mark_rule(color=palette.ink, strokeWidth=1).encode(y="y:Q"),
    )


def pull_chart(
    curves: Rows, torque_unit: str, theme: str, width: int = PULLED_WIDE, typed: Rows = ()
) -> dict[str, Any]:
    """All pulls of a session over speed. curves: rows with rpm, torque, pull, label and counts; typed: rows with rpm, torque and
    label of figures that were typed, drawn as crosses."""
    rows: dict[str, Rows] = {"pulls": curves, **({"typed": typed} if typed else {})}
    shifts: Shifts = {}
    if (means := _means(curves)) is not None:
        names, shifts = _names(*means)
        rows |= {"marks": _marked(*means), **names}
    return filled(_pull_picture(torque_unit, theme, width, bool(shifts), bool(typed)), rows, shifts=shifts)


@cache
def _pull_picture(torque_unit: str, theme: str, width: int, has_names: bool, has_typed: bool) -> dict[str, Any]:
    palette = PALETTES[theme]
    x = alt.X("rpm:Q", axis=rpm_axis("rpm"), scale=alt.Scale(nice=False, zero=False))
    y = alt.Y("torque:Q", scale=alt.Scale(zero=False), axis=titled_axis(f"torque, {torque_unit}", -26, -8, tickCount=5))
    base = alt.Chart(held("pulls"))
    layers = [
        base.transform_filter("datum.counts && datum.label == 'A'").mark_line(strokeWidth=1.1, color=palette.soft),
        base.transform_filter("datum.counts && datum.label == 'B'").mark_line(strokeWidth=2.2, color=palette.ink),
        base.transform_filter("datum.counts && datum.label != 'A' && datum.label != 'B'").mark_line(
            strokeWidth=1.5, color=palette.soft, strokeDash=[7, 2]
        ),
        base.transform_filter("!datum.counts").mark_line(strokeWidth=1.2, color=palette.soft, strokeDash=[3, 3]),
    ]
    drawn = [layer.encode(x=x, y=y, detail="pull:N") for layer in layers]
    if has_typed:
        crosses = alt.Chart(held("typed")).mark_point(shape="cross", size=70, color=palette.soft, strokeWidth=1.4)
        drawn.append(crosses.encode(x=x, y=y))
    if has_names:
        drawn += [*_marks(palette, x), *_named(palette, x)]
    return picture(alt.layer(*drawn).properties(width=width, height=170), palette)


def warm() -> None:
    """Make the pictures of the main pages once, before anybody waits for them: A and B weighed, and all pulls, in either system."""
    for system in units.SYSTEMS:
        _weigh_picture(system, "paper", WEIGHED_WIDE, True)
        _pull_picture(units.kind_named("torque").symbol(system), "paper", PULLED_WIDE, True, False)


def _means(curves: Rows) -> tuple[np.ndarray, np.ndarray, np.ndarray] | None:
    """Speeds that all pulls share [rpm], and there the mean of the pulls of A and of B that count; None without both."""
    by_pull: dict[Any, list[dict[str, Any]]] = {}
    for row in curves:
        if row["counts"] and row["torque"] is not None:
            by_pull.setdefault((row["label"], row["pull"]), []).append(row)
    if not {"A", "B"} <= {label for label, _ in by_pull}:
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


def with_words(spec: dict[str, Any], title: str, lines: Sequence[str]) -> dict[str, Any]:
    """A specification with a title and its conditions printed in, so that a picture that travels alone still says what it is."""
    words = {
        "text": title,
        "subtitle": list(lines),
        "anchor": "start",
        "font": TEXT,
        "fontSize": 15,
        "subtitleFont": TEXT,
    }
    more = {"subtitleFontSize": 11.5, "offset": 14, "subtitlePadding": 5}
    return {**spec, "title": {**words, **more}, "background": PALETTES["paper"].paper, "padding": 16}


def to_png(spec: dict[str, Any], scale: float = 2.0) -> bytes:
    """A specification as a PNG on paper."""
    return bytes(vl_convert.svg_to_png(to_svg(spec), scale=scale))
