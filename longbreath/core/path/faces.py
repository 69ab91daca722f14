"""Two port faces laid over each other: overlap, the lip on each side, which way the step faces, and what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, pi, radians, sin

from shapely import LineString, Point, Polygon
from shapely.affinity import rotate, translate
from shapely.geometry.base import BaseGeometry

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import Sentence
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.bench.traverse import Outline

GO, FILL, MACHINE = "go", "fill", "re-machine"
LIP_SEEN = 0.0005
"""A lip [m] below this is left as it is (common practice, no source)."""
LIP_LARGE = 0.003175
"""An eighth of an inch a side [m] is a mismatch for filler or a spacer (common practice, no source)."""
SOURCE = "Plane geometry by shapely."
Rings = tuple[Outline, ...]
"""An area with holes: its rim, and the rims of its holes."""
SIDES = (("right", 0.0), ("top", 90.0), ("left", 180.0), ("bottom", 270.0))


@dataclass(frozen=True)
class FacePlace:
    """How the second face is laid over the first: shift to the right and up [m], turned by an angle [rad]."""

    right: float = 0.0
    up: float = 0.0
    turn: float = 0.0


def laid(outline: Outline, place: FacePlace) -> Outline:
    """An outline [m] turned about its middle and shifted."""
    moved = translate(rotate(Polygon(outline), place.turn, origin="centroid", use_radians=True), place.right, place.up)
    return tuple((float(x), float(y)) for x, y in moved.exterior.coords[:-1])


@dataclass(frozen=True)
class Lip:
    """The edge on one side: how far the downstream face stands outside (+) or inside (−) the upstream one [m]."""

    side: str
    height: float

    @property
    def faces(self) -> str:
        """Which way the step faces, in words."""
        if abs(self.height) < LIP_SEEN:
            return "flush"
        return "with the flow" if self.height > 0 else "against the flow"


@dataclass(frozen=True)
class FaceMatch:
    """Two faces over each other: figures, lips per side, the largest lip against the flow [m] and where it is [m],
    the outline of what they share, and the parts blocked.
    """

    overlap: Figure
    share: Figure
    blocked: Figure
    opened: Figure
    lips: tuple[Lip, ...]
    worst: float
    worst_at: tuple[float, float] | None
    common: tuple[Rings, ...]
    stands: tuple[Rings, ...]


def _areas(shape: BaseGeometry) -> tuple[Rings, ...]:
    return tuple(
        tuple(tuple((float(x), float(y)) for x, y in ring.coords[:-1]) for ring in (part.exterior, *part.interiors))
        for part in getattr(shape, "geoms", [shape])
        if isinstance(part, Polygon) and not part.is_empty
    )


def lay_over(
    upstream: Outline,
    downstream: Outline,
    place: FacePlace = FacePlace(),
    precision: float | None = None,
    rows: tuple[str, ...] = (),
) -> FaceMatch:
    """Lay the `downstream` face over the `upstream` one [m]; the flow goes from the first to the second.

    precision: how well the rims are known, ± [m]. Raises InputError if they share no area.
    """
    a, b = Polygon(upstream), Polygon(laid(downstream, place))
    common = a.intersection(b)
    if common.area <= 0:
        raise InputError("Laid like this the two faces share nothing: check the offset.", "right")
    blocked, opened = a.difference(b), b.difference(a)
    spread = common.length * precision / 2.0 if precision else None
    givens = (
        Given("A_1", "upstream face", float(a.area), "area"),
        Given("A_2", "downstream face", float(b.area), "area"),
        Given("x", "shift to the right", place.right, "length"),
        Given("y", "shift up", place.up, "length"),
        Given("φ", "turned by", place.turn, "angle"),
    )
    base = Step("A", "area of A_1 ∩ A_2", float(common.area), "area")

    def figure(name: str, label: str, value: float, kind: str, *steps: Step) -> Figure:
        unsure = spread if kind == "area" and name == "overlap" else None
        return Figure(name, label, value, kind, Working(label, givens, steps, SOURCE, (), rows), unsure, significant=3)

    lips = tuple(Lip(side, _edge(b, a.centroid, angle) - _edge(a, a.centroid, angle)) for side, angle in SIDES)
    worst, at = _worst(a, b)
    return FaceMatch(
        figure("overlap", "Shared area", float(common.area), "area", base),
        figure(
            "share",
            "Shared, of the upstream face",
            float(common.area / a.area),
            "percent",
            base,
            Step("s", "A/A_1", float(common.area / a.area), "percent"),
        ),
        figure(
            "blocked",
            "Stands in the flow",
            float(blocked.area),
            "area",
            base,
            Step("A_−", "A_1 − A", float(blocked.area), "area"),
        ),
        figure(
            "opened",
            "Opens behind the edge",
            float(opened.area),
            "area",
            base,
            Step("A_+", "A_2 − A", float(opened.area), "area"),
        ),
        lips,
        worst,
        at,
        _areas(common),
        _areas(blocked),
    )


def _edge(face: Polygon, centre: Point, angle: float) -> float:
    """How far the rim is from `centre` in a direction [deg]: the outermost crossing."""
    reach = 4.0 * (face.length + face.distance(centre))
    ray = LineString([centre, (centre.x + reach * cos(radians(angle)), centre.y + reach * sin(radians(angle)))])
    crossed = face.exterior.intersection(ray)
    if crossed.is_empty:
        return 0.0
    points = [p for part in getattr(crossed, "geoms", [crossed]) for p in part.coords]
    return max(hypot(x - centre.x, y - centre.y) for x, y in points)


def _worst(a: Polygon, b: Polygon) -> tuple[float, tuple[float, float] | None]:
    """The largest lip against the flow [m]: how far A's rim lies outside B, and where."""
    worst, at = 0.0, None
    count = 240
    for i in range(count):
        point = a.exterior.interpolate(i / count, normalized=True)
        depth = 0.0 if b.contains(point) else float(b.distance(point))
        if depth > worst:
            worst, at = depth, (float(point.x), float(point.y))
    return worst, at


@dataclass(frozen=True)
class Judgement:
    """What to do about a match: go, fill or re-machine, and why."""

    verdict: str
    reason: Sentence

    @property
    def sentence(self) -> Sentence:
        """Verdict and reason in one sentence."""
        return Sentence(f"{self.verdict[0].upper()}{self.verdict[1:]}. {self.reason.text}", self.reason.lengths)


def judge_match(match: FaceMatch, wall: float | None, wall_limit: float) -> Judgement:
    """Go, fill or re-machine, by the largest lip against the flow and the wall [m] there is to take away.

    wall: wall of the downstream part at that place [m], None if unknown; wall_limit: what must stay [m].
    Source: common practice.
    """
    if match.worst < LIP_SEEN:
        largest = max((x.height for x in match.lips), default=0.0)
        more = " The step faces with the flow, which costs little." if largest >= LIP_SEEN else ""
        return Judgement(GO, Sentence("No edge of {0} or more stands against the flow." + more, (LIP_SEEN,)))
    edge = "An edge of {0} stands against the flow"
    if match.worst >= LIP_LARGE:
        return Judgement(
            FILL, Sentence(f"{edge}: too much to cut. Fill it, or fit a spacer that bridges it.", (match.worst,))
        )
    if wall is None:
        return Judgement(
            MACHINE, Sentence(f"{edge}: open the downstream face. Measure the wall there first.", (match.worst,))
        )
    lengths = (match.worst, wall - match.worst)
    if wall - match.worst < wall_limit:
        return Judgement(FILL, Sentence("Cutting {0} would leave {1} of wall, less than must stay. Fill it.", lengths))
    return Judgement(MACHINE, Sentence(edge + "; opening the downstream face leaves {1} of wall.", lengths))


LAYOUTS = (("in-line", "in line: one face"), ("v", "V: a manifold between two banks"))


def stack_shift(layout: str, thicknesses: Sequence[float], angle: float) -> tuple[Figure, Figure, Figure]:
    """What a stack of plates does: added length, shift of height, and mismatch along the face [m].

    layout: "in-line" or "v". thicknesses [m]. angle [rad]: in line, the port's axis above the horizontal; V, the face's
    normal from the vertical. In line the part moves along the axis: height t·sin α, no mismatch. In a V a rigid manifold
    cannot grow wider, so it rises by t/cos β and its ports shift t·tan β along the faces. Source: first principles.
    """
    if any(t <= 0 for t in thicknesses) or not thicknesses:
        raise InputError("A plate has a thickness.", "thicknesses")
    limit = pi / 2.0 * 0.95
    if not 0 <= angle < limit:
        raise InputError("This angle lies between 0 and 85 °.", "angle")
    t = sum(thicknesses)
    givens = (
        *(Given(f"t_{i}", "plate", x, "length") for i, x in enumerate(thicknesses, start=1)),
        Given(
            "α" if layout == "in-line" else "β",
            "port axis above the horizontal" if layout == "in-line" else "face’s normal from the vertical",
            angle,
            "angle",
        ),
    )
    if layout == "in-line":
        height, slip = t * sin(angle), 0.0
        words = ("t·sin α", "0: the plates follow the axis")
    else:
        height, slip = t / cos(angle), t * sin(angle) / cos(angle)
        words = ("t/cos β", "t·tan β")
    total = Step("t", "Σ t_i", t, "length")

    def figure(name: str, label: str, formula: str, value: float) -> Figure:
        steps = (
            (total,)
            if name == "length"
            else (total, Step({"height": "h", "slip": "s"}[name], formula, value, "length"))
        )
        return Figure(
            name, label, value, "length", Working(label, givens, steps, "First principles (geometry)."), significant=3
        )

    return (
        figure("length", "Added length", "Σ t_i", t),
        figure("height", "Sits higher by", words[0], height),
        figure("slip", "Ports shift along the face by", words[1], slip),
    )


def traced_scale(first: tuple[float, float], second: tuple[float, float], distance: float) -> float:
    """Metres a picture point, from two picked points and the true `distance` [m] between them. Raises InputError."""
    gap = hypot(second[0] - first[0], second[1] - first[1])
    if gap < 5.0:
        raise InputError("The two scale points lie on each other: pick them further apart.", "distance")
    if distance <= 0:
        raise InputError("The true distance must be more than nought.", "distance")
    return distance / gap


def edge_figure(match: FaceMatch) -> Figure:
    """The highest edge that stands against the flow [m]."""
    step = Step("h", "largest distance of the rim that stands in", match.worst, "length")
    working = Working("Highest edge against the flow", match.overlap.working.givens, (step,), SOURCE)
    return Figure("edge", "Highest edge against the flow", match.worst, "length", working, significant=2)
