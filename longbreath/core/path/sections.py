"""Cross-sections of ducts: area, wetted perimeter, hydraulic diameter."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import pi

from scipy.special import ellipe
from shapely import Polygon

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

FIRST_PRINCIPLES = "First principles (plane geometry)."


@dataclass(frozen=True)
class Section:
    """A duct's cross-section: area [m2], perimeter [m]."""

    area: float
    perimeter: float

    @property
    def hydraulic_diameter(self) -> float:
        """4 A / P [m]."""
        return 4.0 * self.area / self.perimeter

    @property
    def equal_area_diameter(self) -> float:
        """Diameter of the circle of the same area [m]."""
        return float((4.0 * self.area / pi) ** 0.5)


def smaller(a: Section, b: Section) -> Section:
    """The one with less area [m2]; the first where they are alike."""
    return min(a, b, key=lambda section: section.area)


def round_section(diameter: float) -> Section:
    """Circle of inside `diameter` [m]."""
    if diameter <= 0:
        raise InputError("A diameter must be more than nought.", "diameter")
    return Section(pi / 4.0 * diameter**2, pi * diameter)


def rounded_rectangle(width: float, height: float, corner_radius: float) -> Section:
    """Rectangle with four equal corner radii [m]: A = w h - (4 - pi) r2."""
    if width <= 0 or height <= 0:
        raise InputError("Width and height must be more than nought.", "width")
    if not 0 <= corner_radius <= min(width, height) / 2 * (1 + 1e-12):
        raise InputError("A corner radius cannot be negative or more than half the shorter side.", "corner_radius")
    r = corner_radius
    return Section(width * height - (4.0 - pi) * r**2, 2.0 * (width + height) - (8.0 - 2.0 * pi) * r)


def flattened_tube(outside_diameter: float, wall: float, minor_outside: float) -> Section:
    """Inside of a round tube squashed between flats, as a stadium with its perimeter kept.

    outside_diameter, wall, minor_outside [m]. The straight sides are s = pi (OD - minor) / 2 long.
    Raises InputError for a wall that fills the tube or a height outside 2 walls to OD.
    """
    tube_inside(outside_diameter, wall)
    if not 2.0 * wall < minor_outside <= outside_diameter:
        raise InputError(
            "The height after squashing must be more than two walls and no more than the outside diameter.",
            "minor_outside",
        )
    straight = pi * (outside_diameter - minor_outside) / 2.0
    height = minor_outside - 2.0 * wall
    return Section(pi / 4.0 * height**2 + straight * height, pi * height + 2.0 * straight)


def oval(width: float, height: float) -> Section:
    """Ellipse of full axes [m]: A = π·w·h/4, perimeter by the complete elliptic integral of the second kind.

    Raises InputError for an axis of nought or less.
    """
    if width <= 0 or height <= 0:
        raise InputError("Width and height must be more than nought.", "width")
    a, b = max(width, height) / 2.0, min(width, height) / 2.0
    return Section(pi * a * b, 4.0 * a * float(ellipe(1.0 - (b / a) ** 2)))


def d_section(width: float, height: float) -> Section:
    """A “D”: flat floor of `width`, straight sides, and a half circle of that width for a roof; `height` over all [m].

    A = w·(h − w/2) + π·w²/8. Raises InputError if the height is less than the half circle's.
    """
    if width <= 0:
        raise InputError("A width must be more than nought.", "width")
    side = height - width / 2.0
    if side < -1e-12:
        raise InputError("A D section is at least half as high as it is wide.", "height")
    return Section(width * side + pi * width**2 / 8.0, width + 2.0 * side + pi * width / 2.0)


def traced(outline: Sequence[tuple[float, float]]) -> Section:
    """Section inside a traced outline [m], by shapely. Raises InputError if it crosses itself or has no area."""
    if len(outline) < 3:
        raise InputError("An outline needs three points or more.", "outline")
    face = Polygon(outline)
    if not face.is_valid or face.area <= 0:
        raise InputError("The outline crosses itself or has no area. Trace it once round.", "outline")
    return Section(float(face.area), float(face.length))


SHAPES: dict[str, tuple[str, tuple[str, ...]]] = {
    "round": ("round", ("diameter",)),
    "oval": ("oval", ("width", "height")),
    "squashed": ("squashed round", ("outside_diameter", "wall", "minor_outside")),
    "rounded_rectangle": ("rounded rectangle", ("width", "height", "corner_radius")),
    "d": ("D", ("width", "height")),
    "outline": ("traced outline", ()),
}
"""What each section is called, and the sizes it is made from."""

FORMULAS = {
    "round": "π/4·D²",
    "oval": "π/4·w·h",
    "squashed": "π/4·(H − 2·t)² + π·(OD − H)/2·(H − 2·t)",
    "rounded_rectangle": "w·h − (4 − π)·r²",
    "d": "w·(h − w/2) + π·w²/8",
    "outline": "area inside the traced outline",
}


def section_of(shape: str, sizes: dict[str, float | None], outline: Sequence[tuple[float, float]] = ()) -> Section:
    """The section of a shape from its sizes [m] by name. Raises InputError beside the size that is missing."""
    if shape == "outline":
        return traced(outline)
    found = []
    for name in SHAPES[shape][1]:
        value = sizes.get(name)
        if value is None:
            raise InputError("This is missing for the section chosen.", name)
        found.append(value)
    makers: dict[str, Callable[..., Section]] = {
        "round": round_section,
        "oval": oval,
        "squashed": flattened_tube,
        "d": d_section,
        "rounded_rectangle": rounded_rectangle,
    }
    return makers[shape](*found)


def tube_inside(outside_diameter: float, wall: float) -> float:
    """Inside diameter [m] = outside diameter - 2 wall. Raises InputError if the wall fills the tube."""
    if outside_diameter <= 0:
        raise InputError("An outside diameter must be more than nought.", "outside_diameter")
    if not 0 <= wall < outside_diameter / 2.0:
        raise InputError("The wall must be less than half the outside diameter.", "wall")
    return outside_diameter - 2.0 * wall


def area_figure(
    name: str,
    section: Section,
    sizes: tuple[Given, ...],
    precision: float | None,
    nominal: bool = False,
    shape: str = "round",
    rows: tuple[str, ...] = (),
) -> Figure:
    """The area of a measured section as a Figure, with the uncertainty that the tool allows.

    sizes: the measured dimensions [m]. A wall that may stand off by half of ± precision [m] all round changes the
    area by perimeter × precision / 2.
    """
    spread = section.perimeter * precision / 2.0 if precision else None
    steps = [Step("A", FORMULAS[shape], section.area, "area")]
    if spread is not None:
        steps.append(Step("±", "P·p/2, sizes good to ±p", spread, "area"))
    notes = (
        ("Nominal or remembered: its uncertainty is widened. Measure it before it backs a claim.",) if nominal else ()
    )
    working = Working(f"Section of {name}", sizes, tuple(steps), FIRST_PRINCIPLES, notes, rows)
    return Figure("area", f"{name}, inside area", section.area, "area", working, spread)


def tube_figures(outside_diameter: float, wall: float) -> tuple[Figure, Figure]:
    """Inside diameter and inside area of a round tube, with working. Arguments [m]."""
    inside = tube_inside(outside_diameter, wall)
    area = round_section(inside).area
    working = Working(
        "Inside of a tube",
        (Given("OD", "outside diameter", outside_diameter, "length"), Given("w", "wall", wall, "length")),
        (Step("ID", "OD − 2·w", inside, "length"), Step("A", "π/4·ID²", area, "area")),
        FIRST_PRINCIPLES,
        ("A nominal bore is a name; measure outside diameter and wall.",),
    )
    return (
        Figure("inside_diameter", "Inside diameter", inside, "length", working),
        Figure("area", "Inside area", area, "area", working),
    )


def flattened_figures(outside_diameter: float, wall: float, minor_outside: float) -> tuple[Figure, Figure, Figure]:
    """Area, share of the round area and hydraulic diameter of a squashed tube, with working. Arguments [m]."""
    section = flattened_tube(outside_diameter, wall, minor_outside)
    before = round_section(tube_inside(outside_diameter, wall)).area
    straight = pi * (outside_diameter - minor_outside) / 2.0
    height = minor_outside - 2.0 * wall
    working = Working(
        "Area of a squashed tube",
        (
            Given("OD", "outside diameter before", outside_diameter, "length"),
            Given("w", "wall", wall, "length"),
            Given("H", "outside height after", minor_outside, "length"),
        ),
        (
            Step("A₀", "π/4·(OD − 2·w)²", before, "area"),
            Step("s", "π·(OD − H)/2", straight, "length"),
            Step("h", "H − 2·w", height, "length"),
            Step("A", "π/4·h² + s·h", section.area, "area"),
            Step("A/A₀", "share of the round area", section.area / before, "percent"),
        ),
        FIRST_PRINCIPLES,
        ("Stadium shape, perimeter kept. A tube crushed unevenly is smaller: compare areas, not widths.",),
    )
    wetted = Working(
        "Hydraulic diameter of a squashed tube",
        (
            Given("A", "inside area after", section.area, "area", "the working of the area"),
            Given("P", "inside perimeter, kept", section.perimeter, "length", "π·(OD − 2·w)"),
        ),
        (Step("D_h", "4·A/P", section.hydraulic_diameter, "length"),),
        FIRST_PRINCIPLES,
    )
    return (
        Figure("area", "Inside area after", section.area, "area", working),
        Figure("share", "Share of the round area", section.area / before, "percent", working),
        Figure("hydraulic_diameter", "Hydraulic diameter", section.hydraulic_diameter, "length", wetted),
    )


def section_figures(section: Section, shape: str, sizes: tuple[Given, ...]) -> tuple[Figure, ...]:
    """Area, perimeter, hydraulic diameter and the round of the same area of a section of a shape with its sizes."""
    area = area_figure("the section", section, sizes, None, shape=shape)
    base = Step("A", FORMULAS[shape], section.area, "area")
    hydraulic = Step("D_h", "4·A/P", section.hydraulic_diameter, "length")
    equal = Step("D", "√(4·A/π)", section.equal_area_diameter, "length")
    around = Step("P", "round the rim", section.perimeter, "length")

    def figure(name: str, label: str, value: float, *steps: Step) -> Figure:
        return Figure(name, label, value, "length", Working(label, sizes, steps, FIRST_PRINCIPLES))

    return (
        area,
        figure("perimeter", "Perimeter", section.perimeter, around),
        figure("hydraulic_diameter", "Hydraulic diameter", section.hydraulic_diameter, base, around, hydraulic),
        figure("equal_diameter", "Round of the same area", section.equal_area_diameter, base, equal),
    )


def wide_and_high(width: float, height: float) -> tuple[Given, Given]:
    """Width and height [m] as givens."""
    return Given("w", "width", width, "length"), Given("h", "height", height, "length")
