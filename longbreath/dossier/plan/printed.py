"""The card as it hangs in the cell: everything an operator needs on one page, in words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.plan import conditions
from longbreath.dossier.plan.cards import sensor_ceiling, ticks_of
from longbreath.dossier.plan.day import day_of
from longbreath.dossier.records.cards import times_of
from longbreath.store.models import Application, Sensor, TestCard


@dataclass(frozen=True)
class Printed:
    """The parts of the page: sets in order, limits and windows in words, channels, lines of the list with whether each is ticked."""

    limits: tuple[tuple[str, str], ...]
    windows: tuple[tuple[str, str], ...]
    channels: tuple[str, ...]
    lines: tuple[tuple[str, bool], ...]
    swap: str
    minutes: str
    ends: str
    cost: str


def printed_card(db: Session, application: Application, card: TestCard, system: str, day: date) -> Printed:
    """The page of a card in a display system."""
    boosted = application.vehicle.induction in BOOSTED
    channels = conditions.channels_demanded(card.tune_mode, card.control_mode, card.mixture_target is not None, boosted)
    ticked = ticks_of(db, card)
    times = times_of(card)
    shown = day_of(db, application, card, day)
    cell = card.dyno.cell
    rate = (
        f"{shown.minutes / 60.0 * cell.rate:.0f} for the cell" if cell is not None and cell.rate else "no rate is kept"
    )
    return Printed(
        tuple(_limits(db, card, system)),
        tuple(_windows(card, system)),
        channels,
        tuple((line, line in ticked) for line in card.checklist),
        f"{_swaps(card)}; {times.cool_down:.0f} min to cool down after each pull",
        f"{shown.minutes / 60.0:.1f} h",
        shown.ends,
        rate,
    )


def _swaps(card: TestCard) -> str:
    """What a change takes, by factor where there are several."""
    if card.factors:
        return ", ".join(f"{f['name']} {f['minutes']:.0f} min" for f in card.factors)
    return f"{times_of(card).swap:.0f} min a swap"


def _limits(db: Session, card: TestCard, system: str) -> list[tuple[str, str]]:
    found = []
    for item in conditions.LIMITS:
        value = card.limits.get(item.key)
        if value not in (None, ""):
            told = f"{item.side} {units.show(float(value), item.kind, system)}" if item.kind else str(value)
            found.append((item.name, told))
    if card.limits.get("weakest"):
        found.append(("Weakest part", str(card.limits["weakest"])))
    ceiling = sensor_ceiling(db, card.limits)
    if ceiling is not None:
        sensor = db.get_one(Sensor, card.limits["sensor_id"])
        found.append(
            (f"End of the sensor {sensor.name}", f"{units.show(ceiling, 'pressure', system)} of boost here today")
        )
    return found


def _windows(card: TestCard, system: str) -> list[tuple[str, str]]:
    return [
        (label, " to ".join(units.show(float(v), "temperature", system) for v in card.window[name]))
        for name, label in conditions.WINDOW.items()
        if name in card.window
    ]
