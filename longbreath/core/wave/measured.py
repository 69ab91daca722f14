"""From a measured path to pieces the solver lays: what the callipers said, as it stands."""

from __future__ import annotations

from collections.abc import Sequence

from longbreath.core.path import losses
from longbreath.core.path.sections import Section
from longbreath.core.path.walk import PathElement
from longbreath.core.wave.engine import Box, Line
from longbreath.core.wave.mesh import PipePiece

BEND_REYNOLDS = 1e5
"""At which the loss of a bend is taken; it hardly depends on it."""


def bend_loss(section: Section, angle: float, radius: float | None, roughness: float) -> float:
    """K [1] of a bend of `angle` [rad] and centre-line `radius` [m] (None: a mitre); roughness [m]. Rennels, by fluids."""
    return losses.bend(section.hydraulic_diameter, angle, radius, BEND_REYNOLDS, roughness).k


def item_of(element: PathElement, wall: float, density: float) -> PipePiece | Box:
    """A measured element as a piece of pipe, or as a volume if it was measured as one; `wall` [K] its wall's temperature.

    A bend's loss is Rennels' (by fluids); a drop measured across the element becomes its K at `density` [kg/m3] and stands for
    all that happens inside. Tapers as measured. Raises InputError for a length of nought.
    """
    if element.is_volume and element.volume:
        return Box(element.volume)
    k = 0.0
    if element.is_measured_across:
        k = losses.measured(element.drop or 0.0, element.drop_flow or 0.0, density, element.entry).k
        return PipePiece(element.length, element.entry, element.exit, k, 0.0, wall, friction=0.0)
    if element.bend_angle:
        k = bend_loss(element.entry, element.bend_angle, element.bend_radius, element.roughness)
    return PipePiece(element.length, element.entry, element.exit, k, element.roughness, wall)


def line_of(elements: Sequence[PathElement], wall: float, density: float = 1.2) -> Line:
    """A row of measured elements in the direction of flow as a line of the model; wall [K], density of the bench's air [kg/m3]."""
    return [item_of(element, wall, density) for element in elements]
