"""Reckonings of heat and tuned speeds, of a two-stroke's pipe, and of its clutch."""

from __future__ import annotations

from typing import Annotated

from longbreath.core.basis.quantities import choice, quantity, whole
from longbreath.core.basis.register import Reckoned, answered, reckoning
from longbreath.core.engine import clutch as clutches
from longbreath.core.engine import retune as retuning
from longbreath.core.engine import tuned_pipe as pipes

GROUP = "Retune, pipe and clutch"
_BEFORE = quantity("temperature", "Mean gas temperature before", "400 C")
_TUNED = quantity("speed", "Tuned speed before", "8100 rpm")
_DURATION = quantity("angle", "Exhaust open", "190 °", 1.58, 4.39)
_WAVE = quantity("velocity", "Mean speed of the wave", "518.16 m/s", 300.0, 800.0, "1,700 ft/s is usual in a warm pipe")


@reckoning("Tuned speed after a change", GROUP, retuning.SOURCE)
def retune(
    speed: Annotated[float, _TUNED],
    before: Annotated[float, _BEFORE],
    after: Annotated[float, quantity("temperature", "Mean gas temperature after", "520 C")],
    length: Annotated[float | None, quantity("length", "Length before", "")] = None,
    changed: Annotated[float | None, quantity("length", "Length after", "")] = None,
) -> Reckoned:
    """How far do heat and length move a tuned speed?"""
    return answered(retuning.retuned(speed, before, after, length, changed))


@reckoning("Temperature that a shift needs", GROUP, retuning.SOURCE)
def retune_needs(
    speed: Annotated[float, _TUNED],
    shifted: Annotated[float, quantity("speed", "Tuned speed quoted", "8900 rpm")],
    before: Annotated[float, _BEFORE],
    gas: Annotated[
        str, choice("Gas of", "exhaust", (("exhaust", "a header or tuned pipe"), ("runner", "an intake runner")))
    ],
) -> Reckoned:
    """What heat would this shift need, and is that believable?"""
    needs, change = retuning.temperature_for(speed, shifted, before)
    return answered(needs, change, judgement=retuning.say_believable(needs, before, gas))


@reckoning("Two quoted shifts", GROUP, retuning.SOURCE)
def quoted_shifts(
    first_low: Annotated[float, quantity("speed", "First quote: from", "8000 rpm")],
    first_high: Annotated[float, quantity("speed", "… up to", "8200 rpm")],
    first_then_low: Annotated[float, quantity("speed", "First quote, then: from", "8800 rpm")],
    first_then_high: Annotated[float, quantity("speed", "… then up to", "9000 rpm")],
    other_low: Annotated[float, quantity("speed", "Second quote: from", "7400 rpm")],
    other_high: Annotated[float, quantity("speed", "… up to", "7600 rpm")],
    other_then_low: Annotated[float, quantity("speed", "Second quote, then: from", "8000 rpm")],
    other_then_high: Annotated[float, quantity("speed", "… then up to", "8200 rpm")],
) -> Reckoned:
    """Can both of these quotes be true?"""
    one = retuning.Quote(first_low, first_high, first_then_low, first_then_high)
    other = retuning.Quote(other_low, other_high, other_then_low, other_then_high)
    retuning.check_quote(one, "first", "first_then")
    retuning.check_quote(other, "other", "other_then")
    first, second, apart = retuning.quarrel(one, other)
    return answered(first, second, judgement=retuning.say_quarrel(one, other, apart))


@reckoning("Tuned pipe of a two-stroke", GROUP, pipes.SOURCE)
def tuned_pipe(
    speed: Annotated[float, quantity("speed", "Speed to tune for", "11000 rpm")],
    duration: Annotated[float, _DURATION],
    transfer: Annotated[float, quantity("angle", "Transfers open", "130 °", 1.0, 3.5)],
    wave: Annotated[float, _WAVE],
    port: Annotated[float, quantity("length", "Bore that equals the exhaust port", "38 mm", high=0.3)],
    header: Annotated[float, quantity("ratio", "Header over port", "1.1", 0.8, 1.5, "1.05 racing to 1.125 broad")],
    belly: Annotated[float, quantity("ratio", "Belly over port", "2.6", 1.2, 5.0, "2.1 broad to 3.25 racing")],
    stinger: Annotated[
        float, quantity("ratio", "Stinger over port", "0.62", 0.3, 1.0, "0.58 to 0.70; too narrow overheats")
    ],
) -> Reckoned:
    """What does the usual pipe for this look like?"""
    tuned = pipes.tuned_length(duration, speed, wave)
    found = pipes.pieces(tuned.value, port, header, belly, stinger)
    return answered(
        tuned, *pipes.window(tuned.value, duration, transfer, wave), *pipes.piece_figures(found, tuned.value)
    )


@reckoning("Clutch on an engine", GROUP, clutches.FORCES)
def clutch_match(
    shoes: Annotated[int, whole("Shoes", "2", 1, 12)],
    mass: Annotated[float, quantity("mass", "Mass of one shoe", "120 g")],
    radius: Annotated[float, quantity("length", "Radius of its centre of mass", "34 mm", high=1.0)],
    spring: Annotated[float, quantity("force", "Spring force on one at first touch", "1100 N")],
    friction: Annotated[float, quantity("ratio", "Friction", "0.3", 0.02, 1.5, "0.25 to 0.4 dry, a third of it oiled")],
    drum: Annotated[float, quantity("length", "Inside radius of the drum", "45 mm", high=1.0)],
    off_torque: Annotated[float, quantity("torque", "Torque off the pipe, or off boost", "9 N·m", 1e-3)],
    on_torque: Annotated[float, quantity("torque", "Torque on it", "16 N·m", 1e-3)],
    comes_in: Annotated[float, quantity("speed", "It comes in at", "7500 rpm")],
    top: Annotated[float, quantity("speed", "Gear is changed at, or top speed", "11500 rpm")],
    step: Annotated[float, quantity("ratio", "Widest step between two gears", "1", 1.0, 5.0, "1 for a single gear")],
) -> Reckoned:
    """Does this clutch let the engine reach its power?"""
    clutch = clutches.Clutch(shoes, mass, radius, spring, friction, drum)
    found = clutches.match(clutch, off_torque, on_torque, comes_in)
    falls = clutches.used_band(top, step)
    words = clutches.say_match(found, comes_in, top)
    if step > 1:
        words = f"{words} {clutches.say_band(falls.value, found.held.value, comes_in)}"
    shoe = None if found.on_pipe else clutches.lightest(clutch, on_torque, comes_in)
    parts = (found.engages, found.at_engagement, found.held, found.at_hold, found.lost, shoe)
    return answered(*parts, falls if step > 1 else None, judgement=words)
