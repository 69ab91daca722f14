"""Candidates for a target: which columns a family has, what is known of each, and the target they are held against."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from longbreath.core.basis.errors import InputError
from longbreath.core.engine.demand import EngineGeometry
from longbreath.core.reckon.rests import Known


@dataclass(frozen=True)
class Column:
    """One column: key, label, kind of quantity ("" for words); `made`: worked out, never typed; `noted`: never judged."""

    key: str
    label: str
    kind: str = ""
    made: bool = False
    noted: bool = False

    @property
    def may_be_nought(self) -> bool:
        """Whether nought is a value: no lip, no wall left, nothing to pay."""
        return self.key in ("lip", "wall", "price", "access")


_ALL = {
    c.key: c
    for c in (
        Column("section_width", "Section, width", "length"),
        Column("section_height", "Section, height", "length"),
        Column("area", "Section, area of one", "area"),
        Column("length", "Runner", "length"),
        Column("taper", "Taper, in over out", "ratio"),
        Column("plenum", "Plenum", "plenum"),
        Column("flow", "Flows alone", "flow"),
        Column("loss", "Loss on this head", "percent", made=True),
        Column("velocity", "At the target", "velocity", made=True),
        Column("tuned", "Tunes at", "speed", made=True),
        Column("lip", "Largest lip at the face", "length"),
        Column("face", "Step at the face"),
        Column("height", "Height it stands", "length"),
        Column("deck", "For a deck of", "length"),
        Column("coolant", "Wet or dry"),
        Column("access", "Minutes to get at it", "minutes"),
        Column("bore", "Bore", "length"),
        Column("throat", "Throat", "length"),
        Column("metering", "Metering"),
        Column("mass_flow", "Rated for", "mass_flow"),
        Column("mass_flow_other", "Also quoted", "mass_flow"),
        Column("pressure_ratio", "Rated ratio, up to", "ratio"),
        Column("outlet", "Outlet bore", "length"),
        Column("needs", "Needs first"),
        Column("wall", "Least wall left", "length"),
        Column("use", "For which use"),
        Column("power", "Peak power", "power"),
        Column("opens", "Opens before top", "angle"),
        Column("closes", "Closes after top", "angle"),
        Column("inlet_length", "Inlet tract", "length"),
        Column("web", "Web or cut-out"),
        Column("mass", "Mass", "mass"),
        Column("balance", "Balanced by"),
        Column("case_volume", "Case, piston down", "volume"),
        Column("fill", "Case ratio", "ratio", made=True),
        Column("price", "Price", "money"),
        Column("shelf", "To be had"),
        Column("noted", "Looks, rarity, price trend", noted=True),
    )
}
_SHARED = ("access", "price", "shelf", "noted")
FAMILIES: Mapping[str, tuple[Column, ...]] = {
    family: tuple(_ALL[key] for key in (*keys, *_SHARED))
    for family, keys in {
        "manifold": [
            "section_width",
            "section_height",
            "area",
            "length",
            "taper",
            "plenum",
            "flow",
            "loss",
            "velocity",
            "tuned",
            "lip",
            "face",
            "height",
            "deck",
            "coolant",
        ],
        "throttle body": ["bore", "flow", "velocity", "lip", "face", "height"],
        "carburettor": ["bore", "throat", "flow", "velocity", "metering", "height"],
        "turbocharger": ["mass_flow", "mass_flow_other", "pressure_ratio", "outlet", "height"],
        "porting step": ["needs", "wall", "flow", "area", "velocity", "power", "use"],
        "disc or crank": ["opens", "closes", "inlet_length", "web", "mass", "balance", "case_volume", "fill", "use"],
        "other": ["bore", "length", "flow", "height"],
    }.items()
}
"""The columns of each family, in the order in which they are shown."""
SHELF = (("", "not known"), ("shelf", "on the shelf"), ("order", "to be ordered"), ("wanted", "wanted, not owned yet"))


def family_of(words: str) -> str:
    """The family of columns for what a product's family is called in the library."""
    low = words.lower()
    for sign, family in (
        ("manifold", "manifold"),
        ("turbo", "turbocharger"),
        ("carb", "carburettor"),
        ("throttle", "throttle body"),
        ("disc", "disc or crank"),
        ("crank", "disc or crank"),
        ("port", "porting step"),
    ):
        if sign in low:
            return family
    return "other"


@dataclass(frozen=True)
class Candidate:
    """One candidate: name, family, and what is known of it by column."""

    name: str
    family: str
    values: Mapping[str, Known]

    def __post_init__(self) -> None:
        if self.family not in FAMILIES:
            raise InputError("This family has no columns.", "family")

    def number(self, key: str) -> float | None:
        """A number that is known [SI], or None."""
        found = self.values.get(key)
        return found.value if found is not None and isinstance(found.value, float) else None


@dataclass(frozen=True)
class Limits:
    """What the target asks of every candidate; None: not asked. Power [W], speed [rad/s], velocities [m/s], tuned band [rad/s],
    height there is and deck of the engine [m], loss [1], lip, wall [m], access [s], price [money], boost ratio [1]."""

    power: float
    speed: float
    velocity_least: float
    velocity_most: float
    tuned_from: float | None = None
    tuned_to: float | None = None
    height: float | None = None
    deck: float | None = None
    loss: float | None = None
    lip: float | None = None
    wall: float | None = None
    access: float | None = None
    price: float | None = None
    ratio: float | None = None

    def __post_init__(self) -> None:
        if self.velocity_most <= self.velocity_least:
            raise InputError("The most must be more than the least.", "velocity_most")
        if (self.tuned_from is None) != (self.tuned_to is None):
            raise InputError("The tuned band has two ends.", "tuned_to" if self.tuned_to is None else "tuned_from")
        if self.tuned_from is not None and self.tuned_to is not None and self.tuned_to <= self.tuned_from:
            raise InputError("The tuned band ends above where it begins.", "tuned_to")


@dataclass(frozen=True)
class Setting:
    """The engine that candidates are held against: geometry, displacement of one cylinder [m3], compression ratio, intake duration
    [rad] or None, gas temperature [K], air density [kg/m3], consumption [kg/J], air to fuel, length of the port in the head [m], and
    flow of the head alone [m3/s] or None with its words."""

    engine: EngineGeometry
    compression_ratio: float
    duration: float | None
    temperature: float
    density: float
    consumption: float
    air_fuel_ratio: float
    port: float = 0.0
    head_flow: float | None = None
    head_words: str = ""

    @property
    def cylinder_volume(self) -> float:
        """Displacement of one cylinder [m3]."""
        return self.engine.displacement / self.engine.cylinders
