"""A costly read is made once in a unit of work, until something may have changed."""

from __future__ import annotations

from types import SimpleNamespace

import pytest
from sqlalchemy import delete, select, update

from longbreath.core.basis.errors import EvidenceError
from longbreath.store.models import Application, SignInTry, Vehicle
from longbreath.store.once import once
from longbreath.store.unit_of_work import UnitOfWork


class Counting:
    """A read that counts how often it was made."""

    def __init__(self, db: UnitOfWork) -> None:
        self.db, self.times = db, 0

    def __call__(self) -> int:
        return once(self.db, "counted", self.read)

    def read(self) -> int:
        self.db.scalars(select(Vehicle.name)).all()
        self.times += 1
        return self.times


def test_it_is_made_once_while_others_are_asked(db: UnitOfWork, shop: SimpleNamespace) -> None:
    read = Counting(db)
    assert [read(), read()] == [1, 1]
    db.scalars(select(Application)).all()
    assert read() == 1
    assert once(db, "another", read.read) == 2


@pytest.mark.parametrize(
    "done",
    [
        lambda db, shop: setattr(shop.application.vehicle, "name", "Heron, second"),
        lambda db, shop: db.execute(update(Vehicle).values(name="Heron, third")),
        lambda db, shop: db.execute(delete(SignInTry)),
        lambda db, shop: db.lock_row(shop.application),
        lambda db, shop: db.refresh(shop.application),
        lambda db, shop: db.expire_all(),
        lambda db, shop: db.commit(),
        lambda db, shop: db.rollback(),
    ],
    ids=["changed", "updated", "deleted", "locked", "refreshed", "expired", "committed", "rolled back"],
)
def test_it_is_made_anew_after_anything_that_may_change_it(db: UnitOfWork, shop: SimpleNamespace, done: object) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    read = Counting(db)
    assert read() == 1
    done(db, shop)  # type: ignore[operator]
    assert read() == 2


def test_what_an_attempt_read_is_forgotten_with_it(db: UnitOfWork, shop: SimpleNamespace) -> None:
    read = Counting(db)

    def refused() -> None:
        with db.savepoint():
            assert read() == 1
            raise EvidenceError("No.")

    with pytest.raises(EvidenceError):
        refused()
    assert read() == 2


def test_an_error_is_not_kept(db: UnitOfWork) -> None:
    def fails() -> int:
        raise EvidenceError("Not yet.")

    with pytest.raises(EvidenceError):
        once(db, "read", fails)
    assert once(db, "read", lambda: 3) == 3
