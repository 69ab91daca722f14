"""Visits to the dyno that the demo tells of, each in the habit of another logger; and a day that went wrong, left to be taken in."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np

from longbreath.demo import standin
from longbreath.demo.days import work_day
from longbreath.demo.habits import BOOSTED, FULL, METRIC, Column, as_archive, as_measured, as_text, as_workbook
from longbreath.demo.logs import take, take_all, take_table
from longbreath.demo.parts import q
from longbreath.devices.made_engine import Array, Channels, Day, Engine, day_log, pull
from longbreath.dossier.pull import verbs
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.store.models import Application, DynoSession, TestCard
from longbreath.store.unit_of_work import UnitOfWork


def as_channels(logged: standin.Logged, rate: float = 25.0) -> Channels:
    """A pull of the plain stand-in with a clock."""
    time = np.arange(logged.rpm.size) / rate
    return {"time": time, "rpm": logged.rpm, "torque": logged.torque, "power": logged.power, "mixture": logged.mixture}


def gannet(db: UnitOfWork, application: Application, session: DynoSession, seed: int, after: int = 0) -> None:
    """Ten pulls after so many others, A-B-A, in three habits: four files of the first logger, a workbook with a sheet a pull, an
    archive of the second's. The seventh ran rich and is out.
    """
    made = [
        standin.pull(seed + n, standin.gannet_effect if label == "B" else None, n, mixture=0.76 if n == 7 else 0.88)
        for n, label in enumerate("AAABBBBAAA", start=1)
    ]
    for place in (1, 2, 3):
        data = standin.as_us_csv(made[place - 1], f"pull {place}")
        take(db, application, session, f"gannet-{place:02}.csv", data, after + place, "A")
    sheets = {f"pull {n}": as_channels(made[n - 1]) for n in (4, 5, 6, 7)}
    book = verbs.receive(db, session, "gannet-long-runner.xlsx", as_workbook(sheets, METRIC))
    for table, place in enumerate((4, 5, 6, 7)):
        take_table(db, application, book, table, after + place, "B")
    files = {f"{n:02}-stock.csv": standin.as_metric_csv(made[n - 1]) for n in (8, 9, 10)}
    packed = verbs.receive(db, session, "gannet-return.zip", as_archive(files))
    for table, place in enumerate((8, 9, 10)):
        take_table(db, application, packed, table, after + place, "A")
    told = {"smoothing_by_source": "none", "operator": "Mara Arden", "calibration": "12 January 2026"}
    put_conditions(db, session, {(letter, name): words for letter in "AB" for name, words in told.items()})


def drover_torque(rpm: Array) -> Array:
    """Wheel torque of the pick-up with its stock manifold [N m] over speed [rpm]."""
    return 432.0 - 62.0 * ((rpm - 3500.0) / 2100.0) ** 2 + 16.0 * np.exp(-(((rpm - 2300.0) / 600.0) ** 2))


def crest_effect(rpm: Array) -> Array:
    """What the open plenum does [N m]: it wins the peak and loses the band a pick-up lives in."""
    return 21.0 / (1.0 + np.exp(-(rpm - 4700.0) / 260.0)) - 17.0 * np.exp(-(((rpm - 2500.0) / 900.0) ** 2))


DROVER = Engine(drover_torque, low=1100.0, high=5880.0, rise=480.0, ratio=3.08, scatter=0.9)


def visit(day: date, gear: str, temperature: str = "19 C") -> verbs.DynoSessionCard:
    """A visit in usual air, corrected by the shop's standard."""
    return verbs.DynoSessionCard(
        held_on=day,
        temperature=q(temperature, "temperature"),
        pressure=q("1009 hPa", "barometer"),
        humidity=0.46,
        standard="sae_j1349",
        gear=gear,
    )


def crest(db: UnitOfWork, application: Application, card: TestCard, day: date) -> None:
    """A day of logs that ran on: a file for each set, with idle between its pulls; they are found and split."""
    work_day(db, day, hour=11)
    session = verbs.open_session(db, application, card, visit(day, "3rd gear, converter locked"))
    place, air = 1, Day(intake=20.0, room=100.9)
    for number, (letter, count) in enumerate(card.sets, start=1):
        engine = DROVER if letter == "A" else replace(DROVER, torque=lambda rpm: drover_torque(rpm) + crest_effect(rpm))
        made = day_log(engine, [3000 + place + k for k in range(count)], air)
        columns = tuple(replace(c, header=f"{c.header}") for c in FULL)
        take_all(db, application, session, {f"drover-set-{number}.csv": as_text(made, columns, delimiter="\t")})
        place += count


def skim_torque(rpm: Array) -> Array:
    """Torque of the kart at the roller [N m] over engine speed [rpm], with its stock pipe."""
    return 8.0 + 9.5 * np.exp(-(((rpm - 9300.0) / 1500.0) ** 2)) + 2.0 * np.exp(-(((rpm - 6500.0) / 1200.0) ** 2))


def pipe_effect(rpm: Array) -> Array:
    """What the longer pipe does [N m]: its tuned speed lies lower."""
    return 1.6 * np.exp(-(((rpm - 8300.0) / 800.0) ** 2)) - 1.3 * np.exp(-(((rpm - 10600.0) / 700.0) ** 2))


KART = Engine(skim_torque, low=5800.0, high=11600.0, rise=900.0, ratio=6.2, rate=100.0, scatter=0.06)
KART_INERTIA = 1.9
"""Inertia of the kart roller [kg m²]."""
SPEEDS = (
    Column("time", "t", shown="ms", unit="ms", decimals=0),
    Column("rpm", "Engine rpm", decimals=0),
    Column("roller", "Drum rpm", decimals=2),
    Column("exhaust", "EGT", shown="°C", decimals=0),
)


def rolled(engine: Engine, seed: int) -> Channels:
    """A pull whose drum speed follows from torque, inertia and ratio alone: nothing but speeds is logged."""
    rng = np.random.default_rng(seed)
    steps = int(14 * engine.rate)
    rpm = np.empty(steps)
    rpm[0] = engine.low
    shift = rng.normal(0.0, engine.scatter)
    per_second = engine.ratio**2 / KART_INERTIA * 30.0 / np.pi / engine.rate
    for k in range(1, steps):
        rpm[k] = rpm[k - 1] + (float(engine.torque(np.array([rpm[k - 1]]))[0]) + shift) * per_second
    rpm = rpm[: int(np.argmax(rpm > engine.high)) or steps]
    time = np.arange(rpm.size) / engine.rate
    exhaust = 480.0 + 160.0 * time / time[-1] + rng.normal(0.0, 2.0, rpm.size)
    return {"time": time, "rpm": rpm + rng.normal(0.0, 2.0, rpm.size), "roller": rpm / engine.ratio, "exhaust": exhaust}


def skim(db: UnitOfWork, application: Application, card: TestCard, day: date) -> None:
    """Nine pulls of which the logger wrote speeds alone: torque is made from the drum's inertia and acceleration."""
    work_day(db, day, hour=15)
    session = verbs.open_session(db, application, card, visit(day, "one sprocket"))
    files = {}
    for place, letter in enumerate(card.order, start=1):
        engine = KART if letter == "A" else replace(KART, torque=lambda rpm: skim_torque(rpm) + pipe_effect(rpm))
        files[f"skim-{place:02}.txt"] = as_text(rolled(engine, 4000 + place), SPEEDS, delimiter=";")
    take_all(db, application, session, files)


def boosted_torque(levels: tuple[int, ...], boost: float) -> Engine:
    """The boosted Heron under a condition of the factorial: parts, and the boost [kPa] that came of the setting."""
    pipe, charge, _ = levels

    def torque(rpm: Array) -> Array:
        rising = 1.0 / (1.0 + np.exp(-(rpm - 2600.0) / 300.0))
        filled = (100.6 + boost * rising) / 100.6
        fall = 1.0 - 0.24 * np.clip((rpm - 4800.0) / 2200.0, 0.0, 1.0)
        return 148.0 * filled * fall + 1.5 * pipe + 1.0 * charge

    return Engine(torque, low=1750.0, high=7080.0, boost=boost, mixture=0.82, ratio=4.62)


SETTINGS_KPA = (55.0, 80.0, 105.0)


def boost_of(levels: tuple[int, ...]) -> float:
    """Boost [kPa] that a condition reaches with the controller left alone: the freer pipe lets it rise."""
    pipe, charge, setting = levels
    return SETTINGS_KPA[setting] + 6.5 * pipe + 1.5 * charge


def bittern(db: UnitOfWork, application: Application, session: DynoSession, card: TestCard, letters: list[str]) -> None:
    """The factorial as it was pulled: measurement files of two rates from the cell, and plain text once its disk was full."""
    levels = {v.letter: tuple(v.levels) for v in card.variants}
    for place, letter in enumerate(letters, start=1):
        engine = boosted_torque(levels[letter], boost_of(levels[letter]))
        made = pull(engine, 900 + place, Day(intake=18.0, room=100.9))
        if place <= 8:
            data = as_measured([(made, BOOSTED[1:8], 1), (made, BOOSTED[8:], 5)])
            take(db, application, session, f"bittern-{place:02}.mf4", data, place, letter)
        else:
            data = as_text(made, BOOSTED, delimiter=";", decimal=",", units="row")
            take(db, application, session, f"bittern-{place:02}.csv", data, place, letter)


_US_UNITS = {"torque": "lb-ft", "power": "hp"}
IMPERIAL = tuple(
    replace(c, unit=_US_UNITS[c.channel], shown=_US_UNITS[c.channel]) if c.channel in _US_UNITS else c for c in FULL
)


def petrel_wrong_day() -> bytes:
    """The day that went wrong, as an archive: bonnet open for A and shut for B, the coil fading over the last three pulls."""
    files, engine = {}, Engine(standin.heron_torque)
    larger = replace(engine, torque=lambda rpm: standin.heron_torque(rpm) + standin.petrel_effect(rpm))
    for place, letter in enumerate("AAABBBAAA", start=1):
        day = Day(intake=21.0 if letter == "A" else 32.5, room=100.6)
        made = pull(engine if letter == "A" else larger, 700 + place, day)
        if place >= 7:
            made["torque"] = made["torque"] * (1.0 - 0.017 * (place - 6))
            made["power"] = made["torque"] * made["rpm"] * np.pi / 30.0 / 1000.0
        name = f"{place:02}-{'stock' if letter == 'A' else 'petrel'}"
        if place <= 3:
            files[f"{name}.csv"] = as_text(made, FULL)
        elif place <= 6:
            files[f"{name}.tsv"] = as_text(made, IMPERIAL, delimiter="\t")
        else:
            files[f"{name}.csv"] = as_text(made, FULL, delimiter=";", decimal=",", units="row")
    return as_archive(files)
