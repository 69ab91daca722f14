"""Loads the demo: each entry of its chapters, in order, by the verb that it names."""

from __future__ import annotations

import gc
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from threading import Thread

from sqlalchemy.exc import SQLAlchemyError

from longbreath.core.basis.errors import InputError, LongBreathError
from longbreath.demo.binding import arguments
from longbreath.demo.book import Book
from longbreath.demo.story import SHOP, Chapter, Entry, StoryError, chapters
from longbreath.demo.told import VERBS
from longbreath.dossier import library, people, subscribers
from longbreath.formats import apart
from longbreath.store.database import Database
from longbreath.store.unit_of_work import working

BROKEN = (ValueError, TypeError, LookupError, AttributeError, OSError, SQLAlchemyError, LongBreathError)
"""What goes wrong where an entry says what cannot be: a list for a length, a word that nobody knows, a file that is not there."""


def connect(url: str, devices: Mapping[str, str]) -> None:
    """Say where the demo's stand-ins answer, by what they stand in for."""
    database = Database(url)
    with working(database.session) as db:
        library.connect_devices(db, devices, "of the demo")
    database.engine.dispose()


def quiet(words: str) -> None:
    """Tell nobody how far it is."""


def load_demo(url: str, say: Callable[[str], None] = quiet, shop: Path = SHOP) -> bool:
    """Load a shop once; nothing happens if anybody is known already. say: is told of each chapter as it begins.

    Returns whether it was loaded now.

    Raises StoryError for an entry that cannot be told; then nothing of the shop is kept.
    """
    subscribers.attach()
    database = Database(url)
    with _collecting_seldom(), working(database.session) as db:
        is_new = not people.anybody_known(db)
        if is_new:  # while people and parts are written, what opens files gets ready
            Thread(target=apart.warm, daemon=True).start()
        book = Book(db)
        for chapter in chapters(shop) if is_new else ():
            say(chapter.words)
            tell(book, chapter)
    database.engine.dispose()
    return is_new


@contextmanager
def _collecting_seldom() -> Iterator[None]:
    """A load makes many objects that stay to its end: looking through them for garbage takes a tenth of its time."""
    usual = gc.get_threshold()
    gc.freeze()
    gc.set_threshold(50_000, 50, 100)
    try:
        yield
    finally:
        gc.set_threshold(*usual)
        gc.unfreeze()


def tell(book: Book, chapter: Chapter) -> None:
    """Do what a chapter tells of. Raises StoryError for an entry that cannot be told."""
    before = ""
    for entry in chapter.entries:
        if entry.do != before:  # as on the next page: what was written meanwhile is seen
            book.work.flush()
            book.work.expire_all()
        before = entry.do
        try:
            do(book, entry)
        except BROKEN as error:
            field = f"“{error.field}”: " if isinstance(error, InputError) and error.field else ""
            raise StoryError(f"{entry.where} (“{entry.do}”): {field}{error}") from error


def do(book: Book, entry: Entry) -> object:
    """Do what one entry says; what it made is remembered as it is `called`, or by its own name."""
    verb = VERBS.get(entry.do)
    if verb is None:
        raise ValueError(f"nobody knows how to do “{entry.do}”. Known: {', '.join(sorted(VERBS))}")
    said, book.folder = dict(entry.said), entry.folder
    book.turn(said)
    called = str(said.pop("called", ""))
    made = verb(**arguments(verb, said, book))
    book.keep(made, called)
    return made
