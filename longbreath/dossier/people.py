"""What changes people and their choices."""

from __future__ import annotations

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.store.models import User

_hasher = PasswordHasher()
# checked against when nobody has the address, so that a miss takes as long as a wrong password
_NOBODY = _hasher.hash("nobody has this password")


def add_person(db: Session, name: str, email: str, role: str, password: str) -> User:
    """Add a person. Raises InputError if the address is taken."""
    person = User(name=name, email=email.strip().lower(), role=role, password_hash=_hasher.hash(password))
    try:
        with db.begin_nested():
            db.add(person)
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


def toggle_active(db: Session, person: User, actor: User) -> None:
    """Let a person in or keep them out. Raises EvidenceError for oneself."""
    if person.id == actor.id:
        raise EvidenceError("You cannot lock yourself out. Ask another admin.")
    person.is_active = not person.is_active
    db.flush()
