"""The declarative base, and the column types that repeat."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import DateTime, MetaData
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Base of all models; constraint names are fixed so that migrations can name them."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {dict[str, Any]: JSONB, list[Any]: JSONB, datetime: DateTime(timezone=True)}  # noqa: RUF012

    id: Mapped[int] = mapped_column(primary_key=True)


def now() -> datetime:
    """The present moment, UTC."""
    return datetime.now(UTC)


class Audited:
    """Marks a model whose changes are written to the audit trail by the store.

    `audit_noun` is what the log calls it; `audit_title` names this one. What is `audit_shared` belongs to no dossier, wherever it
    was changed from: all of them stand on it. What does not `audit_bears` on anything that is made of a dossier leaves what is kept of
    it as it is.
    """

    audit_noun = "record"
    audit_shared = False
    audit_bears = True
    audit_silent: tuple[str, ...] = ("version",)

    @property
    def audit_title(self) -> str:
        """A short name of this record for the log."""
        return str(getattr(self, "name", ""))


class Versioned:
    """Optimistic locking: the version counts up with each change and must match when saving."""

    version: Mapped[int] = mapped_column(default=1, comment="counts changes; must match when saving")
