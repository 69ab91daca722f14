"""The wheel with one or two sheets on it."""

from __future__ import annotations

from collections.abc import Sequence
from math import pi

from markupsafe import Markup

from longbreath.core.basis import units
from longbreath.core.timing import wheel as timing_wheel
from longbreath.core.timing.wheel import READ_TO
from longbreath.dossier.timing import WheelShown
from longbreath.drawing.wheel import Arc, wheel


def picture(chosen: Sequence[WheelShown]) -> Markup:
    """The wheel with one or two sheets of one kind on it."""
    arcs = []
    kind = chosen[0].record.kind
    for place, item in enumerate(chosen):
        look = "" if len(chosen) == 1 else "AB"[place]
        for port in timing_wheel.PORTS[kind]:
            if item.sheet.has(port):
                made = timing_wheel.opening(item.sheet, port)
                opens, closes = (
                    units.show(item.sheet.read(f"{port}_{end}") or 0.0, "angle", "metric", READ_TO)
                    for end in ("opens", "closes")
                )
                arcs.append(Arc(port, look, made.opens, made.closes, made.turn, opens, closes))
    return wheel(arcs, timing_wheel.PORTS[kind], arcs[0].turn if arcs else 2 * pi)
