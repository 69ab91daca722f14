"""Loss coefficients of single places in a duct, by several published methods: the one used, and the spread between them.

Every coefficient K is on the dynamic pressure in the smaller section: Δp = K·½·ρ·v². All come from `fluids`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum, auto
from functools import lru_cache
from math import atan, degrees, pi, sqrt, tan

from fluids import fittings
from fluids.friction import friction_factor

from longbreath.core.basis.errors import InputError
from longbreath.core.path.sections import Section

USED = "Rennels"
"""The method whose value is counted; the others give the spread."""
REYNOLDS_FLOOR = 4000.0
MITRE = ("Rennels", "Crane", "Miller", "Blevins")
BEND = ("Rennels", "Crane", "Miller", "Ito")
DIFFUSER = ("Rennels", "Crane", "Miller", "Hooper")
MOUTH = ("Rennels", "Crane", "Miller", "Idelchik", "Swamee")
SHARP_MOUTH = ("Rennels", "Crane", "Miller", "Swamee")


class LossKind(Enum):
    """Where a loss comes from. The walk and the remedies tell losses apart by this, never by their words."""

    FRICTION = auto()
    SHARP_MOUTH = auto()
    ROUNDED_MOUTH = auto()
    MITRE = auto()
    BEND = auto()
    NO_STEP = auto()
    ENLARGEMENT = auto()
    CONTRACTION = auto()
    WIDENING = auto()
    NARROWING = auto()
    EDGE = auto()
    MEASURED = auto()
    JET = auto()
    OPEN_END = auto()


AT_THE_MOUTH = frozenset({LossKind.SHARP_MOUTH, LossKind.ROUNDED_MOUTH, LossKind.CONTRACTION, LossKind.ENLARGEMENT})
"""Losses that happen before the flow is inside an element."""


@dataclass(frozen=True)
class Loss:
    """One loss: its kind and what it is called, K used [1] on the smaller section's dynamic pressure, least and most of
    the methods."""

    kind: LossKind
    what: str
    k: float
    low: float
    high: float
    methods: str

    @property
    def spread(self) -> str:
        """The methods and their range in words."""
        return f"{self.methods}; {self.between}"

    @property
    def between(self) -> str:
        """Least and most of the methods in words."""
        low, high = f"{self.low:.3f}", f"{self.high:.3f}"
        return f"K {low}" if low == high else f"K {low} to {high}"


def exactly(kind: LossKind, what: str, k: float, methods: str) -> Loss:
    """A loss whose coefficient [1] has no spread between methods."""
    return Loss(kind, what, k, k, k, methods)


def _of(kind: LossKind, what: str, methods: tuple[str, ...], ask: Callable[[str], float]) -> Loss:
    found = {method: float(ask(method)) for method in methods}
    others = ", ".join(method for method in methods if method != USED)
    return Loss(
        kind, what, found[USED], min(found.values()), max(found.values()), f"fluids: {USED} used, beside {others}"
    )


@lru_cache(4096)
def friction(length: float, section: Section, reynolds: float, roughness: float) -> Loss:
    """Wall friction f·L/D_h of `length` [m] in a section with wall `roughness` [m] at a Reynolds number [1].

    f by Colebrook (Clamond's solution in fluids). Smooth against the given roughness makes the spread.
    """
    d, re = section.hydraulic_diameter, max(reynolds, REYNOLDS_FLOOR)
    k = float(friction_factor(re, roughness / d)) * length / d
    smooth = float(friction_factor(re, 0.0)) * length / d
    rough = float(friction_factor(re, 3.0 * roughness / d)) * length / d
    return Loss(
        LossKind.FRICTION,
        "wall friction",
        k,
        smooth,
        rough,
        "fluids: Colebrook; from a smooth wall to three times the roughness",
    )


@lru_cache(4096)
def mouth(diameter: float, radius: float) -> Loss:
    """Entrance from the open or from a large volume into a duct of `diameter` [m], its edge rounded by `radius` [m]."""
    if diameter <= 0 or radius < 0:
        raise InputError("A mouth has a diameter, and a radius of nought or more.", "mouth_radius")
    if radius == 0:
        return _of(LossKind.SHARP_MOUTH, "sharp mouth", SHARP_MOUTH, lambda m: fittings.entrance_sharp(method=m))
    return _of(
        LossKind.ROUNDED_MOUTH,
        "rounded mouth",
        MOUTH,
        lambda m: fittings.entrance_rounded(Di=diameter, rc=radius, method=m),
    )


@lru_cache(4096)
def bend(diameter: float, angle: float, radius: float | None, reynolds: float, roughness: float) -> Loss:
    """Bend of `angle` [rad], centre-line `radius` [m] (None: a mitre), in a duct of hydraulic `diameter` [m].

    Raises InputError for a centre line tighter than half the diameter.
    """
    re, turned = max(reynolds, REYNOLDS_FLOOR), degrees(angle)
    if radius is None:
        return _of(
            LossKind.MITRE,
            "mitred bend",
            MITRE,
            lambda m: fittings.bend_miter(angle=turned, Di=diameter, Re=re, roughness=roughness, method=m),
        )
    if radius < diameter / 2.0:
        raise InputError("A bend's centre line cannot be tighter than half the diameter.", "bend_radius")
    return _of(
        LossKind.BEND,
        "bend",
        BEND,
        lambda m: fittings.bend_rounded(
            Di=diameter, angle=turned, Re=re, method=m, bend_diameters=radius / diameter, roughness=roughness
        ),
    )


@lru_cache(4096)
def sudden(before: Section, after: Section) -> Loss:
    """Step from one section to another without a cone: enlargement by Borda-Carnot, contraction by Rennels and Crane."""
    d1, d2 = before.equal_area_diameter, after.equal_area_diameter
    if abs(d1 - d2) < 1e-9:
        return exactly(LossKind.NO_STEP, "flush", 0.0, "no step")
    if d2 > d1:
        return exactly(
            LossKind.ENLARGEMENT,
            "step to a larger section",
            float((1.0 - before.area / after.area) ** 2),
            "Borda-Carnot",
        )
    k = float(fittings.contraction_sharp(Di1=d1, Di2=d2))
    crane = 0.5 * (1.0 - after.area / before.area)
    return Loss(
        LossKind.CONTRACTION,
        "step against the flow",
        k,
        min(k, crane),
        max(k, crane),
        "fluids: Rennels used, beside Crane",
    )


def included_angle(before: Section, after: Section, length: float) -> float:
    """Included angle [rad] of the cone between two sections over `length` [m], by equal-area diameters."""
    return 2.0 * atan(abs(after.equal_area_diameter - before.equal_area_diameter) / (2.0 * length))


@lru_cache(4096)
def cone(before: Section, after: Section, length: float, reynolds: float, roughness: float) -> Loss:
    """Cone or taper of `length` [m] between two sections at a Reynolds number [1], wall `roughness` [m].

    Widening: a diffuser by four methods, never more than the sudden step by much; narrowing: a conical contraction.
    """
    d1, d2 = before.equal_area_diameter, after.equal_area_diameter
    re = max(reynolds, REYNOLDS_FLOOR)
    if abs(d1 - d2) < 1e-9:
        return friction(length, before, reynolds, roughness)
    angle = degrees(included_angle(before, after, length))
    fd = float(friction_factor(re, roughness / min(d1, d2)))
    if d2 > d1:
        return _of(
            LossKind.WIDENING,
            "widening cone",
            DIFFUSER,
            lambda m: fittings.diffuser_conical(Di1=d1, Di2=d2, angle=angle, fd=fd, Re=re, method=m),
        )
    k = float(fittings.contraction_conical(Di1=d1, Di2=d2, angle=angle, fd=fd, method="Rennels"))
    crane = float(fittings.contraction_conical(Di1=d1, Di2=d2, angle=angle, fd=fd, method="Crane"))
    return Loss(
        LossKind.NARROWING, "narrowing cone", k, min(k, crane), max(k, crane), "fluids: Rennels used, beside Crane"
    )


def orifice(open_share: float) -> float:
    """Coefficient [1] of a thin orifice that leaves `open_share` [1] of a duct open, on the duct's velocity.

    K = (1 + 0.707·√(1 − σ) − σ)²/σ². Source: Idelchik's form, from memory.
    """
    return float((1.0 + 0.707 * sqrt(1.0 - open_share) - open_share) ** 2 / open_share**2)


@lru_cache(4096)
def part_closed(open_share: float) -> Loss:
    """A flap or plate that leaves `open_share` [1] of a section open. Raises InputError for one that is shut.

    As a thin orifice of that share; a plate that lies in the flow's line costs less. Source: Idelchik's form, from memory.
    """
    if not 0 < open_share <= 1:
        raise InputError("An open share lies above nought, and 100 % is wide open.", "open_share")
    k = orifice(open_share)
    return Loss(
        LossKind.EDGE,
        "part-closed section",
        k,
        0.5 * k,
        k,
        "thin orifice of the open share, from memory; a lying plate costs half",
    )


@lru_cache(4096)
def ring(section: Section, height: float) -> Loss:
    """A burr or gasket standing `height` [m] into the flow all round a section: a thin orifice in the duct.

    K = (1 + 0.707·√(1 − σ) − σ)²/σ² on the duct's velocity, σ the open share (Idelchik's form, from memory).
    Raises InputError if it closes the duct.
    """
    open_share = (1.0 - 2.0 * height / section.hydraulic_diameter) ** 2
    if height < 0 or 2.0 * height >= section.hydraulic_diameter:
        raise InputError("That stands further into the duct than the duct is wide.", "burr")
    k = orifice(open_share)
    return Loss(
        LossKind.EDGE,
        "edge standing in the flow",
        k,
        0.5 * k,
        k,
        "thin orifice in a duct, from memory; a rounded edge costs half",
    )


def measured(drop: float, flow: float, density: float, section: Section) -> Loss:
    """The coefficient of a loss measured as `drop` [Pa] at `flow` [m3/s] of air of `density` [kg/m3], on a section."""
    if flow <= 0 or drop < 0:
        raise InputError("A measured loss needs its pressure drop and the flow it was read at.", "drop_flow")
    k = drop / (0.5 * density * (flow / section.area) ** 2)
    return exactly(
        LossKind.MEASURED, "own loss, measured", k, "measured across the part; grows with the square of the flow"
    )


def cone_length(small: float, large: float, angle: float) -> float:
    """Length [m] of a cone of included `angle` [rad] between two diameters [m]: (D2 − D1)/(2·tan(α/2))."""
    if not 0 < angle < pi:
        raise InputError("An included angle lies between 0 and 180 °.", "angle")
    return abs(large - small) / (2.0 * tan(angle / 2.0))
