"""The unit of work: one session with the person who acts in it; it commits once, and then does what waited for that."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import datetime
from typing import Any

from sqlalchemy import Executable, delete, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session
from sqlalchemy.orm.exc import StaleDataError

from longbreath.core.basis.errors import Conflict, NotAllowed
from longbreath.store import stamps
from longbreath.store.base import Base, now
from longbreath.store.models.people import SentForm, SignInTry, User

log = logging.getLogger("longbreath.store")
STALE = (
    "Somebody else saved this page while you had it open. What you typed is still here: compare it with the "
    "newest version and save again."
)
Hook = Callable[[], None]
READ_ONCE = "read once"
"""Where a unit of work keeps what `store.once` read."""


class UnitOfWork(Session):
    """A session that knows who acts, and on which dossier: the audit trail and every verb take it from here.

    `clock` tells the present moment: a story told afterwards has its own. `acting` is the number and name of the person
    for the trail, None where Long Breath acts. Verbs flush and never commit; pages, jobs, the command line and the demo
    commit once, through `commit` or `working`. `touched`: dossiers in which something was written, so far;
    `wrote`: whether anything that is audited was; `moved` and `bearing`: dossiers whose stamps are counted up at the end, and rows of
    the library (table, column, value) that bear on some.
    """

    def __init__(self, *arguments: Any, **keywords: Any) -> None:
        super().__init__(*arguments, **keywords)
        self._actor: User | None = None
        self.acting: tuple[int, str] | None = None
        self.application_id: int | None = None
        self.clock: Callable[[], datetime] = now
        self._hooks: list[Hook] = []
        self._derived: list[Executable] = []
        self.touched: set[int] = set()
        self.wrote = False
        self.moved: set[int] = set()
        self.bearing: set[tuple[str, str, int]] = set()

    def act_as(self, user: User | None, application_id: int | None = None) -> None:
        """Say who acts from now on (None: Long Breath itself), and on which dossier."""
        self._actor, self.application_id = user, application_id
        self.acting = (user.id, user.name) if user is not None else None

    @property
    def actor(self) -> User:
        """The person who acts. Raises NotAllowed where nobody does: evidence is taken by somebody."""
        if self._actor is None:
            raise NotAllowed("Somebody must be named who does this.")
        return self._actor

    def lock_row(self, record: Base) -> None:
        """Go on alone with a record: whoever asks for the same waits until this unit of work is done."""
        kind = type(record)
        self.execute(select(kind.id).where(kind.id == record.id).with_for_update())

    def forget(self, model: type[SentForm] | type[SignInTry], since: datetime) -> None:
        """Remove the rows of a passing table that are older; those that somebody else removes just now are left to them."""
        old = select(model.id).where(model.at < since).with_for_update(skip_locked=True)
        self.execute(delete(model).where(model.id.in_(old)))

    def after_commit(self, hook: Hook) -> None:
        """Have something done once what was written is kept: a job queued, a mail sent. A roll-back forgets it."""
        self._hooks.append(hook)

    def before_commit(self, statement: Executable) -> None:
        """Have something derived written last, when nothing is read any more: a statement that may be lost. A roll-back forgets it."""
        self._derived.append(statement)

    def commit(self) -> None:
        """Commit, then do what waited for it."""
        self.flush()
        derived, self._derived = self._derived, []
        for statement in derived:
            try:
                with self.begin_nested():
                    self.execute(statement)
            except SQLAlchemyError:
                log.warning("Something derived was not kept.", exc_info=True)
        stamps.count(self, self.moved, self.bearing)
        self.moved.clear()
        self.bearing.clear()
        super().commit()
        hooks, self._hooks = self._hooks, []
        for hook in hooks:
            hook()

    def commit_derived(self) -> None:
        """Undo what was written, and keep what was derived."""
        derived = list(self._derived)
        self.rollback()
        self._derived = derived
        self.commit()

    def rollback(self) -> None:
        """Undo what was written, and forget what waited for it."""
        self._hooks.clear()
        self._derived.clear()
        self.moved.clear()
        self.bearing.clear()
        super().rollback()

    def expire_all(self) -> None:
        """Read everything anew when it is asked for again."""
        self.info.pop(READ_ONCE, None)
        super().expire_all()

    @contextmanager
    def savepoint(self) -> Iterator[None]:
        """Try something that may be refused: an error undoes what it wrote and nothing else.

        Raises Conflict if somebody else changed a record in the meantime.
        """
        waiting = len(self._hooks)
        try:
            with self.begin_nested():
                yield
                self.flush()
        except BaseException as error:
            del self._hooks[waiting:]
            self.expire_all()
            if isinstance(error, StaleDataError):
                raise Conflict(STALE) from None
            raise


@contextmanager
def working(sessions: Callable[[], UnitOfWork], user: User | None = None) -> Iterator[UnitOfWork]:
    """A unit of work outside of a request: committed once at the end; any error undoes all of it."""
    with sessions() as unit:
        unit.act_as(user)
        yield unit
        unit.commit()
