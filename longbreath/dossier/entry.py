"""Coming in and going out: log-ins that the server ends, tries that are counted for all its processes, passwords and links to them."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError, TooMany
from longbreath.dossier import passwords
from longbreath.store.models import PasswordLink, SignIn, SignInTry, User
from longbreath.store.unit_of_work import UnitOfWork

LASTS = timedelta(days=30)
"""How long a log-in holds that nobody ends."""
LINK_LASTS = timedelta(hours=24)
WHILE = timedelta(minutes=10)
"""How long a miss is counted."""
MISSES_OF_ADDRESS, MISSES_OF_MAIL = 20, 40
"""Misses within that time from one network address, and on one mail address, after which nobody may try."""
SHORTENED = 120


def _digest(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()


def enter(work: UnitOfWork, email: str, password: str, address: str) -> tuple[User, str]:
    """Log in: the person and the key of this log-in, for the cookie.

    Raises TooMany after too many misses, InputError (field "password") where the two do not belong together; the caller keeps
    the miss.
    """
    mail = email.strip().lower()[:SHORTENED]
    _check_misses(work, mail, address)
    person = work.scalar(select(User).where(func.lower(User.email) == mail, User.is_active))
    if not passwords.matches(password, person.password_hash if person is not None else None) or person is None:
        work.add(SignInTry(address=address[:SHORTENED], email=mail))
        work.flush()
        raise InputError("Mail address and password do not belong together.", "password")
    key = secrets.token_urlsafe(32)
    work.add(SignIn(user_id=person.id, digest=_digest(key)))
    work.flush()
    return person, key


def miss(work: UnitOfWork, what: str) -> None:
    """Count a miss of something else than a password."""
    work.add(SignInTry(address=what, email=what))
    work.flush()


def missed(work: UnitOfWork, what: str) -> int:
    """How often that was missed lately."""
    work.forget(SignInTry, work.clock() - WHILE)
    return work.scalar(select(func.count()).where(SignInTry.email == what)) or 0


def _check_misses(work: UnitOfWork, mail: str, address: str) -> None:
    work.forget(SignInTry, work.clock() - WHILE)
    for column, value, most in (
        (SignInTry.address, address[:SHORTENED], MISSES_OF_ADDRESS),
        (SignInTry.email, mail, MISSES_OF_MAIL),
    ):
        if (work.scalar(select(func.count()).where(column == value)) or 0) >= most:
            raise TooMany("Too many tries missed. Wait ten minutes, or ask an admin for a one-time link.")


def person_of(db: Session, user_id: int, key: str) -> User | None:
    """The person of a log-in, or None where it was ended, is too old, or the person is kept out."""
    query = select(User).join(SignIn, SignIn.user_id == User.id)
    query = query.where(User.id == user_id, User.is_active, SignIn.digest == _digest(key), SignIn.ended_at.is_(None))
    return db.scalar(query.where(SignIn.begun_at > func.clock_timestamp() - LASTS))


def leave(work: UnitOfWork, key: str) -> None:
    """End a log-in: its cookie is worth nothing from now on, wherever a copy of it is."""
    ending = update(SignIn).where(SignIn.digest == _digest(key), SignIn.ended_at.is_(None))
    work.execute(ending.values(ended_at=work.clock()))


def leave_everywhere(work: UnitOfWork, person: User, but: str = "") -> None:
    """End every log-in of a person but that of one key."""
    ending = update(SignIn).where(SignIn.user_id == person.id, SignIn.ended_at.is_(None), SignIn.digest != _digest(but))
    work.execute(ending.values(ended_at=work.clock()))


def change_password(work: UnitOfWork, person: User, old: str, new: str, key: str) -> None:
    """Change one's own password; every other log-in of the person ends. Raises InputError beside the field at fault."""
    if not passwords.matches(old, person.password_hash):
        raise InputError("This is not your present password.", "old")
    _set(work, person, new)
    leave_everywhere(work, person, but=key)


def _set(work: UnitOfWork, person: User, new: str) -> None:
    passwords.check(new, "new")
    person.password_hash, person.password_changed_at = passwords.hashed(new), work.clock()
    work.flush()


def make_link(work: UnitOfWork, person: User) -> str:
    """A key by which a person chooses a new password, once, within a day. Links made before are worth nothing any more."""
    unused = update(PasswordLink).where(PasswordLink.user_id == person.id, PasswordLink.used_at.is_(None))
    work.execute(unused.values(used_at=work.clock()))
    key = secrets.token_urlsafe(32)
    work.add(PasswordLink(user_id=person.id, user=person, digest=_digest(key), ends_at=work.clock() + LINK_LASTS))
    work.flush()
    return key


def link_of(work: UnitOfWork, key: str) -> PasswordLink | None:
    """The link of a key, if it still holds and its person may log in; nobody else may use it meanwhile."""
    query = select(PasswordLink).where(PasswordLink.digest == _digest(key), PasswordLink.used_at.is_(None))
    found = work.scalar(query.where(PasswordLink.ends_at > work.clock()).with_for_update(of=PasswordLink))
    return found if found is not None and found.user.is_active else None


def use_link(work: UnitOfWork, link: PasswordLink, new: str) -> None:
    """Choose a new password by a link; every log-in of the person ends. Raises InputError beside the field at fault."""
    work.act_as(link.user)
    _set(work, link.user, new)
    link.used_at = work.clock()
    leave_everywhere(work, link.user)
    work.flush()
