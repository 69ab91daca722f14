"""What an eye at the bench misses in a path, and what fixing the weakest element would give."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import degrees, pi, radians

from longbreath.core.basis.sentence import Sentence
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.path import losses, walk
from longbreath.core.path.sections import Section, round_section, smaller
from longbreath.core.path.walk import PathElement, Side

BEST_ANGLE = radians(7.0)
"""Included angle of a cone that widens with the least loss (handbook rule, from memory)."""
PARTS_AT = radians(10.0)
"""Included angle above which the flow may part from the wall of a widening cone (handbook rule, from memory)."""
PARTED = radians(16.0)
"""Included angle above which it is taken as parted (handbook rule, from memory)."""
STEP_SEEN = 0.0003
"""A lip [m] below this is not worth a word."""
SQUASHED = 0.99
EASY_BEND, MOUTH = 1.5, 0.2
WORTH_IT = 0.02
"""A remedy that gives back less than this share of the loss is not named."""


@dataclass(frozen=True)
class Mark:
    """A remark on an element: its key, the words, and whether it costs much."""

    key: int
    said: Sentence
    grave: bool


def marks(elements: Sequence[PathElement]) -> tuple[Mark, ...]:
    """Squashed places, steps against the flow, cones that part, mitres, burrs and gaskets standing proud, in words."""
    found: list[Mark] = []
    for before, element in zip([None, *elements], elements, strict=False):
        if before is not None and before.side == element.side:
            found += _step(before, element)
        found += _shape(element)
        found += _edges(element)
    return tuple(found)


def lip(before: Section, after: Section) -> float:
    """Lip per side [m] between two sections by equal-area diameters: positive where the next one is smaller."""
    return (before.equal_area_diameter - after.equal_area_diameter) / 2.0


def _step(before: PathElement, element: PathElement) -> list[Mark]:
    if before.is_volume or element.is_volume or before.branches != element.branches:
        return []
    if before.is_measured_across or element.is_measured_across:
        return []
    height = lip(before.exit, element.entry)
    if abs(height) < STEP_SEEN:
        return []
    if height > 0:
        return [Mark(element.key, Sentence("step against the flow, {0} a side", (height,)), height >= 0.0008)]
    return [Mark(element.key, Sentence("opens with a step, {0} a side", (-height,)), False)]


def _shape(element: PathElement) -> list[Mark]:
    found = []
    if element.round_area and element.entry.area / element.round_area < SQUASHED:
        share = element.entry.area / element.round_area
        found.append(Mark(element.key, Sentence(f"squashed to {share:.0%} of its round area"), share < 0.9))
    if element.tapers and element.exit.area > element.entry.area and not element.is_volume:
        angle = losses.included_angle(element.entry, element.exit, element.length)
        ratio = element.exit.area / element.entry.area
        words = f"widens at {degrees(angle):.0f}° included, area ratio {ratio:.2f}"
        if angle > PARTED:
            found.append(Mark(element.key, Sentence(f"{words}: the flow parts from the wall"), True))
        elif angle > PARTS_AT and ratio > 1.2:
            found.append(Mark(element.key, Sentence(f"{words}: the flow may part from the wall"), False))
    if element.bend_angle and element.bend_radius is None:
        found.append(Mark(element.key, Sentence(f"mitred bend of {degrees(element.bend_angle):.0f}°"), True))
    return found


def _edges(element: PathElement) -> list[Mark]:
    found = []
    if element.burr:
        found.append(Mark(element.key, Sentence("burr of {0} left inside", (element.burr,)), True))
    if element.proud:
        found.append(Mark(element.key, Sentence("gasket stands {0} proud", (element.proud,)), True))
    return found


@dataclass(frozen=True)
class Fix:
    """A remedy for one element: in words, and the pressure it gives back [Pa]."""

    words: str
    gain: float


def best_fix(elements: Sequence[PathElement], result: Side, key: int | None = None) -> Fix | None:
    """The remedy at the weakest element, or at the one of that key, that gives most, by walking the path again with it.

    None if there is none, or if it gives less than a fiftieth of the side's loss.
    """
    weakest = result.weakest
    if weakest is None:
        return None
    row = [e for e in elements if e.side == result.side]
    wanted = weakest.element.key if key is None else key
    place = next(i for i, e in enumerate(row) if e.key == wanted)
    fixes = []
    for words, changed in _remedies(row, place):
        again = walk.flow_through([*row[:place], changed, *row[place + 1 :]], result.side, result.duty)
        fixes.append(Fix(words, result.drop - again.drop))
    worth_it = (fix for fix in fixes if fix.gain > WORTH_IT * result.drop)
    return max(worth_it, key=lambda fix: fix.gain, default=None)


def _remedies(row: list[PathElement], place: int) -> list[tuple[str, PathElement]]:
    element = row[place]
    before = row[place - 1] if place else None
    after = row[place + 1] if place + 1 < len(row) else None
    found: list[tuple[str, PathElement]] = []
    d = element.entry.equal_area_diameter
    if element.drop:
        found.append(("half its own loss", replace(element, drop=element.drop / 2.0)))
    if element.bend_angle and (element.bend_radius or 0.0) < EASY_BEND * d:
        found.append((f"a bend of {EASY_BEND:g} D", replace(element, bend_radius=EASY_BEND * d)))
    if element.round_area and element.entry.area < SQUASHED * element.round_area:
        full = round_section(2.0 * (element.round_area / pi) ** 0.5)
        found.append(("the tube left round", replace(element, entry=full, exit=full, round_area=None)))
    if element.tapers and element.exit.area > element.entry.area:
        length = losses.cone_length(d, element.exit.equal_area_diameter, BEST_ANGLE)
        if length > element.length:
            found.append((f"a cone of {degrees(BEST_ANGLE):.0f}°", replace(element, length=length)))
    if element.burr or element.proud:
        found.append(("edges made flush", replace(element, burr=0.0, proud=0.0)))
    is_mouth = before.is_volume if before is not None else element.side == "intake"
    if is_mouth and element.mouth_radius < MOUTH * d and not element.is_volume:
        found.append(("a rounded mouth", replace(element, mouth_radius=MOUTH * d)))
    return found + _openings(element, before, after)


def _openings(
    element: PathElement, before: PathElement | None, after: PathElement | None
) -> list[tuple[str, PathElement]]:
    """The element opened to the narrower of its neighbours."""
    if before is None or after is None or element.is_volume or before.is_volume or after.is_volume:
        return []
    if not before.branches == element.branches == after.branches:
        return []
    wanted = smaller(before.exit, after.entry)
    if wanted.area <= element.entry.area * 1.001:
        return []
    name = before.name if wanted is before.exit else after.name
    return [(f"opened to the {name}", replace(element, entry=wanted, exit=wanted, round_area=None))]


def worth(side: Side, gain: float, displacement: float, speed: float) -> Figure:
    """What a pressure `gain` [Pa] is worth at most: filling [1] on the intake, power [W] on the exhaust.

    displacement [m3], speed [rad/s]. Intake: denser air in the cylinder, Δp/p. Exhaust: less work to push the gas
    out, Δp·V_d·N/(revolutions per cycle). Source: first principles; waves and scavenging are left out.
    """
    note = ("At most: waves, scavenging and the tune are left out.",)
    given = Given("Δp", "pressure given back", gain, "column")
    if side.side == "intake":
        share = gain / side.duty.pressure
        room = Given("p", "room pressure", side.duty.pressure, "barometer")
        step = Step("η", "Δp/p", share, "percent")
        source = "First principles: air mass in proportion to pressure."
        working = Working("What it is worth", (given, room), (step,), source, note)
        return Figure("worth", "more air", share, "percent", working, significant=2)
    per_cycle = side.duty.strokes / 2.0
    power = gain * displacement * speed / (2.0 * pi) / per_cycle
    givens = (given, Given("V_d", "displacement", displacement, "volume"), Given("N", "engine speed", speed, "speed"))
    working = Working(
        "What it is worth",
        givens,
        (Step("P", f"Δp·V_d·N/{per_cycle:g}", power, "power"),),
        "First principles: the piston pushes the gas out against the back pressure.",
        note,
    )
    return Figure("worth", "less pumping", power, "power", working, significant=2)


LOOKED_AT = 4
"""How many of the costliest elements are tried for a remedy."""
CLEARLY_MORE = 1.2
"""A remedy elsewhere is named when it gives this much more than the one at the weakest element."""


@dataclass(frozen=True)
class Advice:
    """What could be done at an element: its name, the remedy in words, the pressure it gives back [Pa], what that is worth."""

    name: str
    words: str
    gain: float
    worth: Figure | None


def ranked(elements: Sequence[PathElement], result: Side, displacement: float, speed: float) -> list[Advice]:
    """The weakest element with its remedy first, and one elsewhere that gives clearly more. Empty where nothing costs.

    displacement [m3] and speed [rad/s] of the engine say what a remedy is worth.
    """
    if result.drop <= 0:
        return []
    found = []
    for piece in sorted(result.pieces, key=lambda p: -p.drop)[:LOOKED_AT]:
        fix = best_fix(elements, result, piece.element.key)
        if fix is None:
            found.append(Advice(piece.element.name, "", 0.0, None))
        else:
            value = worth(result, fix.gain, displacement, speed)
            found.append(Advice(piece.element.name, fix.words, fix.gain, value))
    most = max(found[1:], key=lambda advice: advice.gain, default=None)
    if most is None or not most.words or most.gain < CLEARLY_MORE * found[0].gain:
        return [found[0]]
    return [found[0], most]
