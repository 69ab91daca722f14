"""Answering a question from the records, with what was typed in their place; and keeping an answer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis import written
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import WHOLE, Answer, Field, Reckoning, reckoning_named
from longbreath.core.basis.sentence import Sentence
from longbreath.core.basis.working import Figure
from longbreath.core.reckon.rests import CHOSEN, ESTIMATED, WORDS, Known
from longbreath.dossier.naming import day
from longbreath.dossier.reckon.fill import known
from longbreath.dossier.reckon.question import Question
from longbreath.dossier.reckon.questions import asked_of
from longbreath.dossier.reckon.records import Records
from longbreath.store.models import KeptAnswer
from longbreath.store.unit_of_work import UnitOfWork

WHAT_IF = "what if"


@dataclass(frozen=True)
class Asked:
    """One input of a question: its field, what is known and as what that is shown, the text in the field, whether that was
    changed, how it was understood, what is wrong."""

    field: Field
    known: Known | None
    shown: str
    text: str
    is_changed: bool
    understood: str = ""
    error: str = ""

    @property
    def rests(self) -> str:
        """What it rests on, in words."""
        if self.is_changed:
            return WHAT_IF if self.known is None else f"{WHAT_IF}, in place of {self.shown} ({WORDS[self.known.rests]})"
        return self.known.words if self.known is not None else ""


@dataclass(frozen=True)
class School:
    """One reckoning of a question: its title, its figures, its judgement, and why it could not answer."""

    title: str
    source: str
    figures: tuple[Figure, ...]
    judgement: Sentence | None
    problem: str = ""


@dataclass(frozen=True)
class Answered:
    """A question answered as far as the records go: its inputs, its schools, and all figures by name."""

    question: Question
    asked: tuple[Asked, ...]
    schools: tuple[School, ...]
    beside: Known | None
    values: dict[str, float | int | str | None]

    @property
    def figures(self) -> dict[str, Figure]:
        """All figures by name."""
        return {figure.name: figure for school in self.schools for figure in school.figures}

    @property
    def missing(self) -> tuple[str, ...]:
        """Labels of what must be typed before it can be answered."""
        return tuple(a.field.label for a in self.asked if a.field.required and a.known is None and not a.text)

    @property
    def errors(self) -> dict[str, str]:
        """What is wrong, by field."""
        return {a.field.name: a.error for a in self.asked if a.error}

    @property
    def is_changed(self) -> bool:
        """Whether anything was typed in place of a record."""
        return any(a.is_changed for a in self.asked)

    @property
    def rests(self) -> str:
        """What the answer rests on, in a few words: how many inputs of each kind."""
        counts: dict[str, int] = {}
        for item in self.asked:
            if item.is_changed or item.known is not None:
                key = WHAT_IF if item.is_changed or item.known is None else WORDS[item.known.rests]
                counts[key] = counts.get(key, 0) + 1
        return ", ".join(f"{number} {key}" for key, number in counts.items())

    @property
    def headline(self) -> tuple[Figure, ...]:
        """The figures that sum it up."""
        return tuple(self.figures[name] for name in self.question.headline if name in self.figures)

    @property
    def spread(self) -> float | None:
        """How far the schools lie apart: the largest of their values over the least [1]; None for fewer than two."""
        values = [abs(self.figures[n].value) for n in self.question.spread if n in self.figures]
        return max(values) / min(values) if len(values) > 1 and min(values) > 0 else None


def answer(records: Records, question: Question, texts: Mapping[str, str], system: str) -> Answered:
    """Answer a question; `texts` are what was typed, which stands in place of what is known. Nothing is raised for bad input."""
    entries = [reckoning_named(name) for name in question.reckonings]
    fields = {item.name: item for entry in entries for item in entry.fields}
    held = {name: found for name in fields if (found := _known(records, question, name)) is not None}
    shown = {name: _shown(fields[name], held.get(name), system) for name in fields}
    changed = {
        name: texts[name].strip()
        for name in fields
        if name in texts and texts[name].strip() != shown[name] and texts[name].strip()
    }
    answers = [_ask(entry, changed, held, system) for entry in entries]
    asked = tuple(_asked(item, held.get(name), shown[name], changed, answers) for name, item in fields.items())
    schools = tuple(_school(entry, found, held, changed) for entry, found in zip(entries, answers, strict=True))
    values = {name: value for found in answers for name, value in found.values.items()}
    beside = known(records, question.beside[0]) if question.beside[0] else None
    return Answered(question, asked, schools, beside, values)


def _known(records: Records, question: Question, name: str) -> Known | None:
    """What is known of a field: a record, else what was kept the last time, else what is usual."""
    found = known(records, question.fill[name]) if name in question.fill else None
    if found is not None and found.rests != ESTIMATED:
        return found
    kept = records.kept.get(question.key)
    entry = kept.inputs.get(name) if kept is not None else None
    if kept is not None and entry is not None and entry["rests"] == CHOSEN:
        return Known(entry["value"], CHOSEN, f"kept by {kept.made_by.name}, {day(kept.made_at.date())}")
    return found


def _shown(item: Field, known: Known | None, system: str) -> str:
    if known is None:
        return ""
    if isinstance(known.value, str):
        return known.value
    return f"{known.value:.0f}" if item.kind == WHOLE else written.typed(known.value, item.kind, system)


def _ask(entry: Reckoning, changed: Mapping[str, str], known: Mapping[str, Known], system: str) -> Answer:
    own = {item.name for item in entry.fields}
    texts = {name: text for name, text in changed.items() if name in own}
    return entry.answer(texts, system, {name: found.value for name, found in known.items() if name in own})


def _asked(item: Field, known: Known | None, shown: str, changed: Mapping[str, str], answers: list[Answer]) -> Asked:
    typed = changed.get(item.name, "")
    understood = next((a.understood[item.name] for a in answers if item.name in a.understood), "")
    error = next((a.errors[item.name] for a in answers if item.name in a.errors), "")
    if error and not typed and known is None:
        error = ""  # it is missing, which is said once for all
    return Asked(item, known, shown, typed or shown, bool(typed), understood if typed else "", error)


def _school(entry: Reckoning, found: Answer, known: Mapping[str, Known], changed: Mapping[str, str]) -> School:
    missing = [f.label.lower() for f in entry.fields if f.required and f.name not in known and f.name not in changed]
    problem = (
        f"Not answered yet: {', '.join(missing)} {'is' if len(missing) == 1 else 'are'} missing." if missing else ""
    )
    if not problem and found.errors:
        problem = " ".join(found.errors.values())
    return School(entry.title, entry.source, found.figures, found.judgement, problem)


def answers(records: Records, system: str) -> list[Answered]:
    """Every question that is asked of this engine, answered from the records alone."""
    return [answer(records, question, {}, system) for question in asked_of(records)]


def keep_answer(work: UnitOfWork, records: Records, found: Answered, note: str, system: str) -> KeptAnswer:
    """Keep an answer as it stands. Raises InputError if there is none."""
    if not found.figures:
        raise InputError("There is no answer to keep yet.", "note")
    inputs = {
        a.field.name: {
            "value": found.values[a.field.name],
            "rests": CHOSEN if a.is_changed or a.known is None else a.known.rests,
            "where": WHAT_IF if a.is_changed or a.known is None else a.known.where,
        }
        for a in found.asked
        if found.values.get(a.field.name) is not None
    }
    said = " ".join(s.judgement.words(system) for s in found.schools if s.judgement is not None)
    kept = KeptAnswer(
        application_id=records.application.id,
        question=found.question.key,
        asked=found.question.words,
        inputs=inputs,
        figures=[{"key": key, **figure.to_dict()} for key, figure in found.figures.items()],
        judgement=said,
        note=note,
        made_by_id=work.actor.id,
        made_at=work.clock(),
    )
    kept.made_by = work.actor
    work.add(kept)
    work.flush()
    return kept


def kept_answers(db: Session, application_id: int, question: str = "", most: int = 12) -> list[KeptAnswer]:
    """Answers that were kept, newest first; of one question, or of all."""
    query = select(KeptAnswer).where(KeptAnswer.application_id == application_id)
    if question:
        query = query.where(KeptAnswer.question == question)
    return list(db.scalars(query.order_by(KeptAnswer.id.desc()).limit(most)))
