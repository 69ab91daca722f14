"""Selling text as it was given, and how each of its sentences stands to the evidence of the parts that it names."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from threading import Lock

from cachetools import LRUCache
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.claim.facts import BAND, LIFT, PART, PEAK, Fact
from longbreath.core.claim.road import UNKNOWN, Road
from longbreath.core.claim.selling.against import NO_CLAIM, VERDICTS, Background, Known
from longbreath.core.claim.selling.judge import SentenceJudged, judge
from longbreath.core.claim.selling.read import sentences_of
from longbreath.core.claim.selling.words import fold
from longbreath.dossier.claim.backing import Backing, backing
from longbreath.dossier.claim.choices import CHOICES
from longbreath.dossier.records.road import road_of
from longbreath.dossier.remembered import Remembered
from longbreath.store.base import now
from longbreath.store.models import Application, SellingText
from longbreath.store.unit_of_work import UnitOfWork

NAMES_NO_PART = "It names no part of the house that is on one of its vehicles."


def _backgrounds(db: Session, ids: Sequence[int]) -> dict[int, Background]:
    return {number: _background(db, db.get_one(Application, number)) for number in ids}


backgrounds = Remembered(_backgrounds, 2000, "background", Background)
"""What selling text of each application is held against, kept while nothing of it changes."""


def _background(db: Session, application: Application) -> Background:
    known: list[Known] = []
    for kind, choose in CHOICES.items():
        for choice in choose(db, application)[:2]:
            try:
                found = backing(db, application, kind, choice.session_ids, choice.sources)
            except EvidenceError:
                continue
            if found.statement.foreign:
                continue
            facts = tuple(replace(fact, usual=True) for fact in found.facts)
            known += [Known(f, found.setting, facts, _reference(found, f)) for f in facts if not f.blocked]
            if "school" not in choice.sources:
                break
    return Background(tuple(known), road_of(db, application, now().date()), application.vehicle.cylinders)


def _reference(found: Backing, fact: Fact) -> float | None:
    """A's own value [SI], which a share of the fact is of."""
    dyno, bench = found.statement.grounded.dyno, found.statement.grounded.bench
    if dyno is not None and fact.quantity in ("torque", "power"):
        if fact.scope == BAND:
            return next((b.reference for b in dyno.weighing.bands if b.name == fact.name), None)
        if fact.scope == PEAK:
            peak = dyno.weighing.peak_power if fact.quantity == "power" else dyno.weighing.peak_torque
            return peak.reference
    if bench is not None and fact.scope in (LIFT, PART):
        return next((lift.a for lift in bench.lifts if fact.scope == PART or lift.lift == fact.low), None)
    return None


@dataclass(frozen=True)
class TextRow:
    """One sentence of a text: its place, what it is about (None: nothing of the house), how it stands."""

    place: int
    application: Application | None
    judged: SentenceJudged


@dataclass(frozen=True)
class Text:
    """A text with its sentences."""

    row: SellingText
    rows: tuple[TextRow, ...]

    def counts(self) -> list[tuple[str, int]]:
        """How many sentences stand in which way, from the worst."""
        return [(v, sum(r.judged.verdict == v for r in self.rows)) for v in VERDICTS]


def save_text(work: UnitOfWork, title: str, text: str, application_id: int | None = None) -> SellingText:
    """Keep a page of selling text; a newer one of its title takes its place. Raises InputError beside the field."""
    tidy = " ".join(title.split())[:120]
    if not tidy:
        raise InputError("Give it a name: the page or the brochure it stands in.", "title")
    if not sentences_of(text):
        raise InputError("There is no sentence in it yet.", "text")
    if application_id is not None and work.get(Application, application_id) is None:
        raise InputError("There is no such application.", "application_id")
    row = SellingText(title=tidy, text=text, application_id=application_id, made_by_id=work.actor.id)
    row.made_by = work.actor
    work.add(row)
    work.flush()
    return row


def texts_of(db: Session) -> list[SellingText]:
    """The texts that stand: the newest of each title, newest first."""
    newest = select(func.max(SellingText.id)).group_by(func.lower(SellingText.title))
    return list(db.scalars(select(SellingText).where(SellingText.id.in_(newest)).order_by(SellingText.id.desc())))


_kept: LRUCache[tuple[str, int], tuple[dict[int, Background], tuple[SentenceJudged, ...]]] = LRUCache(64)
_lock = Lock()


def look(db: Session, row: SellingText) -> Text:
    """A text with each of its sentences laid beside the evidence. A line that names a part speaks of it until another is named.

    What was judged is kept while the evidence of the parts that it names is the same.
    """
    named = _abouts(db, row)
    wanted = sorted({a.id for _, a in named if a is not None})
    known = backgrounds(db, wanted) if wanted else {}
    place = (str(db.get_bind().engine.url), row.id)
    with _lock:
        kept = _kept.get(place)
    if kept is None or kept[0].keys() != known.keys() or any(kept[0][n] is not known[n] for n in known):
        kept = (known, tuple(_judged(sentence, about, known) for sentence, about in named))
        with _lock:
            _kept[place] = kept
    rows = (
        TextRow(k, about, judged) for k, ((_, about), judged) in enumerate(zip(named, kept[1], strict=True), start=1)
    )
    return Text(row, tuple(rows))


def _judged(sentence: str, about: Application | None, known: dict[int, Background]) -> SentenceJudged:
    if about is not None:
        return judge(sentence, known[about.id])
    judged = judge(sentence, Background((), Road(UNKNOWN)))
    return judged if judged.verdict == NO_CLAIM else replace(judged, why=NAMES_NO_PART)


@dataclass(frozen=True)
class _Name:
    """What an application is called in a text: part in full, its sizes, its vehicle."""

    full: str
    sizes: tuple[str, ...]
    vehicle: str
    application: Application


def _abouts(db: Session, row: SellingText) -> list[tuple[str, Application | None]]:
    """The sentences of a text, each with the application that it speaks of."""
    by_word: dict[str, list[_Name]] = {}
    about = None
    for application in db.scalars(select(Application)):
        full = fold(application.product.name)
        sizes = tuple(re.findall(r"\d+ ?mm", full))
        by_word.setdefault(full.split()[0], []).append(_Name(full, sizes, fold(application.vehicle.name), application))
        about = application if application.id == row.application_id else about
    found = []
    for sentence in sentences_of(row.text):
        about = _named(fold(sentence), by_word, about)
        found.append((sentence, about))
    return found


def _named(folded: str, by_word: dict[str, list[_Name]], before: Application | None) -> Application | None:
    """The application that a line names; of several the one whose full name, size or vehicle it names, else the newest; else the one
    before."""
    hits = [name for word in re.findall(r"[\w-]+", folded) for name in by_word.get(word, ())]
    if not hits:
        return before

    def rank(name: _Name) -> tuple[bool, bool, bool, int]:
        exact = name.full in folded or any(size in folded for size in name.sizes)
        return exact, name.vehicle in folded, name.application is before, name.application.id

    return max(hits, key=rank).application
