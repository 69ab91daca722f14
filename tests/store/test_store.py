"""Migrations, the audit trail, append-only evidence."""

from __future__ import annotations

import os
from types import SimpleNamespace
from typing import Any

import pytest
from alembic import command
from click.testing import CliRunner
from sqlalchemy import create_engine, func, insert, inspect, select, text

from longbreath.cli.data import init
from longbreath.core.basis.errors import InputError, NotAllowed
from longbreath.dossier.bench import traces
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.owed import summaries
from longbreath.store.database import downgrade, migrations, upgrade
from longbreath.store.models import AuditEntry, Kept, Reading, SignInTry
from longbreath.store.unit_of_work import UnitOfWork, working
from tests import factories
from tests.databases import new_database


def test_migrations_go_up_and_down_and_match_the_models(database_url: str) -> None:
    own = new_database(database_url, "longbreath_migrations")
    upgrade(own)
    command.check(migrations(own))
    downgrade(own)
    engine = create_engine(own)
    assert inspect(engine).get_table_names() == ["alembic_version"]
    engine.dispose()
    upgrade(own)


def capture(db: UnitOfWork, shop: SimpleNamespace, percent: float = 0.5) -> Reading:
    db.act_as(shop.people["tester"], shop.application.id)
    used = shop.bench.ranges[1].id
    return factories.capture(db, shop.traces["A"], None, 0.002, percent=percent, range_id=used)


def test_a_lift_read_again_is_averaged_and_taking_back_leaves_a_mark(db: UnitOfWork, shop: SimpleNamespace) -> None:
    first, second = capture(db, shop, 0.5), capture(db, shop, 0.6)
    assert (first.counts, second.counts) == (True, True)
    (row,) = traces.reduce_trace(shop.traces["A"]).values()
    assert len(row.readings) == 2
    assert row.flow.value == pytest.approx(sum(row.flow.repeats) / 2)
    assert bench_verbs.take_back(db, shop.traces["A"]) is second
    assert (first.counts, second.counts) == (True, False)
    assert second.marks[0].reason == "taken back at the desk"


def test_every_change_is_in_the_trail_with_who_and_what(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    shop.card.pulls_per_set = 5
    db.flush()
    entry = db.scalars(select(AuditEntry).order_by(AuditEntry.id.desc())).first()
    assert entry is not None
    assert (entry.user_name, entry.action, entry.entity) == ("Tester", "changed", "test_card")
    assert entry.changes == {"pulls_per_set": [3, 5]}
    assert entry.sentence == "changed test card A-B-A: pulls per set"
    assert entry.application_id == shop.application.id


def test_passwords_are_hashed_and_never_logged(db: UnitOfWork, shop: SimpleNamespace) -> None:
    assert shop.people["viewer"].password_hash.startswith("$argon2id$")
    logged = " ".join(str(entry.changes) for entry in db.scalars(select(AuditEntry)))
    assert "argon2" not in logged


def test_summary_says_what_is_owed_next(db: UnitOfWork, shop: SimpleNamespace) -> None:
    found = summaries(db, [shop.application.id])[shop.application.id]
    assert [step.state for step in found.steps] == ["started", "nothing", "done", "nothing", "nothing", "nothing"]
    assert found.next_owed is not None
    assert found.next_owed.owed == "6 lifts of A and B on the bench"


def refuse(database: Any, done: list[str]) -> None:
    with working(database.session) as work:
        work.after_commit(lambda: done.append("never"))
        raise InputError("refused")


def attempt_in_vain(db: UnitOfWork, shop: SimpleNamespace, done: list[str]) -> None:
    with db.savepoint():
        shop.card.held = "something else"
        db.after_commit(lambda: done.append("never"))
        raise InputError("refused")


def test_what_waits_for_the_commit_is_done_after_it_and_forgotten_by_a_roll_back(database: Any) -> None:
    done: list[str] = []
    with working(database.session) as work:
        work.after_commit(lambda: done.append("queued"))
        assert done == []
    assert done == ["queued"]
    with pytest.raises(InputError, match="refused"):
        refuse(database, done)
    assert done == ["queued"]


def test_an_attempt_undoes_what_it_wrote_and_nothing_else(db: UnitOfWork, shop: SimpleNamespace) -> None:
    shop.card.pulls_per_set = 5
    done: list[str] = []
    db.after_commit(lambda: done.append("kept"))
    with pytest.raises(InputError, match="refused"):
        attempt_in_vain(db, shop, done)
    db.commit()
    assert (shop.card.pulls_per_set, shop.card.held) == (5, "4th gear, bonnet shut, fan on")
    assert done == ["kept"]


def test_nobody_takes_evidence(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(None)
    with pytest.raises(NotAllowed, match="Somebody must be named"):
        factories.capture(db, shop.traces["A"], 200)


def test_a_database_from_before_the_first_state_is_refused_in_a_sentence(database_url: str) -> None:
    own = new_database(database_url, "longbreath_before")
    engine = create_engine(own)
    with engine.begin() as c:
        c.execute(text("create table alembic_version (version_num varchar(32) not null)"))
        c.execute(text("insert into alembic_version values ('0015')"))
    engine.dispose()
    with pytest.raises(ValueError, match="delete the folder var/ and start again"):
        upgrade(own)
    told = {**os.environ, "LONGBREATH_DATABASE_URL": own, "LONGBREATH_OWNER_URL": own}
    done = CliRunner().invoke(init, env=told)
    assert done.exit_code == 1
    assert "delete the folder var/" in done.output


def test_what_was_derived_stays_when_what_was_written_is_undone(db: UnitOfWork, shop: SimpleNamespace) -> None:
    row = {"what": "of a test", "application_id": shop.application.id, "stamp": "1", "value": {}}
    db.before_commit(insert(Kept).values(row))
    db.add(SignInTry(address="of a test", email="of a test"))
    db.flush()
    db.commit_derived()
    assert db.scalar(select(func.count()).where(Kept.what == "of a test")) == 1
    assert db.scalar(select(func.count()).where(SignInTry.address == "of a test")) == 0
