"""The tour: three minutes over the real pages of an application that ends in a published claim. It can be left and taken up."""

from __future__ import annotations

from dataclasses import dataclass

from flask import url_for
from sqlalchemy.orm import Session

from longbreath.dossier.coverage import finished
from longbreath.store.models import Application, User
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Stop:
    """One stop: its page, what it is called, what to look at there."""

    endpoint: str
    title: str
    words: str


STOPS = (
    Stop(
        "curves.compare",
        "The bench",
        "What flows, lift by lift, at one test pressure. Choose a figure to see how it was made.",
    ),
    Stop(
        "path.section",
        "The path",
        "The air’s way to scale, and which piece of it costs most. Choose one in the strip above.",
    ),
    Stop(
        "reckon.overview",
        "The reckoning",
        "What the engine can use, by every school. The prediction is sealed by the first pull.",
    ),
    Stop("plan.overview", "The card", "One change, A-B-A, and how small a gain so many pulls can prove on this dyno."),
    Stop(
        "pull.overview",
        "The pulls",
        "Files as the loggers wrote them, judged at once. A bad pull is kept, marked and explained.",
    ),
    Stop(
        "weigh.overview",
        "The verdict",
        "A against B over the whole curve. The hatching shows where a difference is proven.",
    ),
    Stop(
        "claim.overview",
        "The claim",
        "Facts, gates, a second person. Beside it: what a seller would have liked to say.",
    ),
    Stop(
        "published.index",
        "What the house says",
        "Everything published, with how it stands. Open a sheet, take its bundle, check it.",
    ),
)


@dataclass(frozen=True)
class Here:
    """Where somebody is on the tour: number of the stop from 1, of how many, the stop."""

    number: int
    total: int
    stop: Stop


def example_of(db: Session) -> Application | None:
    """The application that the tour walks through, or None while nothing is published."""
    return finished(db)


def here(person: User) -> Here | None:
    """Where somebody is on the tour; None for whoever is not on it."""
    number = person.tour
    if number is None or not 1 <= number <= len(STOPS):
        return None
    return Here(number, len(STOPS), STOPS[number - 1])


def left_at(person: User) -> int | None:
    """The stop at which somebody left the tour."""
    return -person.tour if person.tour is not None and person.tour < 0 else None


def go(work: UnitOfWork, person: User, to: str) -> int | None:
    """Go to a stop by its number, or “leave”; past the last one the tour is over. Returns the stop, None where it was left."""
    before = abs(person.tour or 1)
    number = int(to) if to.isascii() and to.isdigit() and len(to) < 3 else 0
    if to == "leave":
        person.tour = -before
    elif 1 <= number <= len(STOPS) and example_of(work) is not None:
        person.tour = number
        work.flush()
        return number
    else:
        person.tour = None
    work.flush()
    return None


def address_of(db: Session, number: int) -> str:
    """The page of a stop."""
    example, stop = example_of(db), STOPS[number - 1]
    if stop.endpoint == "published.index" or example is None:
        return url_for("coverage.tour")
    return url_for(stop.endpoint, application_id=example.id)
