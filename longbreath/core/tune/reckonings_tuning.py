"""Reckonings of a tuning round: lambda after another jet, fuel or injector time; fuel for the power; torque of a roller's force."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.errors import positive
from longbreath.core.basis.quantities import SPEED, quantity
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.basis.working import Given, Step, reckoned
from longbreath.core.pull.reckonings_roller import GROUP
from longbreath.core.pull.roller import FIRST_PRINCIPLES, torque_of_force
from longbreath.core.tune import tuning

_MIXTURE = quantity("ratio", "λ as it is", "0.88", 0.3, 3.0)
_LEAN = (
    "Air is taken to stay as it was.",
    "A lean mixture under load melts pistons: go richer first, then lean in small steps.",
)
OPEN = "First principles: an injector passes fuel for as long as it is open."
DEFINITION = "Definition: fuel per second over power."


@reckoning("Mixture after another jet", GROUP, tuning.ORIFICE)
def mixture_after_jet(
    mixture: Annotated[float, _MIXTURE],
    before: Annotated[float, quantity("length", "Jet as it is", "1.25 mm", help="its bore")],
    after: Annotated[float, quantity("length", "Jet to be fitted", "1.30 mm", help="its bore")],
) -> Reckoned:
    """What becomes of the mixture with another jet?"""
    factor = tuning.after_jet(before, after)
    givens = (
        Given("λ₁", "λ as it is", mixture, "ratio"),
        Given("d₁", "jet as it is", before, "length"),
        Given("d₂", "jet to be fitted", after, "length"),
    )
    flow = Step("k", "(d₂/d₁)²", 1.0 / factor, "ratio")
    made = Step("λ₂", "λ₁/k", mixture * factor, "ratio")
    return answered(
        reckoned("mixture", "λ with the other jet", givens, (flow, made), tuning.ORIFICE, _LEAN),
        reckoned("flow", "Fuel, times", givens, (flow,), tuning.ORIFICE),
    )


@reckoning("Mixture after another fuel", GROUP, tuning.ORIFICE)
def mixture_after_fuel(
    mixture: Annotated[float, _MIXTURE],
    ratio_before: Annotated[float, quantity("ratio", "Air to fuel at λ = 1, as it is", "14.7", 3.0, 40.0)],
    ratio_after: Annotated[float, quantity("ratio", "Air to fuel at λ = 1, of the other", "9.8", 3.0, 40.0)],
    density_before: Annotated[float, quantity("density", "Density as it is", "745 kg/m³", 400.0, 1200.0)],
    density_after: Annotated[float, quantity("density", "Density of the other", "781 kg/m³", 400.0, 1200.0)],
) -> Reckoned:
    """What becomes of the mixture when another fuel runs through the same jets or injector times?"""
    factor = tuning.after_fuel(ratio_before, ratio_after, density_before, density_after)
    givens = (
        Given("λ₁", "λ as it is", mixture, "ratio"),
        Given("L₁", "air to fuel at λ = 1", ratio_before, "ratio"),
        Given("L₂", "air to fuel at λ = 1, of the other", ratio_after, "ratio"),
        Given("ρ₁", "density", density_before, "density"),
        Given("ρ₂", "density of the other", density_after, "density"),
    )
    flow = Step("k", "√(ρ₂/ρ₁)", (density_after / density_before) ** 0.5, "ratio")
    made = Step("λ₂", "λ₁·L₁/(L₂·k)", mixture * factor, "ratio")
    wanted = Step("m", "λ₂/λ₁", factor, "ratio")
    return answered(
        reckoned("mixture", "λ with the other fuel", givens, (flow, made), tuning.ORIFICE, _LEAN),
        reckoned("needed", "Fuel to bring it back, times", givens, (flow, made, wanted), tuning.ORIFICE),
    )


@reckoning("Mixture after another injector time", GROUP, OPEN)
def mixture_after_injection(
    mixture: Annotated[float, _MIXTURE],
    before: Annotated[float, quantity("dead_time", "Time as it is", "9.0 ms", 1e-5, 0.1)],
    after: Annotated[float, quantity("dead_time", "Time to be set", "9.6 ms", 1e-5, 0.1)],
    dead_time: Annotated[float, quantity("dead_time", "Dead time", "1.0 ms", 0.0, 0.01, help="what opening takes")],
) -> Reckoned:
    """What becomes of the mixture with another injector time?"""
    factor = tuning.after_injection(before, after, dead_time)
    givens = (
        Given("λ₁", "λ as it is", mixture, "ratio"),
        Given("t₁", "time as it is", before, "dead_time"),
        Given("t₂", "time to be set", after, "dead_time"),
        Given("t₀", "dead time", dead_time, "dead_time"),
    )
    flow = Step("k", "(t₂ − t₀)/(t₁ − t₀)", 1.0 / factor, "ratio")
    made = Step("λ₂", "λ₁/k", mixture * factor, "ratio")
    return answered(reckoned("mixture", "λ with the other time", givens, (flow, made), OPEN, _LEAN))


@reckoning("Fuel for the power", GROUP, DEFINITION)
def fuel_for_power(
    fuel: Annotated[float, quantity("mass_flow", "Fuel flow", "29 kg/h", 1e-7)],
    power: Annotated[float, quantity("power", "Power", "100 kW", 1.0)],
    air: Annotated[float, quantity("mass_flow", "Air flow", "375 kg/h", 0.0, help="0 where it was not measured")],
    ratio: Annotated[float, quantity("ratio", "Air to fuel at λ = 1", "14.7", 3.0, 40.0)],
) -> Reckoned:
    """How much fuel did the power take, and which mixture do the flows speak of?"""
    positive(fuel=fuel, power=power, ratio=ratio)
    givens = (
        Given("ṁ_f", "fuel flow", fuel, "mass_flow"),
        Given("P", "power", power, "power"),
        Given("ṁ_a", "air flow", air, "mass_flow"),
        Given("L", "air to fuel at λ = 1", ratio, "ratio"),
    )
    taken = Step("b", "ṁ_f/P", fuel / power, "consumption")
    made = Step("λ", "ṁ_a/(ṁ_f·L)", air / (fuel * ratio), "ratio")
    return answered(
        reckoned(
            "consumption",
            "Specific consumption",
            givens,
            (taken,),
            DEFINITION,
            ("At the place where power is measured.",),
        ),
        reckoned("mixture", "λ by the flows", givens, (made,), DEFINITION),
    )


@reckoning("Torque of a roller’s force", GROUP, FIRST_PRINCIPLES)
def roller_force(
    force: Annotated[float, quantity("force", "Force at the roller’s surface", "2500 N", 0.0)],
    radius: Annotated[float, quantity("length", "Radius of the roller", "250 mm", 0.01)],
    roller: Annotated[float, quantity("speed", "Roller speed", "1000 rpm", 0.1)],
    engine: Annotated[float, SPEED],
) -> Reckoned:
    """What torque is a force at the roller, at the engine’s speed?"""
    positive(radius=radius, roller=roller, engine=engine)
    givens = (
        Given("F", "force at the surface", force, "force"),
        Given("r", "radius of the roller", radius, "length"),
        Given("ω_r", "roller speed", roller, "speed"),
        Given("ω_e", "engine speed", engine, "speed"),
    )
    power = Step("P", "F·r·ω_r", force * radius * roller, "power")
    torque = Step("T", "P/ω_e", torque_of_force(force, radius, roller, engine), "torque")
    notes = ("Tyre and gears keep the rest.",)
    return answered(
        reckoned("torque", "Torque at the engine’s speed", givens, (power, torque), FIRST_PRINCIPLES, notes),
        reckoned("power", "Power at the roller", givens, (power,), FIRST_PRINCIPLES, notes),
    )
