"""What the demo weighs beyond pairs: three inlet kits inside each other's noise, a day that went wrong with its ledger, trials
and kits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date

import numpy as np

from longbreath.core.weigh.parity import Item
from longbreath.demo import plans, standin
from longbreath.demo.days import work_day
from longbreath.demo.geometry import STOCK_BUILD
from longbreath.demo.habits import BOOSTED, FULL, as_text
from longbreath.demo.logs import take_all
from longbreath.demo.parts import q
from longbreath.demo.visits import DROVER, boosted_torque, drover_torque, petrel_wrong_day, visit
from longbreath.devices.made_engine import Array, Day, Engine, pull
from longbreath.dossier import build as builds
from longbreath.dossier import coverage, library
from longbreath.dossier.claim.verbs import state_approval
from longbreath.dossier.evidence.builds import LineCard
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.verdict import keep_ledger
from longbreath.dossier.library import ProductCard
from longbreath.dossier.plan import variants
from longbreath.dossier.pull import verbs
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.dossier.weigh import kits, trials
from longbreath.dossier.weigh.kits import KitCard
from longbreath.dossier.weigh.trials import KINDS, TrialCard, read_rows
from longbreath.store.models import Application, Dyno, DynoSession, Revision, TestCard, Vehicle
from longbreath.store.unit_of_work import UnitOfWork

KITS = (
    ("Dyke inlet kit", "rotomoulded", 339.0, 262.0, ("filter", "clamps"), (("filter oil", 9.5),), 35.0, "on the shelf"),
    (
        "Fell inlet kit",
        "rotomoulded",
        289.0,
        214.0,
        ("clamps",),
        (("filter", 48.0), ("sensor seal", 6.0)),
        50.0,
        "on the shelf",
    ),
    ("Scarp inlet kit", "spun", 412.0, 330.0, ("filter", "clamps", "heat shield"), (), 75.0, "six weeks"),
)
EFFECTS: tuple[Callable[[Array], Array], ...] = (
    lambda rpm: 4.3 / (1.0 + np.exp(-(rpm - 3900.0) / 400.0)),
    lambda rpm: 3.9 / (1.0 + np.exp(-(rpm - 3700.0) / 400.0)),
    lambda rpm: 4.8 / (1.0 + np.exp(-(rpm - 4200.0) / 400.0)),
)


def inlet_kits(db: UnitOfWork, dyno: Dyno, drover: Vehicle, day: date) -> list[Application]:
    """Three kits on the pick-up, pulled one after the other on one day, with what is in each box."""
    work_day(db, day)
    stock = library.add_product(db, ProductCard("Drover stock inlet", "inlet kit", "intake", "stock", is_stock=True))
    dossiers = []
    for name, state, *_ in KITS:
        part = library.add_product(db, ProductCard(name, "inlet kit", "intake", "1", state))
        dossiers.append(coverage.open_application(db, drover.id, part.id, stock.id))
    first = dossiers[0]
    db.act_as(db.actor, first.id)
    for dossier in dossiers[1:]:
        variants.save_variant(db, first, None, variants.VariantCard((variants.PartCard(dossier.revision_id),)))
    card = plans.plain_card(
        db,
        first,
        dyno,
        "4 lb-ft",
        design="ladder",
        letters=("A", "B", "C", "D"),
        held="3rd gear, converter locked, tyres 3.0 bar, bonnet shut, fan on",
    )
    _pull_kits(db, first, card, day)
    for dossier, (_, _, price, vendor, box, added, minutes, shelf) in zip(dossiers, KITS, strict=True):
        db.act_as(db.actor, dossier.id)
        state_approval(db, dossier, "closed_course", "")
        items = (*(Item(what, True) for what in box), *(Item(what, False, cost) for what, cost in added))
        limits = (("displacement", "5.0 to 5.7 L"), ("revs", "6,200 rpm"))
        kits.save_kit(
            db, dossier, KitCard(price, day, vendor, items, minutes, 20.0, shelf, "2009 to 2014 alike", limits)
        )
    return dossiers


def _pull_kits(db: UnitOfWork, application: Application, card: TestCard, day: date) -> None:
    work_day(db, day, hour=10)
    session = verbs.open_session(db, application, card, visit(day, "3rd gear, converter locked"))
    effects = dict(zip("BCD", EFFECTS, strict=True))
    files = {}
    for place, letter in enumerate(card.order, start=1):
        files[f"inlet-{place:02}.txt"] = as_text(pull(_with(effects.get(letter)), 6100 + place, Day(intake=19.5)), FULL)
    take_all(db, application, session, files)
    _finish(db, session)


def _with(effect: Callable[[Array], Array] | None) -> Engine:
    if effect is None:
        return DROVER
    return replace(DROVER, torque=lambda rpm: drover_torque(rpm) + effect(rpm))


def _finish(db: UnitOfWork, session: DynoSession) -> None:
    told = {(letter, "calibration"): "12 January 2026" for letter in session.card.letters}
    put_conditions(db, session, told)
    verbs.renew_served(db, session)
    db.expire(session, ["pulls", "files"])


def wrong_day(db: UnitOfWork, dyno: Dyno, stock: Revision, heron: Vehicle) -> Application:
    """Bonnet open for A and shut for B, another delivery of fuel, a fading coil; and the day on which the bonnet was measured
    alone."""
    day = date(2026, 10, 15)
    work_day(db, day)
    part = ProductCard("Petrel 70 mm throttle body", "throttle body", "intake", "rev A", "machined, anodised")
    revision = library.add_product(db, part)
    application = coverage.open_application(db, heron.id, revision.id, stock.id)
    db.act_as(db.actor, application.id)
    card = plans.plain_card(db, application, dyno, "2 lb-ft", mixture_target=0.88)
    same = {**STOCK_BUILD, "health": "leak-down 4 to 6 %"}
    a = {**same, "part": "stock throttle body", "fuel": "98, delivery of 12 September", "bonnet": "open, fan on"}
    b = {
        **same,
        "part": "Petrel 70 mm",
        "part_state": "machined",
        "fuel": "98, delivery of 24 September",
        "bonnet": "shut, fan on",
    }
    builds.add_sheet(db, application, builds.BuildCard(a, day, "shop Heron, stock throttle", "A"))
    builds.add_sheet(db, application, builds.BuildCard(b, day, "shop Heron, Petrel 70 mm", "B"))
    work_day(db, day, hour=13)
    session = verbs.open_session(db, application, card, visit(day, "4th gear", "21 C"))
    take_all(db, application, session, {"petrel-70.zip": petrel_wrong_day()})
    _finish(db, session)
    alone = _bonnet_alone(db, application, dyno)
    found = gather(db, application, [session.id])
    known = {
        "bonnet": LineCard("open for A, found shut for B", "measured", None, None, alone.id, "A", "C"),
        "fuel": LineCard(
            "another delivery of the same grade; its sheet names the same density", "bounded", -0.004, 0.004
        ),
    }
    for item in found.builds.differing:
        if item.line not in known:
            known[item.line] = LineCard(
                "the same thing as the bonnet: what a shut bonnet does to the air is in its line", "none"
            )
    keep_ledger(db, application, found.builds, {item.line: known[item.line] for item in found.builds.differing})
    return application


def _bonnet_alone(db: UnitOfWork, application: Application, dyno: Dyno) -> DynoSession:
    """The stock throttle with the bonnet open, shut, and open again: what the bonnet does by itself."""
    day = date(2026, 10, 16)
    work_day(db, day)
    parts = (variants.PartCard(application.stock_revision_id),)
    variants.save_variant(db, application, None, variants.VariantCard(parts, "bonnet shut"))
    card = plans.plain_card(db, application, dyno, "2 lb-ft", letters=("A", "C"), mixture_target=0.88)
    work_day(db, day, hour=10)
    session = verbs.open_session(db, application, card, visit(day, "4th gear", "21 C"))
    files, engine = {}, Engine(standin.heron_torque)
    shut = replace(engine, torque=lambda rpm: standin.heron_torque(rpm) * 0.988)
    for place, letter in enumerate(card.order, start=1):
        made = pull(engine if letter == "A" else shut, 7300 + place, Day(intake=21.0, room=100.6))
        files[f"bonnet-{place:02}.csv"] = as_text(made, FULL)
    take_all(db, application, session, files)
    _finish(db, session)
    return session


def parcel_trials(db: UnitOfWork, application: Application) -> None:
    """Twelve vans over eight weeks, six with the elbow: a saving inside its noise. And what the elbow does to the air it passes."""
    work_day(db, date(2026, 10, 30))
    db.act_as(db.actor, application.id)
    card = TrialCard(
        "fuel",
        "Twelve vans, eight weeks",
        date(2026, 10, 28),
        "pump receipts and odometers",
        q("0.01 L", "fuel_volume"),
        {"fuel": "diesel", "load": "as the day brought it; tyres set each Monday", "season": "September and October"},
        read_rows(KINDS["fuel"], _van_rows(), "metric"),
    )
    trials.save_trial(db, application, card)
    rows = []
    rng = np.random.default_rng(31)
    for label, place, rise in (("A", "after the cooler", 27.0), ("B", "after the cooler", 25.6)):
        for ambient in (18.2, 18.4, 18.9, 19.1):
            value = ambient + rise + rng.normal(0.0, 0.5)
            rows.append(f"{label}, charge air, {place}, {value:.1f} °C, {ambient} °C, 0.3")
    rows.append("B, charge air, after the cooler, 41.0 °C, 18.0 °C, 4.0")
    told = {
        "probe": "type K, 1.5 mm, in the flow",
        "window": "two minutes within half a kelvin",
        "drive": "3rd gear, 2,400 rpm",
    }
    card = TrialCard(
        "temperature",
        "Charge air after the cooler",
        date(2026, 10, 29),
        "thermometer T2",
        0.1,
        told,
        read_rows(KINDS["temperature"], "\n".join(rows), "metric"),
    )
    trials.save_trial(db, application, card)


def _van_rows() -> str:
    """Twelve vans: each has its own thirst, each changes a little by itself; the elbow saves 0.4 per cent that nobody can see."""
    rng, rows = np.random.default_rng(12), []
    for van in range(1, 13):
        fitted, own = van <= 6, 9.4 + rng.normal(0.0, 0.5)
        change = rng.normal(0.0, 0.016)
        for week in range(36, 44):
            after = week >= 40
            distance = rng.uniform(880.0, 1240.0)
            factor = 1.0 + (change + 0.012 - 0.004 * fitted) * after + rng.normal(0.0, 0.022)
            group, when = "part" if fitted else "control", "after" if after else "before"
            litres = own * factor * distance / 100.0
            rows.append(
                f"van {van}, {group}, {when}, {distance:.0f} km, {litres:.2f} L, driver {van}, depot {1 + van % 3}, {week}"
            )
    return "\n".join(rows)


BOOSTS = {"A": (0, 80.0), "B": (1, 87.5), "C": (0, 105.0), "D": (1, 112.0)}
"""Pipe (0 stock, 1 the larger) and boost [kPa] that each letter reached: the freer pipe lets it rise at one setting."""


def downpipe(db: UnitOfWork, dyno: Dyno, stock: Revision, heron: Vehicle) -> Application:
    """A still larger downpipe, at two settings of the controller: clearly more as set, nearly nothing at equal boost."""
    day = date(2026, 11, 6)
    work_day(db, day)
    part = ProductCard("Bittern downpipe 80 mm", "downpipe", "exhaust", "rev A", "cast collar, welded")
    revision = library.add_product(db, part)
    application = coverage.open_application(db, heron.id, revision.id, stock.id)
    db.act_as(db.actor, application.id)
    state_approval(db, application, "closed_course", "")
    for number in (stock.id, revision.id):
        card = variants.VariantCard((variants.PartCard(number),), control_mode="controller at 55 %")
        variants.save_variant(db, application, None, card)
    test = plans.plain_card(
        db,
        application,
        dyno,
        "6 lb-ft",
        design="ladder",
        letters=("A", "B", "C", "D"),
        fittings=2,
        pulls_per_set=2,
        control_mode="boost free",
        mixture_target=0.82,
        limits={"boost": q("1.35 bar", "pressure"), "lean": 0.86},
    )
    for letter, called in (("A", "stock downpipe"), ("B", "Bittern downpipe 80 mm")):
        sheet = {
            **STOCK_BUILD,
            "vehicle": "shop Heron 2.0T, number 12 on the strut tower",
            "part": called,
            "controller": "30 %",
            **({"part_state": "cast collar, welded", "serial": "BD80-007"} if letter == "B" else {}),
        }
        builds.add_sheet(db, application, builds.BuildCard(sheet, day, f"shop 2.0T, {called}", letter))
    work_day(db, day, hour=10)
    session = verbs.open_session(db, application, test, visit(day, "4th gear", "17 C"))
    files = {}
    for place, letter in enumerate(test.order, start=1):
        pipe_on, boost = BOOSTS[letter]
        made = pull(boosted_torque((pipe_on, 0, 1), boost), 8100 + place, Day(intake=18.0, room=100.9))
        files[f"cell-{place:02}.csv"] = as_text(made, BOOSTED, delimiter=";", units="row")
    take_all(db, application, session, files)
    _finish(db, session)
    _bittern_readings(db, application)
    return application


def _bittern_readings(db: UnitOfWork, application: Application) -> None:
    """What the downpipe weighs, and how loud it is."""
    work_day(db, date(2026, 11, 13), hour=16)
    rows = "A, 6.42 kg\nA, 6.41 kg\nA, 6.42 kg\nB, 5.18 kg\nB, 5.19 kg\nB, 5.18 kg"
    scale = TrialCard(
        "mass", "Downpipes on the bench scale", date(2026, 11, 13), "bench scale S1", 0.01, {"with": "flange nuts"}
    )
    trials.save_trial(db, application, replace(scale, rows=read_rows(KINDS["mass"], rows, "metric")))
    levels = {"A": (88.1, 88.4, 87.9, 88.2), "B": (91.0, 90.6, 91.3, 90.9)}
    noise = "\n".join(f"{label}, {v}, 0.5 m, 4500 rpm, A" for label, values in levels.items() for v in values)
    told = {"background": "52 dB", "surface": "asphalt, open behind", "response": "fast"}
    meter = TrialCard(
        "noise", "Half a metre behind the outlet", date(2026, 11, 13), "sound level meter N1, class 2", 0.1, told
    )
    trials.save_trial(db, application, replace(meter, rows=read_rows(KINDS["noise"], noise, "metric")))
