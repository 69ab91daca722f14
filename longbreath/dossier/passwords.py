"""Passwords: what may be one, and their hashes."""

from __future__ import annotations

import re
import unicodedata
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from zxcvbn.frequency_lists import FREQUENCY_LISTS

from longbreath.core.basis.errors import InputError

SHORTEST, LONGEST = 10, 200
FEWEST_SIGNS = 5
"""Fewest different signs: ten times the same letter is no password."""

_hasher = PasswordHasher()


@cache
def _nobody() -> str:
    """Checked against when nobody has the address, so that a miss takes as long as a wrong password."""
    return _hasher.hash("nobody has this password")


@cache
def _common() -> frozenset[str]:
    """The thirty thousand passwords that are used most, as zxcvbn ships them."""
    return frozenset(FREQUENCY_LISTS["passwords"])


def check(password: str, field: str = "password") -> None:
    """Raises InputError for a password that is too short, too long, holds signs that cannot be typed, or is a common one."""
    if len(password) < SHORTEST:
        raise InputError(f"Use {SHORTEST} characters or more: three or four words make a good one.", field)
    if len(password) > LONGEST:
        raise InputError(f"Use {LONGEST} characters or fewer.", field)
    if any(unicodedata.category(sign) in ("Cc", "Cf", "Cs", "Co", "Cn") for sign in password):
        raise InputError("This holds a sign that cannot be seen, such as a tab or a line break. Type it anew.", field)
    plain = unicodedata.normalize("NFKC", password).casefold()
    bare = re.sub(r"[\W\d_]+$", "", plain)
    if len(set(plain)) < FEWEST_SIGNS or plain in _common() or bare in _common():
        raise InputError("This password is one of those that are tried first. Choose another, of several words.", field)


def hashed(password: str) -> str:
    """The argon2 hash of a password."""
    return _hasher.hash(password)


def matches(password: str, kept: str | None) -> bool:
    """Whether a password belongs to a hash; takes as long where there is none (None)."""
    if len(password) > LONGEST:
        return False
    try:
        return _hasher.verify(kept or _nobody(), password) and kept is not None
    except (VerifyMismatchError, InvalidHashError):
        return False
