"""The library: vehicles, products with revisions, benches, dynos, and the log."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from itertools import pairwise

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.meter import Orifice
from longbreath.devices.kinds import KINDS
from longbreath.dossier.commands import put
from longbreath.dossier.events import BandsChanged, say
from longbreath.dossier.instruments import NewAddress, addresses, check_listed, list_address, listed, strike_off
from longbreath.store.base import Base
from longbreath.store.models import AuditEntry, Bench, BenchRange, Calibration, Dyno, Product, Revision, Vehicle
from longbreath.store.unit_of_work import UnitOfWork

LOG_PAGE = 40


LIST_LIMIT = 200


@dataclass(frozen=True)
class Shelf:
    """Everything in the library."""

    vehicles: list[Vehicle]
    products: list[Product]
    benches: list[Bench]
    dynos: list[Dyno]


def shelf(db: Session) -> Shelf:
    """Vehicles, products with revisions, benches with ranges, dynos, each by name."""
    return Shelf(
        list(db.scalars(select(Vehicle).order_by(Vehicle.name).limit(LIST_LIMIT))),
        list(
            db.scalars(
                select(Product).options(selectinload(Product.revisions)).order_by(Product.name).limit(LIST_LIMIT)
            )
        ),
        list(db.scalars(select(Bench).options(selectinload(Bench.ranges)).order_by(Bench.name))),
        list(db.scalars(select(Dyno).order_by(Dyno.name))),
    )


_UNITS = ("m", "m2", "m3", "m3/s", "Pa", "K", "rad/s", "rad", "N m")


def changes_in_words(entry: AuditEntry) -> str:
    """Old and new value of each changed column, with the unit it is stored in (SI, from the column's comment)."""
    columns = Base.metadata.tables[entry.entity].columns
    parts = []
    for key, (old, new) in entry.changes.items():
        comment = (columns[key].comment or "") if key in columns else ""
        unit = next(
            (u for u in sorted(_UNITS, key=len, reverse=True) if f"{comment} ".startswith((f"{u} ", f"{u},"))), ""
        )
        parts.append(f"{key.replace('_', ' ')}: {_plain(old)} → {_plain(new)} {unit}".strip())
    return "; ".join(parts)


def _plain(value: object) -> str:
    return "nothing" if value is None else f"{value:.6g}" if isinstance(value, float) else str(value)


def log_page(db: Session, page: int, application_id: int | None) -> tuple[list[AuditEntry], int]:
    """One page of the log, newest first, and how many pages there are."""
    query = select(AuditEntry)
    if application_id is not None:
        query = query.where(AuditEntry.application_id == application_id)
    total = db.scalar(select(func.count()).select_from(query.subquery())) or 0
    entries = db.scalars(
        query.order_by(AuditEntry.at.desc(), AuditEntry.id.desc()).offset((page - 1) * LOG_PAGE).limit(LOG_PAGE)
    )
    return list(entries), max(1, -(-total // LOG_PAGE))


BAND_ORDER = ("band_low", "band_middle", "band_top", "band_end")


@dataclass(frozen=True)
class VehicleCard:
    """One engine in one chassis: sizes [m], a rotor's chamber and the case volume [m3], intake duration [rad], speeds [rad/s]."""

    name: str
    bore: float | None
    stroke: float | None
    cylinders: int
    compression_ratio: float
    redline: float
    band_low: float
    band_middle: float
    band_top: float
    band_end: float
    cycle: str = "four-stroke"
    intake_duration: float | None = None
    years: str = ""
    rod: float | None = None
    case_volume: float | None = None
    chamber_volume: float | None = None
    induction: str = "naturally aspirated"
    fuel: str = "petrol"
    use: str = "road"
    market: str = ""


@dataclass(frozen=True)
class ProductCard:
    """A part with its first revision and the state that was in."""

    name: str
    family: str
    side: str
    revision: str
    state: str = ""
    is_stock: bool = False


@dataclass(frozen=True)
class BenchCard:
    """What a flow bench is and how well it reads: steps [1, Pa, m3/s], pipe [m], repeatability [1], leak [m3/s]."""

    name: str
    percent_step: float
    pressure_step: float
    meter: str = "range"
    flow_step: float | None = None
    drop_step: float | None = None
    pipe_diameter: float | None = None
    taps: str = "corner"
    temperature_rule: str = "none"
    repeatability: float | None = None
    repeatability_source: str = ""
    leak_limit: float = 0.0010
    check_days: int = 30
    device_url: str = ""


@dataclass(frozen=True)
class RangeCard:
    """One range of a bench: its name, full-scale flow [m3/s], bore of its plate [m]."""

    label: str
    full_scale: float
    plate_diameter: float | None = None


@dataclass(frozen=True)
class PlateCheck:
    """A check of a bench against a plate of known flow [m3/s], known to a share [1]."""

    held_on: date
    plate: str
    plate_flow: float
    plate_uncertainty: float
    read_flow: float


@dataclass(frozen=True)
class DynoCard:
    """A dyno, where it measures, and how well it repeats [N m]."""

    name: str
    measured_at: str
    repeatability: float
    repeatability_source: str
    fitting_repeatability: float | None = None
    fitting_freedom: int = 0


def _add_new(work: UnitOfWork, record: Base, field: str, sentence: str) -> None:
    """Add a record whose name must be new. Raises InputError beside `field` if it is taken."""
    try:
        with work.savepoint():
            work.add(record)
    except IntegrityError:
        raise InputError(sentence, field) from None


def _check_vehicle(card: VehicleCard) -> None:
    """The bands of use follow one another and end at or below the redline; the sizes are those of its kind of engine."""
    for lower, upper in pairwise(BAND_ORDER):
        if getattr(card, lower) >= getattr(card, upper):
            raise InputError("The bands must follow one another: each begins above the one before.", upper)
    if card.band_end > card.redline * 1.001:
        raise InputError("The top band cannot end above the redline.", "band_end")
    _check_sizes(card)


def _check_sizes(card: VehicleCard) -> None:
    """A rotor has a chamber, an engine with pistons bore and stroke; neither has the other's."""
    rotary = card.cycle == "rotary"
    for name, words in (("bore", "a bore"), ("stroke", "a stroke"), ("chamber_volume", "a rotor's chamber")):
        given, wanted = getattr(card, name) is not None, (name == "chamber_volume") == rotary
        if wanted and not given:
            raise InputError("This is missing.", name)
        if given and not wanted:
            kind = "A rotary" if rotary else "An engine with pistons"
            raise InputError(f"{kind} has no such size ({words}): leave it empty.", name)


def add_vehicle(work: UnitOfWork, card: VehicleCard) -> Vehicle:
    """Add a vehicle. Raises InputError for bands out of order or a name that is taken."""
    _check_vehicle(card)
    vehicle = Vehicle()
    put(vehicle, card)
    _add_new(work, vehicle, "name", "There is a vehicle of this name already.")
    return vehicle


def change_vehicle(work: UnitOfWork, vehicle: Vehicle, card: VehicleCard) -> None:
    """Change a vehicle; what was weighed on its bands is weighed anew. Raises InputError for bands out of order."""
    _check_vehicle(card)
    put(vehicle, card)
    work.flush()
    say(work, BandsChanged(vehicle))


def add_product(work: UnitOfWork, card: ProductCard) -> Revision:
    """Add a product with its first revision. Raises InputError for a name that is taken."""
    product = Product(name=card.name, family=card.family, side=card.side, is_stock=card.is_stock)
    _add_new(work, product, "name", "There is a product of this name already.")
    return add_revision(work, product, card.revision, card.state)


@dataclass(frozen=True)
class PriceCard:
    """What a product costs in the money of the house, on which day, and whether it is to be had."""

    price: float | None
    price_on: date | None
    shelf: str = ""


def price_product(work: UnitOfWork, product: Product, card: PriceCard) -> None:
    """Say what a product costs and whether it is to be had. Raises InputError for a price without its day."""
    if card.price is not None and card.price_on is None:
        raise InputError("A price has a day: say when it was asked.", "price_on")
    put(product, card, shelf=card.shelf or "")
    work.flush()


def add_revision(work: UnitOfWork, product: Product, name: str, state: str) -> Revision:
    """Add a revision of a product. Raises InputError for a name that is taken."""
    revision = Revision(product_id=product.id, name=name, state=state or "")
    _add_new(work, revision, "name", "This product has a revision of that name already.")
    return revision


def state_revision(work: UnitOfWork, revision: Revision, state: str) -> None:
    """Say the state of a revision that has none yet.

    Raises InputError for none, and for a revision that has one: what was tested under it stays what it was.
    """
    work.refresh(revision, with_for_update=True)
    if revision.state.strip():
        raise InputError(f"It is “{revision.state}”. A part in another state is another revision.", "state")
    if not state.strip():
        raise InputError("Say the state of the part.", "state")
    revision.state = state.strip()
    work.flush()


def add_bench(work: UnitOfWork, card: BenchCard, first: RangeCard) -> Bench:
    """Add a flow bench with its first range. Raises InputError as `change_bench` and `add_range`."""
    _check_bench(work, card)
    bench = Bench()
    _put_bench(bench, card)
    _add_new(work, bench, "name", "There is a bench of this name already.")
    add_range(work, bench, first)
    return bench


def _check_bench(work: UnitOfWork, card: BenchCard, before: str = "") -> None:
    """The card of a bench holds what its meter needs, and an address that an admin has listed, or the one it had."""
    if card.meter == "orifice" and not card.pipe_diameter:
        raise InputError("An orifice meter needs the inside diameter of its pipe.", "pipe_diameter")
    if card.repeatability and not card.repeatability_source:
        raise InputError("Say where the repeatability comes from.", "repeatability_source")
    if card.device_url != before:
        check_listed(work, card.device_url or "")


def _put_bench(bench: Bench, card: BenchCard) -> None:
    put(
        bench,
        card,
        flow_step=card.flow_step or 0.0,
        drop_step=card.drop_step or 0.0,
        repeatability=card.repeatability or 0.0,
        repeatability_source=card.repeatability_source or "",
        device_url=card.device_url or "",
    )


def change_bench(work: UnitOfWork, bench: Bench, card: BenchCard) -> None:
    """Change a bench's card; figures of its sessions follow from it anew.

    Raises InputError for a card that lacks what its meter needs, or a name that is taken.
    """
    _check_bench(work, card, bench.device_url)
    taken = work.scalar(select(Bench.id).where(Bench.name == card.name, Bench.id != bench.id))
    if taken is not None:
        raise InputError("There is a bench of this name already.", "name")
    _put_bench(bench, card)
    work.flush()


def connect_devices(work: UnitOfWork, devices: Mapping[str, str], what: str) -> None:
    """List where instruments answer, by kind, and say so on the cards of the first bench and the first dyno of the library.

    what: what the names of these addresses end with; one of such a name that is not among them is struck off.
    """
    bench = work.scalar(select(Bench).order_by(Bench.id).limit(1))
    dyno = work.scalar(select(Dyno).order_by(Dyno.id).limit(1))
    for address in addresses(work):
        if address.is_listed and address.what.endswith(what) and address.address not in devices.values():
            strike_off(work, address)
    for kind, url in devices.items():
        if url not in listed(work):
            list_address(work, NewAddress(url, f"stand-in {KINDS[kind].called} {what}", kind))
    if bench is not None and "bench" in devices and bench.device_url != devices["bench"]:
        bench.device_url = devices["bench"]
    for kind, name in (("dyno", "device_url"), ("logger", "logger_url"), ("weather", "weather_url")):
        if dyno is not None and kind in devices and getattr(dyno, name) != devices[kind]:
            setattr(dyno, name, devices[kind])
    work.flush()


def add_range(work: UnitOfWork, bench: Bench, card: RangeCard) -> BenchRange:
    """Add a range to a bench. Raises InputError for a plate that ISO 5167 does not hold for."""
    if bench.meter == "orifice":
        if card.plate_diameter is None:
            raise InputError("A range of an orifice meter needs the bore of its plate.", "plate_diameter")
        Orifice(card.plate_diameter, bench.pipe_diameter or 0.0, bench.taps)
    bench_range = BenchRange(bench_id=bench.id)
    put(bench_range, card)
    _add_new(work, bench_range, "label", "This bench has a range of that name already.")
    return bench_range


def add_check(work: UnitOfWork, bench: Bench, check: PlateCheck) -> Calibration:
    """Record a plate check. Raises InputError for one so far off that the plate or the reading is another's."""
    if not 0.5 < check.read_flow / check.plate_flow < 2.0:
        words = "This is off by half or more: another plate, another range, or another pressure?"
        raise InputError(words, "read_flow")
    found = Calibration(bench_id=bench.id, made_by_id=work.actor.id)
    put(found, check)
    work.add(found)
    found.bench, found.made_by = bench, work.actor
    work.flush()
    return found


def add_dyno(work: UnitOfWork, card: DynoCard) -> Dyno:
    """Add a dyno. Raises InputError for a name that is taken, or set-to-set scatter without the number of sets."""
    if card.fitting_repeatability is not None and not card.fitting_freedom:
        raise InputError("Say how many sets are behind it, less one.", "fitting_freedom")
    if card.fitting_repeatability is None:
        card = replace(card, fitting_freedom=0)
    dyno = Dyno()
    put(dyno, card)
    _add_new(work, dyno, "name", "There is a dyno of this name already.")
    return dyno


def benches(db: Session) -> list[Bench]:
    """All benches by name."""
    return list(db.scalars(select(Bench).order_by(Bench.name)))
