"""Reckonings of a row of bores, of an exhaust pipe's bore, and of the step up behind a turbine."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.quantities import quantity
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.path import bores, sections

CHAIN, EXHAUST = "Path and faces", "Exhaust"
_GAS = quantity("mass_flow", "Gas", "150 g/s")
_HOT = quantity("temperature", "Mean gas temperature", "500 C")
_AROUND = quantity("barometer", "Pressure around", "1013.25 hPa")
_BORE = quantity("length", "Bore", "26 mm", high=1.0)
_COEFFICIENT = quantity("ratio", "its coefficient", "0.9", 0.05, 1.0)


@reckoning("A row of bores", CHAIN, bores.SERIES)
def bore_chain(
    first: Annotated[float, quantity("length", "First bore, such as a carburettor", "24 mm", high=1.0)],
    second: Annotated[float, quantity("length", "Second, such as a manifold", "26 mm", high=1.0)],
    third: Annotated[float, quantity("length", "Third, such as a port", "28 mm", high=1.0)],
    first_coefficient: Annotated[float, _COEFFICIENT],
    second_coefficient: Annotated[float, _COEFFICIENT],
    third_coefficient: Annotated[float, _COEFFICIENT],
    wider: Annotated[float, quantity("percent", "Wider by", "5 %", 0.001, 1.0)],
) -> Reckoned:
    """Which bore is the bottleneck?"""
    chain = [
        bores.Bore(name, sections.round_section(d).area, c)
        for name, d, c in (
            ("first", first, first_coefficient),
            ("second", second, second_coefficient),
            ("third", third, third_coefficient),
        )
    ]
    figures = [f(chain, n) for n in range(3) for f in (bores.share_figure, bores.ceiling_figure)]
    worth = [bores.worth_figure(chain, n, 1.0 + wider) for n in range(3)]
    words = bores.say_chain(chain, 1.0 + wider)
    return answered(*figures, *worth, judgement=words[0].upper() + words[1:])


@reckoning("Bore of an exhaust pipe", EXHAUST, "First principles; friction by Colebrook (fluids).")
def pipe_bore(
    drop: Annotated[float, quantity("column", "Back pressure allowed", "10 kPa")],
    length: Annotated[float, quantity("length", "Length", "3 m")],
    bends: Annotated[
        float, quantity("ratio", "Bends and ends together, K", "2", 0.0, 50.0, "the way out is 1, a bend 0.2 to 0.4")
    ],
    mass_flow: Annotated[float, _GAS],
    temperature: Annotated[float, _HOT],
    ambient: Annotated[float, _AROUND],
) -> Reckoned:
    """How wide must the pipe be for this back pressure?"""
    return answered(*bores.bore_for_pressure(drop, length, bends, mass_flow, temperature, ambient))


@reckoning("Velocity in an exhaust pipe", EXHAUST, "Continuity; burned gas γ 1.33, R 290 (from memory).")
def pipe_velocity(
    diameter: Annotated[float, quantity("length", "Inside diameter", "60.2 mm", high=1.0)],
    mass_flow: Annotated[float, _GAS],
    temperature: Annotated[float, _HOT],
    ambient: Annotated[float, _AROUND],
) -> Reckoned:
    """How fast is the gas in this pipe?"""
    return answered(*bores.pipe_flow(diameter, mass_flow, temperature, ambient))


@reckoning("Step up behind a turbine", EXHAUST, "First principles; coefficients by fluids.")
def turbine_outlet(
    flange_outside: Annotated[float, quantity("length", "Flange pipe, outside", "63.5 mm", high=1.0)],
    flange_wall: Annotated[float, quantity("length", "its wall", "1.6 mm", 0.0, 0.1)],
    pipe_outside: Annotated[float, quantity("length", "Pipe behind, outside", "76 mm", high=1.0)],
    pipe_wall: Annotated[float, quantity("length", "its wall", "1.6 mm", 0.0, 0.1)],
    cone: Annotated[float, quantity("length", "Length of the cone", "60 mm", 0.0, 5.0, "0 for none")],
    mass_flow: Annotated[float, _GAS],
    temperature: Annotated[float, quantity("temperature", "Gas behind the turbine", "700 C")],
    ambient: Annotated[float, _AROUND],
) -> Reckoned:
    """What is the step up behind the turbine worth?"""
    inside = []
    for name, outside, wall in (("flange", flange_outside, flange_wall), ("pipe", pipe_outside, pipe_wall)):
        if 2.0 * wall >= outside:
            raise InputError("A wall is less than half the outside diameter.", f"{name}_wall")
        inside.append(sections.tube_inside(outside, wall))
    step = bores.StepUp(inside[0], inside[1], cone)
    return answered(*bores.step_up_figures(step, mass_flow, temperature, ambient))
