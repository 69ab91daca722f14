"""Saving a form: what was filled in must be right, and must belong to the newest version of its record."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.store.base import Versioned
from longbreath.web.forms import BaseForm
from longbreath.web.transaction import STALE, flush


@dataclass(frozen=True)
class Saved:
    """How saving went: `done`, or the conflict sentence (errors stand in the form), with the status to answer with."""

    done: bool
    conflict: str = ""
    status: int = 200
    result: Any = None


def check_version(record: Versioned, form: BaseForm) -> None:
    """Raise Conflict if the record changed since the form was shown; the form then carries the newest version."""
    if form.version.data != str(record.version):
        form.version.data = str(record.version)
        raise Conflict(STALE)


def save(form: BaseForm, record: Versioned | None, apply: Callable[[], Any]) -> Saved:
    """Validate a sent form, check the version of the record it was filled from, apply and flush.

    A form that was not sent yet is given the record's version. Errors from the core or an operation are put beside
    the field they name; nothing typed is lost.
    """
    if not form.is_submitted():
        form.version.data = str(record.version) if record is not None else ""
        return Saved(False)
    if not form.validate():
        return Saved(False, status=422)
    try:
        if record is not None:
            check_version(record, form)
        result = apply()
        flush()
    except InputError as error:
        form.blame(error)
        return Saved(False, status=422)
    except Conflict as error:
        return Saved(False, error.message, 409)
    return Saved(True, result=result)
