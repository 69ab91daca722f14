"""All questions of Reckon, in the order in which they are asked."""

from __future__ import annotations

from longbreath.dossier.reckon import questions_air, questions_exhaust, questions_heat
from longbreath.dossier.reckon.question import Question
from longbreath.dossier.reckon.records import Records

QUESTIONS: tuple[Question, ...] = (*questions_air.QUESTIONS, *questions_exhaust.QUESTIONS, *questions_heat.QUESTIONS)
BY_KEY = {question.key: question for question in QUESTIONS}
"""All questions by key."""


def asked_of(records: Records) -> list[Question]:
    """The questions that are asked of this engine and part."""
    return [question for question in QUESTIONS if question.when(records)]
