"""Claims: what the writer chose, what was done with them, and the sheets that were published. Acts and sheets are append-only."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now
from longbreath.store.models.library import Application
from longbreath.store.models.people import User

DRAFTED, CHANGED, SUBMITTED, RETURNED = "drafted", "changed", "submitted", "returned"
PUBLISHED, WITHDRAWN, SUPERSEDED = "published", "withdrawn", "superseded"
QUESTIONED, RESTORED = "questioned", "restored"
"""What it rests on changed, and is as it was again: written by Long Breath itself the moment it sees it."""
WRITING = (DRAFTED, CHANGED, SUBMITTED)
"""Acts that make somebody a writer of the claim, who cannot approve it. The database holds it as well."""
STATES = {DRAFTED: "draft", CHANGED: "draft", RETURNED: "draft", QUESTIONED: PUBLISHED, RESTORED: PUBLISHED}
"""What an act makes of a claim, where that has another name than the act."""


class Claim(Audited, Base):
    """What a statement is made of, as its writer chose it. Once a sheet of it is published the database keeps it as it is."""

    __tablename__ = "claim"
    audit_noun = "claim"
    audit_silent = ("evidence_key", "typed")

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    slug: Mapped[str] = mapped_column(unique=True, comment="stable public address")
    kind: Mapped[str] = mapped_column(default="torque", comment="kind of statement")
    session_ids: Mapped[list[Any]] = mapped_column(comment="dyno sessions it rests on")
    sources: Mapped[dict[str, Any]] = mapped_column(
        default=dict, comment="what else it rests on, by name: school, bench session, trial, miles and price"
    )
    lines: Mapped[list[Any]] = mapped_column(comment="facts in their order: fact, phrasing, short")
    joined: Mapped[bool] = mapped_column(default=False, comment="one sentence instead of several")
    description: Mapped[str] = mapped_column(default="", comment="of the part; not a measured statement")
    evidence_key: Mapped[str] = mapped_column(default="", comment="identifies the evidence the facts were chosen on")
    typed: Mapped[dict[str, Any] | None] = mapped_column(comment="words typed before statements were made of facts")

    application: Mapped[Application] = relationship()
    acts: Mapped[list[ClaimAct]] = relationship(back_populates="claim", order_by="ClaimAct.number", lazy="selectin")
    sheet: Mapped[ClaimSheet | None] = relationship(back_populates="claim", lazy="selectin")

    @property
    def version(self) -> int:
        """How many things were done with it: two people who act at once are told."""
        return len(self.acts)

    @property
    def state(self) -> str:
        """draft, submitted, published, withdrawn or superseded: what its newest act made it."""
        newest = self.acts[-1].act if self.acts else DRAFTED
        return STATES.get(newest, newest)

    @property
    def question(self) -> ClaimAct | None:
        """The act by which it was found that its evidence changed, while that stands."""
        newest = self.acts[-1] if self.acts else None
        return newest if newest is not None and newest.act == QUESTIONED else None

    def newest(self, act: str) -> ClaimAct | None:
        """The newest act of a kind, or None."""
        return next((done for done in reversed(self.acts) if done.act == act), None)

    @property
    def writers(self) -> frozenset[int]:
        """Who wrote, changed or submitted any of it."""
        return frozenset(done.by_id for done in self.acts if done.act in WRITING and done.by_id is not None)

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"({self.state})"


class ClaimAct(Audited, Base):
    """One thing done with a claim, and by whom; its number is the version it made. Append-only."""

    __tablename__ = "claim_act"
    __table_args__ = (
        UniqueConstraint("claim_id", "number"),
        CheckConstraint(
            "act in ('drafted', 'changed', 'submitted', 'returned', 'published', 'questioned', 'restored', 'withdrawn', "
            "'superseded')",
            name="act",
        ),
    )
    audit_noun = "step of the claim:"

    claim_id: Mapped[int] = mapped_column(ForeignKey("claim.id"), index=True)
    number: Mapped[int]
    act: Mapped[str]
    by_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"), comment="none: Long Breath itself")
    at: Mapped[datetime] = mapped_column(default=now)
    reason: Mapped[str] = mapped_column(default="")
    due_on: Mapped[date | None] = mapped_column(comment="the day on which a questioned claim is withdrawn by itself")
    claim: Mapped[Claim] = relationship(back_populates="acts")
    by: Mapped[User | None] = relationship(lazy="joined")

    @property
    def by_name(self) -> str:
        """Who did it."""
        return self.by.name if self.by is not None else "Long Breath"

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.act + (f", {self.reason}" if self.reason else "")


class ClaimSheet(Audited, Base):
    """A published sheet: everything it shows, in the shape of its time, and what its approver read. Append-only."""

    __tablename__ = "claim_sheet"
    audit_noun = "public sheet"
    audit_silent = ("snapshot", "case", "evidence_key", "read")

    claim_id: Mapped[int] = mapped_column(ForeignKey("claim.id"), unique=True)
    shape: Mapped[int] = mapped_column(comment="version of the snapshot's shape: 1 typed words, 2 facts")
    snapshot: Mapped[dict[str, Any]] = mapped_column(deferred=True, comment="all that the sheet shows")
    evidence_key: Mapped[str] = mapped_column(comment="identifies the evidence it was published on")
    version_read: Mapped[int] = mapped_column(comment="number of the act that its approver had read")
    read: Mapped[str] = mapped_column(comment="digest of what the approver read")
    approved_by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    published_at: Mapped[datetime] = mapped_column(default=now)
    case: Mapped[dict[str, Any] | None] = mapped_column(
        deferred=True, comment="all that it rests on, as plain data; none of sheets from before it was kept"
    )
    retest_on: Mapped[date | None] = mapped_column(comment="the day from which the house wants it tested again")
    claim: Mapped[Claim] = relationship(back_populates="sheet")
    approved_by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of version {self.version_read}"


class FactComment(Audited, Base):
    """What somebody said to a fact of a claim, or to all of it (no fact). Append-only; it stays with the claim and is never
    published."""

    __tablename__ = "fact_comment"
    audit_noun = "comment on the claim"

    claim_id: Mapped[int] = mapped_column(ForeignKey("claim.id"), index=True)
    fact: Mapped[str] = mapped_column(default="", comment="key of the fact; empty: the whole statement")
    words: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    by_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    by: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.words[:80]
