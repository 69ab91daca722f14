"""Reviews of a claim: comments on facts, and the one-time code of whoever approves."""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Iterator

import pyotp
from cryptography.fernet import Fernet, InvalidToken
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError, InputError, LongBreathError
from longbreath.dossier import entry
from longbreath.store.models import Claim, FactComment, User
from longbreath.store.unit_of_work import UnitOfWork

STEP = 30
"""Seconds that a one-time code stands. Source: RFC 6238."""
SKEW = 1
"""Steps that a telephone's clock may be off."""
MOST_MISSES = 8
"""Codes that a person may miss within ten minutes, in all their log-ins together."""
LONGEST = 600


def sealer(secret: str) -> Fernet:
    """What seals secrets at rest with the secret of the installation."""
    return Fernet(base64.urlsafe_b64encode(hashlib.sha256(f"claims {secret}".encode()).digest()))


def comments_of(db: Session, claim: Claim) -> dict[str, list[FactComment]]:
    """Comments by the key of the fact they are on, oldest first; "" for those on all of it."""
    found: dict[str, list[FactComment]] = {}
    for row in db.scalars(select(FactComment).where(FactComment.claim_id == claim.id).order_by(FactComment.id)):
        found.setdefault(row.fact, []).append(row)
    return found


def comment(work: UnitOfWork, claim: Claim, fact: str, words: str) -> FactComment:
    """Say something to a fact, or to all of the claim (no fact). Raises InputError for nothing, or too much."""
    tidy = " ".join(words.split())
    if not tidy:
        raise InputError("Write the comment.", "words")
    if len(tidy) > LONGEST:
        raise InputError(f"At most {LONGEST} letters.", "words")
    row = FactComment(claim_id=claim.id, fact=fact[:200], words=tidy, by_id=work.actor.id)
    row.by = work.actor
    work.add(row)
    work.flush()
    return row


def new_secret() -> str:
    """A secret for one-time codes."""
    return pyotp.random_base32()


def address_of(secret: str, person: User) -> str:
    """The address that a telephone reads the secret from. Source: RFC 6238, key URI."""
    return pyotp.TOTP(secret).provisioning_uri(name=person.email, issuer_name="Long Breath")


def set_up(work: UnitOfWork, person: User, secret: str, code: str, seal: Fernet) -> None:
    """Begin to use one-time codes, once a first code shows that the telephone has the secret. Raises InputError."""
    step = _step_of(secret, code, work.clock().timestamp())
    if step is None:
        raise InputError(
            "This code does not belong to that secret just now: look at the clock of the telephone.", "code"
        )
    person.code_secret = seal.encrypt(secret.encode()).decode()
    person.code_used = step
    work.flush()


def check_code(work: UnitOfWork, person: User, code: str, seal: Fernet) -> None:
    """Take a one-time code; none counts twice. Raises InputError for a wrong one or after too many misses (the caller keeps the
    miss, `code_missed`), EvidenceError where none was set up."""
    if not person.code_secret:
        raise EvidenceError("The house asks for a one-time code: set it up under your account first.")
    person = work.scalars(select(User).where(User.id == person.id).with_for_update()).one()
    work.refresh(person, ["code_used", "code_secret"])
    if entry.missed(work, _code_of(person)) >= MOST_MISSES:
        raise InputError("Too many codes missed. Wait ten minutes.", "code")
    try:
        secret = seal.decrypt((person.code_secret or "").encode()).decode()
    except InvalidToken:
        raise LongBreathError("The secret of your one-time codes is of another installation: set it up anew.") from None
    step = _step_of(secret, code, work.clock().timestamp())
    if step is None or step <= person.code_used:
        raise InputError("This code does not count: read the newest one from your telephone.", "code")
    person.code_used = step
    work.flush()


def code_missed(work: UnitOfWork, person: User) -> None:
    """Count a code that did not, for all processes and log-ins of a person."""
    entry.miss(work, _code_of(person))


def _code_of(person: User) -> str:
    return f"code of {person.id}"


def _step_of(secret: str, code: str, moment: float) -> int | None:
    """The time step that a code belongs to, or None."""
    plain = "".join(code.split())
    now = int(moment) // STEP
    codes = pyotp.TOTP(secret)
    for step in _near(now):
        if pyotp.utils.strings_equal(codes.generate_otp(step), plain):
            return step
    return None


def _near(now: int) -> Iterator[int]:
    yield now
    for off in range(1, SKEW + 1):
        yield now - off
        yield now + off
