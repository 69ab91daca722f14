"""What goes out with a claim: the rules of the house, its signing keys, evidence bundles. All append-only."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.claim import Claim
from longbreath.store.models.people import User


class ClaimRules(Audited, Base):
    """How the house lets claims out and takes them back; the newest row holds."""

    __tablename__ = "claim_rules"
    __table_args__ = (
        CheckConstraint("clock_days between 0 and 365", name="clock"),
        CheckConstraint("most_age between 30 and 3650 and retest_days between 30 and 3650", name="age"),
    )
    audit_noun = "rules for claims"
    audit_shared = True
    audit_shared = True

    house: Mapped[str] = mapped_column(default="", comment="name of the house on its sheets")
    code_required: Mapped[bool] = mapped_column(default=False, comment="approval asks for a one-time code")
    clock_days: Mapped[int] = mapped_column(default=14, comment="days from a question to withdrawal by itself")
    at_once: Mapped[list[Any]] = mapped_column(default=list, comment="causes that withdraw a claim at once")
    most_age: Mapped[int] = mapped_column(default=730, comment="days: older evidence is not published")
    retest_days: Mapped[int] = mapped_column(default=730, comment="days from publishing to the next test")
    raw_files: Mapped[bool] = mapped_column(
        default=True, comment="bundles hold raw files, not channels with their hash"
    )
    money: Mapped[str] = mapped_column(default="", comment="name of the money of the house")
    made_at: Mapped[datetime] = mapped_column(default=now)
    made_by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"clock of {self.clock_days} days"


class SigningKey(Audited, Base):
    """A key of the house (Ed25519) that bundles are signed with: its public half, and its private half sealed by the secret of the
    installation. The newest signs; the older ones still verify."""

    __tablename__ = "signing_key"
    audit_noun = "signing key"
    audit_shared = True
    audit_silent = ("sealed",)

    public: Mapped[str] = mapped_column(unique=True, comment="32 bytes, hexadecimal")
    sealed: Mapped[str] = mapped_column(comment="private half, sealed")
    made_at: Mapped[datetime] = mapped_column(default=now)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.public[:16]


class ClaimBundle(Audited, Base):
    """The evidence bundle of a published claim: what its approver let out, and the bytes."""

    __tablename__ = "claim_bundle"
    audit_noun = "evidence bundle"
    audit_silent = ("discloses",)

    claim_id: Mapped[int] = mapped_column(ForeignKey("claim.id"), unique=True)
    blob_id: Mapped[int] = mapped_column(ForeignKey("blob.id"))
    sha256: Mapped[str]
    size: Mapped[int]
    discloses: Mapped[list[Any]] = mapped_column(comment="what it holds, as its approver confirmed it")
    confirmed_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    made_at: Mapped[datetime] = mapped_column(default=now)
    claim: Mapped[Claim] = relationship()
    confirmed_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.sha256[:16]
