"""The register's entries of sections, losses, volumes and faces. Import `reckonings`, which imports these."""

from __future__ import annotations

from collections.abc import Callable
from math import pi

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Field, Reckoning, Values, register
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.bench import traverse
from longbreath.core.path import calliper, faces, sections, volumes
from longbreath.core.path.sections import Section

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
