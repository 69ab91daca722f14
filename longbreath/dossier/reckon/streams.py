"""Air in every measured section at once: velocity and Mach number over speed, where it chokes first, what each piece costs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import rpm
from longbreath.core.basis.working import Figure
from longbreath.core.path import bores
from longbreath.core.path.choking import chokes_first
from longbreath.core.path.figures import loss_figure, share_figure
from longbreath.core.path.walk import PathElement, Side, Station, flow_through
from longbreath.dossier.path.duty import DutyAsked, flowing, usual_duty
from longbreath.dossier.path.elements import core_element, is_nominal
from longbreath.dossier.reckon.fill import known, stroke_area
from longbreath.dossier.reckon.records import Records
from longbreath.store.models import Vehicle

LINES = 4
"""Speeds that are drawn, from the beginning of the band of use to the redline."""


@dataclass(frozen=True)
class SpeedLine:
    """The path at one engine speed [rad/s]; None where no pressure drives that flow, with the reason."""

    speed: float
    side: Side | None
    refused: str = ""


@dataclass(frozen=True)
class Streams:
    """A side of the path over speed: one line a speed, the figures, and a sentence on where it chokes first."""

    which: str
    lines: tuple[SpeedLine, ...]
    figures: dict[str, Figure]
    words: str

    @property
    def top(self) -> Side | None:
        """The side at the highest speed that still flows."""
        return next((line.side for line in reversed(self.lines) if line.side is not None), None)

    @property
    def fastest(self) -> dict[int, Station]:
        """Where it is fastest in each element at that speed, by the element's key."""
        stations = self.top.stations if self.top is not None else ()
        return {s.key: s for s in sorted(stations, key=lambda s: s.mach)}


def _at(elements: Sequence[PathElement], which: str, vehicle: Vehicle, asked: DutyAsked, speed: float) -> Side:
    told = DutyAsked(**{**vars(asked), "at": f"{speed / RPM:.6f} rpm"})
    return flow_through(elements, which, flowing(vehicle, told, "metric").duty)


def streams_of(records: Records, which: str) -> Streams | None:
    """The intake or exhaust side of the path with the product fitted, over speed; None where nothing of it is measured."""
    vehicle = records.vehicle
    rows = [e for e in records.fitted if e.side == which]
    if not rows:
        return None
    try:
        elements = [core_element(e) for e in rows]
    except InputError as error:
        return Streams(which, (), {}, error.message)
    asked = usual_duty(vehicle)
    step = (vehicle.redline - vehicle.band_low) / (LINES - 1)
    lines = []
    for number in range(LINES):
        speed = round((vehicle.band_low + number * step) / RPM / 100) * 100 * RPM
        try:
            lines.append(SpeedLine(speed, _at(elements, which, vehicle, asked, speed)))
        except InputError as error:
            lines.append(SpeedLine(speed, None, error.message))
    figures: dict[str, Figure] = {}
    top = next((line for line in reversed(lines) if line.side is not None), None)
    if top is None or top.side is None:
        return Streams(which, tuple(lines), {}, lines[0].refused)
    for piece in top.side.pieces:
        figures[f"cost-{piece.element.key}"] = loss_figure(top.side, piece)
        figures[f"share-{piece.element.key}"] = share_figure(top.side, piece)
    choked = chokes_first(
        lambda speed: _at(elements, which, vehicle, asked, speed),
        0.2 * vehicle.band_low,
        3.0 * vehicle.redline,
        top.speed,
        asked.filling,
    )
    if choked is None:
        return Streams(which, tuple(lines), figures, "Nothing on this side comes near the speed of sound.")
    name, figures["chokes"] = choked
    return Streams(which, tuple(lines), figures, _words(name, figures["chokes"], vehicle))


def _words(name: str, choked: Figure, vehicle: Vehicle) -> str:
    at, redline = rpm(choked.value), rpm(vehicle.redline)
    where = name[0].upper() + name[1:]
    if choked.value > vehicle.redline:
        return f"{where} would choke first, at {at} rpm: beyond the redline at {redline} rpm."
    return f"{where} chokes first, at {at} rpm: below the redline at {redline} rpm. Work there first."


@dataclass(frozen=True)
class Chain:
    """The row of bores that the air passes, with figures keyed share-, ceiling- and worth- by place, and the sentence."""

    bores: tuple[bores.Bore, ...]
    figures: dict[str, Figure]
    words: str


WIDER = 1.05
"""Times the diameter by which the worth of enlarging is told."""


def chain_of(records: Records) -> Chain | None:
    """The bores of the intake with the product fitted; None for fewer than two.

    Each is counted as the area that one cylinder's stroke finds: a throttle for four cylinders is passed by one at a time. A
    disc's window counts where it was measured on the wheel.
    """
    vehicle, found = records.vehicle, []
    for e in records.fitted:
        if e.side != "intake" or core_element(e).is_volume:
            continue
        found.append(bores.Bore(e.name, stroke_area(e, vehicle), measured=not is_nominal(e)))
    window = known(records, "window_area")
    if window is not None:
        found.append(bores.Bore("inlet window", window.number))
    if len(found) < 2:
        return None
    chain = tuple(found)
    figures: dict[str, Figure] = {}
    for n in range(len(chain)):
        figures[f"share-{n}"] = bores.share_figure(chain, n)
        figures[f"ceiling-{n}"] = bores.ceiling_figure(chain, n)
        figures[f"worth-{n}"] = bores.worth_figure(chain, n, WIDER)
    return Chain(chain, figures, bores.say_chain(chain, WIDER))
