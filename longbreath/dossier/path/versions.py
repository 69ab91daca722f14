"""Reads of the path: the duty asked for, both versions walked, and everything the page shows of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import pi

from longbreath.core.basis.working import Figure
from longbreath.core.engine import demand
from longbreath.core.path import figures, remedy, sections, volumes, walk
from longbreath.core.path.walk import Duty, Side
from longbreath.dossier.conditions import engine_of
from longbreath.dossier.path.duty import ROOM, Flowing
from longbreath.dossier.path.elements import area_figure, core_element, exit_of, plenum_figure, section_of
from longbreath.store.models import Application, Element

SPAN = 6
"""Points at which a tapering element is followed in the strips."""


@dataclass(frozen=True)
class Version:
    """One version of the path walked: its look ("A", "B" or "trial"), rows, core elements, and the side."""

    look: str
    rows: tuple[Element, ...]
    elements: tuple[walk.Element, ...]
    side: Side


def walked(
    look: str, rows: Sequence[Element], side: str, duty: Duty, trials: Mapping[int, float] | None = None
) -> Version:
    """Walk one version. trials: inside diameters [m] tried, by element id."""
    chosen = tuple(e for e in rows if e.side == side)
    elements = tuple(_tried(core_element(e), (trials or {}).get(e.id)) for e in chosen)
    return Version(look, chosen, elements, walk.flow_through(elements, side, duty))


def _tried(element: walk.Element, diameter: float | None) -> walk.Element:
    """An element with another inside diameter; a taper keeps its ratio."""
    if diameter is None:
        return element
    entry = sections.round_section(diameter)
    ratio = element.exit.equal_area_diameter / element.entry.equal_area_diameter
    return replace(element, entry=entry, exit=sections.round_section(diameter * ratio), round_area=None)


def figures_of(version: Version, prefix: str) -> dict[str, Figure]:
    """Loss and share of each element and the whole side, by key."""
    found = {f"{prefix}-total": figures.total_figure(version.side)}
    for piece in version.side.pieces:
        key = piece.element.key
        found[f"{prefix}-loss-{key}"] = figures.loss_figure(version.side, piece)
        found[f"{prefix}-share-{key}"] = figures.share_figure(version.side, piece)
    if (mach := figures.peak_mach(version.side)) is not None:
        found[f"{prefix}-mach"] = mach
    return found


def areas(rows: Sequence[Element]) -> dict[str, Figure]:
    """Inside area of each element by key."""
    return {f"area-{e.id}": area_figure(e) for e in rows}


@dataclass(frozen=True)
class Remedy:
    """What could be done at an element: its name, the remedy in words, the pressure it gives back [Pa], what that is worth."""

    name: str
    words: str
    gain: float
    worth: Figure | None


LOOKED_AT = 4


def remedies(version: Version, at: Flowing, motor: demand.Engine) -> list[Remedy]:
    """The weakest element with its remedy first, and one elsewhere that gives clearly more. Empty where nothing costs."""
    if version.side.drop <= 0:
        return []
    found = []
    for piece in sorted(version.side.pieces, key=lambda p: -p.drop)[:LOOKED_AT]:
        fix = remedy.best_fix(version.elements, version.side, piece.element.key)
        gain = fix.gain if fix is not None else 0.0
        worth = remedy.worth(version.side, gain, motor.displacement, at.speed) if fix is not None else None
        found.append(Remedy(piece.element.name, fix.words if fix is not None else "", gain, worth))
    most = max(found[1:], key=lambda r: r.gain, default=None)
    return [found[0]] if most is None or most.gain < 1.2 * found[0].gain or not most.words else [found[0], most]


def marks_by(version: Version, system: str) -> dict[int, tuple[str, ...]]:
    """Remarks in words by element, grave ones first."""
    found: dict[int, list[remedy.Mark]] = {}
    for mark in remedy.marks(version.elements):
        found.setdefault(mark.key, []).append(mark)
    return {
        key: tuple(m.said.words(system) for m in sorted(marks, key=lambda m: not m.grave))
        for key, marks in found.items()
    }


def volume_rows(
    application: Application, rows: Sequence[Element], at: Flowing
) -> list[tuple[str, Figure, Figure, Figure | None]]:
    """Volumes of a version: what, volume, over displacement, and for boosted pipes a first guess of response."""
    motor = engine_of(application.vehicle)
    cylinder = motor.displacement / motor.cylinders
    found: list[tuple[str, Figure, Figure, Figure | None]] = []

    def add(what: str, parts: list[Element], over: float, of: str, response: bool = False) -> None:
        if not parts:
            return
        figure = volumes.duct_figure([core_element(e) for e in parts], what)
        guess = None
        if response:
            flow = at.duty.air_mass_flow / walk.AIR.density(ROOM, at.duty.temperature)
            guess = volumes.response_figure(figure.value, flow, 1e5, ROOM)
        found.append((what, figure, volumes.ratio_figure(figure, over, of), guess))

    add(
        "runner and port, one",
        [e for e in rows if e.kind in ("runner", "port") and e.side == "intake"],
        cylinder,
        "one cylinder",
    )
    for e in rows:
        runners = next((r.branches for r in rows if r.kind == "runner"), 0)
        if e.kind in ("plenum", "air box") and (figure := plenum_figure(e, runners)) is not None:
            found.append((e.name, figure, volumes.ratio_figure(figure, motor.displacement), None))
    kinds = [e.kind for e in rows]
    if "compressor" in kinds:
        begin = kinds.index("compressor") + 1
        end = next(
            (i for i, kind in enumerate(kinds) if i >= begin and kind in ("throttle", "runner", "head")),
            len(kinds),
        )
        between = [e for e in rows[begin:end] if e.side == "intake"]
        add("compressor to cylinder", between, motor.displacement, "displacement", response=True)
    if "turbine" in kinds:
        before = [e for e in rows[: kinds.index("turbine")] if e.side == "exhaust"]
        add("engine to turbine", before, motor.displacement, "displacement")
    add("primary, one", [e for e in rows if e.kind in ("exhaust port", "primary")], cylinder, "one cylinder")
    if application.vehicle.case_volume:
        case, ratio = volumes.crankcase_figures(
            application.vehicle.bore, application.vehicle.stroke, application.vehicle.case_volume
        )
        found.append(("crankcase, piston up", case, ratio, None))
    return found


def stretch(version: Version) -> dict[int, float]:
    """Where each element begins on the axis [m]."""
    found, x = {}, 0.0
    for e in version.elements:
        found[e.key] = x
        x += e.length
    return found


def heights(element: Element) -> tuple[float, float]:
    """Height of an element at entry and exit as it is drawn [m]: equal-area diameter, or the round vessel of its volume."""
    if element.volume:
        vessel = (4.0 * element.volume / (pi * element.length)) ** 0.5
        return vessel, vessel
    return section_of(element).equal_area_diameter, exit_of(element).equal_area_diameter
