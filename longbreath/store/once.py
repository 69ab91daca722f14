"""Costly reads, made once in a unit of work for as long as it writes nothing and locks nothing."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from sqlalchemy import event
from sqlalchemy.orm import ORMExecuteState, Session

from longbreath.store.unit_of_work import READ_ONCE, UnitOfWork

T = TypeVar("T")


def once(db: Session, key: Hashable, read: Callable[[], T]) -> T:
    """What a read gives, from the first time it was made. What waits to be written is written before, as before any read; an error
    that the read raises is not kept."""
    if not isinstance(db, UnitOfWork):
        return read()
    db.flush()
    if key not in (kept := db.info.setdefault(READ_ONCE, {})):
        made = read()
        db.info.setdefault(READ_ONCE, {})[key] = made
        return made
    found: T = kept[key]
    return found


def _forget(work: Session, *_: Any) -> None:
    work.info.pop(READ_ONCE, None)


def _asked(state: ORMExecuteState) -> None:
    """A statement that writes, one that waits for a lock, and a row that is read anew: others may have written meanwhile."""
    locks = getattr(state.statement, "_for_update_arg", None) is not None
    if not state.is_select or locks or state.is_column_load:
        _forget(state.session)


for said in ("after_flush", "after_commit", "after_soft_rollback"):
    event.listen(UnitOfWork, said, _forget)
event.listen(UnitOfWork, "do_orm_execute", _asked)
