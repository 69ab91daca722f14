"""Degrees won at a disc or at its case port: the arc to cut or to fill, and what that does to wall, case and balance."""

from __future__ import annotations

from dataclasses import dataclass
from math import radians

from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.sentence import Sentence
from longbreath.core.basis.working import Figure, Given, Step, reckoned

SOURCE = "First principles: an arc is a radius times an angle; what is cut is arc × height × thickness."
MOST = radians(40.0)
"""More than this [rad] is another disc, not a correction."""


@dataclass(frozen=True)
class DiscPort:
    """A disc over its case port: radius at the middle of the window [m], height of the window along the radius [m], thickness of
    the disc [m] and its density [kg/m3], depth of the port in the case [m], wall left beside the port and wall that must stay [m].
    """

    radius: float
    height: float
    thickness: float
    density: float
    depth: float
    wall: float
    wall_limit: float

    def __post_init__(self) -> None:
        positive(
            radius=self.radius, height=self.height, thickness=self.thickness, density=self.density, depth=self.depth
        )
        if self.height >= 2.0 * self.radius:
            raise InputError("The window is no higher than the disc.", "height")
        if self.wall < 0 or self.wall_limit < 0:
            raise InputError("A wall is nought or more.", "wall")


@dataclass(frozen=True)
class Won:
    """Degrees won or given back: the arc, mass and moment taken off or put on the disc, volume and wall at the port."""

    figures: tuple[Figure, ...]
    wall_after: float


def won(port: DiscPort, angle: float) -> Won:
    """What `angle` [rad] more (or fewer, below nought) of opening takes at the disc, and at the case port.

    Raises InputError for more than 40°. Source: first principles.
    """
    if abs(angle) > MOST or angle == 0:
        raise InputError("Ask for 1 to 40 ° more, or fewer with a minus sign: more is another disc.", "angle")
    arc = port.radius * angle
    mass = abs(arc) * port.height * port.thickness * port.density
    volume = arc * port.height * port.depth
    givens = (
        Given("θ", "degrees wanted", angle, "angle"),
        Given("r", "radius at the middle of the window", port.radius, "length"),
        Given("h", "height of the window", port.height, "length"),
        Given("t", "thickness of the disc", port.thickness, "length"),
        Given("d", "depth of the port in the case", port.depth, "length"),
    )
    cut = Step("s", "r·θ", arc, "length")
    mass_step = Step("m", "|s|·h·t·ρ", mass, "mass")
    wall = port.wall - max(0.0, arc)
    return Won(
        (
            reckoned("arc", "Arc to cut, or to fill below nought", givens, (cut,), SOURCE, signed=True),
            reckoned(
                "disc_mass",
                "Mass off or on the disc at that edge",
                (*givens, Given("ρ", "density of the disc", port.density, "density")),
                (cut, mass_step),
                SOURCE,
                (
                    "The disc is out of balance by this mass at this radius: take the same off opposite, or live with it.",
                ),
            ),
            reckoned(
                "case_volume",
                "Case volume changed at the port",
                givens,
                (cut, Step("ΔV", "s·h·d", volume, "volume")),
                SOURCE,
                signed=True,
            ),
            reckoned(
                "wall",
                "Wall left beside the port",
                (*givens, Given("w", "wall now", port.wall, "length")),
                (cut, Step("w′", "w − s, filling takes none", wall, "length")),
                SOURCE,
                signed=True,
            ),
        ),
        wall,
    )


def say_won(port: DiscPort, angle: float, found: Won) -> Sentence:
    """Where an `angle` [rad] is better won, with the reason, in a sentence."""
    if angle < 0:
        return Sentence(
            "Fewer degrees: fill the case port’s edge, which loses case volume and can be cut again; a disc cannot be filled, "
            "it is made anew."
        )
    if found.wall_after < port.wall_limit:
        return Sentence(
            "At the disc, by cutting: at the case port {0} of wall would be left, and {1} must stay.",
            (max(0.0, found.wall_after), port.wall_limit),
        )
    return Sentence(
        "Either: the disc by cutting, which unbalances it and can be undone with a new disc; or the case port, which leaves {0} of "
        "wall, adds case volume and can only be filled again.",
        (found.wall_after,),
    )
