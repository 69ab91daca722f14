"""The pictures of a practice round in display units: pulls over the band, channels beside those before it."""

from __future__ import annotations

import numpy as np
from markupsafe import Markup

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.pull.channels import CHANNELS, label_of
from longbreath.core.pull.pulls import Array, Sweep, on_grid, speed_grid
from longbreath.dossier.practice import CellRound
from longbreath.drawing.cellview import Drawn, Scale, scale_of
from longbreath.drawing.logview import Curve, channel_svg


def in_unit(values: Array, kind: str, system: str) -> Array:
    """Values [SI] in the display unit of a kind, (n,)."""
    unit = units.unit_of(kind, units.kind_named(kind).symbol(system))
    return (values - unit.offset) / unit.factor


def drawn_of(sweep: Sweep, speeds: Array, system: str) -> Drawn:
    """One pull as it is drawn. speeds [rpm], (n,)."""
    return Drawn("A", True, in_unit(on_grid(sweep, speeds * RPM), "torque", system))


def round_picture(found: CellRound, system: str) -> tuple[Scale, Array, tuple[Drawn, ...]]:
    """Scale, speeds [rpm] and the pulls before the one that is judged."""
    speeds = speed_grid(found.rules.low, found.rules.high) / RPM
    drawn = tuple(drawn_of(sweep, speeds, system) for sweep in found.before)
    greatest = max(float(np.nanmax(d.torque)) for d in drawn)
    least = min(float(np.nanmin(d.torque)) for d in drawn)
    return scale_of(float(speeds[0]), float(speeds[-1]), greatest, least), speeds, drawn


def round_channel(found: CellRound, name: str, system: str) -> Markup:
    """A channel of the round beside those of the pulls before it."""
    kind = CHANNELS[name].kind
    sweeps = (*((s, False) for s in found.before), (found.sweep, True))
    curves = [Curve(s.speed / RPM, in_unit(s.channels[name], kind, system), own) for s, own in sweeps]
    return channel_svg(curves, label_of(name), units.kind_named(kind).symbol(system))


def points_of(found: CellRound, scale: Scale, first: int, last: int, system: str) -> str:
    """Points of the trace from one row to another, as they lie in the picture."""
    rows = slice(first, last)
    return scale.points(found.sweep.speed[rows] / RPM, in_unit(found.sweep.torque[rows], "torque", system))
