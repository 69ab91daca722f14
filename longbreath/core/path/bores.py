"""A row of bores that the air passes: which is the bottleneck, what enlarging one is worth; and a pipe's bore for a pressure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt

from scipy.optimize import brentq

from longbreath.core.air.gases import BURNED
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.path import losses
from longbreath.core.path.sections import round_section

SERIES = "Restrictions in series, 1/(CA)² = Σ 1/(C_i·A_i)²: incompressible, no recovery between them; common practice."
NARROWEST, WIDEST = 0.01, 0.30
"""Bores [m] between which a pipe is looked for."""


@dataclass(frozen=True)
class Bore:
    """One place the air passes: name, open area of all that lie beside each other while one cylinder draws [m2], discharge
    coefficient [1], and whether it was measured."""

    name: str
    area: float
    coefficient: float = 1.0
    measured: bool = True

    @property
    def effective(self) -> float:
        """Area times coefficient [m2]."""
        return self.area * self.coefficient


def check_bores(bores: Sequence[Bore]) -> None:
    """Raises InputError for fewer than two bores, an area of nought or less, a coefficient outside 0 to 1."""
    if len(bores) < 2:
        raise InputError("A chain has two bores or more.", "bores")
    for bore in bores:
        if bore.area <= 0 or not 0 < bore.coefficient <= 1:
            raise InputError(f"{bore.name}: an area above nought, and a coefficient up to 1.", "bores")


def chain_area(bores: Sequence[Bore]) -> float:
    """Effective area [m2] of bores in series."""
    return 1.0 / sqrt(sum(1.0 / b.effective**2 for b in bores))


def _givens(bores: Sequence[Bore]) -> tuple[Given, ...]:
    return tuple(
        Given(f"A_{n}", f"{b.name}{'' if b.measured else ', not measured'}, C {b.coefficient:.2f}", b.area, "area")
        for n, b in enumerate(bores, 1)
    )


def share_figure(bores: Sequence[Bore], at: int) -> Figure:
    """Share [1] of the whole pressure drop that bore number `at` (from 0) takes: (CA/(C_i·A_i))². Source: series law."""
    check_bores(bores)
    whole = chain_area(bores)
    steps = (
        Step("CA", "1/√Σ 1/(C_i·A_i)²", whole, "area"),
        Step("σ", "(CA/(C_i·A_i))²", (whole / bores[at].effective) ** 2, "percent"),
    )
    return reckoned(f"share-{at}", f"{bores[at].name}, share of the drop", _givens(bores), steps, SERIES, significant=2)


def worth_figure(bores: Sequence[Bore], at: int, larger: float) -> Figure:
    """Flow gained [1] at the same pressure when the diameter of bore `at` is `larger` times as wide and the others stay.

    Source: series law.
    """
    check_bores(bores)
    positive(larger=larger)
    changed = [Bore(b.name, b.area * (larger**2 if n == at else 1.0), b.coefficient) for n, b in enumerate(bores)]
    gain = chain_area(changed) / chain_area(bores) - 1.0
    givens = (*_givens(bores), Given("d", "times the diameter", larger, "ratio"))
    steps = (
        Step("CA", "before", chain_area(bores), "area"),
        Step("CA′", f"with {bores[at].name} at d²·A", chain_area(changed), "area"),
        Step("g", "CA′/CA − 1", gain, "percent"),
    )
    return reckoned(
        f"worth-{at}",
        f"{bores[at].name} {larger - 1:.0%} wider is worth",
        givens,
        steps,
        SERIES,
        significant=2,
        signed=True,
    )


def ceiling_figure(bores: Sequence[Bore], at: int) -> Figure:
    """Flow gained [1] at the same pressure if bore `at` cost nothing at all: what no enlarging of it can pass. Source: series law."""
    check_bores(bores)
    rest = [b for n, b in enumerate(bores) if n != at]
    gain = chain_area(rest) / chain_area(bores) - 1.0
    steps = (
        Step("CA", "before", chain_area(bores), "area"),
        Step("CA∞", "without it", chain_area(rest), "area"),
        Step("g", "CA∞/CA − 1", gain, "percent"),
    )
    return reckoned(
        f"ceiling-{at}", f"{bores[at].name}, at most", _givens(bores), steps, SERIES, significant=2, signed=True
    )


def bottleneck(bores: Sequence[Bore]) -> int:
    """Number of the bore (from 0) that takes most of the drop."""
    check_bores(bores)
    return min(range(len(bores)), key=lambda n: bores[n].effective)


def say_chain(bores: Sequence[Bore], larger: float = 1.05) -> str:
    """Which bore is the bottleneck and what it is worth to make it `larger` times as wide [1], in a sentence."""
    at = bottleneck(bores)
    share, worth = share_figure(bores, at).value, worth_figure(bores, at, larger).value
    others = [(worth_figure(bores, n, larger).value, b.name) for n, b in enumerate(bores) if n != at]
    best, name = max(others)
    wider = f"{larger - 1:.0%} more bore there is worth {worth:.1%} of flow"
    words = f"{bores[at].name[0].upper()}{bores[at].name[1:]} is the bottleneck: {share:.0%} of the drop, {wider}"
    near = share - max(share_figure(bores, n).value for n in range(len(bores)) if n != at) < 0.05
    if near:
        return (
            f"No single bottleneck: {larger - 1:.0%} more bore is worth {worth:.1%} of flow in {bores[at].name} and {best:.1%} in "
            f"{name}. Both have to grow together."
        )
    return f"{words}; the same in {name} only {best:.1%} while the others stay."


def pipe_drop(
    diameter: float, length: float, bends: float, mass_flow: float, temperature: float, pressure: float
) -> float:
    """Pressure [Pa] that a round exhaust pipe of inside `diameter` and `length` [m] costs, its bends and ends K `bends` [1].

    mass_flow [kg/s] and temperature [K] of the gas, pressure around it [Pa]; Δp = (f·L/D + K)·½·ρ·v². Source: first
    principles, f by Colebrook (fluids).
    """
    section = round_section(diameter)
    density = BURNED.density(pressure, temperature)
    velocity = mass_flow / (density * section.area)
    reynolds = density * velocity * diameter / BURNED.viscosity(temperature)
    k = losses.friction(length, section, reynolds, 4.5e-5).k + bends
    return k * 0.5 * density * velocity**2


def bore_for_pressure(
    drop: float, length: float, bends: float, mass_flow: float, temperature: float, pressure: float
) -> tuple[Figure, Figure, Figure]:
    """Inside diameter [m] of a pipe that costs `drop` [Pa], with the velocity [m/s] and Mach number [1] in it.

    Other inputs as `pipe_drop`. Raises InputError where no bore from 10 to 300 mm does it below the speed of sound. Source: first
    principles, solved.
    """
    positive(drop=drop, length=length, mass_flow=mass_flow, temperature=temperature, pressure=pressure)
    if bends < 0:
        raise InputError("A loss coefficient is nought or more.", "bends")

    def over(diameter: float) -> float:
        return pipe_drop(diameter, length, bends, mass_flow, temperature, pressure) - drop

    if over(WIDEST) > 0 or over(NARROWEST) < 0:
        raise InputError("No bore from 10 to 300 mm costs just this: look at pressure, flow and length.", "drop")
    diameter = float(brentq(over, NARROWEST, WIDEST, xtol=1e-7))
    density = BURNED.density(pressure, temperature)
    velocity = mass_flow / (density * pi / 4.0 * diameter**2)
    mach = velocity / BURNED.speed_of_sound(temperature)
    if mach >= 1.0:
        words = "In the pipe that costs just this the gas would pass the speed of sound: ask for less pressure or less flow."
        raise InputError(words, "drop")
    givens = (
        Given("Δp", "back pressure allowed", drop, "column"),
        Given("L", "length", length, "length"),
        Given("K", "bends and ends together", bends, "ratio"),
        Given("ṁ", "gas", mass_flow, "mass_flow"),
        Given("T", "mean gas temperature", temperature, "temperature"),
        Given("p_0", "pressure around", pressure, "barometer"),
    )
    bore = Step("D", "Δp = (f·L/D + K)·½·ρ·v², solved for D", diameter, "length")
    speed = Step("v", "ṁ/(ρ·π/4·D²)", velocity, "velocity")
    source = "First principles; friction by Colebrook (fluids), wall 0.045 mm."
    note = ("Steady flow. Catalyst and muffler are not in it: their share is measured, or a maker's figure at a flow.",)
    high = ("Above Mach 0.3 the real pressure is higher than this.",) if mach > 0.3 else ()
    return (
        reckoned("bore", "Inside diameter", givens, (bore,), source, (*note, *high)),
        reckoned("velocity", "Velocity in it", givens, (bore, speed), source),
        reckoned(
            "mach",
            "Mach number in it",
            givens,
            (bore, speed, Step("M", "v/√(1.33·290·T)", mach, "ratio")),
            source,
            high,
        ),
    )


def pipe_flow(diameter: float, mass_flow: float, temperature: float, pressure: float) -> tuple[Figure, Figure]:
    """Velocity [m/s] and Mach number [1] of burned gas in a round pipe. mass_flow [kg/s], temperature [K], pressure [Pa].

    Raises InputError for a flow faster than sound. Source: continuity; burned gas γ 1.33, R 290 (from memory).
    """
    positive(diameter=diameter, mass_flow=mass_flow, temperature=temperature, pressure=pressure)
    density = BURNED.density(pressure, temperature)
    velocity = mass_flow / (density * pi / 4.0 * diameter**2)
    givens = (
        Given("D", "inside diameter", diameter, "length"),
        Given("ṁ", "gas", mass_flow, "mass_flow"),
        Given("T", "gas temperature", temperature, "temperature"),
        Given("p", "pressure", pressure, "barometer"),
    )
    if velocity >= BURNED.speed_of_sound(temperature):
        raise InputError(
            "No such flow: the gas would pass the speed of sound. The pipe is choked before it.", "mass_flow"
        )
    step = Step("v", "ṁ·R·T/(p·π/4·D²)", velocity, "velocity")
    mach = Step("M", "v/√(1.33·290·T)", velocity / BURNED.speed_of_sound(temperature), "ratio")
    source = "Continuity; burned gas γ 1.33, R 290 (from memory)."
    return (
        reckoned("velocity", "Velocity", givens, (step,), source),
        reckoned("mach", "Mach number", givens, (step, mach), source),
    )


@dataclass(frozen=True)
class StepUp:
    """A step up behind a flange: inside diameters before and after [m], length of the cone between [m] (0: none)."""

    before: float
    after: float
    length: float


def step_up_figures(step: StepUp, mass_flow: float, temperature: float, pressure: float) -> tuple[Figure, ...]:
    """Area ratio [1] from inside diameters, included angle [rad], pressure lost in the cone [Pa], and with no cone at all [Pa].

    mass_flow [kg/s], temperature [K], pressure [Pa] behind it. Raises InputError for a pipe that is not wider than the flange.
    Source: first principles; coefficients by fluids.
    """
    positive(before=step.before, after=step.after, mass_flow=mass_flow, temperature=temperature, pressure=pressure)
    if step.after <= step.before:
        raise InputError("The pipe behind is no wider inside than the flange: there is no step up.", "after")
    small, large = round_section(step.before), round_section(step.after)
    density = BURNED.density(pressure, temperature)
    velocity = mass_flow / (density * small.area)
    dynamic = 0.5 * density * velocity**2
    givens = (
        Given("D_1", "inside diameter before", step.before, "length"),
        Given("D_2", "inside diameter after", step.after, "length"),
        Given("l", "length of the cone", step.length, "length"),
        Given("ṁ", "gas", mass_flow, "mass_flow"),
        Given("T", "gas temperature", temperature, "temperature"),
    )
    head = Step("½ρv²", "dynamic pressure before", dynamic, "column")
    sudden = losses.sudden(small, large)
    found = [
        reckoned(
            "area_ratio",
            "Area ratio, inside",
            givens,
            (Step("A_2/A_1", "(D_2/D_1)²", large.area / small.area, "ratio"),),
            "Definition.",
        ),
        reckoned(
            "no_cone",
            "Lost with no cone",
            givens,
            (head, Step("Δp", f"K {sudden.k:.3f}·½ρv²", sudden.k * dynamic, "column")),
            "Borda-Carnot.",
        ),
    ]
    if step.length > 0:
        reynolds = density * velocity * step.before / BURNED.viscosity(temperature)
        cone = losses.cone(small, large, step.length, reynolds, 4.5e-5)
        angle = losses.included_angle(small, large, step.length)
        spread = (f"Methods: {cone.spread}.",)
        wide = (
            ("Wider than some 15 ° the flow leaves the wall: the cone is then worth little more than a step.",)
            if angle > 0.26
            else ()
        )
        found.insert(
            1,
            reckoned(
                "cone_angle",
                "Included angle",
                givens,
                (Step("α", "2·atan((D_2 − D_1)/(2·l))", angle, "angle"),),
                "Definition.",
                wide,
            ),
        )
        found.insert(
            2,
            reckoned(
                "cone",
                "Lost in the cone",
                givens,
                (head, Step("Δp", f"K {cone.k:.3f}·½ρv²", cone.k * dynamic, "column")),
                "By fluids, Rennels used.",
                spread,
            ),
        )
    return tuple(found)
