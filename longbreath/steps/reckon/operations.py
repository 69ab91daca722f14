"""What Reckon does to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.working import Figure
from longbreath.store.models import Application, DynoSession, Prediction, Pull, User


def keep_prediction(
    db: Session,
    application: Application,
    actor: User,
    inputs: dict[str, Any],
    figures: dict[str, Figure],
    expects: str,
) -> Prediction:
    """Keep what was reckoned. Once pulls exist it is marked as made after the test and scores nothing."""
    pulls = select(func.count(Pull.id)).join(DynoSession).where(DynoSession.application_id == application.id)
    prediction = Prediction(
        application_id=application.id,
        inputs=inputs,
        figures=[{"key": key, **figure.to_dict()} for key, figure in figures.items()],
        expects=expects,
        made_by_id=actor.id,
        after_test=bool(db.scalar(pulls)),
    )
    db.add(prediction)
    db.flush()
    return prediction
