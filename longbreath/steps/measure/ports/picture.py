"""Velocity maps as pictures in the viewer's units."""

from __future__ import annotations

from collections.abc import Sequence

from markupsafe import Markup

from longbreath.core.basis import units
from longbreath.core.bench import traverse
from longbreath.dossier.bench.maps import Walked, place_key
from longbreath.drawing import faces


def bounds_of(found: Sequence[Walked], system: str) -> tuple[float, ...]:
    """One scale of tones for all maps shown together: bounds [m/s] at round figures of the viewer's unit."""
    velocities = [cell.spot.velocity for w in found if w.map is not None for cell in w.map.cells]
    return traverse.steps_of(velocities, units.scale("velocity", system)) if velocities else (0.0, 1.0)


def picture(found: Walked, bounds: Sequence[float], system: str, side: str) -> Markup:
    """The face as a picture: tones and figures where it is mapped, numbered places where it is still to read."""
    outline = tuple((float(x), float(y)) for x, y in found.record.outline)
    tones: list[faces.Tone] = []
    if found.map is not None:
        texts = [units.show_number(cell.spot.velocity, "velocity", system, decimals=0) for cell in found.map.cells]
        tones = faces.tones(found.map.cells, bounds, texts)
    left = [(x, y, str(n)) for n, (x, y) in enumerate(found.places, start=1) if place_key((x, y)) not in found.read]
    return faces.face(outline, tones, left, side, f"Velocity over the face of {found.record.title}")


def legend(bounds: Sequence[float], system: str) -> list[tuple[str, float]]:
    """The tones of a scale: words of each step, and how strong it is."""
    symbol = units.kind_named("velocity").symbol(system)
    texts = [units.show_number(bound, "velocity", system, decimals=0) for bound in bounds]
    steps = len(bounds) - 1
    return [(f"{texts[i]} to {texts[i + 1]} {symbol}", (i + 0.5) / steps) for i in range(steps)]
