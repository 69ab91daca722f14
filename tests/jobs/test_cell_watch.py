"""What a watch over a live run does with a pull that is over: armed in time or not, and with the air of which moment."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import select

from longbreath.core.pull.ramps import SWEEP, Stretch
from longbreath.dossier.pull import verbs
from longbreath.jobs.cell_watch import AIR_HOLDS, CellWatch
from longbreath.store.models import CellRun, Pull
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories

STARTS = 1_000_000.0
ROWS = [(STARTS + n, {"speed": 200.0 + 20.0 * n, "torque": 150.0}) for n in range(20)]
STRETCH = Stretch(SWEEP, 0, 19, 200.0, 580.0)
ENDS = ROWS[-1][0]


@pytest.fixture
def watched(database: Any, db: UnitOfWork, shop: SimpleNamespace) -> tuple[CellWatch, CellRun]:
    """A live run, armed for place 1 of A, and the watch over it."""
    session = verbs.open_session(db, shop.application, shop.card, factories.VISIT)
    person = shop.people["tester"].id
    run = CellRun(session_id=session.id, session=session, dyno_id=shop.dyno.id, opened_by_id=person, recorded_to=0.0)
    run.fitted, run.armed_place, run.armed_label, run.armed_by_id = "A", 1, "A", person
    run.words, run.clocks, run.armed_at = "", {}, ENDS - 30.0
    db.add(run)
    db.commit()
    return CellWatch(database, run), run


def test_a_pull_that_was_armed_after_its_end_is_not_recorded(
    watched: tuple[CellWatch, CellRun], db: UnitOfWork
) -> None:
    watch, run = watched
    run.armed_at = ENDS + 0.2
    db.commit()
    watch._over(db, ROWS, STRETCH)
    assert not watch.is_recording
    db.expire_all()
    assert "was not armed" in run.words
    assert (run.phase, run.recorded_to, run.armed_place) == ("idle", ENDS, 1)


def test_a_pull_is_not_recorded_for_what_was_armed_while_it_waited(
    watched: tuple[CellWatch, CellRun], db: UnitOfWork
) -> None:
    """Disarmed and armed anew between the end of a pull and its recording: the new place waits for the next pull."""
    watch, run = watched
    capture = watch._capture(ROWS, STRETCH)
    run.armed_at, run.armed_place = ENDS + 0.2, 2
    db.commit()
    watch._recorded(capture, ENDS)
    db.expire_all()
    assert db.scalars(select(Pull)).all() == []
    assert run.armed_place == 2


def test_a_pull_is_kept_whole_before_it_is_recorded(
    watched: tuple[CellWatch, CellRun], db: UnitOfWork, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whatever befalls the gateway from then on, another finds every line of it."""
    watch, run = watched
    monkeypatch.setattr(CellWatch, "_record", lambda self, capture, ends: None)
    watch._heard["dyno"].rows = list(ROWS)
    watch._over(db, ROWS, STRETCH)
    later = CellWatch(watch._database, run)
    later.load(db)
    assert [at for at, _ in later._heard["dyno"].rows] == [at for at, _ in ROWS]
    assert watch._heard["dyno"].kept_to == ENDS


@pytest.mark.parametrize(("age", "taken"), [(AIR_HOLDS - 1.0, True), (AIR_HOLDS + 1.0, False)])
def test_the_air_of_a_station_is_taken_only_while_it_is_fresh(
    watched: tuple[CellWatch, CellRun], age: float, taken: bool
) -> None:
    watch, _ = watched
    watch._heard["weather"].rows = [(ENDS - age, {"temperature": 293.0, "pressure": 1e5, "humidity": 0.5})]
    assert bool(watch._capture(ROWS, STRETCH).weather) is taken
