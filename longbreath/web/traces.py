"""Traces as curves, for every page that draws flow over lift."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from markupsafe import Markup

from longbreath.core.basis import units
from longbreath.dossier.bench.traces import TraceRow
from longbreath.drawing.curves import Curve, flow_curves
from longbreath.store.models import Trace
from longbreath.web.forms import system

_NAMES = {"A": "A stock", "B": "B product"}


def curve_of(trace: Trace, rows: Mapping[float, TraceRow], as_reference: bool = False) -> Curve:
    """A trace as a curve in the viewer's units; a reference is dashed and carries the part's own name."""
    lift_unit, flow_unit = (units.kind_named(kind).symbol(system()) for kind in ("length", "flow"))
    ordered = sorted(rows.items())
    points = [
        (units.to_unit(lift, "length", lift_unit), units.to_unit(row.flow.value, "flow", flow_unit))
        for lift, row in ordered
    ]
    spreads = [units.to_unit(row.flow.figure.uncertainty or 0.0, "flow", flow_unit) for _, row in ordered]
    if as_reference:
        return Curve(trace.title, "reference", points, spreads)
    return Curve(_NAMES.get(trace.label, trace.title), trace.label, points, spreads)


def drawn(curves: Sequence[Curve], width: int = 244, height: int = 260, printed: bool = False) -> Markup:
    """The curves in the viewer's units, for the screen or for print; nothing where no lift was read."""
    if not any(x > 0 for curve in curves for x, _ in curve.points):
        return Markup("")
    lift_unit, flow_unit = (units.kind_named(kind).symbol(system()) for kind in ("length", "flow"))
    return flow_curves(curves, lift_unit, flow_unit, width, height, printed)
