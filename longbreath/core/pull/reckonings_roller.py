"""Reckonings of a roller dyno from first principles: torque of a rising speed, losses of a coast-down, the gear, smoothing."""

from __future__ import annotations

from math import pi, sin
from typing import Annotated

from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.quantities import SPEED, quantity
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.basis.working import Given, Step, reckoned
from longbreath.core.pull.roller import FIRST_PRINCIPLES

GROUP = "Dyno"
_INERTIA = quantity("inertia", "Inertia of the rollers", "22 kg·m²", help="and all that turns with them, at the roller")
_ROLLER = quantity("speed", "Roller speed", "1400 rpm")
_SECONDS = quantity("time", "In a time of", "0.5 s", 0.01, 600.0)


@reckoning("Torque on a roller", GROUP, FIRST_PRINCIPLES)
def roller_torque(
    inertia: Annotated[float, _INERTIA],
    first: Annotated[float, quantity("speed", "Roller speed, first", "1350 rpm")],
    last: Annotated[float, quantity("speed", "Roller speed, last", "1450 rpm")],
    time: Annotated[float, _SECONDS],
    engine: Annotated[float, SPEED],
    loss: Annotated[float, quantity("torque", "Lost in coast-down", "0 N·m", 0.0, help="at the roller, at this speed")],
) -> Reckoned:
    """What torque does the engine bring to the roller when speed rises so fast?"""
    positive(inertia=inertia, time=time, engine=engine)
    if last <= first:
        raise InputError("Speed must rise.", "last")
    middle, rise = (first + last) / 2.0, (last - first) / time
    at_roller = inertia * rise + loss
    givens = (
        Given("I", "inertia", inertia, "inertia"),
        Given("ω₁", "roller speed, first", first, "speed"),
        Given("ω₂", "roller speed, last", last, "speed"),
        Given("t", "time", time, "time"),
        Given("T_l", "loss at the roller", loss, "torque"),
        Given("ω_e", "engine speed", engine, "speed"),
    )
    of_roller = Step("T_r", "I·(ω₂ − ω₁)/t + T_l", at_roller, "torque")
    power = Step("P", "T_r·(ω₁ + ω₂)/2", at_roller * middle, "power")
    torque = Step("T", "P/ω_e", at_roller * middle / engine, "torque")
    notes = ("Without a loss it is what reaches the roller; tyre and gears keep the rest.",)
    return answered(
        reckoned("torque", "Torque at the engine’s speed", givens, (of_roller, power, torque), FIRST_PRINCIPLES, notes),
        reckoned("power", "Power", givens, (of_roller, power), FIRST_PRINCIPLES, notes),
    )


@reckoning("Loss in a coast-down", GROUP, "First principles: the energy that the rollers lose.")
def coast_down_loss(
    inertia: Annotated[float, _INERTIA],
    first: Annotated[float, quantity("speed", "Roller speed, first", "1500 rpm")],
    last: Annotated[float, quantity("speed", "Roller speed, last", "1300 rpm")],
    time: Annotated[float, quantity("time", "In a time of", "8 s", 0.01, 600.0)],
) -> Reckoned:
    """What do roller, tyres and driveline take, by how fast speed falls?"""
    positive(inertia=inertia, time=time, last=last)
    if first <= last:
        raise InputError("Speed must fall.", "last")
    givens = (
        Given("I", "inertia", inertia, "inertia"),
        Given("ω₁", "roller speed, first", first, "speed"),
        Given("ω₂", "roller speed, last", last, "speed"),
        Given("t", "time", time, "time"),
    )
    power = Step("P", "I·(ω₁² − ω₂²)/(2·t)", inertia * (first**2 - last**2) / (2.0 * time), "power")
    torque = Step("T", "I·(ω₁ − ω₂)/t", inertia * (first - last) / time, "torque")
    source = "First principles: the energy that the rollers lose."
    return answered(
        reckoned("power", "Power lost", givens, (power,), source, ("A mean over the stretch of speeds.",)),
        reckoned("torque", "Torque lost, at the roller", givens, (torque,), source),
    )


@reckoning("Gear and tyre on a roller", GROUP, "First principles: a tyre rolls on the roller without slip.")
def roller_gear(
    engine: Annotated[float, SPEED],
    roller: Annotated[float, _ROLLER],
    radius: Annotated[float, quantity("length", "Radius of the roller", "240 mm")],
    tyre: Annotated[float, quantity("length", "Rolling radius of the tyre", "310 mm")],
) -> Reckoned:
    """Which gear is it in, and how fast would it go?"""
    positive(engine=engine, roller=roller, radius=radius, tyre=tyre)
    givens = (
        Given("ω_e", "engine speed", engine, "speed"),
        Given("ω_r", "roller speed", roller, "speed"),
        Given("r", "radius of the roller", radius, "length"),
        Given("r_t", "rolling radius of the tyre", tyre, "length"),
    )
    road = Step("v", "ω_r·r", roller * radius, "velocity")
    ratio = Step("i", "ω_e·r_t/v", engine * tyre / (roller * radius), "ratio")
    source = "First principles: a tyre rolls on the roller without slip."
    return answered(
        reckoned("ratio", "Engine turns to one of the wheel", givens, (road, ratio), source),
        reckoned("velocity", "Speed of the tread", givens, (road,), source),
    )


@reckoning("What smoothing hides", GROUP, "First principles: a mean over a stretch of a sine.")
def smoothing_hides(
    rise: Annotated[float, quantity("speed", "Speed rises in a second by", "600 rpm", 1.0)],
    width: Annotated[float, _SECONDS],
    wave: Annotated[
        float, quantity("speed", "Width of a wave in the curve", "800 rpm", 1.0, help="from crest to crest")
    ],
) -> Reckoned:
    """How much of a wave in the curve is left after smoothing?"""
    positive(rise=rise, width=width, wave=wave)
    share = width * rise / wave
    left = sin(pi * share) / (pi * share)
    givens = (
        Given("a", "rise of speed in a second", rise, "speed"),
        Given("w", "width of smoothing", width, "time"),
        Given("λ", "width of the wave", wave, "speed"),
    )
    spread = Step("s", "a·w", rise * width, "speed")
    kept = Step("k", "sin(π·s/λ)/(π·s/λ)", left, "percent")
    source = "First principles: a mean over a stretch of a sine."
    return answered(
        reckoned("spread", "Speed over which it averages", givens, (spread,), source),
        reckoned("left", "Left of the wave’s height", givens, (spread, kept), source),
    )
