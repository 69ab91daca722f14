"""A corpus of made logs in the habits of many loggers and countries; each is the same pull, or a day of three."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from longbreath.devices.made_engine import Channels, day_log, pull
from tests.core.compare.made import BOOSTED as BOOSTED_ENGINE
from tests.core.compare.made import BREATHING
from tests.made.habits import BOOSTED, FULL, METRIC, US, Column, as_archive, as_measured, as_text, as_workbook

ONE = pull(BREATHING, 3)
DAY = day_log(BREATHING, [3, 4, 5])
TURBO = pull(BOOSTED_ENGINE, 3)
NAMES = {
    "german": ("Zeit", "Drehzahl", "Drehmoment", "Leistung"),
    "french": ("Temps", "Régime", "Couple", "Puissance"),
    "italian": ("Tempo", "Giri", "Coppia", "Potenza"),
    "plain": ("t", "n", "M", "P"),
}


def named(language: str, torque: str = "", power: str = "") -> tuple[Column, ...]:
    """Time, speed, torque and power under a language's names."""
    time, speed, moment, work = NAMES[language]
    return (
        Column("time", time, shown="s", decimals=2),
        Column("rpm", speed, shown="1/min", decimals=0),
        Column("torque", moment, torque, 1, shown=torque or "Nm"),
        Column("power", work, power, 1, shown=power or "kW"),
    )


def bare(columns: tuple[Column, ...]) -> tuple[Column, ...]:
    """The same columns without any unit."""
    return tuple(replace(c, shown="") for c in columns)


def fahrenheit(columns: tuple[Column, ...]) -> tuple[Column, ...]:
    """Temperatures in °F, pressures in psi."""
    of = {"°C": "°F", "kPa": "psi"}
    return tuple(replace(c, unit=of[c.shown], shown=of[c.shown]) if c.shown in of else c for c in columns)


def text(columns: tuple[Column, ...], made: Channels = ONE, **more: object) -> Callable[[], bytes]:
    """A text file to be made."""
    return lambda: as_text(made, columns, **more)  # type: ignore[arg-type]


LOGS: dict[str, tuple[str, Callable[[], bytes], int]] = {
    "us, commas": ("a.csv", text(US), 1),
    "us with a title": ("a.csv", text(US, title="Windlass, cell 1"), 1),
    "us, thousands apart": ("a.csv", text(US, grouped=True), 1),
    "us, tabs": ("a.tsv", text(US, delimiter="\t"), 1),
    "us, bars": ("a.txt", text(US, delimiter="|"), 1),
    "us, units in a row": ("a.csv", text(US, units="row"), 1),
    "us, units nowhere": ("a.csv", text(bare(US), units="nowhere"), 1),
    "us, old line ends": ("a.csv", text(US, newline="\r\n"), 1),
    "us, two bytes a sign": ("a.csv", text(US, encoding="utf-16"), 1),
    "us, with a mark in front": ("a.csv", text(US, encoding="utf-8-sig"), 1),
    "metric, semicolons": ("a.csv", text(METRIC, delimiter=";", decimal=",", units="row"), 1),
    "metric, thousands by points": ("a.csv", text(METRIC, delimiter=";", decimal=",", grouped=True), 1),
    "metric, western letters": ("a.csv", text(named("french"), delimiter=";", decimal=",", encoding="cp1252"), 1),
    "metric, tabs and commas": ("a.txt", text(METRIC, delimiter="\t", decimal=","), 1),
    "german": ("a.csv", text(named("german"), delimiter=";", decimal=","), 1),
    "german, PS": ("a.csv", text(named("german", power="PS"), delimiter=";", decimal=","), 1),
    "french": ("a.csv", text(named("french"), delimiter=";", decimal=","), 1),
    "italian": ("a.csv", text(named("italian"), delimiter=";", decimal=","), 1),
    "letters alone": ("a.csv", text(named("plain"), delimiter=";", decimal=","), 1),
    "letters alone, no units": ("a.csv", text(bare(named("plain")), units="nowhere"), 1),
    "letters alone, lb-ft and hp, no units": ("a.csv", text(bare(named("plain", "lb-ft", "hp")), units="nowhere"), 1),
    "letters alone, PS, no units": ("a.csv", text(bare(named("plain", "", "PS")), units="nowhere"), 1),
    "power alone": ("a.csv", text(tuple(c for c in METRIC if c.channel != "torque")), 1),
    "torque alone": ("a.csv", text(tuple(c for c in US if c.channel != "power")), 1),
    "every channel": ("a.csv", text(FULL), 1),
    "every channel, imperial": ("a.csv", text(fahrenheit(FULL)), 1),
    "every channel, no units": ("a.csv", text(bare(FULL), units="nowhere"), 1),
    "boosted": ("a.csv", text(BOOSTED, TURBO), 1),
    "boosted, psi": ("a.csv", text(fahrenheit(BOOSTED), TURBO), 1),
    "boosted, units in a row": ("a.csv", text(BOOSTED, TURBO, units="row", delimiter=";", decimal=","), 1),
    "a day": ("day.csv", text(FULL, DAY), 3),
    "a day, semicolons": ("day.csv", text(FULL, DAY, delimiter=";", decimal=",", units="row"), 3),
    "a day without a clock": ("day.csv", text(FULL[1:], DAY), 3),
    "a workbook": ("a.xlsx", lambda: as_workbook({"pull": ONE}, FULL), 1),
    "a workbook of three": (
        "a.xlsx",
        lambda: as_workbook({f"pull {n}": pull(BREATHING, n) for n in range(3)}, METRIC),
        3,
    ),
    "a workbook of a day": ("a.xlsx", lambda: as_workbook({"day": DAY}, FULL), 3),
    "a measurement": ("a.mf4", lambda: as_measured([(ONE, FULL[1:], 1)]), 1),
    "a measurement of two rates": ("a.mf4", lambda: as_measured([(ONE, FULL[1:5], 1), (ONE, FULL[5:], 5)]), 1),
    "a measurement of a day": ("day.mf4", lambda: as_measured([(DAY, FULL[1:], 1)]), 3),
    "an archive of files": (
        "all.zip",
        lambda: as_archive({f"{n}.csv": as_text(pull(BREATHING, n), US) for n in range(1, 5)}),
        4,
    ),
    "an archive of all sorts": (
        "all.zip",
        lambda: as_archive(
            {
                "x/1.csv": as_text(ONE, US),
                "x/2.xlsx": as_workbook({"p": ONE}, METRIC),
                "y/3.mf4": as_measured([(ONE, FULL[1:], 1)]),
            }
        ),
        3,
    ),
}
"""Name of the file, its bytes, and how many pulls it holds. The first pull of each is the same one."""
