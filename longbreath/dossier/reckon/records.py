"""The records of an application as Reckon reads them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from longbreath.core.engine.assumptions import BOOSTED, Assumed
from longbreath.core.engine.demand import EngineGeometry
from longbreath.core.path.kinds import INTAKE, RUNNER, kind_of
from longbreath.core.reckon.rests import CHOSEN, Known
from longbreath.dossier.conditions import assumptions_of, engine_of
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.timing import sheets_of, standing
from longbreath.store.models import Application, Element, KeptAnswer, Target, Vehicle, WheelSheet


def sections(db: Session, application_id: int) -> list[Element]:
    """The measured sections where velocity is asked: runners first, then those of the product's side, B's before A's."""
    return sections_among(elements_of(db, application_id))


def sections_among(elements: list[Element]) -> list[Element]:
    """The sections where velocity is asked among these elements, in the order of `sections`."""
    found = [e for e in elements if kind_of(e.kind).velocity]
    return sorted(
        found, key=lambda e: (e.kind != RUNNER, kind_of(e.kind).side != INTAKE, e.belongs_to != "B", e.position)
    )


@dataclass
class Records:
    """The records of one application as Reckon reads them, and the section that is asked about."""

    application: Application
    elements: list[Element]
    sheets: list[WheelSheet]
    target: Target | None
    kept: dict[str, KeptAnswer]
    section: Element | None

    @property
    def vehicle(self) -> Vehicle:
        """The vehicle."""
        return self.application.vehicle

    @cached_property
    def engine(self) -> EngineGeometry:
        """The engine's geometry."""
        return engine_of(self.vehicle)

    @cached_property
    def assumed(self) -> Assumed:
        """What is assumed of such an engine."""
        return assumptions_of(self.vehicle)

    @property
    def fitted(self) -> list[Element]:
        """The path with the product fitted."""
        return [e for e in self.elements if e.belongs_to != "A"]

    @property
    def is_boosted(self) -> bool:
        """Whether the engine is filled above the room's pressure."""
        return self.vehicle.induction in BOOSTED

    def first(self, *kinds: str) -> Element | None:
        """The first element of these kinds on the path with the product fitted."""
        return next((e for e in self.fitted if e.kind in kinds), None)

    def limit(self, name: str) -> Known | None:
        """A value of the target, or None."""
        value = (self.target.limits if self.target is not None else {}).get(name)
        return Known(float(value), CHOSEN, "the target") if value is not None else None


def records_of(db: Session, application: Application, section_id: int | None = None) -> Records:
    """The records of an application, with the section of that number or the first one."""
    elements = elements_of(db, application.id)
    choices = sections_among(elements)
    section = next((e for e in choices if e.id == section_id), choices[0] if choices else None)
    newest = (
        select(KeptAnswer)
        .where(KeptAnswer.application_id == application.id)
        .ext(distinct_on(KeptAnswer.question))
        .order_by(KeptAnswer.question, KeptAnswer.id.desc())
    )
    return Records(
        application,
        elements,
        standing(sheets_of(db, application.id)),
        db.scalar(select(Target).where(Target.application_id == application.id)),
        {answer.question: answer for answer in db.scalars(newest)},
        section,
    )
