"""The plans of the demo: cards of every application, a factorial half filled, what is owed, and a late part."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

import numpy as np
from sqlalchemy import select

from longbreath.core.air.correction import UNCORRECTED
from longbreath.core.basis.constants import RPM
from longbreath.core.plan import designs
from longbreath.core.plan.conditions import CHECKLISTS
from longbreath.core.plan.designs import Factor
from longbreath.demo import standin, visits
from longbreath.demo.days import work_day
from longbreath.demo.parts import q
from longbreath.dossier import health as health_log
from longbreath.dossier import library, shop
from longbreath.dossier.plan import cards, variants
from longbreath.dossier.plan.scatter import fit_scatter
from longbreath.dossier.programme import raised, register
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.store.base import Base
from longbreath.store.models import (
    Application,
    Cell,
    Checklist,
    Dyno,
    FuelBatch,
    OutsideTable,
    Owed,
    Revision,
    Sample,
    Sensor,
    TestCard,
    TestEngine,
    TuneFile,
    User,
    Vehicle,
)
from longbreath.store.unit_of_work import UnitOfWork

HELD = "4th gear, tyres 2.4 bar, bonnet shut, fan on"


@dataclass(frozen=True)
class House:
    """What the shop keeps that cards name."""

    cell: Cell
    sensor: Sensor
    tune: TuneFile
    engine: TestEngine


def furnish(db: UnitOfWork, dyno: Dyno) -> House:
    """The cell, a test engine, a tune, fuel, sensors and the lists of the house."""
    cell = Cell()
    shop.save_kept(db, cell, shop.CellCard("Cell 1", 450, 1080, "12345", 95.0, "roller dyno, extraction 6,000 m³/h"))
    dyno.kind, dyno.channels, dyno.cell_id, dyno.cell = (
        "roller with brake",
        "λ, manifold pressure, oil and coolant",
        cell.id,
        cell,
    )
    dyno.calibrated_on, dyno.calibration_due = date(2026, 1, 12), date(2027, 1, 11)
    sensor = Sensor()
    low, high = q("0 kPa", "pressure"), q("300 kPa", "pressure")
    shop.save_kept(db, sensor, shop.SensorCard("P-14", "manifold pressure", low, high, due_on=date(2026, 12, 15)))
    tune = TuneFile()
    shop.save_kept(
        db,
        tune,
        shop.TuneCard(
            "H20T-stage-0",
            "the shop",
            shop.digest_of(b"H20T-stage-0"),
            "manifold 0 to 3 bar absolute",
            "stock, 420 cm³/min at 3 bar",
        ),
    )
    engine = TestEngine()
    told = {"repairs": "none", "ring_gaps": "0.30 / 0.35 mm", "gaskets": "stock, new Feb 2026"}
    shop.save_kept(
        db,
        engine,
        shop.EngineCard(
            "H20-0417", "Heron 2.0", breakaway=q("31 N·m", "torque"), running=q("17 N·m", "torque"), **told
        ),
        "serial",
    )
    fuel = FuelBatch()
    shop.save_kept(db, fuel, shop.FuelCard("98, delivery of 2 May", "98", date(2026, 5, 2), q("744 kg/m3", "density")))
    for family, lines in CHECKLISTS.items():
        shop.save_kept(db, Checklist(), shop.ChecklistCard(family, tuple(lines)), "family")
    return House(cell, sensor, tune, engine)


def kart_dyno(db: UnitOfWork) -> Dyno:
    """A small roller that logs nothing but speeds."""
    card = library.DynoCard("Kart roller", "wheel", q("0.12 N·m", "torque"), "10 repeats of the shop kart, 4 Mar 2026")
    dyno = library.add_dyno(db, card)
    dyno.kind, dyno.channels = "roller inertia", "speeds alone"
    dyno.roller_inertia, dyno.roller_radius = visits.KART_INERTIA, q("110 mm", "length")
    return dyno


def health(db: UnitOfWork, house: House, heron: Vehicle) -> None:
    """What was looked at on the shop's engines."""
    carrier = health_log.Carrier(engine=house.engine)
    bars = ("13.1 bar", "13.0 bar", "13.2 bar", "13.0 bar")
    for day, kind, figures in (
        (date(2026, 3, 3), "compression", tuple(q(bar, "pressure") for bar in bars)),
        (date(2026, 3, 3), "leak_down", (0.05, 0.06, 0.05, 0.07)),
    ):
        health_log.add_entry(db, carrier, health_log.HealthCard(day, kind, figures))
    own = health_log.Carrier(vehicle=heron)
    told = "plugs tan, gaps 0.8 mm, all four alike"
    health_log.add_entry(db, own, health_log.HealthCard(date(2026, 5, 12), "plugs", (), told))


def old_table(db: UnitOfWork) -> None:
    """A comparison typed in from a magazine that the shop made up: useful, charted, unable to back a claim."""
    rpm = np.array([2000.0, 2800.0, 3600.0, 4400.0, 5200.0, 6000.0, 6800.0])
    stock = standin.heron_torque(rpm) * 0.97
    rows = tuple(
        (float(s * RPM), float(a), float(a + b))
        for s, a, b in zip(rpm, stock, standin.gannet_effect(rpm) * 2.1, strict=True)
    )
    card = shop.TableCard(
        "Long runners on a two-litre four",
        "The Intake Quarterly, made up, 2019",
        "published",
        "an engine dyno, another two-litre",
        "advertises the maker of the part",
        ("stock", "long runner"),
        rows,
    )
    shop.save_kept(db, OutsideTable(), card)


def plain_card(
    db: UnitOfWork, application: Application, dyno: Dyno, effect: str, held: str = HELD, **more: Any
) -> TestCard:
    """An A-B-A card of an application on the shop's dyno."""
    draft = cards.CardDraft(
        dyno_id=dyno.id,
        held=held,
        also_changed="nothing",
        pulls_per_set=3,
        effect_wanted=q(effect, "torque"),
        tune_mode="one tune",
        window={"coolant": [q("88 °C", "temperature"), q("92 °C", "temperature")]},
        brings=(("Mara Arden", "gasket set"),),
        consumables="gaskets new on both sides",
        times={"swap": 45.0},
    )
    return cards.save_card(db, application, None, replace(draft, **more))


SETTINGS = ("spring alone = 55 kPa", "30 % = 80 kPa", "55 % = 105 kPa")


def factorial(db: UnitOfWork, application: Application, dyno: Dyno, house: House) -> TestCard:
    """Downpipe × charge pipes × three settings of the controller on the 2.0T; half of it is filled."""
    for letter in ("A", "B"):
        variant = next(v for v in variants.variants_of(db, application.id) if v.letter == letter)
        parts = tuple(variants.PartCard(p.revision_id, finish=p.finish) for p in variant.parts)
        variants.save_variant(db, application, variant, variants.VariantCard(parts, tune_id=house.tune.id))
    factors = (
        Factor("Downpipe", 50.0, (application.stock_revision.title, application.revision.title)),
        Factor("Charge pipes", 35.0, ("stock charge pipes", "Bittern charge-pipe pair")),
        Factor("Controller", 2.0, SETTINGS),
    )
    limits = {
        "boost": q("1.35 bar", "pressure"),
        "lean": 0.86,
        "knock": "two counts in a pull",
        "coolant": q("104 °C", "temperature"),
        "oil": q("130 °C", "temperature"),
        "exhaust": q("940 °C", "temperature"),
        "injector_duty": 0.85,
        "weakest_torque": q("420 N·m", "torque"),
        "weakest": "clutch, by its maker’s sheet",
        "sensor_id": house.sensor.id,
        "spring": q("55 kPa", "pressure"),
        "station": q("1006 hPa", "barometer"),
    }
    return plain_card(
        db,
        application,
        dyno,
        "6 lb-ft",
        design=designs.FACTORIAL,
        factors=factors,
        control_mode="boost free",
        pulls_per_set=2,
        mixture_target=0.82,
        limits=limits,
        seed=4,
        consumables="downpipe gasket, new each swap; flange nuts: look up the torque\ncharge-pipe clamps: 6 N·m by their sheet",
        brings=(("Mara Arden", "downpipe gaskets, four"), ("Pipe bender", "charge-pipe pair, second sample")),
    )


def fill_half(db: UnitOfWork, application: Application, card: TestCard, house: House, day: date) -> None:
    """The first half of the factorial, pulled in the order of the card."""
    work_day(db, day, hour=10)
    visit = pull_verbs.DynoSessionCard(
        day, q("17 C", "temperature"), q("1009 hPa", "barometer"), 0.52, UNCORRECTED, gear="4th gear"
    )
    session = pull_verbs.open_session(db, application, card, visit)
    visits.bittern(db, application, session, card, card.order[: len(card.order) // 2])
    db.expire(session, ["pulls"])
    pull_verbs.renew_served(db, session)


def promise(db: UnitOfWork, tester: User, approver: User, today: date) -> None:
    """Who owes what by when, over all applications; one part is late and moves a publishing day."""
    tester.skills, tester.rate, approver.skills, approver.rate = "dyno, bench, tuning", 48.0, "approving", 65.0
    for application in db.scalars(select(Application).order_by(Application.id)).all():
        db.act_as(tester, application.id)
        raised.settle(db, application)
    db.act_as(tester)
    raised.settle_house(db, today)
    days = {
        "measurement": 4,
        "figure": 6,
        "other": 8,
        "dyno": 20,
        "weighing": 24,
        "approval": 28,
        "reason": 10,
        "part": 9,
        "tune": 7,
    }
    first = db.scalar(select(Application.id).order_by(Application.id).limit(1)) or 0
    for number, thing in enumerate(
        db.scalars(select(Owed).where(Owed.closed_at.is_(None), Owed.due_on.is_(None)).order_by(Owed.id)).all()
    ):
        thing.who_id = approver.id if thing.kind in ("approval", "publishing") else thing.who_id or tester.id
        if thing.kind in days:
            later = 21 * ((thing.application_id or first) - first)  # one application after the other
            thing.due_on = today + timedelta(days=days[thing.kind] + number % 5 + later)
    db.flush()
    _late_part(db, today)


def _late_part(db: UnitOfWork, today: date) -> None:
    """The second charge-pipe pair comes from outside, three weeks after the dyno was booked for it: it decides the publishing day."""
    part = db.scalar(select(Owed).where(Owed.outside == "Pipe bender").limit(1))
    if part is None:
        return
    others = db.scalars(select(Owed.due_on).where(Owed.application_id == part.application_id, Owed.kind == "part"))
    booked = max(day for day in others if day is not None) + timedelta(days=2)
    booked += timedelta(days=max(7 - booked.isoweekday(), 0) + 1 if booked.isoweekday() > 5 else 0)
    card = register.OwedCard(
        "part",
        part.what,
        part.application_id,
        None,
        "Pipe bender",
        booked + timedelta(days=21),
        cost=140.0,
        blocks=part.blocks,
    )
    register.save_owed(db, part, card)
    dyno = db.scalar(select(Owed).where(Owed.application_id == part.application_id, Owed.kind == "dyno"))
    if dyno is not None:
        begins = datetime(booked.year, booked.month, booked.day, 8, tzinfo=UTC)
        slot = register.OwedCard(
            "dyno",
            dyno.what,
            dyno.application_id,
            dyno.who_id,
            hours=dyno.hours,
            cell_id=dyno.cell_id,
            slot=begins,
            due_on=booked,
            blocks=dyno.blocks,
        )
        register.save_owed(db, dyno, slot)


def pieces(db: UnitOfWork, revision: Revision, house: House, heron: Vehicle) -> None:
    """Two pieces of the Gannet, and the test engine in the shop's Heron."""
    for serial, place in (("03", "on the shop Heron"), ("04", "shelf 2")):
        shop.save_sample(db, Sample(), shop.SampleCard(revision.id, serial, place, "runners hand-finished"))
    shop.move_engine(db, house.engine, heron.id, date(2026, 3, 4))


def known_scatter(db: UnitOfWork, dyno: Dyno, day: date) -> Base:
    """The dyno's scatter as its own records show it."""
    return fit_scatter(db, dyno, day)
