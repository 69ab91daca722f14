"""Targets, candidates, kept answers and predictions of the demo: invented, each by somebody on a day."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from longbreath.core.reckon.candidates import Limits
from longbreath.core.reckon.forecast import AIRFLOW, POWER, TORQUE, Drawn, drawn_by_hand
from longbreath.demo.days import work_day
from longbreath.demo.parts import q
from longbreath.dossier import library, timing
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.reckon import answers, candidates, predictions, targets
from longbreath.dossier.reckon.predictions import HAND, SCHOOL, NewPrediction
from longbreath.dossier.reckon.questions import BY_KEY
from longbreath.dossier.reckon.records import records_of
from longbreath.store.models import Application, Prediction, Revision, User
from longbreath.store.unit_of_work import UnitOfWork

Texts = tuple[str, str, str]
"""Least, expected and most, as people write them."""


def by_hand(
    db: UnitOfWork, application: Application, expects: str, bands: tuple[Texts, ...], quantity: str = TORQUE
) -> Prediction:
    """A forecast of band values drawn by hand; of airflow over thirds of 11 mm of lift."""
    kind = {TORQUE: "torque", POWER: "power", AIRFLOW: "flow"}[quantity]
    top = q("11 mm", "length")
    ends = [(b.low, b.high) for b in bands_of(application.vehicle)]
    if quantity == AIRFLOW:
        ends = [(n * top / 3, (n + 1) * top / 3) for n in range(3)]
    drawn = [Drawn(low, high, *(q(text, kind) for text in said)) for (low, high), said in zip(ends, bands, strict=True)]
    new = NewPrediction(expects, quantity, HAND, "", drawn_by_hand(quantity, drawn))
    return predictions.keep_prediction(db, application, new)


MIDDLE_MORE: tuple[Texts, ...] = (
    ("0 lb-ft", "1 lb-ft", "2.5 lb-ft"),
    ("1 lb-ft", "2.5 lb-ft", "4 lb-ft"),
    ("-2.5 lb-ft", "-1 lb-ft", "0.5 lb-ft"),
)
HOPES: tuple[Texts, ...] = (("0 kW", "1 kW", "2 kW"), ("1.5 kW", "3 kW", "4.5 kW"), ("0.5 kW", "2 kW", "4 kW"))


def gannet_said(db: UnitOfWork, application: Application, others: tuple[User, ...]) -> None:
    """Three predictions by different hands before the Gannet’s test: torque by hand, power by hopes, torque by a school."""
    tester = db.actor
    why = "Torque moves down: a few lb-ft more near 4,000 rpm, and a little less above 6,000. "
    by_hand(db, application, why + "The runner is 69 mm longer at nearly the same section.", MIDDLE_MORE)
    for person in others[:1]:
        db.act_as(person, application.id)
        by_hand(db, application, "More plenum and a longer runner: more everywhere, I would think.", HOPES, POWER)
    for person in others[1:]:
        db.act_as(person, application.id)
        curve, inputs = predictions.by_school(records_of(db, application), "reflected wave")
        said = "What the rule says of the two lengths, nothing added."
        new = NewPrediction(said, TORQUE, SCHOOL, "reflected wave", curve, inputs)
        predictions.keep_prediction(db, application, new)
    db.act_as(tester, application.id)


def gannet_air(db: UnitOfWork, application: Application) -> None:
    """What was said of airflow before the part was first read."""
    said: tuple[Texts, ...] = (
        ("-1 cfm", "0 cfm", "1 cfm"),
        ("-3 cfm", "-1 cfm", "1 cfm"),
        ("-6 cfm", "-2 cfm", "2 cfm"),
    )
    by_hand(db, application, "Longer at the same section: a little less at high lift, if anything.", said, AIRFLOW)


def _value(text: str, kind: str, rests: str, where: str = "") -> dict[str, Any]:
    return {"value": q(text, kind) if kind else text, "rests": rests, "where": where}


def heron_candidates(db: UnitOfWork, application: Application) -> None:
    """Gannet, the stock manifold, and one that is not owned yet, for a target on the Heron."""
    work_day(db, date(2026, 5, 4))
    card = targets.TargetCard(
        Limits(
            power=q("160 hp", "power"),
            speed=q("6000 rpm", "speed"),
            velocity_least=q("50 m/s", "velocity"),
            velocity_most=q("75 m/s", "velocity"),
            tuned_from=q("3400 rpm", "speed"),
            tuned_to=q("4000 rpm", "speed"),
            height=q("235 mm", "length"),
            lip=q("2 mm", "length"),
        ),
        why="the everyday driver: pull from 3,400 rpm",
    )
    targets.save_target(db, application, None, card)
    rail = {"coolant": _value("dry", "", "measured"), "height": _value("228 mm", "length", "measured", "plasticine")}
    for place, (revision, more) in enumerate(
        (
            (application.revision_id, rail),
            (application.stock_revision_id, {"height": _value("206 mm", "length", "measured", "calliper")}),
        ),
        start=1,
    ):
        candidates.save_candidate(
            db, application, None, candidates.CandidateCard("manifold", place, "", revision, more)
        )
    bought = {
        "section_width": _value("50 mm", "length", "supplier", "catalogue drawing"),
        "section_height": _value("38 mm", "length", "supplier", "catalogue drawing"),
        "length": _value("210 mm", "length", "estimated", "off the photo"),
        "plenum": _value("4.4 L", "plenum", "supplier", "catalogue"),
        "height": _value("247 mm", "length", "supplier", "catalogue drawing"),
        "coolant": _value("wet", "", "supplier", "catalogue"),
        "price": _value("640", "money", "supplier", "list, 28 Apr 2026"),
        "shelf": _value("wanted, not owned yet", "", "nominal"),
        "noted": _value("polished, fewer every year, dearer since spring", "", "memory"),
    }
    candidates.save_candidate(
        db, application, None, candidates.CandidateCard("manifold", 3, "Dunlin tall manifold", None, bought)
    )


def twelve_candidates(db: UnitOfWork, application: Application, revisions: Sequence[int]) -> None:
    """A table of twelve: parts that were measured on this vehicle in other dossiers, and wanted ones to make up the number."""
    usual = Limits(q("160 hp", "power"), q("6000 rpm", "speed"), q("50 m/s", "velocity"), q("75 m/s", "velocity"))
    targets.save_target(db, application, None, targets.TargetCard(usual))
    for place in range(12):
        revision = revisions[place] if place < len(revisions) else None
        values = {
            "length": _value(f"{300 + 10 * place} mm", "length", "estimated"),
            "area": _value("14 cm2", "area", "estimated"),
        }
        card_of = candidates.CandidateCard(
            "manifold", place + 1, "" if revision else f"wanted {place}", revision, values
        )
        candidates.save_candidate(db, application, None, card_of)


def drover_candidates(db: UnitOfWork, application: Application) -> None:
    """Crest and the stock manifold, for a pick-up that is to pull from low speed."""
    card = targets.TargetCard(
        Limits(
            power=q("330 hp", "power"),
            speed=q("5200 rpm", "speed"),
            velocity_least=q("50 m/s", "velocity"),
            velocity_most=q("85 m/s", "velocity"),
            tuned_from=q("2200 rpm", "speed"),
            tuned_to=q("3400 rpm", "speed"),
            height=q("260 mm", "length"),
        ),
        why="towing: the band the pick-up lives in",
    )
    targets.save_target(db, application, None, card)
    for place, (revision, height) in enumerate(
        ((application.revision_id, "252 mm"), (application.stock_revision_id, "241 mm")), start=1
    ):
        more = {"height": _value(height, "length", "measured", "calliper")}
        card_of = candidates.CandidateCard("manifold", place, "", revision, more)
        candidates.save_candidate(db, application, None, card_of)


def keep(db: UnitOfWork, application: Application, key: str, note: str, **texts: str) -> None:
    """Keep the answer to a question with typed values."""
    records = records_of(db, application)
    found = answers.answer(records, BY_KEY[key], texts, "metric")
    answers.keep_answer(db, records, found, note, "metric")


def skim_answers(db: UnitOfWork, application: Application) -> None:
    """The kart: its exhaust timed, its pipe, the heat that moves it, a quoted shift, and a clutch that is too heavy."""
    readings = {
        name: q(f"{value} °", "angle")
        for name, value in (
            ("exhaust_opens", 86),
            ("exhaust_closes", 86),
            ("transfer_opens", 115),
            ("transfer_closes", 115),
        )
    }
    day = date(2026, 7, 6)
    timing.add_sheet(db, application, timing.WheelCard("cylinder as cast", "piston", day, readings))
    work_day(db, date(2026, 7, 8))
    keep(db, application, "pipe-shape", "the usual pipe, to hold rev C against", speed="11000 rpm")
    hot = {"speed": "11000 rpm", "before": "420 C", "after": "500 C"}
    keep(db, application, "retune", "gas probe at the belly, warm-up against race", **hot)
    keep(
        db,
        application,
        "shift",
        "heard in the paddock",
        speed="10000 rpm",
        shifted="13000 rpm",
        before="420 C",
        gas="exhaust",
    )
    shoe = {"shoes": "2", "mass": "120 g", "radius": "34 mm", "spring": "1100 N", "drum": "45 mm"}
    torque = {"off_torque": "9 N·m", "on_torque": "16 N·m", "comes_in": "8600 rpm"}
    keep(db, application, "clutch", "first kart, springs as delivered", **shoe, **torque)
    for place, (name, opens, closes) in enumerate(
        (("stock disc", "132 °", "58 °"), ("disc for rev C", "135.5 °", "64.5 °"), ("wide disc", "150 °", "88 °")),
        start=1,
    ):
        rests = ("measured", "degree wheel") if place < 3 else ("supplier", "the maker’s card")
        values = {
            "opens": _value(opens, "angle", *rests),
            "closes": _value(closes, "angle", *rests),
            "inlet_length": _value("84 mm", "length", "measured", "calliper"),
            "case_volume": _value("520 cc", "volume", "measured", "burette"),
            "use": _value(("any", "long straights", "top speed only")[place - 1], "", "estimated"),
        }
        card = candidates.CandidateCard("disc or crank", place, name, None, values)
        candidates.save_candidate(db, application, None, card)


def duet_candidates(db: UnitOfWork, application: Application) -> None:
    """Steps of porting on the rotary: what each needs first, and the least wall it leaves."""
    card = targets.TargetCard(
        Limits(
            power=q("200 kW", "power"),
            speed=q("8200 rpm", "speed"),
            velocity_least=q("60 m/s", "velocity"),
            velocity_most=q("150 m/s", "velocity"),
            wall=q("3 mm", "length"),
        ),
        why="closed course, no overlap of a bridge",
    )
    targets.save_target(db, application, None, card)
    for place, (name, wall, rests, use) in enumerate(
        (
            ("S1, mild", "5.1 mm", "measured", "road manners kept"),
            ("S2, extended", "3.6 mm", "measured", "sprint"),
            ("S3, bridge", "1.8 mm", "estimated", "endurance with a spare engine"),
        ),
        start=1,
    ):
        values = {"wall": _value(wall, "length", rests), "use": _value(use, "", "estimated")}
        candidates.save_candidate(
            db, application, None, candidates.CandidateCard("porting step", place, name, None, values)
        )


def boosted_answers(db: UnitOfWork, application: Application) -> None:
    """The turbocharged Heron: what it runs, and what other figures follow."""
    keep(db, application, "charge", "as logged on the road", cooler_drop="4 kPa", depression="2 kPa")
    keep(db, application, "other-boost", "what the tuner asks for", other="110 kPa", power="165 kW")
    keep(db, application, "compressor", "for the maker’s chart", power="165 kW")
    keep(db, application, "turbine", "pressure tapped behind the wheel", after="14 kPa")
    keep(db, application, "sensor", "shop at 140 m", top="2.5 bar", altitude="140 m")


def price(db: UnitOfWork, revisions: Mapping[int, tuple[str, str]]) -> None:
    """Prices and where a part is to be had, as the library keeps them."""
    for number, (amount, shelf) in revisions.items():
        product = db.get_one(Revision, number).product
        library.price_product(db, product, library.PriceCard(float(amount), date(2026, 4, 28), shelf))
