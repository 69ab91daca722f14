"""Optimistic locking: what was filled in must belong to the newest version."""

from __future__ import annotations

from longbreath.core.errors import Conflict
from longbreath.store.base import Versioned
from longbreath.web.forms import BaseForm
from longbreath.web.transaction import STALE


def check_version(record: Versioned, form: BaseForm) -> None:
    """Raise Conflict if the record changed since the form was shown; the form then carries the newest version."""
    if form.version.data != str(record.version):
        form.version.data = str(record.version)
        raise Conflict(STALE)
