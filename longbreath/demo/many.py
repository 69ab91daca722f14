"""The finished dossier of the demo many times over, for measuring speed."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from sqlalchemy import select

from longbreath.demo.anew import another_folder
from longbreath.demo.book import Book
from longbreath.demo.load import do, tell
from longbreath.demo.story import CHAPTER, OWN, Entry, chapter
from longbreath.dossier import subscribers
from longbreath.dossier.reckon import candidates
from longbreath.store.database import Database
from longbreath.store.models import Application, Vehicle
from longbreath.store.unit_of_work import working

VEHICLES, WANTED = 8, 12
"""How many vehicles share the dossiers, and how many candidates are weighed for the last."""


def load_many(url: str, times: int) -> None:
    """Lay the finished dossier down many times over eight vehicles, and a table of candidates beside the last."""
    subscribers.attach()
    folders = sorted(path.parent for path in OWN.glob(f"*/{CHAPTER}"))
    shop, finished = (chapter(folder / CHAPTER) for folder in folders[:2])
    opened = next(entry.said for entry in finished.entries if entry.do == "dossier")
    vehicle, part = _made(shop.entries, "vehicle", opened["vehicle"]), _made(shop.entries, "part", opened["part"])
    database = Database(url)
    with working(database.session) as work, TemporaryDirectory() as own:
        book = Book(work)
        tell(book, shop)
        vehicles = [do(book, _again(vehicle, n, opened["vehicle"])) for n in range(1, VEHICLES + 1)]
        for number in range(times):
            group, place = divmod(number, VEHICLES)
            if place == 0:
                do(book, _again(part, group + 1, opened["part"]))
            book.records[Vehicle, opened["vehicle"]] = vehicles[place]
            pulled = another_folder(folders[1], Path(own) / str(number), number * 100) if number else folders[1]
            tell(book, chapter(pulled / CHAPTER))
        _candidates(book)
    database.engine.dispose()


def _made(entries: tuple[Entry, ...], what: str, called: str) -> Entry:
    """The entry that made what is called so."""
    return next(entry for entry in entries if entry.do == what and called.startswith(entry.said["name"]))


def _again(entry: Entry, number: int, called: str) -> Entry:
    """The same once more under a name of its own, found by what the first was called."""
    return replace(entry, said={**entry.said, "name": f"{entry.said['name']}, number {number}", "called": called})


def _candidates(book: Book) -> None:
    """A table of candidates: parts measured on this vehicle in other dossiers, and wanted ones to make up the number."""
    last = book.dossier
    if last is None:
        return
    of_it = select(Application.revision_id).where(Application.vehicle_id == last.vehicle_id, Application.id != last.id)
    revisions = [*book.work.scalars(of_it.order_by(Application.id).limit(VEHICLES)), *[None] * WANTED][:WANTED]
    for place, revision in enumerate(revisions, start=1):
        values = {"length": {"value": 0.3 + 0.01 * place, "rests": "estimated", "where": ""}}
        values["area"] = {"value": 14e-4, "rests": "estimated", "where": ""}
        card = candidates.CandidateCard("manifold", 20 + place, "" if revision else f"wanted {place}", revision, values)
        candidates.save_candidate(book.work, last, None, card)
