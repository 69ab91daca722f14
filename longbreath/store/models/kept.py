"""What is derived and can be made anew at any time: counters of dossiers, and what was made of their records."""

from __future__ import annotations

from typing import Any

from sqlalchemy import BigInteger, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from longbreath.store.base import Base


class DossierStamp(Base):
    """How often something was written that bears on a dossier. Derived; number 0 of dossier counts what bears on all."""

    __tablename__ = "dossier_stamp"

    application_id: Mapped[int] = mapped_column(unique=True, comment="0: all")
    number: Mapped[int] = mapped_column(BigInteger)


class KeptWeighing(Base):
    """What came of weighing a test, by its digest. Derived; it can be made anew at any time."""

    __tablename__ = "kept_weighing"

    digest: Mapped[str] = mapped_column(unique=True)
    version: Mapped[str] = mapped_column(comment="of the program that weighed")
    data: Mapped[bytes]


class Kept(Base):
    """Something made of a dossier's records, kept by its stamp. Derived; it can be made anew at any time."""

    __tablename__ = "kept"
    __table_args__ = (UniqueConstraint("what", "application_id"),)

    what: Mapped[str]
    application_id: Mapped[int] = mapped_column(ForeignKey("application.id", ondelete="cascade"))
    stamp: Mapped[str] = mapped_column(comment="of the dossier, with the day and the version that made it")
    value: Mapped[dict[str, Any]]
