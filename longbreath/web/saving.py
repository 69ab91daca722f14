"""Saving a form, the one way in which a page writes: what was filled in must be right, belong to the newest version of its
record, and be taken by the verb. Errors stand beside their field; nothing typed is lost, and nothing half-written stays."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.store.unit_of_work import STALE
from longbreath.web.forms import BaseForm
from longbreath.web.transaction import db


class HasVersion(Protocol):
    """A record that counts its changes: a number that saving raises, or how many judgements or marks it has."""

    @property
    def version(self) -> int: ...


@dataclass(frozen=True)
class Saved:
    """How saving went: `done`, or the conflict sentence (errors stand in the form), with the status to answer with."""

    done: bool
    conflict: str = ""
    status: int = 200
    result: Any = None


def _check_version(record: HasVersion, form: BaseForm) -> None:
    """Raise Conflict if the record changed since the form was shown; the form then carries the newest version."""
    if form.version.data != str(record.version):
        form.version.data = str(record.version)
        raise Conflict(STALE)


def save(form: BaseForm, record: HasVersion | None, apply: Callable[[], Any]) -> Saved:
    """Validate a sent form, check the version of the record it was filled from, apply and flush.

    A form that was not sent yet is given the record's version. What `apply` wrote before it refused is undone.
    """
    if not form.is_submitted():
        form.version.data = str(record.version) if record is not None else ""
        return Saved(False)
    if not form.validate():
        return Saved(False, status=422)
    try:
        if record is not None:
            _check_version(record, form)
        with db().savepoint():
            result = apply()
    except InputError as error:
        form.blame(error)
        return Saved(False, status=422)
    except Conflict as error:
        return Saved(False, error.message, 409)
    return Saved(True, result=result)
