"""The register's entries of what bends, cones, steps, mouths, edges and lengths cost. Import `reckonings`, which imports these."""

from __future__ import annotations

from math import pi

from longbreath.core.air.gases import AIR, BURNED, cooled
from longbreath.core.basis.register import Field, Values
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.path import losses, sections
from longbreath.core.path.losses import Loss
from longbreath.core.path.reckonings import SMALLEST, add, angle_field, length_field
from longbreath.core.path.sections import Section, round_section


def _loss_figures(loss: Loss, v: Values, smaller: Section) -> tuple[Figure, ...]:
    rho = AIR.density(101325.0, 293.15)
    dynamic = 0.5 * rho * (v["flow"] / smaller.area) ** 2
    givens = (
        Given("Q", "flow", v["flow"], "flow"),
        Given("A", "smaller section", smaller.area, "area"),
        Given("ρ", "air at 20 °C, 1013 hPa", rho, "density"),
    )
    spread = max(loss.high - loss.k, loss.k - loss.low)
    source = f"{loss.methods}."
    first, second = Step("K", loss.what, loss.k, "ratio"), Step("q", "½·ρ·(Q/A)²", dynamic, "column")
    note = (f"Handbooks differ: K {loss.low:.3f} to {loss.high:.3f}.",)
    drop = Working(
        "Pressure lost", givens, (first, second, Step("Δp", "K·q", loss.k * dynamic, "column")), source, note
    )
    return (
        Figure(
            "k",
            "Loss coefficient",
            loss.k,
            "ratio",
            Working("Loss coefficient", givens, (first,), source, note),
            spread or None,
            significant=3,
        ),
        Figure("drop", "Pressure lost", loss.k * dynamic, "column", drop, spread * dynamic or None, significant=3),
    )


def _reynolds(v: Values, section: Section) -> float:
    rho = AIR.density(101325.0, 293.15)
    density: float = rho * v["flow"]
    return density / section.area * section.hydraulic_diameter / AIR.viscosity(293.15)


_FLOW = Field("flow", "Flow", "flow", "250 cfm", SMALLEST)
_ROUGH = length_field(
    "roughness",
    "Roughness of the wall",
    "0.003 mm",
    0.0,
    help="0.003 mm drawn tube, 0.25 mm as cast (handbook, from memory)",
)


def _bend(v: Values) -> tuple[Figure, ...]:
    section = round_section(v["diameter"])
    return _loss_figures(
        losses.bend(v["diameter"], v["angle"], v["radius"], _reynolds(v, section), v["roughness"]), v, section
    )


def _cone_loss(v: Values) -> tuple[Figure, ...]:
    a, b = round_section(v["entry"]), round_section(v["exit"])
    smaller = min(a, b, key=lambda s: s.area)
    return _loss_figures(losses.cone(a, b, v["length"], _reynolds(v, smaller), v["roughness"]), v, smaller)


def _step_loss(v: Values) -> tuple[Figure, ...]:
    a, b = round_section(v["entry"]), round_section(v["exit"])
    return _loss_figures(losses.sudden(a, b), v, min(a, b, key=lambda s: s.area))


def _friction(v: Values) -> tuple[Figure, ...]:
    section = round_section(v["diameter"])
    return _loss_figures(losses.friction(v["length"], section, _reynolds(v, section), v["roughness"]), v, section)


def _mouth(v: Values) -> tuple[Figure, ...]:
    return _loss_figures(losses.mouth(v["diameter"], v["radius"]), v, round_section(v["diameter"]))


_BY_FLUIDS = "Coefficients by the open library fluids; the method and the spread stand in the working."
_DIAMETER = length_field("diameter", "Inside diameter", "63.5 mm")
add(
    "loss_bend",
    "What a bend costs",
    "What does this bend cost?",
    (
        _FLOW,
        _DIAMETER,
        angle_field("angle", "It turns by", "90 °", 0.01),
        length_field("radius", "Centre-line radius", "95 mm", required=False, help="empty: a mitre"),
        _ROUGH,
    ),
    _bend,
    _BY_FLUIDS,
)
add(
    "loss_cone",
    "What a cone costs",
    "What does this cone cost?",
    (
        _FLOW,
        length_field("entry", "Diameter at entry", "76.2 mm"),
        length_field("exit", "Diameter at exit", "88.9 mm"),
        length_field("length", "Length", "104 mm"),
        _ROUGH,
    ),
    _cone_loss,
    _BY_FLUIDS,
)
add(
    "loss_step",
    "What a step costs",
    "What does this step cost?",
    (_FLOW, length_field("entry", "Diameter before", "63.5 mm"), length_field("exit", "Diameter behind", "60.3 mm")),
    _step_loss,
    _BY_FLUIDS,
)
add(
    "loss_friction",
    "What a length of tube costs",
    "What does this length cost?",
    (_FLOW, _DIAMETER, length_field("length", "Length", "1 m"), _ROUGH),
    _friction,
    _BY_FLUIDS,
)
add(
    "loss_mouth",
    "What a mouth costs",
    "What does this mouth cost?",
    (_FLOW, _DIAMETER, length_field("radius", "Radius of its edge", "6 mm", 0.0, help="0: sharp")),
    _mouth,
    _BY_FLUIDS,
)


def _ring(v: Values) -> tuple[Figure, ...]:
    section = round_section(v["diameter"])
    return _loss_figures(losses.ring(section, v["height"]), v, section)


def _own(v: Values) -> tuple[Figure, ...]:
    section = round_section(v["diameter"])
    rho = AIR.density(101325.0, 293.15)
    return _loss_figures(losses.measured(v["drop"], v["drop_flow"], rho, section), v, section)


def _cooling(v: Values) -> tuple[Figure, ...]:
    surface = pi * v["diameter"] * v["length"]
    after = cooled(v["hot"], v["room"], v["heat_transfer"], surface, v["mass_flow"], BURNED)
    givens = (
        Given("T_e", "gas at the beginning", v["hot"], "temperature"),
        Given("T_0", "room", v["room"], "temperature"),
        Given("U", "heat loss", v["heat_transfer"], "heat_transfer"),
        Given("ṁ", "mass flow of the gas", v["mass_flow"], "mass_flow"),
    )
    steps = (
        Step("A", "π·D·L", surface, "area"),
        Step("T", "T_0 + (T_e − T_0)·exp(−U·A/(ṁ·c_p))", after, "temperature"),
    )
    note = ("U of a bare pipe in moving air is some 20 to 60 W/m²K (from memory); wrapped, a third of it.",)
    working = Working(
        "Gas at the end", givens, steps, "First principles; burned gas γ 1.33, R 290 (from memory).", note
    )
    return (Figure("after", "Gas at the end", after, "temperature", working, significant=3),)


def _cone_length(v: Values) -> tuple[Figure, ...]:
    length = losses.cone_length(v["entry"], v["exit"], v["angle"])
    givens = (
        Given("D_1", "entry", v["entry"], "length"),
        Given("D_2", "exit", v["exit"], "length"),
        Given("α", "included angle", v["angle"], "angle"),
    )
    step = Step("L", "|D_2 − D_1|/(2·tan(α/2))", length, "length")
    note = ("A widening cone costs least near 7° included (handbook rule, from memory).",)
    working = Working("Length of a cone", givens, (step,), sections.FIRST_PRINCIPLES, note)
    return (Figure("length", "Length of the cone", length, "length", working),)


add(
    "loss_ring",
    "What a burr or proud gasket costs",
    "What does this edge cost?",
    (_FLOW, _DIAMETER, length_field("height", "It stands in by", "0.8 mm")),
    _ring,
    "Thin orifice in a duct, from memory.",
)
add(
    "loss_measured",
    "A measured loss at another flow",
    "What does this filter or muffler cost at my flow?",
    (
        _FLOW,
        _DIAMETER,
        Field("drop", "Pressure drop read", "column", "1.2 kPa", 0.0),
        Field("drop_flow", "at a flow of", "flow", "100 L/s", SMALLEST),
    ),
    _own,
    "Measured; grows with the square of the flow.",
)
add(
    "cone_length",
    "Length of a cone for an angle",
    "How long must this cone be?",
    (
        length_field("entry", "Diameter at entry", "50.8 mm"),
        length_field("exit", "Diameter at exit", "63.5 mm"),
        angle_field("angle", "Included angle", "7 °", 0.001),
    ),
    _cone_length,
)
add(
    "exhaust_cooling",
    "Gas temperature along an exhaust",
    "How hot is the gas at the end of this pipe?",
    (
        Field("hot", "Gas at the beginning", "temperature", "780 C", 200),
        Field("room", "Room", "temperature", "20 C", 200),
        Field("mass_flow", "Mass flow of the gas", "mass_flow", "110 g/s", 1e-6),
        _DIAMETER,
        length_field("length", "Length", "2 m"),
        Field("heat_transfer", "Heat loss", "heat_transfer", "30 W/m2K", 0.0, 500.0),
    ),
    _cooling,
)
