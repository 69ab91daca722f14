"""Reckonings of what bends, cones, steps, mouths, edges and lengths cost."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.air.gases import cooling_figure
from longbreath.core.basis.quantities import quantity
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.path import losses, sections
from longbreath.core.path.figures import place_figures, reference_density, reynolds
from longbreath.core.path.sections import round_section

GROUP = "Path and faces"
_BY_FLUIDS = "Coefficients by the open library fluids; the method and the spread stand in the working."
_FLOW = quantity("flow", "Flow", "250 cfm")
_DIAMETER = quantity("length", "Inside diameter", "63.5 mm")
_ROUGH = quantity(
    "length",
    "Roughness of the wall",
    "0.003 mm",
    0.0,
    help="0.003 mm drawn tube, 0.25 mm as cast (handbook, from memory)",
)


@reckoning("What a bend costs", GROUP, _BY_FLUIDS)
def loss_bend(
    flow: Annotated[float, _FLOW],
    diameter: Annotated[float, _DIAMETER],
    angle: Annotated[float, quantity("angle", "It turns by", "90 °", 0.01)],
    roughness: Annotated[float, _ROUGH],
    radius: Annotated[float | None, quantity("length", "Centre-line radius", "95 mm", help="empty: a mitre")] = None,
) -> Reckoned:
    """What does this bend cost?"""
    section = round_section(diameter)
    loss = losses.bend(diameter, angle, radius, reynolds(flow, section), roughness)
    return answered(*place_figures(loss, flow, section))


@reckoning("What a cone costs", GROUP, _BY_FLUIDS)
def loss_cone(
    flow: Annotated[float, _FLOW],
    entry: Annotated[float, quantity("length", "Diameter at entry", "76.2 mm")],
    exit: Annotated[float, quantity("length", "Diameter at exit", "88.9 mm")],
    length: Annotated[float, quantity("length", "Length", "104 mm")],
    roughness: Annotated[float, _ROUGH],
) -> Reckoned:
    """What does this cone cost?"""
    before, after = round_section(entry), round_section(exit)
    smaller = sections.smaller(before, after)
    loss = losses.cone(before, after, length, reynolds(flow, smaller), roughness)
    return answered(*place_figures(loss, flow, smaller))


@reckoning("What a step costs", GROUP, _BY_FLUIDS)
def loss_step(
    flow: Annotated[float, _FLOW],
    entry: Annotated[float, quantity("length", "Diameter before", "63.5 mm")],
    exit: Annotated[float, quantity("length", "Diameter behind", "60.3 mm")],
) -> Reckoned:
    """What does this step cost?"""
    before, after = round_section(entry), round_section(exit)
    return answered(*place_figures(losses.sudden(before, after), flow, sections.smaller(before, after)))


@reckoning("What a length of tube costs", GROUP, _BY_FLUIDS)
def loss_friction(
    flow: Annotated[float, _FLOW],
    diameter: Annotated[float, _DIAMETER],
    length: Annotated[float, quantity("length", "Length", "1 m")],
    roughness: Annotated[float, _ROUGH],
) -> Reckoned:
    """What does this length cost?"""
    section = round_section(diameter)
    loss = losses.friction(length, section, reynolds(flow, section), roughness)
    return answered(*place_figures(loss, flow, section))


@reckoning("What a mouth costs", GROUP, _BY_FLUIDS)
def loss_mouth(
    flow: Annotated[float, _FLOW],
    diameter: Annotated[float, _DIAMETER],
    radius: Annotated[float, quantity("length", "Radius of its edge", "6 mm", 0.0, help="0: sharp")],
) -> Reckoned:
    """What does this mouth cost?"""
    return answered(*place_figures(losses.mouth(diameter, radius), flow, round_section(diameter)))


@reckoning("What a burr or proud gasket costs", GROUP, "Thin orifice in a duct, from memory.")
def loss_ring(
    flow: Annotated[float, _FLOW],
    diameter: Annotated[float, _DIAMETER],
    height: Annotated[float, quantity("length", "It stands in by", "0.8 mm")],
) -> Reckoned:
    """What does this edge cost?"""
    section = round_section(diameter)
    return answered(*place_figures(losses.ring(section, height), flow, section))


@reckoning("A measured loss at another flow", GROUP, "Measured; grows with the square of the flow.")
def loss_measured(
    flow: Annotated[float, _FLOW],
    diameter: Annotated[float, _DIAMETER],
    drop: Annotated[float, quantity("column", "Pressure drop read", "1.2 kPa", 0.0)],
    drop_flow: Annotated[float, quantity("flow", "at a flow of", "100 L/s")],
) -> Reckoned:
    """What does this filter or muffler cost at my flow?"""
    section = round_section(diameter)
    return answered(*place_figures(losses.measured(drop, drop_flow, reference_density(), section), flow, section))


@reckoning("Gas temperature along an exhaust", GROUP, "First principles; properties of burned gas from memory.")
def exhaust_cooling(
    hot: Annotated[float, quantity("temperature", "Gas at the beginning", "780 C", 200.0)],
    room: Annotated[float, quantity("temperature", "Room", "20 C", 200.0)],
    mass_flow: Annotated[float, quantity("mass_flow", "Mass flow of the gas", "110 g/s")],
    diameter: Annotated[float, _DIAMETER],
    length: Annotated[float, quantity("length", "Length", "2 m")],
    heat_transfer: Annotated[float, quantity("heat_transfer", "Heat loss", "30 W/m2K")],
) -> Reckoned:
    """How hot is the gas at the end of this pipe?"""
    return answered(cooling_figure(hot, room, heat_transfer, diameter, length, mass_flow))
