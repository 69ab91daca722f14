"""The one family of errors. Each carries a sentence that a user can act on."""

from __future__ import annotations


class LongBreathError(ValueError):
    """Base of all errors that are shown to a user as a sentence.

    `status` is the HTTP status the web floor answers with.
    """

    status = 400

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class InputError(LongBreathError):
    """A value that was typed or uploaded cannot be used; `field` names where it stands."""

    status = 422

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.field = field


class EvidenceError(LongBreathError):
    """The evidence does not allow what was asked (a gate, a comparison, a claim)."""

    status = 409


class Conflict(LongBreathError):
    """Somebody else changed the record in the meantime."""

    status = 409


class NotAllowed(LongBreathError):
    """The acting user's role does not include this."""

    status = 403


class TooMany(LongBreathError):
    """The same was tried too often in a short while."""

    status = 429


def positive(**values: float) -> None:
    """Raises InputError beside the first of these values [SI] that is nought or less."""
    for name, value in values.items():
        if value <= 0:
            raise InputError("This must be more than nought.", name)
