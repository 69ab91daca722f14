"""The path, the bench and the degree wheel, as the demo tells them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from longbreath.core.bench.traverse import face_of
from longbreath.demo.book import Book
from longbreath.dossier import attachments, build, timing
from longbreath.dossier.bench import maps
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.path import faces
from longbreath.store.models import (
    Application,
    Attachment,
    BuildSheet,
    Face,
    LadderRung,
    Reading,
    Trace,
    Traverse,
    TraversePoint,
)
from longbreath.store.unit_of_work import UnitOfWork


def reading(book: Book, of: str, trace: str, new: bench_verbs.NewReading) -> Reading:
    """One reading of a trace, by the day on the bench and the trace's label or title."""
    return bench_verbs.capture(book.work, _trace(book, of, trace), new)


def take_back(book: Book, of: str, trace: str) -> None:
    """Take the last reading of a trace back."""
    bench_verbs.take_back(book.work, _trace(book, of, trace))


def take_out(book: Book, of: str, trace: str, reason: str) -> None:
    """Take the last reading that counts out of a trace, with the reason."""
    last = [one for one in _trace(book, of, trace).readings if one.counts][-1]
    bench_verbs.exclude(book.work, last, reason)


def _trace(book: Book, of: str, trace: str) -> Any:
    return book.find(Trace, f"{of}, {trace}")


def face(work: UnitOfWork, application: Application, card: faces.FaceCard) -> Face:
    """A face of the path, drawn from its sizes."""
    return faces.save_face(work, application, None, face_of(card.shape, card.sizes), card)


def face_map(work: UnitOfWork, application: Application, sizes: dict[str, float], card: maps.MapCard) -> Traverse:
    """A map of the velocity over a face."""
    return maps.add_map(work, application, face_of(card.shape, sizes), card)


def map_point(work: UnitOfWork, map: Traverse, x: float, y: float, pressure: float) -> TraversePoint:
    """One place of a map: where the probe stood, and the velocity pressure there."""
    return maps.add_point(work, map, x, y, pressure)


def photo(work: UnitOfWork, application: Application, face: Face, file: Path, caption: str) -> Attachment:
    """A photo of a face."""
    new = attachments.NewAttachment("face", face.id, file.name, file.read_bytes(), caption)
    return attachments.hang(work, application, new)


def usual_build(book: Book, name: str, values: dict[str, str]) -> None:
    """What build sheets have in common; a sheet begins from it by `like`."""
    book.words[name] = values


def build_sheet(
    book: Book,
    application: Application,
    label: str,
    values: dict[str, str],
    title: str = "",
    like: str = "",
    why: str = "",
    before: BuildSheet | None = None,
) -> BuildSheet:
    """A build sheet: what a usual build has, and what is said of this one; `before`: the one whose place it takes."""
    card = build.BuildCard({**book.words.get(like, {}), **values}, book.day, title, label, why)
    return build.add_sheet(book.work, application, card, before)


PORT_WORDS = ("fuel", "noise", "life")
"""What is known of a rung of the port ladder in words alone, often by hearsay."""


def rung(
    work: UnitOfWork,
    application: Application,
    name: str,
    position: int,
    grade: str,
    in_words: str,
    area: float,
    opens: float,
    closes: float,
    power: float,
    speed_from: float,
    speed_to: float,
    idle: float,
    fuel: str,
    noise: str,
    life: str,
    cost: float,
    legality: str,
    needs: str,
) -> LadderRung:
    """A rung of the port ladder; `grade` says how its figures are known, `in_words` how fuel, noise and life are."""
    told = dict(locals())
    known = [key for key in told if key not in ("work", "application", "name", "position", "grade", "in_words")]
    values = {key: {"value": told[key], "grade": in_words if key in PORT_WORDS else grade} for key in known}
    return timing.save_rung(work, application, None, timing.RungCard(name, position, values))
