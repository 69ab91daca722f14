"""The figures of a path with their workings: what each element costs, the whole side, and the flow in it."""

from __future__ import annotations

from longbreath.core.air.gases import AIR
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.path.losses import REYNOLDS_FLOOR, Loss
from longbreath.core.path.sections import Section
from longbreath.core.path.walk import Duty, ElementLoss, Side

SOURCE = "Δp = Σ K·½·ρ·v²; coefficients by the open library fluids, the method named in each line."


def loss_figure(side: Side, piece: ElementLoss) -> Figure:
    """Total pressure an element costs [Pa], with the spread between published methods as its uncertainty."""
    e = piece.element
    givens = (
        Given("ṁ", "mass flow in one branch while it flows", piece.flow, "mass_flow"),
        Given("A", "area at entry, of one branch", e.entry.area, "area"),
        Given("L", "length", e.length, "length"),
        Given("Re", "Reynolds number", piece.reynolds, "ratio"),
    )
    steps = tuple(
        Step(f"Δp_{i}", f"{part.loss.what}: K {part.loss.k:.3f} × ½ρv²", part.drop, "column")
        for i, part in enumerate(piece.parts, start=1)
    )
    total = Step("Δp", "sum", piece.drop, "column")
    notes = tuple(f"{part.loss.what}: {part.loss.spread}." for part in piece.parts)
    if e.nominal:
        notes += ("Some of its sizes are nominal or remembered.",)
    spread = max(piece.high - piece.drop, piece.drop - piece.low)
    working = Working(f"What {e.name} costs", givens, (*steps, total), SOURCE, notes)
    return Figure("loss", f"{e.name}, loss", piece.drop, "column", working, spread or None, significant=3)


def share_figure(side: Side, piece: ElementLoss) -> Figure:
    """An element's share [1] of its side's loss."""
    working = Working(
        f"Share of {piece.element.name}",
        (Given("Δp", "what it costs", piece.drop, "column"), Given("Δp_s", "the whole side", side.drop, "column")),
        (Step("s", "Δp/Δp_s", side.share(piece), "percent"),),
        SOURCE,
    )
    return Figure("share", f"{piece.element.name}, share", side.share(piece), "percent", working, significant=2)


def total_figure(side: Side) -> Figure:
    """The whole loss of a side [Pa]."""
    steps = tuple(
        Step(f"Δp_{i}", piece.element.name, piece.drop, "column") for i, piece in enumerate(side.pieces, start=1)
    )
    label = "Back pressure at the head" if side.side == "exhaust" else "Pressure lost before the valve"
    if side.has_turbine:
        label = "Lost from port to tip, the turbine’s work apart"
    note = (
        "Each branch is counted while it flows; steady flow, no waves. Above Mach 0.3 an estimate.",
        "The spread is that of the published coefficients, added up as if all erred the same way.",
    )
    working = Working(
        label, duty_givens(side.duty, side.side), (*steps, Step("Δp", "sum", side.drop, "column")), SOURCE, note
    )
    spread = max(side.high - side.drop, side.drop - side.low)
    return Figure("total", label, side.drop, "column", working, spread or None, significant=3)


def duty_givens(duty: Duty, side: str) -> tuple[Given, ...]:
    """The givens of a duty for a working."""
    found: tuple[Given, ...] = (
        Given("ṁ", "air mass flow", duty.air_mass_flow, "mass_flow"),
        Given("p_0", "room pressure", duty.pressure, "barometer"),
        Given("T_0", "room temperature", duty.temperature, "temperature"),
    )
    if side == "exhaust":
        found += (
            Given("T_e", "gas at the exhaust port", duty.exhaust_temperature, "temperature"),
            Given("AFR", "air to fuel, by mass", duty.air_fuel_ratio, "ratio"),
        )
    return found


def peak_mach(side: Side) -> Figure | None:
    """The highest Mach number [1] on a side, and where; None for an empty side."""
    if not side.stations:
        return None
    top = max(side.stations, key=lambda s: s.mach)
    name = next(p.element.name for p in side.pieces if p.element.key == top.key)
    working = Working(
        "Highest Mach number",
        (
            Given("v", f"velocity in {name}", top.velocity, "velocity"),
            Given("T", "temperature there", top.temperature, "temperature"),
        ),
        (Step("M", "v/√(γ·R·T)", top.mach, "ratio"),),
        "Definition.",
        ("Mean flow of one branch while it flows; the momentary peak is about 1.6 times as much.",),
    )
    return Figure("mach", f"highest Mach number, in {name}", top.mach, "ratio", working, significant=2)


REFERENCE_PRESSURE, REFERENCE_TEMPERATURE = 101325.0, 293.15
"""Air in which a single place is reckoned: 20 °C, 1013 hPa."""


def reference_density() -> float:
    """Density of that air [kg/m3]."""
    return AIR.density(REFERENCE_PRESSURE, REFERENCE_TEMPERATURE)


def reynolds(flow: float, section: Section) -> float:
    """Reynolds number [1] of a flow [m3/s] of that air in a section."""
    per_area = reference_density() * flow / section.area
    return per_area * section.hydraulic_diameter / AIR.viscosity(REFERENCE_TEMPERATURE)


def place_figures(loss: Loss, flow: float, section: Section) -> tuple[Figure, Figure]:
    """Loss coefficient [1] and pressure lost [Pa] at a flow [m3/s] of air at 20 °C, on the smaller `section`."""
    density = reference_density()
    dynamic = 0.5 * density * (flow / section.area) ** 2
    givens = (
        Given("Q", "flow", flow, "flow"),
        Given("A", "smaller section", section.area, "area"),
        Given("ρ", "air at 20 °C, 1013 hPa", density, "density"),
    )
    spread = max(loss.high - loss.k, loss.k - loss.low)
    source = f"{loss.methods}."
    note = () if loss.low == loss.high else (f"Handbooks differ: {loss.between}.",)
    if (number := reynolds(flow, section)) < REYNOLDS_FLOOR:
        note = (
            *note,
            f"The flow is slow (Re {number:.0f}): reckoned as at Re {REYNOLDS_FLOOR:.0f}, where turbulent friction begins; "
            "laminar loss differs.",
        )
    first, second = Step("K", loss.what, loss.k, "ratio"), Step("q", "½·ρ·(Q/A)²", dynamic, "column")
    third = Step("Δp", "K·q", loss.k * dynamic, "column")
    k = Working("Loss coefficient", givens, (first,), source, note)
    drop = Working("Pressure lost", givens, (first, second, third), source, note)
    return (
        Figure("k", "Loss coefficient", loss.k, "ratio", k, spread or None, significant=3),
        Figure("drop", "Pressure lost", loss.k * dynamic, "column", drop, spread * dynamic or None, significant=3),
    )
