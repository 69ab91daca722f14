"""The register's entries of sections, losses, volumes and faces. Import `reckonings`, which imports these."""

from __future__ import annotations

from collections.abc import Callable
from math import pi

from longbreath.core import calliper, faces, losses, sections, traverse, volumes
from longbreath.core.errors import InputError
from longbreath.core.gas import AIR, BURNED, cooled
from longbreath.core.losses import Loss
from longbreath.core.register import Field, Reckoning, Values, register
from longbreath.core.sections import Section, round_section
from longbreath.core.working import Figure, Given, Step, Working

SMALLEST = 1e-12
_TURN = 2 * pi


def length_field(
    name: str, label: str, example: str, low: float = SMALLEST, required: bool = True, help: str = ""
) -> Field:
    """A field for a length from `low` [m] to 20 m."""
    return Field(name, label, "length", example, low, 20.0, required, help=help)


def angle_field(
    name: str, label: str, example: str, low: float = -_TURN, required: bool = True, help: str = ""
) -> Field:
    """A field for an angle from `low` [rad] to three turns."""
    return Field(name, label, "angle", example, low, 3 * _TURN, required, help=help)


def add(
    name: str,
    title: str,
    question: str,
    fields: tuple[Field, ...],
    run: Callable[[Values], tuple[Figure, ...]],
    source: str = sections.FIRST_PRINCIPLES,
    group: str = "Path and faces",
) -> None:
    """Register an entry."""
    """Register an entry."""
    register(Reckoning(name, title, question, fields, run, source, group))


def _section_figures(section: Section, sizes: tuple[Given, ...], shape: str) -> tuple[Figure, ...]:
    area = sections.area_figure("the section", section, sizes, None, shape=shape)
    base = Step("A", sections.FORMULAS[shape], section.area, "area")
    hydraulic = Step("D_h", "4·A/P", section.hydraulic_diameter, "length")
    equal = Step("D", "√(4·A/π)", section.equal_area_diameter, "length")
    around = Step("P", "round the rim", section.perimeter, "length")

    def figure(name: str, label: str, value: float, *steps: Step) -> Figure:
        return Figure(name, label, value, "length", Working(label, sizes, steps, sections.FIRST_PRINCIPLES))

    return (
        area,
        figure("perimeter", "Perimeter", section.perimeter, around),
        figure("hydraulic_diameter", "Hydraulic diameter", section.hydraulic_diameter, base, around, hydraulic),
        figure("equal_diameter", "Round of the same area", section.equal_area_diameter, base, equal),
    )


def _width_height(values: Values) -> tuple[Given, ...]:
    return (Given("w", "width", values["width"], "length"), Given("h", "height", values["height"], "length"))


_WIDE, _HIGH = length_field("width", "Width", "50 mm"), length_field("height", "Height", "32 mm")
add(
    "section_oval",
    "Oval section",
    "How large is this oval inside?",
    (_WIDE, _HIGH),
    lambda v: _section_figures(sections.oval(v["width"], v["height"]), _width_height(v), "oval"),
)
add(
    "section_d",
    "D section",
    "How large is this D inside?",
    (length_field("width", "Width of the floor", "34 mm"), length_field("height", "Height over all", "40 mm")),
    lambda v: _section_figures(sections.d_section(v["width"], v["height"]), _width_height(v), "d"),
)
add(
    "section_rectangle",
    "Rounded rectangle",
    "How large is this port inside?",
    (_WIDE, _HIGH, length_field("corner_radius", "Corner radius", "8 mm", 0.0)),
    lambda v: _section_figures(
        sections.rounded_rectangle(v["width"], v["height"], v["corner_radius"]),
        (*_width_height(v), Given("r", "corner radius", v["corner_radius"], "length")),
        "rounded_rectangle",
    ),
)


def _callipers(v: Values) -> tuple[Figure, ...]:
    taken = [v[f"reading_{i}"] for i in range(1, 5) if v[f"reading_{i}"] is not None]
    found = calliper.read(taken, v["precision"])
    return tuple(f for f in (found.mean, found.ovality, found.out_of_round) if f is not None)


add(
    "callipers",
    "Mean and ovality",
    "How large is it, and how far out of round?",
    (
        length_field("reading_1", "Reading", "38.31 mm"),
        length_field("reading_2", "Reading", "38.12 mm", required=False),
        length_field("reading_3", "Reading", "38.17 mm", required=False),
        length_field("reading_4", "Reading", "", required=False),
        length_field("precision", "The tool is good to ±", "0.05 mm", 0.0),
    ),
    _callipers,
    calliper.SOURCE,
)
add(
    "cone",
    "Cone: angle, ratio, volume",
    "How steep is this cone, and what does it hold?",
    (
        length_field("entry", "Diameter at entry", "38 mm"),
        length_field("exit", "Diameter at exit", "51 mm"),
        length_field("length", "Length", "250 mm"),
    ),
    lambda v: volumes.cone_figures(v["entry"], v["exit"], v["length"]),
)


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
    (
        _FLOW,
        length_field("entry", "Diameter before", "63.5 mm"),
        length_field("exit", "Diameter behind", "60.3 mm"),
    ),
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


add(
    "plenum_volume",
    "Net plenum volume",
    "What is left of the plenum?",
    (
        Field("gross", "Measured without what sticks in", "plenum", "3.5 L", SMALLEST),
        Field("stacks", "Runners that stick in", "count", "4", 0, 24),
        length_field("stack_outside", "Outside diameter of one", "50 mm", 0.0),
        length_field("stack_height", "They stick in by", "14 mm", 0.0),
        Field("spacer_area", "Inside area of the spacer", "area", "29500 mm2", 0.0),
        length_field("spacer_height", "Spacer", "12 mm", 0.0),
    ),
    lambda v: (
        volumes.plenum_figure(
            v["gross"],
            int(v["stacks"]),
            pi / 4 * v["stack_outside"] ** 2,
            v["stack_height"],
            v["spacer_area"],
            v["spacer_height"],
        ),
    ),
)
add(
    "pipe_response",
    "First guess of response",
    "How long does the air need to fill this pipe?",
    (
        Field("volume", "Volume to fill", "plenum", "5 L", SMALLEST),
        Field("flow", "Flow that fills it", "flow", "110 L/s", SMALLEST),
        Field("gain", "Pressure wanted above the room", "pressure", "1 bar", SMALLEST),
        Field("pressure", "Room pressure", "barometer", "1013 hPa", 5e4),
    ),
    lambda v: (volumes.response_figure(v["volume"], v["flow"], v["gain"], v["pressure"]),),
)
add(
    "crankcase",
    "Crankcase of a two-stroke",
    "How hard does the crankcase pump?",
    (
        length_field("bore", "Bore", "62 mm"),
        length_field("stroke", "Stroke", "57 mm"),
        Field("case", "Case volume, piston down", "volume", "520 cc", 1e-6),
    ),
    lambda v: volumes.crankcase_figures(v["bore"], v["stroke"], v["case"]),
)


def _overlap(v: Values) -> tuple[Figure, ...]:
    try:
        a = traverse.rectangle_face(v["width_1"], v["height_1"], v["radius_1"])
        b = traverse.rectangle_face(v["width_2"], v["height_2"], v["radius_2"])
    except InputError as error:
        raise InputError(error.message, "radius_1") from None
    match = faces.lay_over(a, b, faces.Place(v["right"], v["up"]))
    worst = Working(
        "Highest edge against the flow",
        match.overlap.working.givens,
        (Step("h", "largest distance of the rim that stands in", match.worst, "length"),),
        faces.SOURCE,
    )
    return (
        match.overlap,
        match.share,
        match.blocked,
        match.opened,
        Figure("edge", "Highest edge against the flow", match.worst, "length", worst, significant=2),
    )


add(
    "faces",
    "Two faces over each other",
    "Do these two ports meet?",
    (
        length_field("width_1", "Upstream: width", "50 mm"),
        length_field("height_1", "height", "32 mm"),
        length_field("radius_1", "corner radius", "8 mm", 0.0),
        length_field("width_2", "Downstream: width", "52 mm"),
        length_field("height_2", "height", "34 mm"),
        length_field("radius_2", "corner radius", "10 mm", 0.0),
        length_field("right", "Shifted right", "1.5 mm", -0.2),
        length_field("up", "and up", "1 mm", -0.2),
    ),
    _overlap,
    faces.SOURCE,
)
add(
    "spacer_shift",
    "What a spacer shifts",
    "Where do the ports go with this spacer?",
    (
        length_field("thickness", "Plates together", "12 mm"),
        Field("layout", "Layout", "", "v", choices=faces.LAYOUTS),
        angle_field(
            "angle",
            "Angle",
            "40 °",
            0.0,
            help="in line: port axis above the horizontal; V: the face’s normal from the vertical",
        ),
    ),
    lambda v: faces.stack_shift(v["layout"], [v["thickness"]], v["angle"]),
)
