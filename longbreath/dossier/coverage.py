"""Coverage: how far every product is on every vehicle, finding things, opening an application."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import Select, func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, contains_eager, joinedload

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Reckoning, all_reckonings
from longbreath.dossier.owed import STALE, Summary, summaries
from longbreath.store.models import Application, Claim, ClaimAct, ClaimSheet, Product, Revision, Vehicle
from longbreath.store.models.claim import SUPERSEDED, WITHDRAWN
from longbreath.store.unit_of_work import UnitOfWork

PRODUCTS_A_PAGE = 12


@dataclass(frozen=True)
class Grid:
    """Products down, vehicles across; cells by (product id, vehicle id), with what is owed next in order."""

    products: list[Product]
    vehicles: list[Vehicle]
    cells: dict[tuple[int, int], tuple[Application, Summary]]
    owed: list[tuple[Application, Summary]]
    page: int
    pages: int
    total: int


@dataclass(frozen=True)
class Filters:
    """What the viewer asked to see."""

    family: str = ""
    side: str = ""
    use: str = ""


def grid(db: Session, filters: Filters, page: int) -> Grid:
    """The coverage grid for a page of products."""
    wanted = _products(filters)
    total = db.scalar(select(func.count()).select_from(wanted.subquery())) or 0
    pages = max(1, -(-total // PRODUCTS_A_PAGE))
    page = min(max(page, 1), pages)
    ordered = wanted.order_by(Product.side.desc(), Product.name)
    products = list(db.scalars(ordered.offset((page - 1) * PRODUCTS_A_PAGE).limit(PRODUCTS_A_PAGE)))
    found = _applications(db, products, filters)
    states = summaries(db, [a.id for a in found])
    vehicles = sorted({a.vehicle for a in found}, key=lambda v: v.name)
    cells = {(a.revision.product_id, a.vehicle_id): (a, states[a.id]) for a in found}
    owed = [(a, states[a.id]) for a in found if states[a.id].next_owed is not None]
    owed.sort(key=lambda item: (item[1].steps[-1].state != STALE, -sum(s.state == "done" for s in item[1].steps)))
    return Grid(products, vehicles, cells, owed, page, pages, total)


def _products(filters: Filters) -> Select[Product]:
    query = (
        select(Product)
        .join(Revision, Revision.product_id == Product.id)
        .join(Application, Application.revision_id == Revision.id)
        .join(Vehicle, Vehicle.id == Application.vehicle_id)
        .distinct()
    )
    if filters.family:
        query = query.where(Product.family == filters.family)
    if filters.side:
        query = query.where(Product.side == filters.side)
    if filters.use:
        query = query.where(Vehicle.use == filters.use)
    return query


def _applications(db: Session, products: list[Product], filters: Filters) -> list[Application]:
    query = (
        select(Application)
        .join(Application.revision)
        .join(Revision.product)
        .join(Application.vehicle)
        .options(
            contains_eager(Application.revision).contains_eager(Revision.product), contains_eager(Application.vehicle)
        )
        .where(Product.id.in_([p.id for p in products]))
        .order_by(Application.id)
    )
    if filters.use:
        query = query.where(Vehicle.use == filters.use)
    return list(db.scalars(query))


def choices(db: Session) -> dict[str, list[str]]:
    """The values that the filters offer."""
    families = db.scalars(select(Product.family).where(~Product.is_stock).distinct().order_by(Product.family))
    uses = db.scalars(select(Vehicle.use).distinct().order_by(Vehicle.use))
    return {"family": list(families), "side": ["intake", "exhaust"], "use": list(uses)}


def finished(db: Session) -> Application | None:
    """The first application with a published claim, or None."""
    ended = select(ClaimAct.claim_id).where(ClaimAct.act.in_((WITHDRAWN, SUPERSEDED)))
    published = select(Claim.application_id).join(ClaimSheet).where(Claim.id.not_in(ended))
    return db.scalar(select(Application).where(Application.id.in_(published)).order_by(Application.id).limit(1))


MOST_WORDS = 8
"""Words of a search that count; nobody types more."""


@dataclass(frozen=True)
class Found:
    """What a search found."""

    applications: list[Application]
    reckonings: list[Reckoning]


def search(db: Session, text: str) -> Found:
    """Applications and reckonings that hold every word: in names, family, side, engine, use; in titles, questions, inputs."""
    if not text.strip():
        return Found([], [])
    words = text.split()[:MOST_WORDS]
    held = func.concat_ws(
        " ",
        Product.name,
        Revision.name,
        Product.family,
        Product.side,
        Vehicle.name,
        Vehicle.years,
        Vehicle.cycle,
        Vehicle.induction,
        Vehicle.fuel,
        Vehicle.use,
        Vehicle.market,
    )
    query = (
        select(Application)
        .join(Application.revision)
        .join(Revision.product)
        .join(Application.vehicle)
        .where(*(held.icontains(word, autoescape=True) for word in words))
        .order_by(Product.name)
        .limit(12)
    )
    lows = [word.lower() for word in words]
    calculations = [r for r in all_reckonings() if all(word in _said(r) for word in lows)]
    return Found(list(db.scalars(query)), calculations)


def _said(reckoning: Reckoning) -> str:
    """What may be found of a reckoning: title, question, group, and what it asks for."""
    asks = " ".join(field.label for field in reckoning.fields)
    return f"{reckoning.name} {reckoning.title} {reckoning.question} {reckoning.group} {asks}".lower()


@dataclass(frozen=True)
class Offer:
    """What a new application may be made of: vehicles by name, and revisions of products and of stock parts."""

    vehicles: list[Vehicle]
    products: list[Revision]
    stock: list[Revision]


def offer(db: Session) -> Offer:
    """What a new application may be made of."""
    revisions = list(db.scalars(select(Revision).options(joinedload(Revision.product)).order_by(Revision.id)))
    vehicles = list(db.scalars(select(Vehicle).order_by(Vehicle.name)))
    products = [r for r in revisions if not r.product.is_stock]
    return Offer(vehicles, products, [r for r in revisions if r.product.is_stock])


def open_application(work: UnitOfWork, vehicle_id: int, revision_id: int, stock_revision_id: int) -> Application:
    """Open the dossier of one product on one vehicle. Raises InputError if there is one, or the parts do not fit."""
    vehicle = work.get(Vehicle, vehicle_id)
    revision, stock = work.get(Revision, revision_id), work.get(Revision, stock_revision_id)
    if vehicle is None:
        raise InputError("There is no such vehicle.", "vehicle_id")
    if revision is None or stock is None or revision.product.side != stock.product.side:
        raise InputError("Choose a stock part of the same side (intake or exhaust).", "stock_revision_id")
    application = Application(vehicle_id=vehicle_id, revision_id=revision_id, stock_revision_id=stock_revision_id)
    application.vehicle, application.revision, application.stock_revision = vehicle, revision, stock
    try:
        with work.attempt():
            work.add(application)
    except IntegrityError:
        raise InputError("This revision already has an application on this vehicle.", "revision_id") from None
    return application


def application_names(db: Session) -> dict[int, str]:
    """What each application is called, by its number."""
    query = (
        select(Application.id, Product.name, Vehicle.name)
        .join(Revision, Revision.id == Application.revision_id)
        .join(Product, Product.id == Revision.product_id)
        .join(Vehicle, Vehicle.id == Application.vehicle_id)
    )
    return {number: f"{product}, {vehicle}" for number, product, vehicle in db.execute(query)}
