"""Loads the demo: the Gannet application finished, the Petrel application half-way, the Crest application opened."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.demo import bench, geometry, parts, paths, standin, wheel
from longbreath.demo.parts import q
from longbreath.demo.people import PASSWORD, PEOPLE
from longbreath.dossier import claim as claims
from longbreath.dossier import coverage, library, people, plan
from longbreath.dossier import predict as predictions
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.sources import remember
from longbreath.dossier.weigh import refresh_verdict
from longbreath.formats import mapping as mapped
from longbreath.formats.table import read_table
from longbreath.store.database import Database, acting
from longbreath.store.models import Application, Bench, Dyno, Revision, TestCard, User


class Shop:
    """The people, benches and dynos that every application of the demo uses."""

    def __init__(self, db: Session) -> None:
        acting(db, None)
        everybody = [people.add_person(db, p.name, p.email, p.role, PASSWORD) for p in PEOPLE]
        self.tester, self.approver = everybody[0], everybody[1]
        acting(db, self.tester)
        self.bench = bench.add_bench(db, self.tester)
        self.dyno = library.add_dyno(
            db, name="Roller dyno, cell 1", measured_at="wheel", repeatability=q("0.9 N·m", "torque"),
            repeatability_source="12 repeats of the shop Heron, 3 Mar 2026",
        )  # fmt: skip


def connect_bench(url: str, device_url: str) -> None:
    """Say where the demo's live bench answers."""
    database = Database(url)
    with database.session() as db, db.begin():
        acting(db, None)
        found = db.scalar(select(Bench).order_by(Bench.id).limit(1))
        if found is not None and found.device_url != device_url:
            found.device_url = device_url
    database.engine.dispose()


def load_demo(url: str) -> None:
    """Load the demo once; nothing happens if anybody is known already."""
    database = Database(url)
    with database.session() as db, db.begin():
        if db.scalar(select(User.id).limit(1)) is not None:
            return
        shop = Shop(db)
        stock = library.add_product(
            db, "stock", "", name="Heron stock manifold", family="manifold", side="intake", is_stock=True
        )
        throttle = library.add_product(
            db, "stock", "", name="Heron stock throttle body", family="throttle body", side="intake", is_stock=True
        )
        heron = library.add_vehicle(db, **parts.HERON)
        gannet = library.add_product(
            db,
            "rev C",
            "as cast, runners hand-finished",
            name="Gannet long-runner manifold",
            family="manifold",
            side="intake",
            is_stock=False,
        )
        petrel = library.add_product(
            db,
            "rev A",
            "machined",
            name="Petrel 66 mm throttle body",
            family="throttle body",
            side="intake",
            is_stock=False,
        )
        finished = coverage.open_application(db, heron.id, gannet.id, stock.id)
        _finish_gannet(db, shop, finished, bench.gannet_story)
        acting(db, shop.tester, finished.id)
        geometry.gannet(db, finished, shop.tester)
        acting(db, shop.tester)
        half = coverage.open_application(db, heron.id, petrel.id, throttle.id)
        _begin_petrel(db, shop, half)
        geometry.petrel(db, half, shop.tester)
        acting(db, shop.tester)
        _elbow(db, shop)
        acting(db, shop.tester)
        _open_crest(db, shop)
        _timed(db, shop)
    database.engine.dispose()


def _elbow(db: Session, shop: Shop) -> None:
    """The courier van's inlet elbow: measured on the bench alone."""
    stock = library.add_product(
        db, "stock", "", name="Parcel stock elbow", family="inlet elbow", side="intake", is_stock=True
    )
    cast = library.add_product(
        db, "rev B", "as cast", name="Parcel cast inlet elbow", family="inlet elbow", side="intake", is_stock=False
    )
    parcel = library.add_vehicle(db, **parts.PARCEL)
    application = coverage.open_application(db, parcel.id, cast.id, stock.id)
    acting(db, shop.tester, application.id)
    lay_path(db, application, paths.ELBOW)
    bench.elbow_story(db, application, shop.bench, shop.tester)


def lay_path(db: Session, application: Application, elements: Sequence[dict[str, Any]]) -> None:
    """Measure the elements of a path, from mouth to tail."""
    for values in elements:
        db.add(path_verbs.save_element(db, application, None, **values))
    db.flush()


def _open_crest(db: Session, shop: Shop) -> None:
    """An application of which only the path is measured."""
    stock = library.add_product(
        db, "stock", "", name="Drover stock manifold", family="manifold", side="intake", is_stock=True
    )
    crest = library.add_product(
        db, "rev B", "as cast", name="Crest open-plenum manifold", family="manifold", side="intake", is_stock=False
    )
    drover = library.add_vehicle(db, **parts.DROVER)
    application = coverage.open_application(db, drover.id, crest.id, stock.id)
    acting(db, shop.tester, application.id)
    lay_path(db, application, paths.CREST)


def _timed(db: Session, shop: Shop) -> None:
    """The kart's tuned pipe with its disc, and the rotary's port inserts: measured with the degree wheel."""
    for vehicle, product, family, side, elements, story in (
        (
            parts.SKIM,
            ("Skim pipe", "rev C", "Skim stock pipe"),
            "tuned pipe",
            "exhaust",
            paths.SKIM,
            wheel.skim,
        ),
        (
            parts.DUET,
            ("Duet port inserts", "S2", "Duet stock ports"),
            "port inserts",
            "intake",
            paths.DUET,
            wheel.duet,
        ),
    ):
        acting(db, shop.tester)
        name, revision, stock_name = product
        stock = library.add_product(db, "stock", "", name=stock_name, family=family, side=side, is_stock=True)
        part = library.add_product(db, revision, "as welded" if side == "exhaust" else "machined", name=name, family=family,
                                   side=side, is_stock=False)  # fmt: skip
        application = coverage.open_application(db, library.add_vehicle(db, **vehicle).id, part.id, stock.id)
        application.approval = "closed_course"
        acting(db, shop.tester, application.id)
        lay_path(db, application, elements)
        story(db, application, shop.tester)


def _finish_gannet(
    db: Session, shop: Shop, application: Application, before: Callable[..., None] | None = None
) -> None:
    acting(db, shop.tester, application.id)
    lay_path(db, application, paths.GANNET)
    if before is not None:
        before(db, application, shop.bench, shop.tester, _sections(db, application))
    bench.gannet_sweep(db, application, shop.bench, shop.tester, _sections(db, application))
    _predict(db, shop, application, "Torque moves down: a few lb-ft more near 4,000 rpm, and a little less above 6,000. "
             "The runner is 69 mm longer at nearly the same section.")  # fmt: skip
    card = _card(db, application, shop.dyno, "tune, fuel, throttle body, gaskets new on both sides")
    pulled(db, application, card, shop.tester)
    application.approval, application.approval_note = "closed_course", ""
    db.flush()
    publish(db, application, shop)


def _sections(db: Session, application: Application) -> dict[str, Any]:
    """The runner or throttle in which each trace's velocity is taken, by label."""
    found = {e.belongs_to: e for e in predictions.sections(db, application.id) if e.kind in ("runner", "throttle")}
    return {label: found.get(label) or next(iter(found.values())) for label in ("A", "B")}


def _predict(db: Session, shop: Shop, application: Application, expects: str) -> None:
    section = predictions.sections(db, application.id)[0]
    given = predictions.usual(application.vehicle, section)
    figures = predictions.answers(application, section, given)
    predictions.keep_prediction(db, application, shop.tester, predictions.as_inputs(given), figures, expects)


def _card(db: Session, application: Application, dyno: Dyno, same: str) -> TestCard:
    card = plan.save_card(
        db, application, None, dyno_id=dyno.id, a_is=application.stock_revision.title, b_is=application.revision.title,
        held=f"4th gear, tyres 2.4 bar, coolant 88 to 92 °C at the start, bonnet shut, fan on; {same}",
        also_changed="nothing", pulls_per_set=3, effect_wanted=q("2 lb-ft", "torque"),
        mixture_target=0.88, mixture_tolerance=0.03,
    )  # fmt: skip
    card.dyno = dyno
    db.flush()
    return card


def pulled(db: Session, application: Application, card: TestCard, tester: User, seed: int = 100) -> None:
    """Ten pulls, A-B-A; the seventh ran rich and is out."""
    session = pull_verbs.open_session(
        db, application, card, held_on=date(2026, 5, 14), temperature=q("21 C", "temperature"),
        pressure=q("1006 hPa", "barometer"), humidity=0.48, standard="sae_j1349", already_corrected=False, gear="4th gear",
    )  # fmt: skip
    for place, label in enumerate("AAABBBBAAA", start=1):
        effect = standin.gannet_effect if label == "B" else None
        logged = standin.pull(seed + place, effect, place, mixture=0.76 if place == 7 else 0.88)
        data = standin.as_us_csv(logged, f"pull {place}")
        file = pull_verbs.receive(db, session, tester, f"gannet-{place:02}.csv", data)
        chosen = mapped.guess(read_table(data))
        remember(db, file.fingerprint, file.filename, mapped.to_json(chosen))
        pull_verbs.record(db, application, file, chosen, place, label, tester)
    db.expire(session, ["pulls"])
    refresh_verdict(db, application)
    db.flush()


def publish(db: Session, application: Application, shop: Shop) -> None:
    """Draft, submit and approve the claim that the verdict allows."""
    evidence = claims.evidence(db, application, [])
    statement, trade_off = claims.drafted(application, evidence)
    drafted = claims.draft(db, application, shop.tester, evidence, statement, trade_off)
    claims.submit(drafted, claims.gates(application, evidence, drafted))
    db.flush()
    acting(db, shop.approver, application.id)
    claims.approve(application, evidence, drafted, shop.approver)
    db.flush()


def _begin_petrel(db: Session, shop: Shop, application: Application) -> None:
    acting(db, shop.tester, application.id)
    lay_path(db, application, paths.PETREL)
    bench.petrel_sweep(db, application, shop.bench, shop.tester, _sections(db, application))
    bench.petrel_alone(db, application, shop.bench, shop.tester)
    _predict(
        db,
        shop,
        application,
        "Nothing below 5,000 rpm; a little more at the top, where the throttle is the narrowest place.",
    )
    _card(db, application, shop.dyno, "tune, fuel, manifold, gaskets new on both sides")


def load_many(url: str, times: int) -> None:
    """Lay the finished application down many times over eight vehicles, for measuring speed."""
    database = Database(url)
    with database.session() as db, db.begin():
        shop = Shop(db)
        stock = library.add_product(
            db, "stock", "", name="Heron stock manifold", family="manifold", side="intake", is_stock=True
        )
        vehicles = [
            library.add_vehicle(db, **{**parts.HERON, "name": f"Brackwater Heron {n}"}) for n in range(1, 9)
        ]
        revision: Revision | None = None
        for number in range(times):
            if number % 8 == 0:
                revision = library.add_product(
                    db,
                    "rev A",
                    "",
                    name=f"Gannet {number // 8 + 1}",
                    family="manifold",
                    side="intake",
                    is_stock=False,
                )
            assert revision is not None
            application = coverage.open_application(db, vehicles[number % 8].id, revision.id, stock.id)
            _finish_gannet(db, shop, application)
            acting(db, shop.tester, application.id)
            geometry.gannet(db, application, shop.tester)
    database.engine.dispose()
