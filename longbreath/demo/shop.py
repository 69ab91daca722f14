"""What the shop keeps, as the demo tells it: people, instruments, parts, pieces, health."""

from __future__ import annotations

from longbreath.dossier import coverage, library, people
from longbreath.dossier import shop as kept
from longbreath.store.base import Base
from longbreath.store.models import (
    Application,
    Cell,
    Checklist,
    FuelBatch,
    OutsideTable,
    Revision,
    Sample,
    Sensor,
    TestEngine,
    TuneFile,
    User,
    Vehicle,
)
from longbreath.store.unit_of_work import UnitOfWork


def person(work: UnitOfWork, new: people.NewPerson) -> User:
    """Somebody who may log in."""
    return people.add_person(work, new)


def cell(work: UnitOfWork, card: kept.CellCard) -> Base:
    """A room with a dyno."""
    return kept.save_kept(work, Cell(), card)


def sensor(work: UnitOfWork, card: kept.SensorCard) -> Base:
    """A sensor with its range and the day its calibration lapses."""
    return kept.save_kept(work, Sensor(), card)


def tune(work: UnitOfWork, card: kept.TuneCard) -> Base:
    """A tune and what it was made for."""
    return kept.save_kept(work, TuneFile(), card)


def engine(work: UnitOfWork, card: kept.EngineCard) -> Base:
    """A test engine by its serial number."""
    return kept.save_kept(work, TestEngine(), card, "serial")


def fuel(work: UnitOfWork, card: kept.FuelCard) -> Base:
    """A delivery of fuel."""
    return kept.save_kept(work, FuelBatch(), card)


def checklist(work: UnitOfWork, card: kept.ChecklistCard) -> Base:
    """The lines to tick for a family of part."""
    return kept.save_kept(work, Checklist(), card, "family")


def outside_table(work: UnitOfWork, card: kept.TableCard) -> Base:
    """Somebody else's test, typed in."""
    return kept.save_kept(work, OutsideTable(), card)


def piece(work: UnitOfWork, card: kept.SampleCard) -> Sample:
    """One piece of a revision."""
    return kept.save_sample(work, Sample(), card)


def price(work: UnitOfWork, part: Revision, card: library.PriceCard) -> None:
    """What a part costs, and where it is to be had."""
    library.price_product(work, part.product, card)


def dossier(work: UnitOfWork, vehicle: Vehicle, part: Revision, stock: Revision) -> Application:
    """Open a dossier: a part on a vehicle, against the stock part."""
    return coverage.open_application(work, vehicle.id, part.id, stock.id)
