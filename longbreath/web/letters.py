"""The variants of a dossier as the choices of a field, one way everywhere."""

from __future__ import annotations

from typing import Any

from longbreath.dossier.plan.variants import letter_choices
from longbreath.store.models import Application
from longbreath.web.forms import options
from longbreath.web.transaction import db

NEITHER, BOTH = ("", "neither"), ("both", "every variant")


def offer_letters(field: Any, application: Application, other: tuple[str, str]) -> None:
    """Let a field choose among the variants of a dossier, or `other`: none of them, or all."""
    field.choices = options(
        [*letter_choices(db(), application.id), other]
        if other == NEITHER
        else letter_choices(db(), application.id, other)
    )
