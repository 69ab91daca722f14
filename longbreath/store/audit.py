"""The audit trail, written by the store at each flush: nobody writes it by hand, so nobody can forget it."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import event, inspect
from sqlalchemy.orm import sessionmaker
from sqlalchemy.orm.unitofwork import UOWTransaction

from longbreath.store.base import Audited, now
from longbreath.store.models.owed import Owed
from longbreath.store.models.people import AuditEntry
from longbreath.store.stamps import BEARING, EVERYBODY
from longbreath.store.unit_of_work import UnitOfWork

_VERBS = {"added": "added", "changed": "changed", "removed": "removed"}


def attach(sessions: sessionmaker[UnitOfWork]) -> None:
    """Have every session of this factory write the trail."""
    event.listen(sessions, "before_flush", _date)
    event.listen(sessions, "after_flush", _write)


def _date(work: UnitOfWork, context: UOWTransaction, instances: object) -> None:
    """Give new rows the moment of the unit of work wherever a column takes the present one."""
    for obj in work.new:
        for column in inspect(obj).mapper.column_attrs:
            default = column.columns[0].default
            is_moment = default is not None and getattr(default.arg, "__wrapped__", None) is now
            if is_moment and getattr(obj, column.key) is None:
                setattr(obj, column.key, work.clock())


def _write(session: UnitOfWork, context: UOWTransaction) -> None:
    rows = [
        *(_row(session, obj, "added", {}) for obj in session.new if isinstance(obj, Audited)),
        *(
            _row(session, obj, "changed", changes)
            for obj in session.dirty
            if isinstance(obj, Audited) and (changes := _changes(obj))
        ),
        *(_row(session, obj, "removed", {}) for obj in session.deleted if isinstance(obj, Audited)),
    ]
    session.touched |= {row["application_id"] for row in rows if row["application_id"] and row["entity"] != "owed"}
    changed = (obj for obj in session.dirty if session.is_modified(obj, include_collections=False))
    for obj in (*session.new, *changed, *session.deleted):
        if isinstance(obj, Audited) and not isinstance(obj, Owed) and obj.audit_bears:
            _count(session, obj)
    if rows:
        session.wrote = True
        session.connection().execute(AuditEntry.__table__.insert(), rows)  # type: ignore[attr-defined]


def _count(work: UnitOfWork, obj: Any) -> None:
    """Have the dossiers counted up that a row bears on."""
    if obj.audit_shared:
        columns = [column for column, _ in BEARING.get(obj.__tablename__, (("id", ""),))]
        told = ((column, getattr(obj, column)) for column in columns)
        work.bearing |= {(obj.__tablename__, column, value) for column, value in told if value is not None}
        return
    own = obj.id if obj.__tablename__ == "application" else getattr(obj, "application_id", None)
    found = {number for number in (own, work.application_id) if number is not None}
    work.moved |= found or {EVERYBODY}


def _changes(obj: Audited) -> dict[str, list[Any]]:
    state = inspect(obj)
    changes = {}
    for column in state.mapper.column_attrs:
        history = state.attrs[column.key].history
        if history.has_changes() and column.key not in obj.audit_silent:
            old = history.deleted[0] if history.deleted else None
            changes[column.key] = [_plain(old), _plain(history.added[0] if history.added else None)]
    return changes


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, (date, datetime)) else value


def _row(work: UnitOfWork, obj: Any, action: str, changes: dict[str, list[Any]]) -> dict[str, Any]:
    details = ", ".join(key.replace("_", " ") for key in changes)
    what = f"{obj.audit_noun} {obj.audit_title}".strip()
    return {
        "at": work.clock(),
        "user_id": work.acting[0] if work.acting else None,
        "user_name": work.acting[1] if work.acting else "Long Breath",
        "application_id": None if obj.audit_shared else work.application_id,
        "action": action,
        "entity": obj.__tablename__,
        "entity_id": obj.id,
        "sentence": f"{_VERBS[action]} {what}" + (f": {details}" if details else ""),
        "changes": changes,
    }
