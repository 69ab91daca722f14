"""Velocity over a port's face, from pitot readings: the face, what each reading stands for, mean, peak, working area."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import ceil, cos, pi, sin, sqrt

from shapely import MultiPoint, Point, Polygon, voronoi_polygons
from shapely.affinity import translate
from shapely.geometry import box

from longbreath.core.air.moist import Weather, speed_of_sound
from longbreath.core.basis.constants import GAMMA_AIR
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.core.basis.working import Figure, Given, Step, Working

WORKING_FLOW = 0.75
"""The working area is the smallest part of the face that carries this share of the flow. Our definition."""
CORNER_STEPS = 32
MOST_POINTS = 4000
FARTHEST = 10.0
"""Farthest that a point of a traced face may lie from the origin it was traced from [m]."""
Outline = tuple[tuple[float, float], ...]


def round_face(diameter: float) -> Outline:
    """Outline of a round face [m], centred on nought."""
    if diameter <= 0:
        raise InputError("A diameter must be more than nought.", "diameter")
    r, steps = diameter / 2.0, 4 * CORNER_STEPS
    return tuple((r * cos(2 * pi * i / steps), r * sin(2 * pi * i / steps)) for i in range(steps))


def rectangle_face(width: float, height: float, radius: float) -> Outline:
    """Outline of a rounded rectangle [m], centred on nought. Raises InputError for a radius that does not fit."""
    if width <= 0 or height <= 0:
        raise InputError("Width and height must be more than nought.", "width")
    if not 0 <= radius <= min(width, height) / 2:
        raise InputError("A corner radius cannot be more than half the shorter side.", "corner_radius")
    if radius == 0:
        x, y = width / 2, height / 2
        return ((-x, -y), (x, -y), (x, y), (-x, y))
    core = box(-width / 2 + radius, -height / 2 + radius, width / 2 - radius, height / 2 - radius)
    if core.area == 0:  # a stadium or circle: the core is a line or a point
        core = core.buffer(1e-9)
    return tuple((float(x), float(y)) for x, y in core.buffer(radius, quad_segs=CORNER_STEPS).exterior.coords[:-1])


def traced_face(points: Sequence[tuple[float, float]]) -> Outline:
    """A traced outline [m], moved so that its middle is nought.

    Raises InputError for fewer than three points or an outline that crosses itself.
    """
    if len(points) < 3:
        raise InputError("An outline needs three points or more, one pair of x and y a line.", "outline")
    if len(points) > MOST_POINTS:
        raise InputError(f"An outline of more than {MOST_POINTS} points is too fine: simplify it.", "outline")
    if not all(abs(value) <= FARTHEST for point in points for value in point):
        raise InputError(f"A point lies farther than {FARTHEST:.0f} m from the origin, or nowhere.", "outline")
    face = Polygon(points)
    if not face.is_valid or face.area <= 0:
        raise InputError("The outline crosses itself or has no area. Trace it once round.", "outline")
    moved = translate(face, -face.centroid.x, -face.centroid.y)
    return tuple((float(x), float(y)) for x, y in moved.exterior.coords[:-1])


def oval_face(width: float, height: float) -> Outline:
    """Outline of an ellipse of full axes [m], centred on nought."""
    if width <= 0 or height <= 0:
        raise InputError("Width and height must be more than nought.", "width")
    return tuple((x * width, y * height) for x, y in round_face(1.0))


def d_face(width: float, height: float) -> Outline:
    """Outline of a “D” [m]: flat floor, straight sides, half circle of the width for a roof; its middle on nought."""
    side = height - width / 2.0
    if width <= 0 or side < 0:
        raise InputError("A D section is at least half as high as it is wide.", "height")
    r, steps = width / 2.0, 2 * CORNER_STEPS
    roof = [(r * cos(pi * i / steps), side + r * sin(pi * i / steps)) for i in range(steps + 1)]
    return traced_face([(-r, 0.0), (r, 0.0), *roof] if side > 0 else roof)


def face_of(shape: str, sizes: Mapping[str, float | None], traced: Sequence[tuple[float, float]] = ()) -> Outline:
    """The outline of a face from its shape and sizes [m] by name. Raises InputError beside the size that is missing."""
    if shape == "outline":
        return traced_face(traced)
    wanted = ("diameter",) if shape == "round" else ("width", "height")
    given = {name: sizes.get(name) for name in wanted}
    for name, value in given.items():
        if value is None:
            raise InputError("This is missing for the face chosen.", name)
    values = [value or 0.0 for value in given.values()]
    if shape == "rounded_rectangle":
        return rectangle_face(values[0], values[1], sizes.get("corner_radius") or 0.0)
    makers: dict[str, Callable[..., Outline]] = {"round": round_face, "oval": oval_face, "d": d_face}
    return makers[shape](*values)


def grid(outline: Outline, columns: int, rows: int) -> tuple[tuple[float, float], ...]:
    """Middles [m] of a grid's cells that lie in the face, from top left, line by line. Raises InputError for too many."""
    if not 1 <= columns <= 15 or not 1 <= rows <= 15:
        raise InputError("A grid has from 1 to 15 columns and rows.", "columns")
    face = Polygon(outline)
    left, bottom, right, top = face.bounds
    found = []
    for j in range(rows):
        for i in range(columns):
            x = left + (right - left) * (i + 0.5) / columns
            y = top - (top - bottom) * (j + 0.5) / rows
            if face.contains(Point(x, y)):
                found.append((x, y))
    return tuple(found)


SONIC_RISE = ((GAMMA_AIR + 1.0) / 2.0) ** (GAMMA_AIR / (GAMMA_AIR - 1.0)) - 1.0
"""Velocity pressure over static pressure at the speed of sound [1]."""


def pitot_velocity(pressure: float, static: float, temperature: float) -> float:
    """Velocity [m/s] from a velocity pressure [Pa] at `static` pressure [Pa] and static `temperature` [K].

    a·√(2/(γ−1)·((Δp/p + 1)^((γ−1)/γ) − 1)). Raises InputError for a negative pressure. Source: first principles.
    """
    if pressure < 0:
        raise InputError("The pitot reads the wrong way here: turn it into the flow, or read nought.", "pressure")
    if not (static > 0 and temperature > 0):
        raise InputError("Static pressure and temperature are absolute: both lie above nought.", "pressure")
    if pressure / static > SONIC_RISE:
        raise InputError(
            "Faster than sound: a shock stands before the pitot and this law no longer holds. Look at both pressures.",
            "pressure",
        )
    a = speed_of_sound(temperature)
    return a * sqrt(2.0 / (GAMMA_AIR - 1.0) * ((pressure / static + 1.0) ** ((GAMMA_AIR - 1.0) / GAMMA_AIR) - 1.0))


@dataclass(frozen=True)
class TubeSpot:
    """One pitot reading: place in the face [m] and velocity [m/s]."""

    x: float
    y: float
    velocity: float


@dataclass(frozen=True)
class Cell:
    """The part of the face that a spot stands for: its outline [m] and area [m2]."""

    spot: TubeSpot
    outline: Outline
    area: float


def cells(outline: Outline, spots: Sequence[TubeSpot]) -> tuple[Cell, ...]:
    """Share the face out: each place belongs to the nearest spot. Raises InputError for fewer than three spots or one outside."""
    face = Polygon(outline)
    if len(spots) < 3:
        raise InputError("A map needs three readings or more.", "pressure")
    for spot in spots:
        if not face.buffer(1e-6).contains(Point(spot.x, spot.y)):
            raise InputError("This place lies outside the face.", "x")
    found = []
    for region in voronoi_polygons(MultiPoint([(s.x, s.y) for s in spots]), extend_to=face.buffer(face.length)).geoms:
        spot = next(s for s in spots if region.covers(Point(s.x, s.y)))
        part = region.intersection(face)
        largest = max(getattr(part, "geoms", [part]), key=lambda g: g.area)
        edge = tuple((float(x), float(y)) for x, y in largest.exterior.coords[:-1])
        found.append(Cell(spot, edge, float(part.area)))
    return tuple(sorted(found, key=lambda c: (-c.spot.y, c.spot.x)))


@dataclass(frozen=True)
class Map:
    """A face with its cells and what follows from them."""

    cells: tuple[Cell, ...]
    mean: Figure
    peak_over_mean: Figure
    working_area: Figure
    flow: Figure


def make_map(outline: Outline, spots: Sequence[TubeSpot], rows: tuple[str, ...] = ()) -> Map:
    """Mean velocity, peak over mean, share of the area that does the work, and flow through the face.

    outline [m], spots [m, m/s]. Raises InputError as `cells`, or if no spot has any velocity.
    """
    found = cells(outline, spots)
    area = sum(c.area for c in found)
    flow = sum(c.area * c.spot.velocity for c in found)
    mean, peak = flow / area, max(c.spot.velocity for c in found)
    if mean <= 0:
        raise InputError("No reading shows any velocity.", "pressure")
    share = _working_share(found, flow, area)
    source = "Each place belongs to the nearest reading (shapely); first principles."
    base = (Given("n", "readings", float(len(found)), "count"), Given("A", "area of the face", area, "area"))
    notes = (f"A pitot near a wall or in swirl reads low; {counted(len(found), 'reading')} stand for the whole face.",)
    mean_step = Step("v̄", "Σ v_i·A_i/A", mean, "velocity")

    def figure(name: str, label: str, value: float, kind: str, *steps: Step) -> Figure:
        return Figure(name, label, value, kind, Working(label, base, steps, source, notes, rows), significant=3)

    return Map(
        found,
        figure("mean", "Mean velocity of the face", mean, "velocity", mean_step),
        figure(
            "peak",
            "Peak over mean",
            peak / mean,
            "ratio",
            mean_step,
            Step("v_max", "largest v_i", peak, "velocity"),
            Step("φ", "v_max/v̄", peak / mean, "ratio"),
        ),
        figure(
            "working",
            "Area that does the work",
            share,
            "percent",
            Step("Q", "Σ v_i·A_i", flow, "flow"),
            Step("α", f"smallest share of A that carries {WORKING_FLOW:.0%} of Q", share, "percent"),
        ),
        figure("flow", "Flow by the map", flow, "flow", Step("Q", "Σ v_i·A_i", flow, "flow")),
    )


def compare_maps(a: Map, b: Map) -> tuple[Figure, Figure, Figure]:
    """B − A of two maps: mean velocity [m/s], peak over mean, working area (share)."""

    def gap(name: str, one: Figure, other: Figure) -> Figure:
        working = Working(
            f"{other.label}: right less left",
            (Given("L", "left", one.value, one.kind), Given("R", "right", other.value, other.kind)),
            (Step("Δ", "R − L", other.value - one.value, other.kind),),
            "Difference.",
            ("Read with a pitot on a coarse grid: a difference of a few per cent is inside the reading.",),
            one.working.rows + other.working.rows,
        )
        value = other.value - one.value
        return Figure(name, other.label, value, other.kind, working, signed=True, significant=2)

    return (
        gap("mean", a.mean, b.mean),
        gap("peak", a.peak_over_mean, b.peak_over_mean),
        gap("working", a.working_area, b.working_area),
    )


def _working_share(found: Sequence[Cell], flow: float, area: float) -> float:
    wanted, used = WORKING_FLOW * flow, 0.0
    for cell in sorted(found, key=lambda c: -c.spot.velocity):
        carried = cell.area * cell.spot.velocity
        if carried >= wanted:
            return (used + cell.area * wanted / carried) / area
        wanted, used = wanted - carried, used + cell.area
    return 1.0


def static_air(weather: Weather, drop: float) -> float:
    """Static pressure in the face [Pa] while the bench pulls `drop` [Pa]: a bound, room less half the drop."""
    return weather.pressure - drop / 2.0


def steps_of(velocities: Sequence[float], unit: float = 1.0, most: int = 7) -> tuple[float, ...]:
    """Bounds [m/s] of the tones of a map, from nought to the largest velocity, at round figures of a `unit` [m/s]."""
    top = max(velocities) / unit
    step = next(s for s in (2.0, 5.0, 10.0, 20.0, 25.0, 50.0, 100.0) if top / s <= most or s == 100.0)
    return tuple(step * i * unit for i in range(ceil(top / step) + 1))


def pitot_figure(pressure: float, static: float, temperature: float) -> Figure:
    """Velocity [m/s] at the tip of a pitot: velocity pressure, static pressure [Pa], temperature [K]."""
    velocity = pitot_velocity(pressure, static, temperature)
    givens = (
        Given("Δp", "velocity pressure", pressure, "column"),
        Given("p", "static pressure", static, "barometer"),
        Given("T", "static temperature", temperature, "temperature"),
    )
    formula = "a·√(2/(γ−1)·((Δp/p + 1)^((γ−1)/γ) − 1)), a = √(γ·R·T)"
    source = "Isentropic stagnation of an ideal gas, first principles."
    working = Working("Velocity from a pitot", givens, (Step("v", formula, velocity, "velocity"),), source)
    return Figure("velocity", "Velocity", velocity, "velocity", working)
