"""What changes people and their choices."""

from __future__ import annotations

from dataclasses import dataclass

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.store.models import User
from longbreath.store.unit_of_work import UnitOfWork

_hasher = PasswordHasher()
# checked against when nobody has the address, so that a miss takes as long as a wrong password
_NOBODY = _hasher.hash("nobody has this password")


@dataclass(frozen=True)
class NewPerson:
    """A person to let in, with a first password."""

    name: str
    email: str
    role: str
    password: str


def add_person(work: UnitOfWork, new: NewPerson) -> User:
    """Add a person. Raises InputError if the address is taken."""
    hashed = _hasher.hash(new.password)
    person = User(name=new.name, email=new.email.strip().lower(), role=new.role, password_hash=hashed)
    try:
        with work.attempt():
            work.add(person)
    except IntegrityError:
        raise InputError("Somebody already has this mail address.", "email") from None
    return person


def find_by_password(db: Session, email: str, password: str) -> User | None:
    """The active person with that address and password, or None."""
    person = db.scalar(select(User).where(func.lower(User.email) == email.strip().lower(), User.is_active))
    try:
        _hasher.verify(person.password_hash if person is not None else _NOBODY, password)
    except (VerifyMismatchError, InvalidHashError):
        return None
    return person


def toggle_active(work: UnitOfWork, person: User) -> None:
    """Let a person in or keep them out. Raises EvidenceError for oneself."""
    if person.id == work.actor.id:
        raise EvidenceError("You cannot lock yourself out. Ask another admin.")
    person.is_active = not person.is_active
    work.flush()


def everybody(db: Session) -> list[User]:
    """Everybody by name."""
    return list(db.scalars(select(User).order_by(User.name)))


def anybody_known(db: Session) -> bool:
    """Whether there is a person at all."""
    return db.scalar(select(User.id).limit(1)) is not None


def choose_units(work: UnitOfWork, system: str) -> None:
    """Choose the display system of the acting person."""
    work.actor.units = system
    work.flush()


def choose_theme(work: UnitOfWork, theme: str) -> None:
    """Choose the light of the acting person."""
    work.actor.theme = theme
    work.flush()
