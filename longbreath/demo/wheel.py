"""Degree-wheel sheets and the port ladder of the demo's kart and rotary coupe."""

from __future__ import annotations

from datetime import date
from typing import Any

from longbreath.demo.days import work_day
from longbreath.demo.parts import q
from longbreath.dossier import timing
from longbreath.store.models import Application
from longbreath.store.unit_of_work import UnitOfWork


def degrees(**texts: float) -> dict[str, float]:
    """Angles as people read them off the wheel, as SI."""
    return {name: q(f"{value} °", "angle") for name, value in texts.items()}


def skim(db: UnitOfWork, application: Application) -> None:
    """A disc first read from a false dead centre, so that its parts missed the total; then again by a stop."""
    window = {"area": q("640 mm2", "area"), "span": q("46 °", "angle"), "inlet_length": q("84 mm", "length")}
    words: dict[str, Any] = {"kind": "disc", "window": window}
    work_day(db, date(2026, 7, 3))
    card = timing.WheelCard(
        title="stock disc",
        label="A",
        held_on=date(2026, 7, 3),
        readings=degrees(intake_opens=132, intake_closes=58),
        totals=degrees(intake=190),
        stop_before=q("31 °", "angle"),
        stop_after=q("31 °", "angle"),
        **words,
    )
    timing.add_sheet(db, application, card)
    work_day(db, date(2026, 7, 3))
    card = timing.WheelCard(
        title="disc for rev C",
        label="B",
        held_on=date(2026, 7, 3),
        readings=degrees(intake_opens=145, intake_closes=65),
        totals=degrees(intake=200),
        says="“advanced”: closes later, that is",
        note="dead centre by eye",
        **words,
    )
    first = timing.add_sheet(db, application, card, as_read=True)
    work_day(db, date(2026, 7, 6))
    card = timing.WheelCard(
        title="disc for rev C",
        label="B",
        held_on=date(2026, 7, 6),
        readings=degrees(intake_opens=135.5, intake_closes=64.5),
        totals=degrees(intake=200),
        stop_before=q("28 °", "angle"),
        stop_after=q("34 °", "angle"),
        says="“advanced”: closes later, that is",
        why="parts missed the total by 10°: dead centre now by a stop",
        **words,
    )
    timing.add_sheet(db, application, card, again=first)


RUNGS = (
    (
        "stock ports",
        "1190 mm2",
        32,
        40,
        "172 kW",
        ("3200 rpm", "8200 rpm"),
        "820 rpm",
        "as stock",
        "as stock",
        "as stock",
        0,
        "any",
        "none",
        "own",
    ),
    (
        "S1, mild",
        "1270 mm2",
        31,
        46,
        "187 kW",
        ("3500 rpm", "8500 rpm"),
        "900 rpm",
        "+3 %",
        "as stock",
        "as stock",
        420,
        "any",
        "none",
        "own",
    ),
    (
        "S2, extended",
        "1380 mm2",
        29,
        54,
        "204 kW",
        ("4300 rpm", "8900 rpm"),
        "1050 rpm",
        "+7 %",
        "+1 dB",
        "some less",
        690,
        "most",
        "tune",
        "own",
    ),
    (
        "S3, bridge",
        "1620 mm2",
        -10,
        62,
        "264 kW",
        ("5600 rpm", "9600 rpm"),
        "1500 rpm",
        "+20 %",
        "+5 dB",
        "a season",
        1450,
        "open only",
        "tune, dry sump, apex seals",
        "supplier",
    ),
    (
        "peripheral",
        "1810 mm2",
        -55,
        72,
        "281 kW",
        ("6200 rpm", "10200 rpm"),
        "1900 rpm",
        "+30 %",
        "+8 dB",
        "half a season",
        3900,
        "open only",
        "new housings, tune",
        "hearsay",
    ),
)


def duet(db: UnitOfWork, application: Application) -> None:
    """Side ports as they are and with insert S2 on the wheel, and the ladder of what porting buys."""
    for title, label, closes, area in (("stock side ports", "A", 40, "1190 mm2"), ("insert S2", "B", 54, "1380 mm2")):
        work_day(db, date(2026, 8, 18))
        card = timing.WheelCard(
            title=title,
            label=label,
            kind="rotary",
            held_on=date(2026, 8, 18),
            readings=degrees(
                intake_opens=32 if label == "A" else 29, intake_closes=closes, exhaust_opens=75, exhaust_closes=38
            ),
            window={"area": q(area, "area"), "ramp": q("38 °", "angle")},
            note="angles of the eccentric shaft",
        )
        timing.add_sheet(db, application, card)
    for place, rung in enumerate(RUNGS, start=1):
        name, area, opens, closes, power, speeds, idle, fuel, noise, life, cost, legality, needs, grade = rung
        entered: dict[str, Any] = {
            "area": q(area, "area"),
            "opens": q(f"{opens} °", "angle"),
            "closes": q(f"{closes} °", "angle"),
            "power": q(power, "power"),
            "speed_from": q(speeds[0], "speed"),
            "speed_to": q(speeds[1], "speed"),
            "idle": q(idle, "speed"),
            "fuel": fuel,
            "noise": noise,
            "life": life,
            "cost": float(cost),
            "legality": legality,
            "needs": needs,
        }
        worse = {"own": "own", "supplier": "table", "hearsay": "hearsay"}[grade]
        values = {
            key: {"value": v, "grade": worse if key in ("fuel", "noise", "life") else grade}
            for key, v in entered.items()
        }
        timing.save_rung(db, application, None, timing.RungCard(name, place, values))
