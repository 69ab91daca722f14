"""Migrations, the audit trail, append-only evidence."""

from __future__ import annotations

from types import SimpleNamespace

import pytest
from alembic import command
from sqlalchemy import create_engine, inspect, select, text
from sqlalchemy.exc import InternalError, ProgrammingError
from sqlalchemy.orm import Session

from longbreath.dossier.bench import traces
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.owed import summaries
from longbreath.store.database import acting, downgrade, migrations, upgrade
from longbreath.store.models import AuditEntry, Claim
from tests.conftest import new_database


def test_migrations_go_up_and_down_and_match_the_models(database_url: str) -> None:
    own = new_database(database_url, "longbreath_migrations")
    upgrade(own)
    command.check(migrations(own))
    downgrade(own)
    engine = create_engine(own)
    assert inspect(engine).get_table_names() == ["alembic_version"]
    engine.dispose()
    upgrade(own)


def capture(db: Session, shop: SimpleNamespace, percent: float = 0.5) -> object:
    acting(db, shop.people["tester"], shop.application.id)
    return bench_verbs.capture(db, shop.traces["A"], shop.people["tester"], lift=0.002, range_id=shop.bench.ranges[1].id,
                           percent=percent, direct_flow=None, pressure=6974.0)  # fmt: skip


@pytest.mark.parametrize(
    "statement", ["update reading set percent = 0.9", "delete from reading", "delete from audit_entry"]
)
def test_evidence_cannot_be_changed_or_removed_even_by_sql(
    db: Session, shop: SimpleNamespace, statement: str
) -> None:
    capture(db, shop)
    with pytest.raises(
        (InternalError, ProgrammingError), match="are evidence: they are added, never changed or removed"
    ):
        db.execute(text(statement))


def test_a_lift_read_again_is_averaged_and_taking_back_leaves_a_mark(db: Session, shop: SimpleNamespace) -> None:
    first, second = capture(db, shop, 0.5), capture(db, shop, 0.6)
    assert (first.counts, second.counts) == (True, True)  # type: ignore[attr-defined]
    (row,) = traces.reduce_trace(shop.traces["A"]).values()
    assert len(row.readings) == 2
    assert row.flow.value == pytest.approx(sum(row.flow.repeats) / 2)
    assert bench_verbs.take_back(db, shop.traces["A"], shop.people["tester"]) is second
    assert (first.counts, second.counts) == (True, False)  # type: ignore[attr-defined]
    assert second.marks[0].reason == "taken back at the desk"  # type: ignore[attr-defined]


def test_every_change_is_in_the_trail_with_who_and_what(db: Session, shop: SimpleNamespace) -> None:
    acting(db, shop.people["tester"], shop.application.id)
    shop.card.pulls_per_set = 5
    db.flush()
    entry = db.scalars(select(AuditEntry).order_by(AuditEntry.id.desc())).first()
    assert entry is not None
    assert (entry.user_name, entry.action, entry.entity) == ("Tester", "changed", "test_card")
    assert entry.changes == {"pulls_per_set": [3, 5]}
    assert entry.sentence == "changed test card A-B-A: pulls per set"
    assert entry.application_id == shop.application.id


def test_passwords_are_hashed_and_never_logged(db: Session, shop: SimpleNamespace) -> None:
    assert shop.people["viewer"].password_hash.startswith("$argon2id$")
    logged = " ".join(str(entry.changes) for entry in db.scalars(select(AuditEntry)))
    assert "argon2" not in logged


def test_a_claim_cannot_be_approved_by_its_drafter_even_by_sql(db: Session, shop: SimpleNamespace) -> None:
    drafter = shop.people["approver"].id
    db.add(Claim(application_id=shop.application.id, slug="x", statement="s", trade_off="t", session_ids=[],
                 drafted_by_id=drafter, approved_by_id=drafter))  # fmt: skip
    with pytest.raises(Exception, match="ck_claim_second_person"):
        db.flush()


def test_summary_says_what_is_owed_next(db: Session, shop: SimpleNamespace) -> None:
    found = summaries(db, [shop.application.id])[shop.application.id]
    assert [step.state for step in found.steps] == ["started", "nothing", "done", "nothing", "nothing", "nothing"]
    assert found.next_owed is not None
    assert found.next_owed.owed == "6 lifts of A and B on the bench"
