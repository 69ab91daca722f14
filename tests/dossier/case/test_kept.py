"""What is kept of cases: a weighing once for every process, read by a reader that can do nothing but read."""

from __future__ import annotations

import os
import pickle
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
from sqlalchemy import select, update

from longbreath.core.case.weigh import weigh
from longbreath.dossier.case import kept, weighings
from longbreath.dossier.case.tests import test_of as seen_test
from longbreath.dossier.keeping import KEPT, keep_all
from longbreath.dossier.owed import summaries
from longbreath.dossier.pull.verbs import judge_pull
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.dossier.shop import DynoMore, change_dyno
from longbreath.store.models import Kept, KeptWeighing, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests.made import case as made


class Sly:
    """Something that would run a command when it is read."""

    def __reduce__(self) -> tuple[Any, ...]:
        return os.system, ("touch /tmp/read",)


class Handy:
    """Something that calls a function of the core."""

    def __reduce__(self) -> tuple[Any, ...]:
        return weigh, (made.tested(), None)


@pytest.mark.parametrize("value", [Sly(), Handy(), made.tested(), {"a": 1}, np.save, [Sly()]])
def test_a_row_that_is_no_weighing_is_not_read(value: Any) -> None:
    with pytest.raises(pickle.UnpicklingError, match=r"plain data|no weighing"):
        weighings.read(pickle.dumps(value))


def test_a_weighing_comes_back_as_it_was() -> None:
    found = weigh(made.tested(), made.channels)
    back = weighings.read(pickle.dumps(found, 5))
    assert back.builds == found.builds
    assert back.weighing.bands == found.weighing.bands
    assert np.array_equal(back.weighing.comparison.difference, found.weighing.comparison.difference)
    assert back.stated.bands == found.stated.bands


def test_what_was_weighed_once_is_read_by_the_next_process(
    db: UnitOfWork, pulled: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    test = seen_test(db, pulled.application, [dyno_sessions(db, pulled.application.id)[0].id])
    weighings._here.clear()
    first = weighings.weighed_of(db, test)
    db.commit()
    weighings._here.clear()
    monkeypatch.setattr(weighings, "weigh", None)
    again = weighings.weighed_of(db, test)
    assert again.weighing.bands == first.weighing.bands
    weighings._here.clear()
    db.execute(update(KeptWeighing).values(data=b"spoilt"))
    monkeypatch.setattr(weighings, "weigh", weigh)
    assert weighings.weighed_of(db, test).weighing.bands == first.weighing.bands
    db.execute(update(KeptWeighing).values(version="another"))
    weighings._here.clear()
    assert weighings.weighed_of(db, test).weighing.bands == first.weighing.bands


def test_everything_that_is_kept_is_made_by_one_command(db: UnitOfWork, database: Any, pulled: SimpleNamespace) -> None:
    for board in KEPT:
        board._kept.clear()  # a process that has just begun
    assert keep_all(database.session) == 1
    names = set(db.scalars(select(Kept.what)))
    assert names == {board._name for board in KEPT}
    newest = kept.newest_test(db, pulled.application)
    judge_pull(db, pulled.application, dyno_sessions(db, pulled.application.id)[0].full_pulls[0], False, "slip heard")
    assert kept.newest_test(db, pulled.application) != newest, "nothing that was kept is used after a change"


def test_what_a_change_of_a_dyno_moved_is_weighed_anew_by_whoever_keeps(
    db: UnitOfWork, database: Any, pulled: SimpleNamespace
) -> None:
    """A dyno belongs to all dossiers: none is weighed while its page is saved, the worker does it afterwards."""
    number = pulled.application.id
    keep_all(database.session)
    before = db.scalars(select(Verdict)).one().evidence_key
    change_dyno(db, pulled.dyno, DynoMore(roller_radius=0.31))
    db.commit()
    db.expire_all()
    assert summaries(db, [number])[number].is_stale("weigh")
    keep_all(database.session)
    db.expire_all()
    assert db.scalars(select(Verdict)).one().evidence_key != before
    assert not summaries(db, [number])[number].is_stale("weigh")
