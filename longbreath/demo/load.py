"""Loads the demo: the Gannet application finished, the Petrel application half-way, others measured in part."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from sqlalchemy import select

from longbreath.demo import (
    bench,
    cell_days,
    claims,
    geometry,
    parts,
    paths,
    paths_others,
    plans,
    reckon,
    visits,
    weighing,
    wheel,
)
from longbreath.demo.days import work_day
from longbreath.demo.parts import q
from longbreath.demo.people import PASSWORD, PEOPLE
from longbreath.dossier import coverage, library
from longbreath.dossier import people as people_dossier
from longbreath.dossier.claim.verbs import state_approval
from longbreath.dossier.evidence.verdict import renew
from longbreath.dossier.library import ProductCard, VehicleCard
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.plan import cards
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.reckon.records import sections
from longbreath.store.database import Database
from longbreath.store.models import Application, Dyno, Revision, TestCard, Vehicle
from longbreath.store.unit_of_work import UnitOfWork, working

OPENED = date(2026, 3, 2)
"""The day on which the shop of the demo began to keep its records."""


class Shop:
    """The people, benches and dynos that every application of the demo uses."""

    def __init__(self, db: UnitOfWork) -> None:
        work_day(db, OPENED)
        everybody = [
            people_dossier.add_person(db, people_dossier.NewPerson(p.name, p.email, p.role, PASSWORD)) for p in PEOPLE
        ]
        self.tester, self.approver, self.admin = everybody[0], everybody[1], everybody[3]
        db.act_as(self.tester)
        self.bench = bench.add_bench(db)
        work_day(db, date(2026, 3, 3))
        card = library.DynoCard(
            "Roller dyno, cell 1",
            "wheel",
            q("0.9 N·m", "torque"),
            "12 repeats of the shop Heron, the manifold off and on again after each second one, 3 Mar 2026",
            q("0.15 N·m", "torque"),
            5,
        )
        self.dyno = library.add_dyno(db, card)
        self.kart_dyno = plans.kart_dyno(db)
        self.house = plans.furnish(db, self.dyno)
        db.act_as(self.admin)
        claims.rules(db)
        db.act_as(self.tester)


def connect(url: str, devices: Mapping[str, str]) -> None:
    """Say where the demo's stand-ins answer, by what they stand in for."""
    database = Database(url)
    with working(database.session) as db:
        library.connect_devices(db, devices, "of the demo")
    database.engine.dispose()


def quiet(words: str) -> None:
    """Tell nobody how far it is."""


def load_demo(url: str, say: Callable[[str], None] = quiet) -> None:
    """Load the demo once; nothing happens if anybody is known already. say: is told of each stage as it begins."""
    database = Database(url)
    with working(database.session) as db:
        if not people_dossier.anybody_known(db):
            _tell(db, say)
    database.engine.dispose()


def _tell(db: UnitOfWork, say: Callable[[str], None]) -> None:
    say("the shop, its people and its instruments")
    shop = Shop(db)
    manifold, throttle_body = ("manifold", "intake"), ("throttle body", "intake")
    stock = _stock(db, "Heron stock manifold", *manifold)
    throttle = _stock(db, "Heron stock throttle body", *throttle_body)
    heron = library.add_vehicle(db, parts.HERON)
    state = geometry.GANNET_STATE
    gannet = library.add_product(db, ProductCard("Gannet long-runner manifold", *manifold, "rev C", state))
    petrel = library.add_product(db, ProductCard("Petrel 66 mm throttle body", *throttle_body, "rev A", "machined"))
    say("the Gannet manifold, from the bench to its claim")
    work_day(db, date(2026, 4, 7))
    finished = coverage.open_application(db, heron.id, gannet.id, stock.id)
    _finish_gannet(db, shop, finished, bench.gannet_story)
    db.act_as(shop.tester, finished.id)
    geometry.gannet(db, finished)
    reckon.heron_candidates(db, finished)
    reckon.price(db, {gannet.id: ("590", "shelf"), stock.id: ("410", "order")})
    say("the Petrel throttle body, half-way")
    _turn_to(db, shop, date(2026, 9, 21))
    half = coverage.open_application(db, heron.id, petrel.id, throttle.id)
    _begin_petrel(db, shop, half)
    geometry.petrel(db, half)
    say("the van's elbow, the pick-up's manifold, the kart and the coupe")
    _turn_to(db, shop, date(2026, 6, 11))
    _elbow(db, shop)
    _turn_to(db, shop, date(2026, 10, 5))
    _open_crest(db, shop)
    _timed(db, shop)
    say("the downpipe: a factorial of boost")
    _turn_to(db, shop, date(2026, 10, 12))
    _boosted(db, shop)
    say("kits, trials, and a day that went wrong")
    _turn_to(db, shop, date(2026, 10, 15))
    _weigh(db, shop, throttle, heron)
    work_day(db, date(2026, 11, 16))
    db.act_as(shop.tester)
    plans.pieces(db, gannet, shop.house, heron)
    plans.health(db, shop.house, heron)
    plans.old_table(db)
    plans.known_scatter(db, shop.dyno, date(2026, 11, 16))
    say("what is owed, and claims in every state")
    plans.promise(db, shop.tester, shop.approver, date.today())
    claims.story(db, shop.tester, shop.approver, date.today())


def _weigh(db: UnitOfWork, shop: Shop, throttle: Revision, heron: Vehicle) -> None:
    """What is weighed beyond one pair: kits, a day that went wrong, trials."""
    by_name = {a.product.name: a for a in db.scalars(select(Application))}
    drover = by_name["Crest open-plenum manifold"].vehicle
    dossiers = weighing.inlet_kits(db, shop.dyno, drover, date(2026, 10, 20))
    wrong = weighing.wrong_day(db, shop.dyno, throttle, heron)
    weighing.parcel_trials(db, by_name["Parcel cast inlet elbow"])
    bittern = by_name["Bittern downpipe 76 mm"]
    pipe = weighing.downpipe(db, shop.dyno, bittern.stock_revision, bittern.vehicle)
    path_of = [(dossier, paths_others.CREST) for dossier in dossiers]
    for application, elements in (*path_of, (wrong, paths.PETREL), (pipe, paths_others.BITTERN)):
        db.act_as(shop.tester, application.id)
        lay_path(db, application, elements)


def _turn_to(db: UnitOfWork, shop: Shop, day: date) -> None:
    """The tester turns to another dossier on a day."""
    work_day(db, day)
    db.act_as(shop.tester)


def _stock(db: UnitOfWork, name: str, family: str, side: str) -> Revision:
    return library.add_product(db, ProductCard(name, family, side, "stock", is_stock=True))


def _open(db: UnitOfWork, shop: Shop, vehicle: VehicleCard, part: ProductCard, stock_name: str) -> Application:
    """A new application with its vehicle, part and stock part; the tester goes on with it."""
    stock = _stock(db, stock_name, part.family, part.side)
    revision = library.add_product(db, part)
    application = coverage.open_application(db, library.add_vehicle(db, vehicle).id, revision.id, stock.id)
    db.act_as(shop.tester, application.id)
    return application


def _elbow(db: UnitOfWork, shop: Shop) -> None:
    """The courier van's inlet elbow: measured on the bench alone."""
    part = ProductCard("Parcel cast inlet elbow", "inlet elbow", "intake", "rev B", "as cast")
    application = _open(db, shop, parts.PARCEL, part, "Parcel stock elbow")
    lay_path(db, application, paths_others.ELBOW)
    bench.elbow_story(db, application, shop.bench)
    card = plans.plain_card(db, application, shop.dyno, "4 lb-ft", control_mode="boost free", returns=True)
    cell_days.parcel(db, application, card)


def lay_path(db: UnitOfWork, application: Application, elements: Sequence[path_verbs.ElementCard]) -> None:
    """Measure the elements of a path, from mouth to tail."""
    for card in elements:
        path_verbs.save_element(db, application, None, card)


def _open_crest(db: UnitOfWork, shop: Shop) -> None:
    """An application of which only the path is measured."""
    part = ProductCard("Crest open-plenum manifold", "manifold", "intake", "rev B", "as cast")
    application = _open(db, shop, parts.DROVER, part, "Drover stock manifold")
    lay_path(db, application, paths_others.CREST)
    reckon.drover_candidates(db, application)
    card = plans.plain_card(
        db,
        application,
        shop.dyno,
        "5 lb-ft",
        fittings=2,
        held="3rd gear, converter locked, tyres 3.0 bar, bonnet shut, fan on",
    )
    visits.crest(db, application, card, date(2026, 10, 8))
    cell_days.crest(db, application, card)


def _boosted(db: UnitOfWork, shop: Shop) -> None:
    """The turbocharged Heron with a larger downpipe: its path measured, its boost reckoned."""
    part = ProductCard("Bittern downpipe 76 mm", "downpipe", "exhaust", "rev A", "as welded")
    application = _open(db, shop, parts.HERON_T, part, "Heron 2.0T stock downpipe")
    lay_path(db, application, paths_others.BITTERN)
    reckon.boosted_answers(db, application)
    card = plans.factorial(db, application, shop.dyno, shop.house)
    plans.fill_half(db, application, card, shop.house, date(2026, 11, 10))
    cell_days.bittern(db, application, card)


def _timed(db: UnitOfWork, shop: Shop) -> None:
    """The kart's tuned pipe with its disc, and the rotary's port inserts: measured with the degree wheel."""
    pipe = ProductCard("Skim pipe", "tuned pipe", "exhaust", "rev C", "as welded")
    inserts = ProductCard("Duet port inserts", "port inserts", "intake", "S2", "machined")
    for day, vehicle, part, stock, elements, stories in (
        (date(2026, 7, 1), parts.SKIM, pipe, "Skim stock pipe", paths_others.SKIM, (wheel.skim, reckon.skim_answers)),
        (
            date(2026, 8, 17),
            parts.DUET,
            inserts,
            "Duet stock ports",
            paths_others.DUET,
            (wheel.duet, reckon.duet_candidates),
        ),
    ):
        _turn_to(db, shop, day)
        application = _open(db, shop, vehicle, part, stock)
        state_approval(db, application, "closed_course", "")
        lay_path(db, application, elements)
        for story in stories:
            story(db, application)
        held = "one sprocket, tyres as marked, cell door open, fan on"
        dyno = shop.kart_dyno if vehicle is parts.SKIM else shop.dyno
        card = plans.plain_card(db, application, dyno, "1 lb-ft", held, consumables="flange gasket: look up the torque")
        if vehicle is parts.SKIM:
            visits.skim(db, application, card, date(2026, 7, 9))
        else:
            cell_days.duet(db, application, card)


def _finish_gannet(
    db: UnitOfWork, shop: Shop, application: Application, before: Callable[..., None] | None = None
) -> None:
    db.act_as(shop.tester, application.id)
    lay_path(db, application, paths.GANNET)
    reckon.gannet_air(db, application)
    if before is not None:
        before(db, application, shop.bench, _sections(db, application))
    bench.gannet_sweep(db, application, shop.bench, _sections(db, application))
    work_day(db, date(2026, 5, 12))
    reckon.gannet_said(db, application, (shop.approver, shop.admin))
    card = write_card(db, application, shop.dyno, "tune, fuel, throttle body, gaskets new on both sides")
    geometry.gannet_builds(db, application, date(2026, 5, 12))
    pulled(db, application, card)
    claims.closed_course(db, application, "every one from GL-0031 on")
    work_day(db, date(2026, 5, 18))
    publish(db, application, shop)


def _sections(db: UnitOfWork, application: Application) -> dict[str, Any]:
    """The runner or throttle in which each trace's velocity is taken, by label."""
    found = {e.belongs_to: e for e in sections(db, application.id) if e.kind in ("runner", "throttle")}
    return {label: found.get(label) or next(iter(found.values())) for label in ("A", "B")}


def _predict(db: UnitOfWork, application: Application, expects: str) -> None:
    reckon.by_hand(db, application, expects, reckon.MIDDLE_MORE)


def write_card(db: UnitOfWork, application: Application, dyno: Dyno, same: str) -> TestCard:
    """The test card of an application on the shop's dyno; `same` is what is held beside the usual."""
    draft = cards.CardDraft(
        dyno_id=dyno.id,
        held=f"4th gear, tyres 2.4 bar, coolant 88 to 92 °C at the start, bonnet shut, fan on; {same}",
        also_changed="nothing",
        pulls_per_set=3,
        effect_wanted=q("2 lb-ft", "torque"),
        mixture_target=0.88,
    )
    return cards.save_card(db, application, None, draft)


def pulled(
    db: UnitOfWork, application: Application, card: TestCard, seed: int = 100, day: date = date(2026, 5, 14)
) -> None:
    """Ten pulls of one day, A-B-A."""
    work_day(db, day, hour=14)
    visit = pull_verbs.DynoSessionCard(
        held_on=day,
        temperature=q("21 C", "temperature"),
        pressure=q("1006 hPa", "barometer"),
        humidity=0.48,
        standard="sae_j1349",
        gear="4th gear",
    )
    session = pull_verbs.open_session(db, application, card, visit)
    visits.gannet(db, application, session, seed)
    db.expire(session, ["pulls"])
    renew(db, application)
    db.flush()


def publish(db: UnitOfWork, application: Application, shop: Shop) -> None:
    """Draft, submit and approve the claim that the verdict allows."""
    claims.publish(db, application, shop.approver, "torque")


def _begin_petrel(db: UnitOfWork, shop: Shop, application: Application) -> None:
    db.act_as(shop.tester, application.id)
    lay_path(db, application, paths.PETREL)
    bench.petrel_sweep(db, application, shop.bench, _sections(db, application))
    bench.petrel_alone(db, application, shop.bench)
    words = "Nothing below 5,000 rpm; a little more at the top, where the throttle is the narrowest place."
    said = (
        ("-1 lb-ft", "0 lb-ft", "1 lb-ft"),
        ("-1 lb-ft", "0.3 lb-ft", "1.5 lb-ft"),
        ("0.5 lb-ft", "2 lb-ft", "4 lb-ft"),
    )
    reckon.by_hand(db, application, words, said)
    card = write_card(db, application, shop.dyno, "tune, fuel, manifold, gaskets new on both sides")
    cell_days.petrel(db, application, card)


def load_many(url: str, times: int) -> None:
    """Lay the finished application down many times over eight vehicles, for measuring speed."""
    database = Database(url)
    with working(database.session) as db:
        shop = Shop(db)
        stock = _stock(db, "Heron stock manifold", "manifold", "intake")
        named = (replace(parts.HERON, name=f"Brackwater Heron {n}") for n in range(1, 9))
        vehicles = [library.add_vehicle(db, card) for card in named]
        revision = stock
        for number in range(times):
            if number % 8 == 0:
                part = ProductCard(f"Gannet {number // 8 + 1}", "manifold", "intake", "rev A", geometry.GANNET_STATE)
                revision = library.add_product(db, part)
            application = coverage.open_application(db, vehicles[number % 8].id, revision.id, stock.id)
            _finish_gannet(db, shop, application)
            db.act_as(shop.tester, application.id)
            geometry.gannet(db, application)
        on_it = select(Application.revision_id).where(Application.vehicle_id == application.vehicle_id)
        reckon.twelve_candidates(db, application, list(db.scalars(on_it.order_by(Application.id).limit(8))))
    database.engine.dispose()
