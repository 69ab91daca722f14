"""When the database cannot do what it is asked: what went wrong, in words, with the status that belongs to it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, OperationalError, SQLAlchemyError
from sqlalchemy.exc import TimeoutError as NoneFree


@dataclass(frozen=True)
class Outage:
    """What is answered: status, the sentence, and after how many seconds it is worth another try (None: not by itself)."""

    status: int
    sentence: str
    retry: int | None = None


AWAY = Outage(503, "The database cannot be reached. Try again in a minute; nothing was saved.", 10)
FULL = Outage(507, "The disk of the database is full; nothing was saved. Ask whoever runs this machine to make room.")
CROSSED = Outage(409, "Somebody else saved at the same moment. Nothing of this was saved: send it again.", 1)
TWICE = Outage(
    409, "The same is kept already: it was sent twice, or by somebody else at the same moment. Look at the page anew."
)
TOO_LARGE = Outage(
    400, "A number in that request is larger than anything that is kept here. Go back and write it anew."
)
UNWRITABLE = Outage(400, "That request holds a sign that cannot be kept, such as a null. Go back and write it anew.")
BY_CODE = {
    "53100": FULL,
    "53200": AWAY,
    "40001": CROSSED,
    "40P01": CROSSED,
    "55P03": CROSSED,
    "22021": UNWRITABLE,
    "22P05": UNWRITABLE,
    "22003": TOO_LARGE,
}
"""Outages by PostgreSQL's SQLSTATE (PostgreSQL 15 documentation, appendix A)."""


def outage_of(error: SQLAlchemyError) -> Outage | None:
    """The outage that an error of the database is, or None for one that is our own fault."""
    cause = getattr(error, "orig", None)
    code = getattr(cause, "sqlstate", None)
    if code in BY_CODE:
        return BY_CODE[code]
    if isinstance(error, IntegrityError) and code in ("23505", "23P01"):
        return TWICE
    if isinstance(error, DataError):
        return UNWRITABLE if "NUL" in str(cause) else TOO_LARGE
    lost = isinstance(error, DBAPIError) and error.connection_invalidated
    return AWAY if lost or isinstance(error, (OperationalError, NoneFree)) else None
