"""People who work here, and the audit trail of what they did."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, now

ROLES = ("viewer", "tester", "approver", "admin")


class User(Audited, Base):
    """A person with a role. The password is kept as an argon2 hash."""

    __tablename__ = "user_account"
    __table_args__ = (CheckConstraint("role in ('viewer', 'tester', 'approver', 'admin')", name="role"),)
    audit_noun = "person"
    audit_shared = True
    audit_silent = ("password_hash", "units", "theme", "code_secret", "code_used", "tour")

    name: Mapped[str]
    email: Mapped[str] = mapped_column(unique=True)
    role: Mapped[str]
    password_hash: Mapped[str]
    units: Mapped[str] = mapped_column(default="us", comment="display system: us or metric")
    theme: Mapped[str] = mapped_column(default="paper", comment="paper or cell")
    is_active: Mapped[bool] = mapped_column(default=True)
    skills: Mapped[str] = mapped_column(default="", comment="what they can do, comma separated")
    rate: Mapped[float] = mapped_column(default=0.0, comment="money of the house an hour of work")
    password_changed_at: Mapped[datetime | None] = mapped_column(comment="the last time; None for the first one")

    code_secret: Mapped[str | None] = mapped_column(comment="secret of one-time codes, sealed; none: not set up")
    code_used: Mapped[int] = mapped_column(default=0, comment="time step of the last code: none counts twice")
    tour: Mapped[int | None] = mapped_column(comment="stop of the tour where they left it")

    # what Flask-Login asks of a user
    is_authenticated = True
    is_anonymous = False

    def get_id(self) -> str:
        """Key kept in the log-in session."""
        return str(self.id)


class SignIn(Base):
    """One log-in of a person. The cookie holds its key; what is ended here is ended everywhere."""

    __tablename__ = "sign_in"

    user_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"), index=True)
    digest: Mapped[str] = mapped_column(unique=True, comment="SHA-256 of the key in the cookie")
    begun_at: Mapped[datetime] = mapped_column(default=now)
    ended_at: Mapped[datetime | None]


class SignInTry(Base):
    """A try to log in that missed, kept for minutes: all web processes count the same ones."""

    __tablename__ = "sign_in_try"

    address: Mapped[str] = mapped_column(index=True, comment="network address it came from")
    email: Mapped[str] = mapped_column(index=True, comment="as it was written, shortened")
    at: Mapped[datetime] = mapped_column(default=now)


class PasswordLink(Audited, Base):
    """A link by which a person chooses a new password, once."""

    __tablename__ = "password_link"
    audit_noun = "one-time link"
    audit_shared = True
    audit_silent = ("digest",)

    user_id: Mapped[int] = mapped_column(ForeignKey("user_account.id"))
    digest: Mapped[str] = mapped_column(unique=True, comment="SHA-256 of the key in the link")
    made_at: Mapped[datetime] = mapped_column(default=now)
    ends_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    user: Mapped[User] = relationship(lazy="joined")

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"for {self.user.name}"


class SentForm(Base):
    """A form that was taken, by the key it was shown with, and where that led: sent again, it leads there again."""

    __tablename__ = "sent_form"

    key: Mapped[str] = mapped_column(unique=True)
    at: Mapped[datetime] = mapped_column(default=now, index=True)
    location: Mapped[str] = mapped_column(default="")


class AuditEntry(Base):
    """One change: who, when, what, with old and new values. Append-only."""

    __tablename__ = "audit_entry"
    __table_args__ = (
        Index("ix_audit_entry_application_at", "application_id", "at"),
        Index("ix_audit_entry_at", "at"),
        Index("ix_audit_entry_entity", "entity", "entity_id"),
    )

    at: Mapped[datetime] = mapped_column(default=now)
    user_id: Mapped[int | None] = mapped_column(ForeignKey("user_account.id"))
    user_name: Mapped[str] = mapped_column(comment="as it was at the time")
    application_id: Mapped[int | None] = mapped_column(comment="the dossier it belongs to; kept without a key")
    action: Mapped[str] = mapped_column(comment="added, changed or removed")
    entity: Mapped[str]
    entity_id: Mapped[int]
    sentence: Mapped[str]
    changes: Mapped[dict[str, Any]]
