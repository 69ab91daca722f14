"""How far the simulation of a card's verdicts is, and what came of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.dossier.plan.forecast import inputs_of
from longbreath.dossier.work import DONE, RUNNING, WAITING, task_of
from longbreath.store.models import Application, TestCard, WorkTask


@dataclass(frozen=True)
class ForecastState:
    """The task of a card's forecast (None before anybody asked), why it cannot be made, and its table: design, band → verdicts."""

    task: WorkTask | None = None
    refused: str = ""
    table: tuple[tuple[str, tuple[tuple[str, dict[str, float]], ...]], ...] = ()

    @property
    def is_under_way(self) -> bool:
        """Whether it waits or runs."""
        return self.task is not None and self.task.state in (WAITING, RUNNING)


def forecast_state(db: Session, application: Application, card: TestCard, day: date) -> ForecastState:
    """The forecast of a card by what goes into it now: one of an older prediction or scatter is not shown as this one."""
    try:
        inputs: dict[str, Any] = inputs_of(db, application, card, day)
    except EvidenceError as error:
        return ForecastState(refused=error.message)
    task = task_of(db, "card_forecast", inputs)
    if task is None or task.state != DONE or task.result is None:
        return ForecastState(task)
    table = tuple((name, tuple((band, dict(of)) for band, of in bands)) for name, bands in task.result["designs"])
    return ForecastState(task, "", table)
