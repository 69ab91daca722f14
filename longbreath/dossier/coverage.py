"""Coverage: how far every product is on every vehicle, finding things, opening an application."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, contains_eager, joinedload

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Reckoning, all_reckonings
from longbreath.dossier.owed import STALE, Summary, summaries
from longbreath.dossier.plan.variants import first_variants
from longbreath.store.models import (
    Application,
    Claim,
    ClaimAct,
    ClaimSheet,
    Owed,
    Product,
    Revision,
    SavedView,
    User,
    Vehicle,
)
from longbreath.store.models.claim import SUPERSEDED, WITHDRAWN
from longbreath.store.unit_of_work import UnitOfWork

PRODUCTS_A_PAGE = 40
ROWS_A_PAGE = 40
MOST_WORDS = 8
"""Words of a search that count; nobody types more."""
STANDINGS = ("none", "draft", "submitted", "published", "questioned", "withdrawn", "superseded")
"""How the claims of an application stand, for a filter."""
ORDERS = {"due": "what is due", "part": "part", "vehicle": "vehicle", "money": "money in it"}


@dataclass(frozen=True)
class Filters:
    """What the viewer asked to see: family, side, use, how the claim stands, words in part or vehicle, whether something is owed; and
    in which order."""

    family: str = ""
    side: str = ""
    use: str = ""
    claim: str = ""
    q: str = ""
    owed: str = ""
    order: str = ""

    @property
    def is_set(self) -> bool:
        """Whether anything is left out."""
        return any((self.family, self.side, self.use, self.claim, self.q, self.owed))


@dataclass(frozen=True)
class CoverageRow:
    """One application: its summary, the earliest day it can be published, and what it still costs in the money of the house."""

    application: Application
    summary: Summary
    publishing: date | None
    money: float

    @property
    def claim(self) -> str:
        """How its claim stands."""
        step = self.summary.steps[-1]
        if step.state == STALE:
            return "questioned"
        return "published" if "published" in step.figure else step.figure or "none"

    @property
    def owed(self) -> str:
        """What is owed next, in words; "" where nothing is."""
        step = self.summary.next_owed
        return f"{step.name}: {step.owed}" if step is not None else ""

    @property
    def verdicts(self) -> tuple[str, ...]:
        """The verdicts of the bands, in their order."""
        return tuple(str(b["verdict"]) for b in self.summary.verdict.bands) if self.summary.verdict else ()


@dataclass(frozen=True)
class Buy:
    """A test that would serve several applications: a baseline of their stock part on their vehicle."""

    stock: str
    vehicle: str
    serves: tuple[Application, ...]


@dataclass(frozen=True)
class Grid:
    """The map and the list of a house: products and vehicles that have an application, rows in their order, pages of either."""

    products: list[Product]
    vehicles: list[Vehicle]
    rows: list[CoverageRow]
    shown: list[CoverageRow]
    page: int
    pages: int
    buys: tuple[Buy, ...]

    @property
    def owed(self) -> list[CoverageRow]:
        """What is owed next, in order: what lost its evidence first, then what is nearest its end."""
        return [row for row in self.rows if row.summary.next_owed is not None]

    @property
    def cells(self) -> dict[tuple[int, int], CoverageRow]:
        """The newest revision of each product on each vehicle."""
        ordered = sorted(self.rows, key=lambda r: r.application.id)
        return {(r.application.revision.product_id, r.application.vehicle_id): r for r in ordered}


def grid(db: Session, filters: Filters, page: int, ends: Mapping[int, date] | None = None) -> Grid:
    """The map and a page of the list. ends: the earliest publishing day of applications, where it is known."""
    found = _applications(db, filters)
    states, money = summaries(db, [a.id for a in found]), _money(db)
    rows = [CoverageRow(a, states[a.id], (ends or {}).get(a.id), money.get(a.id, 0.0)) for a in found]
    rows = [r for r in rows if filters.claim in ("", r.claim) and (not filters.owed or r.owed)]
    rows.sort(key=_order(filters.order))
    pages = max(1, -(-len(rows) // ROWS_A_PAGE))
    page = min(max(page, 1), pages)
    shown = rows[(page - 1) * ROWS_A_PAGE : page * ROWS_A_PAGE]
    by_id = {r.application.revision.product_id: r.application.product for r in rows}
    products = sorted(by_id.values(), key=lambda p: (p.side == "exhaust", p.name))
    vehicles = sorted({r.application.vehicle for r in rows}, key=lambda v: v.name)
    first = (page - 1) * PRODUCTS_A_PAGE if len(products) > PRODUCTS_A_PAGE else 0
    return Grid(products[first : first + PRODUCTS_A_PAGE], vehicles, rows, shown, page, pages, _buys(rows))


def _order(name: str) -> Callable[[CoverageRow], Any]:
    if name == "part":
        return lambda r: (r.application.product.name, r.application.vehicle.name)
    if name == "vehicle":
        return lambda r: (r.application.vehicle.name, r.application.product.name)
    if name == "money":
        return lambda r: (-r.money, r.application.product.name)
    return lambda r: (
        r.summary.next_owed is None,
        r.summary.steps[-1].state != STALE,
        -sum(s.state == "done" for s in r.summary.steps),
        r.publishing or date.max,
    )


def _buys(rows: Sequence[CoverageRow]) -> tuple[Buy, ...]:
    """Baselines that would serve two or more applications that have no verdict yet, those that serve most first."""
    wanting: dict[tuple[int, int], list[Application]] = {}
    for row in rows:
        if row.summary.verdict is None or row.summary.steps[4].state == STALE:
            wanting.setdefault((row.application.vehicle_id, row.application.stock_revision_id), []).append(
                row.application
            )
    found = [Buy(a[0].stock_revision.title, a[0].vehicle.name, tuple(a)) for a in wanting.values() if len(a) > 1]
    return tuple(sorted(found, key=lambda buy: -len(buy.serves))[:3])


def _money(db: Session) -> dict[int, float]:
    """What is still to be spent on each application: other cost and hours of work of everything that is open."""
    hours = func.coalesce(Owed.hours, 0.0) * func.coalesce(User.rate, 0.0)
    query = select(Owed.application_id, func.sum(func.coalesce(Owed.cost, 0.0) + hours)).outerjoin(
        User, User.id == Owed.who_id
    )
    query = query.where(Owed.closed_at.is_(None), Owed.application_id.is_not(None)).group_by(Owed.application_id)
    return {number: float(total or 0.0) for number, total in db.execute(query) if number is not None}


def _applications(db: Session, filters: Filters) -> list[Application]:
    query = (
        select(Application)
        .join(Application.revision)
        .join(Revision.product)
        .join(Application.vehicle)
        .options(
            contains_eager(Application.revision).contains_eager(Revision.product),
            contains_eager(Application.vehicle),
            joinedload(Application.stock_revision).joinedload(Revision.product),
        )
        .order_by(Application.id)
    )
    for column, wanted in ((Product.family, filters.family), (Product.side, filters.side), (Vehicle.use, filters.use)):
        if wanted:
            query = query.where(column == wanted)
    held = func.concat_ws(" ", Product.name, Revision.name, Vehicle.name, Vehicle.years)
    for word in filters.q.split()[:MOST_WORDS]:
        query = query.where(held.icontains(word, autoescape=True))
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


@dataclass(frozen=True)
class Hits:
    """What a search found."""

    applications: list[Application]
    reckonings: list[Reckoning]


def search(db: Session, text: str) -> Hits:
    """Applications and reckonings that hold every word: in names, family, side, engine, use; in titles, questions, inputs."""
    if not text.strip():
        return Hits([], [])
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
    return Hits(list(db.scalars(query)), calculations)


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
        with work.savepoint():
            work.add(application)
    except IntegrityError:
        raise InputError("This revision already has an application on this vehicle.", "revision_id") from None
    first_variants(work, application)
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


MOST_VIEWS = 20


def views_of(db: Session, person: User) -> list[SavedView]:
    """The ways of looking that somebody keeps, by name."""
    return list(db.scalars(select(SavedView).where(SavedView.user_id == person.id).order_by(SavedView.name)))


def save_view(work: UnitOfWork, name: str, query: str) -> SavedView:
    """Keep a way of looking by name; the same name again takes its place. Raises InputError for no name, or too many."""
    tidy = " ".join(name.split())[:60]
    if not tidy:
        raise InputError("Give this view a name.", "name")
    mine = views_of(work, work.actor)
    found = next((v for v in mine if v.name == tidy), None)
    if found is None and len(mine) >= MOST_VIEWS:
        raise InputError(f"At most {MOST_VIEWS} views: forget one first.", "name")
    view = found or SavedView(user_id=work.actor.id, name=tidy)
    view.query = query[:400]
    work.add(view)
    work.flush()
    return view


def forget_view(work: UnitOfWork, number: int) -> None:
    """Forget one of one's own ways of looking."""
    view = work.get(SavedView, number)
    if view is not None and view.user_id == work.actor.id:
        work.delete(view)
        work.flush()
