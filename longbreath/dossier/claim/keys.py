"""Signing keys of the house: made once, sealed by the secret of the installation, published with their public halves."""

from __future__ import annotations

from cryptography.fernet import Fernet, InvalidToken
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.proof.pack import new_key
from longbreath.store.models import SigningKey
from longbreath.store.unit_of_work import UnitOfWork


def keys_of(db: Session) -> list[SigningKey]:
    """All keys of the house, newest first; the newest signs."""
    return list(db.scalars(select(SigningKey).order_by(SigningKey.id.desc())))


def add_key(work: UnitOfWork, seal: Fernet) -> SigningKey:
    """Make a new key; the earlier ones still verify."""
    public, private = new_key()
    row = SigningKey(public=public, sealed=seal.encrypt(private.encode()).decode())
    work.add(row)
    work.flush()
    return row


def private_of(row: SigningKey, seal: Fernet) -> str:
    """The private half of a key, hexadecimal. Raises EvidenceError where the secret of the installation is another by now."""
    try:
        return seal.decrypt(row.sealed.encode()).decode()
    except InvalidToken:
        raise EvidenceError("The signing key was sealed by another installation: make a new one.") from None


def signing_key(work: UnitOfWork, seal: Fernet) -> tuple[SigningKey, str]:
    """The key that signs, and its private half; the first one is made when it is first needed."""
    row = next(iter(keys_of(work)), None) or add_key(work, seal)
    return row, private_of(row, seal)
