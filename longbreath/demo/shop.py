"""What the shop keeps, as the demo tells it: people, instruments, parts, pieces, health."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from longbreath.dossier import coverage, library, people, registers
from longbreath.store.models import Application, Revision, User, Vehicle
from longbreath.store.unit_of_work import UnitOfWork


def person(work: UnitOfWork, new: people.NewPerson) -> User:
    """Somebody who may log in."""
    return people.add_person(work, new)


def keeper(register: registers.Register) -> Callable[[UnitOfWork, Any], Any]:
    """The verb that adds to a register."""

    def add(work: UnitOfWork, card: Any) -> Any:
        return registers.save(work, card)

    add.__annotations__ |= {"card": register.card, "return": register.model}
    return add


cell, engine, tune, fuel, sensor, piece, checklist, outside_table = (keeper(r) for r in registers.REGISTERS.values())


def price(work: UnitOfWork, part: Revision, card: library.PriceCard) -> None:
    """What a part costs, and where it is to be had."""
    library.price_product(work, part.product, card)


def dossier(work: UnitOfWork, vehicle: Vehicle, part: Revision, stock: Revision) -> Application:
    """Open a dossier: a part on a vehicle, against the stock part."""
    return coverage.open_application(work, vehicle.id, part.id, stock.id)
