"""A day on the dyno and what is said around it: ten pulls A-B-A in three habits, a prediction by hand, a closed course; and cards of
the demo's dossiers."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np

from longbreath.core.basis import units
from longbreath.demo.binding import arguments
from longbreath.demo.book import Book
from longbreath.demo.cell import take
from longbreath.demo.days import work_day
from longbreath.demo.office import expect
from longbreath.demo.story import CHAPTER, SHOP, chapter
from longbreath.demo.told import VERBS
from longbreath.devices.made_engine import Channels
from longbreath.dossier.claim.house import NotesCard, write_notes
from longbreath.dossier.claim.verbs import state_approval
from longbreath.dossier.evidence.verdict import renew
from longbreath.dossier.pull import verbs
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.store.models import Application, DynoSession, TestCard
from longbreath.store.unit_of_work import UnitOfWork
from tests.made import standin
from tests.made.habits import METRIC, as_archive, as_workbook

NOTES = {
    "rules": "not recorded: ask the series before you fit it",
    "idle": "not recorded",
    "noise": "not recorded",
    "life": "look at the gaskets after the first heat; no failure known to the shop",
    "relation": "tested by the house that sells it, on its own dyno",
}
MIDDLE_MORE = ((0.0, 1.0, 2.5), (1.0, 2.5, 4.0), (-2.5, -1.0, 0.5))
"""Least, expected and most by band [lb-ft]."""


def as_channels(logged: standin.Logged, rate: float = 25.0) -> Channels:
    """A pull of the plain stand-in with a clock."""
    time = np.arange(logged.rpm.size) / rate
    return {"time": time, "rpm": logged.rpm, "torque": logged.torque, "power": logged.power, "mixture": logged.mixture}


def pulled(
    work: UnitOfWork, application: Application, card: TestCard, seed: int = 100, day: date = date(2026, 5, 14)
) -> None:
    """Ten pulls of one day, A-B-A, with a verdict."""
    work_day(work, day, hour=14)
    air = (units.from_unit(21.0, "temperature", "C"), 1006e2, 0.48)
    visit = verbs.DynoSessionCard(day, *air, "sae_j1349", gear="4th gear")
    session = verbs.open_session(work, application, card, visit)
    ten(work, application, session, seed)
    work.expire(session, ["pulls"])
    renew(work, application)
    work.flush()


def ten(work: UnitOfWork, application: Application, session: DynoSession, seed: int, after: int = 0) -> None:
    """Ten pulls after so many others, A-B-A, in three habits: files of the first logger, a workbook with a sheet a pull, an archive
    of the second's. The seventh ran rich and is out."""
    made = [
        standin.pull(seed + n, standin.gannet_effect if label == "B" else None, n, mixture=0.76 if n == 7 else 0.88)
        for n, label in enumerate("AAABBBBAAA", start=1)
    ]
    for place in (1, 2, 3):
        data = standin.as_us_csv(made[place - 1], f"pull {place}")
        take(work, application, session, f"gannet-{place + after:02}.csv", data, after + place, "A")
    book = as_workbook({f"pull {n}": as_channels(made[n - 1]) for n in (4, 5, 6, 7)}, METRIC)
    for table, place in enumerate((4, 5, 6, 7)):
        take(work, application, session, f"gannet-long-runner-{after}.xlsx", book, after + place, "B", table)
    packed = as_archive({f"{n:02}-stock.csv": standin.as_metric_csv(made[n - 1]) for n in (8, 9, 10)})
    for table, place in enumerate((8, 9, 10)):
        take(work, application, session, f"gannet-return-{after}.zip", packed, after + place, "A", table)
    told = {"smoothing_by_source": "none", "operator": "Mara Arden", "calibration": "12 January 2026"}
    put_conditions(work, session, {(letter, name): words for letter in "AB" for name, words in told.items()})


def predicted(work: UnitOfWork, application: Application, expects: str) -> None:
    """A prediction of torque by hand: more in the middle, a little less at the top."""
    least = units.from_unit(1.0, "torque", "lb-ft")
    bands = tuple((low * least, middle * least, high * least) for low, middle, high in MIDDLE_MORE)
    expect(work, application, expects, bands)


def closed_course(work: UnitOfWork, application: Application, sold: str, **notes: str) -> None:
    """No approval is held; the part leaves emission devices alone; what the sheet says besides."""
    write_notes(work, application, NotesCard({**NOTES, "sold": sold, **notes}, "keeps"))
    state_approval(work, application, "closed_course", "")


def cards(work: UnitOfWork, application: Application, folder: str, what: str) -> list[Any]:
    """The cards of all entries of a kind in a chapter of the demo, such as the elements of its path."""
    book = Book(work, dossier=application)
    entries = [entry for entry in chapter(SHOP / folder / CHAPTER).entries if entry.do == what]
    return [arguments(VERBS[what], _bare(entry.said), book)["card"] for entry in entries]


def _bare(said: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in said.items() if name not in ("on", "at", "by", "dossier", "called")}
