"""A centrifugal clutch on an engine: where it takes hold, where it holds the engine, and what the ratios then use."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.sentence import rpm
from longbreath.core.basis.working import Figure, Given, Step, reckoned

FORCES = "First principles: balance of spring and centrifugal force, friction of the shoes."
SOME_RPM = 1.0 * RPM


@dataclass(frozen=True)
class Clutch:
    """Shoes of a centrifugal clutch: how many, mass of one [kg], radius of its centre of mass [m], spring force on one at first
    touch [N], friction coefficient [1], drum radius [m]."""

    shoes: int
    mass: float
    radius: float
    spring: float
    friction: float
    drum: float

    def __post_init__(self) -> None:
        positive(shoes=self.shoes, mass=self.mass, radius=self.radius, spring=self.spring, friction=self.friction)
        if self.drum <= self.radius:
            raise InputError("The drum lies outside the shoes' centre of mass.", "drum")

    @property
    def engages(self) -> float:
        """Speed [rad/s] at which the shoes touch the drum: √(F/(m·r))."""
        return sqrt(self.spring / (self.mass * self.radius))

    def speed_for(self, torque: float) -> float:
        """Speed [rad/s] at which it carries a torque [N m]."""
        return sqrt((self.spring + torque / (self.shoes * self.friction * self.drum)) / (self.mass * self.radius))

    @property
    def givens(self) -> tuple[Given, ...]:
        """The inputs of every figure."""
        return (
            Given("n", "shoes", float(self.shoes), "count"),
            Given("m", "mass of one shoe", self.mass, "mass"),
            Given("r", "radius of its centre of mass", self.radius, "length"),
            Given("F", "spring force on one at first touch", self.spring, "force"),
            Given("μ", "friction", self.friction, "ratio"),
            Given("R", "inside radius of the drum", self.drum, "length"),
        )


@dataclass(frozen=True)
class ClutchMatch:
    """A clutch on an engine: speed at engagement and where it is held [rad/s], power at both [W], whether it is held on the pipe."""

    engages: Figure
    at_engagement: Figure
    held: Figure
    at_hold: Figure
    lost: Figure | None
    on_pipe: bool


def match(clutch: Clutch, off_torque: float, on_torque: float, comes_in: float) -> ClutchMatch:
    """Where a clutch takes hold of and holds an engine whose torque steps from off_torque to on_torque [N m] at `comes_in` [rad/s].

    The engine is held where the clutch carries its torque: first off the pipe (or off boost); if that speed lies above
    `comes_in`, on it. `lost`: power at the hold less what it would make on the pipe there. Source: first principles.
    """
    positive(off_torque=off_torque, on_torque=on_torque, comes_in=comes_in)
    if on_torque < off_torque:
        raise InputError("On the pipe, or on boost, it gives no less than off it.", "on_torque")
    engages = clutch.engages
    touching = on_torque if engages >= comes_in else off_torque
    held = clutch.speed_for(off_torque)
    on_pipe = held >= comes_in
    if on_pipe:
        held = max(comes_in, clutch.speed_for(on_torque))
    givens = (
        *clutch.givens,
        Given("T_0", "torque off the pipe, or off boost", off_torque, "torque"),
        Given("T_1", "torque on it", on_torque, "torque"),
        Given("N_p", "it comes in at", comes_in, "speed"),
    )
    touch = Step("ω_e", "√(F/(m·r))", engages, "speed")
    torque = on_torque if on_pipe else off_torque
    hold = Step("ω_h", "√((F + T/(n·μ·R))/(m·r))", held, "speed")
    power = Step("P", "T·ω_h", torque * held, "power")
    lost = None
    if not on_pipe:
        gap = (on_torque - off_torque) * held
        lost = reckoned(
            "lost",
            "Power left lying at that speed",
            givens,
            (hold, Step("ΔP", "(T_1 − T_0)·ω_h", gap, "power")),
            FORCES,
        )
    return ClutchMatch(
        reckoned("engages", "Takes hold at", clutch.givens, (touch,), FORCES),
        reckoned(
            "at_engagement", "Power there", givens, (touch, Step("P", "T·ω_e", touching * engages, "power")), FORCES
        ),
        reckoned(
            "held",
            "Holds the engine at",
            givens,
            (touch, hold),
            FORCES,
            ("Full throttle, the vehicle standing; the shoes slip.",),
        ),
        reckoned("at_hold", "Power where it is held", givens, (hold, power), FORCES),
        lost,
        on_pipe,
    )


def say_match(found: ClutchMatch, comes_in: float, top: float) -> str:
    """What a match means where the pipe or boost comes in at `comes_in` and the engine ends at `top` [rad/s], in a sentence."""
    if found.held.value > top:
        return f"It never takes the engine’s torque: up to {rpm(top)} rpm it slips. Heavier shoes, softer springs or another lining."
    held, needs = rpm(found.held.value), rpm(comes_in)
    if found.on_pipe:
        return f"Held at {held} rpm, at or above the {needs} rpm where the pipe or boost comes in: it pulls away on it."
    return (
        f"Too heavy, or its springs too soft: it holds the engine at {held} rpm, under the {needs} rpm where the pipe "
        "or boost comes in. Lighter shoes or stronger springs let it through."
    )


def lightest(clutch: Clutch, on_torque: float, wanted: float) -> Figure:
    """Mass of a shoe [kg] with which these springs hold the engine at `wanted` [rad/s] with `on_torque` [N m]. Source: balance."""
    positive(on_torque=on_torque, wanted=wanted)
    mass = (clutch.spring + on_torque / (clutch.shoes * clutch.friction * clutch.drum)) / (clutch.radius * wanted**2)
    givens = (
        *clutch.givens,
        Given("T_1", "torque on the pipe, or on boost", on_torque, "torque"),
        Given("N", "to be held at", wanted, "speed"),
    )
    return reckoned(
        "shoe",
        "A shoe of this mass holds it there",
        givens,
        (Step("m", "(F + T_1/(n·μ·R))/(r·N²)", mass, "mass"),),
        FORCES,
    )


def used_band(top: float, step: float) -> Figure:
    """Speed [rad/s] to which the engine falls at a change of gear at `top` [rad/s], over the widest `step` of ratios [1].

    Source: first principles, the road's speed stays.
    """
    positive(top=top)
    if step < 1:
        raise InputError("A step between two gears is 1 or more: 1 for a single gear.", "step")
    givens = (Given("N", "changes gear at", top, "speed"), Given("φ", "widest step between two gears", step, "ratio"))
    return reckoned(
        "falls_to",
        "After the change it falls to",
        givens,
        (Step("N_2", "N/φ", top / step, "speed"),),
        "First principles: the road’s speed stays.",
    )


def say_band(falls_to: float, held: float, window_from: float) -> str:
    """The band that the ratios use, in a sentence; speeds [rad/s]."""
    low = max(held, falls_to)
    words = f"The ratios use {rpm(low)} rpm and up."
    if low < window_from - SOME_RPM:
        return f"{words} That is under the {rpm(window_from)} rpm where it comes in: after each change it waits."
    return f"{words} That is within what the pipe or boost gives."
