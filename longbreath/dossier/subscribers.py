"""Who hears what. Sealing, scoring and verdicts follow what verbs say, in this one table; whatever runs Long Breath attaches it."""

from __future__ import annotations

from sqlalchemy import select

from longbreath.dossier import events
from longbreath.dossier.events import (
    BandsChanged,
    BuildWritten,
    EngineLookedAt,
    PullComes,
    PullsChanged,
    ReadingComes,
    ReadingsChanged,
    VerdictKept,
)
from longbreath.dossier.evidence.verdict import renew, renew_all
from longbreath.dossier.health import bearing_on
from longbreath.dossier.reckon.predictions import seal_predictions
from longbreath.dossier.reckon.scores import forget_airflow, renew_scores
from longbreath.store.models import Application, DifferenceReason, Verdict
from longbreath.store.unit_of_work import UnitOfWork


def _weigh_served(work: UnitOfWork, event: PullsChanged) -> None:
    """Every dossier that the card serves is weighed anew, and every one whose ledger takes a line off by this session."""
    taken_off = select(DifferenceReason.application_id).where(DifferenceReason.session_id == event.session.id)
    ids = {pair.application_id for pair in event.session.card.pairs} | set(work.scalars(taken_off))
    renew_all(work, [work.get_one(Application, number) for number in sorted(ids)])


def _weigh_on_bands(work: UnitOfWork, event: BandsChanged) -> None:
    weighed = select(Application).join(Verdict, Verdict.application_id == Application.id)
    renew_all(work, work.scalars(weighed.where(Application.vehicle_id == event.vehicle.id)).all())


def _weigh_on_engine(work: UnitOfWork, event: EngineLookedAt) -> None:
    renew_all(work, bearing_on(work, event.engine_id, event.vehicle_id))


def attach() -> None:
    """Have them hear: whatever runs Long Breath calls it once."""
    events.told_to(HEARS)


HEARS: dict[type, tuple[events.Hear, ...]] = {
    PullComes: (lambda work, said: seal_predictions(work, said.application, said.card),),
    PullsChanged: (_weigh_served,),
    ReadingComes: (lambda work, said: seal_predictions(work, said.application, None),),
    ReadingsChanged: (lambda work, said: forget_airflow(work, said.application_id),),
    BuildWritten: (lambda work, said: renew(work, said.application),),
    BandsChanged: (_weigh_on_bands,),
    EngineLookedAt: (_weigh_on_engine,),
    VerdictKept: (lambda work, said: renew_scores(work, said.application, said.evidence),),
}
