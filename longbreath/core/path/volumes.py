"""Volumes of the path: runners, plenum, pipe before the turbine, crankcase; beside the displacement."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.path.kinds import (
    BEFORE_THE_CYLINDERS,
    COMPRESSOR,
    EXHAUST,
    INTAKE,
    PRIMARY,
    RUNNER_AND_PORT,
    TURBINE,
)
from longbreath.core.path.losses import cone_length, included_angle
from longbreath.core.path.sections import Section, round_section
from longbreath.core.path.walk import PathElement

FIRST_PRINCIPLES = "First principles (geometry)."


def frustum(entry: Section, exit: Section, length: float) -> float:
    """Volume [m3] of a duct that tapers evenly between two sections over `length` [m]: L/3·(A1 + A2 + √(A1·A2)).

    Raises InputError for a length of nought or less.
    """
    if length <= 0:
        raise InputError("A length must be more than nought.", "length")
    return length / 3.0 * (entry.area + exit.area + sqrt(entry.area * exit.area))


def inertia_area(entry: Section, exit: Section) -> float:
    """Area [m2] of the straight duct of the same length whose gas is as heavy to move: √(A1·A2)."""
    return sqrt(entry.area * exit.area)


def duct_figure(elements: Sequence[PathElement], what: str) -> Figure:
    """Volume [m3] of one branch of a row of elements. Raises InputError for an empty row."""
    if not elements:
        raise InputError(f"No element makes up {what}.", "elements")
    parts = [(e.name, e.volume if e.is_volume and e.volume else frustum(e.entry, e.exit, e.length)) for e in elements]
    total = sum(volume for _, volume in parts)
    steps = tuple(Step(f"V_{i}", name, volume, "volume") for i, (name, volume) in enumerate(parts, start=1))
    working = Working(
        f"Volume of {what}",
        (),
        (*steps, Step("V", "sum, one branch", total, "volume")),
        f"{FIRST_PRINCIPLES} L/3·(A₁ + A₂ + √(A₁·A₂)) for a taper.",
    )
    return Figure("volume", what, total, "volume", working)


_CONE = {"angle": "α", "ratio": "A_2/A_1", "volume": "V", "inertia_area": "A_i"}
"""Symbols of a cone's figures."""


def cone_figures(entry: float, exit: float, length: float) -> tuple[Figure, ...]:
    """Included angle, area ratio, volume and inertia-equivalent area of a round cone between two diameters [m], `length` [m]."""

    a, b = round_section(entry), round_section(exit)
    volume, angle = frustum(a, b, length), included_angle(a, b, length)
    givens = (
        Given("D_1", "entry", entry, "length"),
        Given("D_2", "exit", exit, "length"),
        Given("L", "length", length, "length"),
    )

    def figure(name: str, label: str, formula: str, value: float, kind: str) -> Figure:
        return Figure(
            name,
            label,
            value,
            kind,
            Working(label, givens, (Step(_CONE[name], formula, value, kind),), FIRST_PRINCIPLES),
        )

    return (
        figure("angle", "Included angle", "2·atan(|D_2 − D_1|/(2·L))", angle, "angle"),
        figure("ratio", "Area ratio", "(D_2/D_1)²", b.area / a.area, "ratio"),
        figure("volume", "Volume", "π·L/12·(D_1² + D_1·D_2 + D_2²)", volume, "volume"),
        figure("inertia_area", "Inertia-equivalent area", "π/4·D_1·D_2", inertia_area(a, b), "area"),
    )


def plenum_figure(
    gross: float,
    stacks: int = 0,
    stack_outside: float = 0.0,
    stack_height: float = 0.0,
    spacer_area: float = 0.0,
    spacer_height: float = 0.0,
    uncertainty: float | None = None,
) -> Figure:
    """Net plenum volume [m3]: `gross` [m3] less what stacks stick into it, plus a spacer.

    stacks: how many [count], each of outside area stack_outside [m2] and stack_height [m]; spacer_area [m2] ×
    spacer_height [m]. Raises InputError if the stacks fill it.
    """
    taken = stacks * stack_outside * stack_height
    added = spacer_area * spacer_height
    net = gross - taken + added
    if gross <= 0 or net <= 0:
        raise InputError("The stacks would fill the plenum.", "stack_height")
    working = Working(
        "Net plenum volume",
        (
            Given("V_g", "measured without them", gross, "plenum"),
            Given("n", "stacks", float(stacks), "count"),
            Given("A_s", "outside area of one", stack_outside, "area"),
            Given("h_s", "how far it sticks in", stack_height, "length"),
            Given("A_p", "inside area of the spacer", spacer_area, "area"),
            Given("h_p", "spacer", spacer_height, "length"),
        ),
        (
            Step("V_−", "n·A_s·h_s", taken, "plenum"),
            Step("V_+", "A_p·h_p", added, "plenum"),
            Step("V", "V_g − V_− + V_+", net, "plenum"),
        ),
        FIRST_PRINCIPLES,
        ("Runners that stick into the plenum take volume away; a spacer gives it back (common practice).",),
    )
    return Figure("plenum", "Net plenum volume", net, "plenum", working, uncertainty)


def ratio_figure(volume: Figure, displacement: float, of: str = "displacement") -> Figure:
    """A volume over the displacement [m3] of the engine or of one cylinder."""
    if displacement <= 0:
        raise InputError("A displacement must be more than nought.", "displacement")
    ratio = volume.value / displacement
    spread = volume.uncertainty / displacement if volume.uncertainty else None
    working = Working(
        f"{volume.label} over {of}",
        (Given("V", volume.label, volume.value, "volume"), Given("V_d", of, displacement, "volume")),
        (Step("r", "V/V_d", ratio, "ratio"),),
        "Definition.",
        (),
        volume.working.rows,
    )
    return Figure("ratio", f"{volume.label} over {of}", ratio, "ratio", working, spread, significant=3)


def response_figure(volume: float, flow: float, gain: float, pressure: float) -> Figure:
    """First guess of response [s]: time a `flow` [m3/s, at room density] takes to fill `volume` [m3] by `gain` [Pa] of pressure.

    t = V·Δp/(p·Q); pressure: room [Pa]. Isothermal, with no engine drawing. Raises InputError for a flow of nought.
    """
    if flow <= 0 or volume <= 0 or pressure <= 0:
        raise InputError("Volume and flow must be more than nought.", "flow")
    time = volume * gain / (pressure * flow)
    working = Working(
        "First guess of response",
        (
            Given("V", "volume to fill", volume, "plenum"),
            Given("Q", "flow that fills it", flow, "flow"),
            Given("Δp", "pressure wanted above the room", gain, "pressure"),
            Given("p", "room pressure", pressure, "barometer"),
        ),
        (Step("t", "V·Δp/(p·Q)", time, "time"),),
        "First principles: ideal gas, isothermal, nothing drawn meanwhile.",
        ("Ranks pipes by their volume; the turbine’s own inertia is usually the longer wait.",),
    )
    return Figure("response", "Time to fill", time, "time", working, significant=2)


def crankcase_figures(bore: float, stroke: float, case_at_bottom: float) -> tuple[Figure, Figure]:
    """Primary compression ratio of a two-stroke's crankcase, and its volume with the piston up [m3].

    bore, stroke [m]; case_at_bottom: case volume with the piston at bottom dead centre [m3].
    """
    if case_at_bottom <= 0:
        raise InputError("A crankcase has a volume.", "case_volume")
    swept = pi / 4.0 * bore**2 * stroke
    givens = (
        Given("B", "bore", bore, "length"),
        Given("S", "stroke", stroke, "length"),
        Given("V_b", "case with the piston down", case_at_bottom, "volume"),
    )
    up = case_at_bottom + swept
    steps = (Step("V_s", "π/4·B²·S", swept, "volume"), Step("V_t", "V_b + V_s", up, "volume"))
    volume = Figure(
        "case", "Case with the piston up", up, "volume", Working("Crankcase", givens, steps, FIRST_PRINCIPLES)
    )
    ratio = Figure(
        "primary_ratio",
        "Primary compression ratio",
        up / case_at_bottom,
        "ratio",
        Working(
            "Primary compression ratio",
            givens,
            (*steps, Step("ε", "V_t/V_b", up / case_at_bottom, "ratio")),
            FIRST_PRINCIPLES,
        ),
        significant=4,
    )
    return volume, ratio


RUNNER_AND_PORT_WORDS = "runner and port, one"
RESPONSE_GAIN = 1e5
"""Pressure above the room [Pa] for which the first guess of response is made."""


@dataclass(frozen=True)
class VolumeRow:
    """One volume of a path: what it is, the volume, over its displacement, and for boosted pipes a first guess of response."""

    what: str
    volume: Figure
    ratio: Figure
    response: Figure | None = None


def duct_rows(
    elements: Sequence[PathElement], displacement: float, cylinders: int, flow: float, pressure: float
) -> list[VolumeRow]:
    """Volumes of the stretches that matter: runner and port, compressor to cylinder, engine to turbine, primary.

    elements from mouth to tail; displacement of the engine [m3]; flow at room density [m3/s] and room pressure [Pa] for
    the guess of response. A stretch that the path has not is left out.
    """
    cylinder = displacement / cylinders
    runner = [e for e in elements if e.kind in RUNNER_AND_PORT and e.side == INTAKE]
    primary = [e for e in elements if e.kind in PRIMARY]
    boosted, hot = _charged(elements), _before_the_turbine(elements)
    stretches = (
        (RUNNER_AND_PORT_WORDS, runner, cylinder, "one cylinder"),
        ("compressor to cylinder", boosted, displacement, "displacement"),
        ("engine to turbine", hot, displacement, "displacement"),
        ("primary, one", primary, cylinder, "one cylinder"),
    )
    found = []
    for what, row, over, of in stretches:
        if row:
            volume = duct_figure(row, what)
            guess = response_figure(volume.value, flow, RESPONSE_GAIN, pressure) if row is boosted else None
            found.append(VolumeRow(what, volume, ratio_figure(volume, over, of), guess))
    return found


def _charged(elements: Sequence[PathElement]) -> list[PathElement]:
    """What lies between the compressor and the cylinders; nothing without a compressor."""
    names = [e.kind for e in elements]
    if COMPRESSOR not in names:
        return []
    begin = names.index(COMPRESSOR) + 1
    ends = (i for i, name in enumerate(names) if i >= begin and name in BEFORE_THE_CYLINDERS)
    return [e for e in elements[begin : next(ends, len(names))] if e.side == INTAKE]


def _before_the_turbine(elements: Sequence[PathElement]) -> list[PathElement]:
    """The exhaust up to the turbine; nothing without one."""
    names = [e.kind for e in elements]
    return [e for e in elements[: names.index(TURBINE)] if e.side == EXHAUST] if TURBINE in names else []


def cone_length_figure(entry: float, exit: float, angle: float) -> Figure:
    """Length [m] of a cone of an included angle [rad] between two diameters [m]."""
    length = cone_length(entry, exit, angle)
    givens = (
        Given("D_1", "entry", entry, "length"),
        Given("D_2", "exit", exit, "length"),
        Given("α", "included angle", angle, "angle"),
    )
    step = Step("L", "|D_2 − D_1|/(2·tan(α/2))", length, "length")
    note = ("A widening cone costs least near 7° included (handbook rule, from memory).",)
    working = Working("Length of a cone", givens, (step,), FIRST_PRINCIPLES, note)
    return Figure("length", "Length of the cone", length, "length", working)


def stacked_plenum_figure(
    gross: float, stacks: int, stack_diameter: float, stack_height: float, spacer_area: float, spacer_height: float
) -> Figure:
    """Net plenum volume [m3] as `plenum_figure`, with the outside diameter of one stack [m] instead of its area."""
    outside = pi / 4.0 * stack_diameter**2
    return plenum_figure(gross, stacks, outside, stack_height, spacer_area, spacer_height)
