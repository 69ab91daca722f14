"""The content of a pull belongs to the house once: in any file, session and dossier it is the pull that stands."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from types import SimpleNamespace

import numpy as np
import pytest
from sqlalchemy import func, select

from longbreath.core.pull.ramps import SWEEP, Stretch
from longbreath.demo.cell import take, take_all
from longbreath.devices.made_engine import day_log, pull
from longbreath.dossier.pull import live, twins, verbs, waiting
from longbreath.store.models import DynoSession, Pull, PullTrace, StretchKnown
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.core.compare.made import BREATHING
from tests.made.habits import FULL, METRIC, US, as_text


@pytest.fixture
def sessions(db: UnitOfWork, shop: SimpleNamespace) -> list[DynoSession]:
    """Two days under one card."""
    db.act_as(shop.people["tester"], shop.application.id)
    later = replace(factories.VISIT, held_on=date(2026, 5, 8))
    return [verbs.open_session(db, shop.application, shop.card, visit) for visit in (factories.VISIT, later)]


def made(*seeds: int) -> dict[str, bytes]:
    """A file a pull."""
    return {f"{seed}.csv": as_text(pull(BREATHING, seed), FULL) for seed in seeds}


def count(db: UnitOfWork) -> int:
    return db.scalar(select(func.count(Pull.id))) or 0


def test_the_nine_that_suit_are_no_new_session(
    db: UnitOfWork, shop: SimpleNamespace, sessions: list[DynoSession]
) -> None:
    first, second = sessions
    assert take_all(db, shop.application, first, made(1, 2, 3, 4)) == 4
    assert take_all(db, shop.application, second, made(2, 4)) == 0
    assert count(db) == 4
    stood = db.scalars(select(StretchKnown).order_by(StretchKnown.id)).all()
    assert [(row.pull.session_id, row.pull.sequence) for row in stood] == [(first.id, 2), (first.id, 4)]
    assert waiting.waiting(db, second) == []
    assert second.pulls == []


def test_written_in_another_habit_it_is_the_same_pull(
    db: UnitOfWork, shop: SimpleNamespace, sessions: list[DynoSession]
) -> None:
    logged = pull(BREATHING, 7)
    take_all(db, shop.application, sessions[0], {"a.csv": as_text(logged, FULL)})
    cut = {name: values[12:-9] for name, values in logged.items()}
    for name, data in (("us.csv", as_text(logged, US)), ("short.csv", as_text(cut, METRIC))):
        assert take_all(db, shop.application, sessions[1], {name: data}) == 0
    assert count(db) == 1


def test_a_day_exported_again_adds_only_its_new_pulls(
    db: UnitOfWork, shop: SimpleNamespace, sessions: list[DynoSession]
) -> None:
    session = sessions[0]
    take_all(db, shop.application, session, {"noon.csv": as_text(day_log(BREATHING, [1, 2]), FULL)})
    whole = day_log(BREATHING, [1, 2])
    after = day_log(BREATHING, [3])
    after["time"] = after["time"] + float(whole["time"][-1]) + 60.0
    evening = {name: np.concatenate([values, after[name]]) for name, values in whole.items()}
    assert take_all(db, shop.application, session, {"evening.csv": as_text(evening, FULL)}) == 1
    assert count(db) == 3


def test_a_second_recording_of_the_same_says_where_it_stands(
    db: UnitOfWork, shop: SimpleNamespace, sessions: list[DynoSession]
) -> None:
    data = as_text(pull(BREATHING, 5), FULL)
    take(db, shop.application, sessions[0], "a.csv", data, 1, "A")
    with pytest.raises(twins.StandsAlready, match=r"pull 1 \(A\).*One pull counts once") as refused:
        take(db, shop.application, sessions[1], "b.csv", data, 1, "B")
    assert refused.value.pull.session_id == sessions[0].id


def test_a_live_line_that_is_played_again_is_refused_with_and_without_its_logger(
    db: UnitOfWork, shop: SimpleNamespace, sessions: list[DynoSession]
) -> None:
    logged = pull(BREATHING, 9)
    rows = [
        {"time": float(t), "speed": float(n) * factories.RPM, "torque": float(m)}
        for t, n, m in zip(logged["time"], logged["rpm"].round(1), logged["torque"].round(2), strict=True)
    ]
    said = live.Capture(rows, Stretch(SWEEP, 0, len(rows) - 1, 0.0, 0.0), (), {}, {}, "")
    live.record_live(db, sessions[0], said, "A", 1)
    with pytest.raises(twins.StandsAlready):
        live.record_live(db, sessions[1], said, "A", 1)
    assert count(db) == 1


def test_pulls_from_before_are_marked_by_init(
    db: UnitOfWork, shop: SimpleNamespace, sessions: list[DynoSession]
) -> None:
    take_all(db, shop.application, sessions[0], made(1, 2))
    assert twins.mark_all(db) == 0
    bare = take(db, shop.application, sessions[1], "3.csv", made(3)["3.csv"], 1, "A")
    rows = db.scalars(select(PullTrace).where(PullTrace.pull_id == bare.id))
    kept = {(row.column_no, row.by_speed, tuple(row.marks)) for row in rows}
    assert kept
    contents = list(twins._contents(db, bare.id))
    assert {(t.column, t.by_speed, t.marks) for content in contents for t in content.traces} == kept
