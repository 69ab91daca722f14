"""What changes people and their choices."""

from __future__ import annotations

import re
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.dossier import passwords
from longbreath.dossier.entry import leave_everywhere
from longbreath.store.models import User
from longbreath.store.unit_of_work import UnitOfWork

MAIL = re.compile(r"[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9](?:[A-Za-z0-9-]*[A-Za-z0-9])?(?:\.[A-Za-z0-9-]+)+")
"""A mail address as the HTML standard has it, with a dot in its domain."""


@dataclass(frozen=True)
class NewPerson:
    """A person to let in, with a first password."""

    name: str
    email: str
    role: str
    password: str


def add_person(work: UnitOfWork, new: NewPerson) -> User:
    """Add a person. Raises InputError for what is no mail address or one that is taken, and for a poor password."""
    email = new.email.strip().lower()
    if not MAIL.fullmatch(email):
        raise InputError("This is no mail address. Write it as name@example.test.", "email")
    passwords.check(new.password)
    person = User(name=new.name, email=email, role=new.role, password_hash=passwords.hashed(new.password))
    try:
        with work.savepoint():
            work.add(person)
    except IntegrityError:
        raise InputError("Somebody already has this mail address.", "email") from None
    return person


def toggle_active(work: UnitOfWork, person: User) -> None:
    """Let a person in, or keep them out and end their log-ins. Raises EvidenceError for oneself."""
    if person.id == work.actor.id:
        raise EvidenceError("You cannot lock yourself out. Ask another admin.")
    person.is_active = not person.is_active
    if not person.is_active:
        leave_everywhere(work, person)
    work.flush()


def everybody(db: Session) -> list[User]:
    """Everybody by name."""
    return list(db.scalars(select(User).order_by(User.name)))


def anybody_known(db: Session) -> bool:
    """Whether there is a person at all."""
    return db.scalar(select(User.id).limit(1)) is not None


def an_admin(db: Session) -> User | None:
    """Any admin who may log in, or None."""
    return db.scalar(select(User).where(User.is_active, User.role == "admin").order_by(User.id).limit(1))


def choose_units(work: UnitOfWork, system: str) -> None:
    """Choose the display system of the acting person."""
    work.actor.units = system
    work.flush()


def choose_theme(work: UnitOfWork, theme: str) -> None:
    """Choose the light of the acting person."""
    work.actor.theme = theme
    work.flush()
