"""Kits: what a buyer gets and must add, with prices of one day; laid beside each other by what the pulls show."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.claim.road import APPROVALS
from longbreath.core.weigh.parity import Item, Kit, Parity, weigh_kits
from longbreath.dossier.weigh.several import Many, peak_powers
from longbreath.store.models import Application, KitSheet, TestCard
from longbreath.store.unit_of_work import UnitOfWork

LIMITS = (
    ("displacement", "Engine size"),
    ("boost", "Boost up to"),
    ("revs", "Revs up to"),
    ("cams", "Cams"),
    ("course", "Closed course"),
)
"""What a kit is fit for, in words."""


@dataclass(frozen=True)
class KitCard:
    """What is written of a kit. Prices in the money of the house, minutes; items: what, in the box, retail price where it is not."""

    price: float | None
    priced_on: date | None
    vendor: float | None = None
    items: tuple[Item, ...] = ()
    fit_minutes: float | None = None
    service_minutes: float | None = None
    available: str = ""
    years: str = ""
    limits: tuple[tuple[str, str], ...] = ()


def sheets_of(db: Session, application_id: int) -> list[KitSheet]:
    """All versions of an application's kit sheet, the newest first."""
    query = select(KitSheet).where(KitSheet.application_id == application_id)
    return list(db.scalars(query.order_by(KitSheet.number.desc())))


@dataclass(frozen=True)
class Written:
    """How many versions of a sheet stand: two people who write the next one at once are told."""

    version: int


def save_kit(work: UnitOfWork, application: Application, card: KitCard) -> KitSheet:
    """Write the next version of a kit sheet. Raises InputError for a price without its day, or an item named twice."""
    if card.price is not None and card.priced_on is None:
        raise InputError("A price has a day: say when it was asked.", "priced_on")
    names = [item.what.casefold() for item in card.items]
    if len(set(names)) < len(names):
        raise InputError("Each thing stands once: in the box, or to be added.", "added")
    work.lock_row(application)
    before = sheets_of(work, application.id)
    values: dict[str, Any] = {
        "price": card.price,
        "vendor": card.vendor,
        "items": [[item.what, item.in_box, item.price] for item in card.items],
        "fit_minutes": card.fit_minutes,
        "service_minutes": card.service_minutes,
        "available": card.available,
        "years": card.years,
        "limits": {name: words for name, words in card.limits if words},
    }
    row = KitSheet(
        application_id=application.id,
        number=before[0].number + 1 if before else 1,
        priced_on=card.priced_on,
        values=values,
        made_by_id=work.actor.id,
    )
    row.made_by = work.actor
    work.add(row)
    work.flush()
    return row


def kit_of(application: Application, letter: str, sheet: KitSheet | None) -> Kit:
    """A kit as the core takes it; where no sheet stands, by the price of the product alone."""
    values: dict[str, Any] = sheet.values if sheet is not None else {}
    product = application.product
    return Kit(
        letter,
        application.product.name,
        values.get("price", product.price) if sheet is not None else product.price,
        sheet.priced_on if sheet is not None else product.price_on,
        tuple(Item(str(what), bool(in_box), price) for what, in_box, price in values.get("items", ())),
        values.get("vendor"),
        values.get("fit_minutes"),
        values.get("service_minutes"),
        str(values.get("available", "")),
        APPROVALS[application.approval],
        str(values.get("years", "")),
        tuple((label, str(values["limits"][name])) for name, label in LIMITS if name in values.get("limits", {})),
    )


def kits_on(db: Session, card: TestCard) -> list[tuple[Kit, Application, KitSheet | None]]:
    """The kits that a card compares with one stock part: of each application that it serves, under the letter of its product."""
    found = []
    for pair in card.pairs:
        application = db.get_one(Application, pair.application_id)
        if pair.b:
            sheets = sheets_of(db, application.id)
            newest = sheets[0] if sheets else None
            found.append((kit_of(application, pair.b, newest), application, newest))
    return found


def parity_of(many: Many, kits: Sequence[Kit], stock: str, hourly: float | None) -> Parity:
    """Kits beside each other by the ranking by use. Raises InputError where nothing is known of them, or one was not weighed."""
    weighed = [kit for kit in kits if kit.letter in many.letters]
    return weigh_kits(weighed, many.ranked, stock, peak_powers(many.weighed), hourly)
