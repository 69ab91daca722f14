"""What the database itself holds against the application's own user: sealed, recorded and published rows, and its own rules."""

from __future__ import annotations

import subprocess
from pathlib import Path
from types import SimpleNamespace

import pytest
from sqlalchemy import create_engine, select, text
from sqlalchemy.engine import make_url
from sqlalchemy.exc import DBAPIError, OperationalError, ProgrammingError

from longbreath.store.models import Claim, ClaimAct, ClaimSheet, Prediction, PredictionSeal
from longbreath.store.privileges import admit
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import ROOT

APPEND_ONLY = """
audit_entry raw_file reading reading_mark pull channel pull_judgement calibration bench_sheet traverse_point porting_bout
size_reading face_lay fit_spot wheel_sheet build_sheet attachment attachment_mark claim_act claim_sheet prediction
prediction_seal difference_reason kept_answer engine_stay card_tick dyno_scatter
"""


@pytest.fixture
def published(day_published: SimpleNamespace) -> SimpleNamespace:
    """The application with a sealed prediction, ten pulls and a published claim."""
    return day_published


@pytest.mark.parametrize("table", APPEND_ONLY.split())
@pytest.mark.parametrize("statement", ["update {} set id = id", "delete from {}", "truncate {} cascade"])
def test_append_only_rows_cannot_be_changed_removed_or_truncated(db: UnitOfWork, table: str, statement: str) -> None:
    with pytest.raises(ProgrammingError, match="permission denied"):
        db.execute(text(statement.format(table)))


@pytest.mark.parametrize(
    "statement",
    [
        "alter table claim_sheet disable trigger all",
        "alter table claim_sheet disable trigger append_only",
        "drop trigger append_only on claim_sheet",
        "drop function forbid_change() cascade",
        "create or replace function forbid_change() returns trigger language plpgsql as 'begin return new; end'",
        "drop table claim_sheet",
        "alter table claim_sheet owner to longbreath_tests",
        "set session_replication_role = replica",
        "create table mine (id int)",
        "update alembic_version set version_num = 'other'",
        "delete from test_card",
        "delete from claim",
    ],
)
def test_the_application_owns_nothing_and_cannot_loosen_its_bonds(db: UnitOfWork, statement: str) -> None:
    with pytest.raises(DBAPIError, match=r"permission denied|must be owner"):
        db.execute(text(statement))


@pytest.mark.parametrize(
    "statement",
    [
        "copy (select 1) to program 'id'",
        "copy claim_sheet from program 'id'",
        "copy (select 1) to '/tmp/longbreath-copied'",
        "copy user_account from '/etc/passwd'",
        "select pg_read_file('/etc/passwd')",
        "select pg_read_binary_file('postgresql.conf')",
        "select pg_ls_dir('.')",
        "select lo_import('/etc/passwd')",
        "select lo_export(1, '/tmp/longbreath-exported')",
        "create function mine() returns int language sql as 'select 1'",
        "create extension dblink",
        "create schema mine",
        "create trigger mine before insert on claim for each row execute function forbid_change()",
        "create rule mine as on insert to claim do instead nothing",
        "create policy mine on claim using (true)",
        "create role mine",
        "alter role longbreath_tests superuser",
        "set role longbreath",
        "set session authorization longbreath",
        "reassign owned by longbreath to longbreath_tests",
        "alter function forbid_change() owner to longbreath_tests",
        "comment on table claim_sheet is 'mine'",
        "cluster claim_sheet using pk_claim_sheet",
        "reindex table claim_sheet",
        "select setval('claim_sheet_id_seq', 1)",
        "alter sequence claim_sheet_id_seq restart",
        "drop index ix_claim_act_claim_id",
        "drop owned by longbreath",
        "select pg_terminate_backend(pid) from pg_stat_activity where usename = 'longbreath' and pid <> pg_backend_pid()",
        "select pg_reload_conf()",
        "load '/tmp/longbreath.so'",
    ],
)
def test_the_application_cannot_leave_its_tables(db: UnitOfWork, statement: str) -> None:
    with pytest.raises(DBAPIError, match=r"permission denied|must be|only roles|not permitted|not trusted|allowed"):
        db.execute(text(statement))
    assert not any(path.exists() for path in (Path("/tmp/longbreath-copied"), Path("/tmp/longbreath-exported")))


@pytest.mark.parametrize(
    "statement", ["create database mine", "alter system set fsync = off", "vacuum full claim_sheet"]
)
def test_nor_the_server_where_no_transaction_holds_it(db: UnitOfWork, statement: str) -> None:
    engine = create_engine(db.get_bind().engine.url, isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        if statement.startswith("vacuum"):  # a warning, and nothing is done
            before = connection.execute(text("select pg_relation_filenode('claim_sheet')")).scalar_one()
            connection.execute(text(statement))
            assert connection.execute(text("select pg_relation_filenode('claim_sheet')")).scalar_one() == before
        else:
            with pytest.raises(ProgrammingError, match="permission denied"):
                connection.execute(text(statement))
    engine.dispose()


def test_the_application_of_a_cluster_reaches_no_other_database() -> None:
    """As bin/cluster sets it up: of what the server holds, the application's user may enter its own database and no other."""
    cluster = [str(ROOT / "bin" / "cluster")]
    subprocess.run([*cluster, "start", "roles"], check=True, capture_output=True)
    try:
        url = make_url(subprocess.check_output([*cluster, "url", "roles", "app"], text=True).strip())
        entered = {}
        for name in ("longbreath", "postgres", "template1"):
            engine = create_engine(url.set(database=name))
            try:
                with engine.connect() as connection:
                    entered[name] = True
                    with pytest.raises(ProgrammingError, match="permission denied"):
                        connection.execute(text("create temporary table mine (id int)"))
            except OperationalError:
                entered[name] = False
            engine.dispose()
        assert entered == {"longbreath": True, "postgres": False, "template1": False}
    finally:
        subprocess.run([*cluster, "stop", "roles"], check=True)


def test_it_cannot_grant_itself_what_it_has_not(db: UnitOfWork) -> None:
    db.execute(text("grant all on claim_sheet to longbreath_tests"))  # a warning, and nothing is granted
    for right in ("update", "delete", "truncate", "trigger"):
        assert db.scalar(text(f"select has_table_privilege(current_user, 'claim_sheet', '{right}')")) is False


@pytest.mark.parametrize("change", ["description = 'other'", "lines = '[]'", "evidence_key = 'x'", "slug = 'y'"])
def test_a_published_claim_is_kept_as_it_was_approved(db: UnitOfWork, published: SimpleNamespace, change: str) -> None:
    with pytest.raises(DBAPIError, match="is published: it is kept as it was approved"):
        db.execute(text(f"update claim set {change}"))


@pytest.mark.parametrize(
    ("statement", "words"),
    [
        ("update test_card set also_changed = 'the tune'", "has pulls: it is kept"),
        ("update test_card set dyno_id = dyno_id", "has pulls: it is kept"),
        ("update dyno_session set card_id = card_id + 1", "keeps the card they were taken under"),
    ],
)
def test_a_card_with_pulls_is_kept(db: UnitOfWork, published: SimpleNamespace, statement: str, words: str) -> None:
    with pytest.raises(DBAPIError, match=words):
        db.execute(text(statement))


def test_a_sealed_prediction_has_its_seal_and_no_second_one(db: UnitOfWork, published: SimpleNamespace) -> None:
    prediction = db.scalars(select(Prediction)).one()
    assert prediction.sealed_at is not None
    db.add(PredictionSeal(prediction_id=prediction.id))
    with pytest.raises(DBAPIError, match="uq_prediction_seal_prediction_id"):
        db.flush()


@pytest.mark.parametrize("act", ["drafted", "changed", "submitted"])
def test_a_writer_cannot_approve_even_by_sql(db: UnitOfWork, shop: SimpleNamespace, act: str) -> None:
    writer, other = shop.people["approver"].id, shop.people["tester"].id
    claim = Claim(application_id=shop.application.id, slug="x", session_ids=[], lines=[])
    db.add(claim)
    db.flush()
    for number, (done, by) in enumerate((("drafted", other), (act, writer), ("submitted", other)), start=1):
        db.add(ClaimAct(claim_id=claim.id, number=number, act=done, by_id=by))
    db.flush()
    sheet = ClaimSheet(claim_id=claim.id, shape=2, snapshot={}, evidence_key="", version_read=3, read="")
    sheet.approved_by_id = writer
    db.add(sheet)
    with pytest.raises(DBAPIError, match="ck_claim_second_person"):
        db.flush()


def test_the_owner_of_the_tables_is_never_the_application() -> None:
    with pytest.raises(ValueError, match="must not own its tables"):
        admit("postgresql+psycopg://one@h/d", "postgresql+psycopg://one@h/d")
