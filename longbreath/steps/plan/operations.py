"""What Plan does to the records."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from longbreath.store.models import Application, TestCard


def save_card(db: Session, application: Application, card: TestCard | None, **values: Any) -> TestCard:
    """Write or change the test card."""
    saved = card or TestCard(application_id=application.id)
    for name, value in values.items():
        setattr(saved, name, value)
    db.add(saved)
    return saved
