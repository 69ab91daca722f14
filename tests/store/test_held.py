"""What the database itself holds against the application's own user: sealed, recorded and published rows, and its own rules."""

from __future__ import annotations

import subprocess
from datetime import UTC, datetime
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import create_engine, select, text
from sqlalchemy.engine import make_url
from sqlalchemy.exc import DBAPIError, OperationalError, ProgrammingError

from longbreath.demo import load
from longbreath.store.database import downgrade, upgrade
from longbreath.store.models import Claim, ClaimAct, ClaimSheet, Prediction, PredictionSeal
from longbreath.store.privileges import admit
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import ROOT
from tests.databases import new_database

APPEND_ONLY = """
audit_entry raw_file reading reading_mark pull channel pull_judgement calibration bench_sheet traverse_point porting_bout
size_reading face_lay fit_spot wheel_sheet build_sheet attachment attachment_mark claim_act claim_sheet prediction
prediction_seal difference_reason kept_answer engine_stay card_tick dyno_scatter
"""


@pytest.fixture
def published(db: UnitOfWork, shop: SimpleNamespace) -> SimpleNamespace:
    """The application with a sealed prediction, ten pulls and a published claim."""
    application, people = shop.application, shop.people
    db.act_as(people["tester"], application.id)
    factories.add_builds(db, application)
    load._predict(db, application, "more in the middle")
    load.pulled(db, application, shop.card)
    load.claims.closed_course(db, application, "all of them")
    load.publish(db, application, SimpleNamespace(approver=people["approver"]))
    db.flush()
    return shop


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
        "update alembic_version set version_num = '0001'",
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


OLD = """
insert into vehicle (id, name, years, cycle, bore, stroke, cylinders, compression_ratio, intake_duration, induction, fuel, use,
  market, redline, band_low, band_middle, band_top, band_end, version)
  values (1, 'v', '', 'four-stroke', 0.08, 0.08, 4, 10, 4, 'naturally aspirated', '', '', '', 700, 100, 200, 300, 400, 1);
insert into product (id, name, family, side, is_stock) values (1, 'p', 'manifold', 'intake', false);
insert into revision (id, product_id, name, state) values (1, 1, 'a', '');
insert into application (id, vehicle_id, revision_id, stock_revision_id, approval, approval_note, created_at, version)
  values (1, 1, 1, 1, 'closed_course', '', now(), 1);
insert into user_account (id, name, email, role, password_hash, units, theme, is_active)
  values (1, 'w', 'w', 'tester', '', 'us', 'paper', true), (2, 'a', 'a', 'approver', '', 'us', 'paper', true);
insert into prediction (id, application_id, inputs, figures, expects, made_at, made_by_id, sealed_at, after_test)
  values (1, 1, '{}', '[]', 'more', now(), 1, '2026-05-14', false), (2, 1, '{}', '[]', 'less', now(), 1, null, true);
insert into claim (id, application_id, slug, state, kind, statement, trade_off, session_ids, snapshot, evidence_key,
  drafted_by_id, drafted_at, approved_by_id, published_at, withdrawn_at, withdrawn_by_id, withdrawal_reason, version) values
  (1, 1, 'one', 'published', 'torque', 'It gained 2.', 'It lost 1.', '[]', '{"product": "p"}', 'k1', 1, '2026-05-01', 2,
   '2026-05-02', null, null, '', 3),
  (2, 1, 'two', 'withdrawn', 'torque', 'It gained 3.', '', '[]', '{"product": "q"}', 'k2', 1, '2026-05-03', 2, '2026-05-04',
   '2026-05-05', 2, 'slip', 4),
  (3, 1, 'three', 'draft', 'torque', 'It gains.', 'And loses.', '[]', null, 'k3', 1, '2026-05-06', null, null, null, null, '', 1),
  (4, 1, 'four', 'submitted', 'torque', 'So.', 'But.', '[]', null, 'k4', 1, '2026-05-07', null, null, null, null, '', 2);
"""


def _old_claims(connection: Any) -> list[tuple[Any, ...]]:
    columns = "slug, state, statement, trade_off, snapshot ->> 'product', evidence_key, drafted_by_id, drafted_at, approved_by_id,"
    columns += " published_at, withdrawn_at, withdrawn_by_id, withdrawal_reason"
    return [tuple(row) for row in connection.execute(text(f"select {columns} from claim order by id"))]


def test_claims_and_seals_are_carried_over_and_back_and_over_again(database_url: str) -> None:
    """Published as they were, in their own shape and marked so; drafts keep the words that were typed."""
    own = new_database(database_url, "longbreath_claims")
    upgrade(own, "0005")
    engine = create_engine(own)
    with engine.begin() as c:
        c.execute(text(OLD))
        before = _old_claims(c)
    for _ in range(2):
        upgrade(own)
        with engine.begin() as c:
            acts = c.execute(
                text("select claim_id, string_agg(act, ' ' order by number) from claim_act group by 1 order by 1")
            )
            assert [row[1] for row in acts] == [
                "drafted submitted published",
                "drafted submitted published withdrawn",
                "drafted",
                "drafted submitted",
            ]
            sheets = c.execute(text("select shape, snapshot, approved_by_id from claim_sheet order by claim_id")).all()
            assert [(s[0], s[1]["statement"], s[1]["product"], s[2]) for s in sheets] == [
                (1, "It gained 2.", "p", 2),
                (1, "It gained 3.", "q", 2),
            ]
            typed = c.execute(text("select typed ->> 'statement' from claim order by id")).scalars().all()
            assert typed == ["It gained 2.", "It gained 3.", "It gains.", "So."]
            seals = c.execute(text("select prediction_id, sealed_at from prediction_seal")).all()
            assert [(s[0], s[1].astimezone(UTC).date()) for s in seals] == [(1, datetime(2026, 5, 14).date())]
        downgrade(own, "0005")
        with engine.begin() as c:
            assert _old_claims(c) == before
            assert c.execute(text("select count(sealed_at) from prediction")).scalar() == 1
    engine.dispose()


def test_a_sheet_of_facts_survives_the_way_down_and_up(database_url: str) -> None:
    own = new_database(database_url, "longbreath_facts")
    upgrade(own)
    engine = create_engine(own)
    new = OLD[: OLD.index("insert into prediction")]
    new = new.replace(
        "side, is_stock) values (1, 'p', 'manifold', 'intake', false)",
        "side, is_stock, shelf, version) values (1, 'p', 'manifold', 'intake', false, '', 1)",
    )
    new = new.replace("theme, is_active)", "theme, is_active, skills, rate, code_used)").replace(
        "'paper', true)", "'paper', true, '', 0, 0)"
    )
    with engine.begin() as c:
        c.execute(text(new))
        c.execute(
            text(
                "insert into claim (id, application_id, slug, kind, session_ids, sources, lines, joined, description, evidence_key) "
                "values (1, 1, 'one', 'torque', '[]', '{}', "
                '\'[{"fact": "gain", "phrasing": 1, "short": false}]\', true, \'Cast.\', \'k\')'
            )
        )
        for number, act, by in ((1, "drafted", 1), (2, "submitted", 1), (3, "published", 2)):
            c.execute(
                text(
                    "insert into claim_act (claim_id, number, act, by_id, at, reason) values (1, :n, :a, :b, now(), '')"
                ),
                {"n": number, "a": act, "b": by},
            )
        c.execute(
            text(
                "insert into claim_sheet (rests_on, claim_id, shape, snapshot, evidence_key, version_read, read, "
                "approved_by_id, published_at) "
                "values ('{}', 1, 2, '{\"shape\": 2, \"statement\": \"It gained 2.\"}', 'k', 2, 'd', 2, now())"
            )
        )
    downgrade(own, "0005")
    with engine.begin() as c:
        assert c.execute(text("select statement, state from claim")).one() == ("It gained 2.", "published")
    upgrade(own)
    with engine.begin() as c:
        assert c.execute(text("select shape from claim_sheet")).scalar() == 2
        kept = c.execute(text("select lines -> 0 ->> 'fact', joined, description from claim")).one()
    assert kept == ("gain", True, "Cast.")
    engine.dispose()


CARDS = """
insert into dyno (id, name, measured_at, repeatability, repeatability_source) values (1, 'd', 'wheel', 1, '');
insert into test_card (id, application_id, dyno_id, a_is, b_is, held, also_changed, pulls_per_set, effect_wanted,
  mixture_tolerance, version)
  values (1, 1, 1, 'the stock one', 'ours, as cast', 'gear', 'nothing', 3, 2, 0.03, 1),
    (2, 1, 1, 'the stock one', 'ours, machined', 'gear', 'nothing', 4, 2, 0.03, 1);
"""


def test_old_cards_are_carried_over_with_their_words_and_back(database_url: str) -> None:
    """A card of free words becomes A-B-A of two variants, which remember the words; the way down gives them back."""
    own = new_database(database_url, "longbreath_cards")
    upgrade(own, "0008")
    engine = create_engine(own)
    said = OLD[: OLD.index("insert into prediction")].replace("side, is_stock)", "side, is_stock, shelf, version)")
    said = said.replace("'intake', false)", "'intake', false, '', 1)").replace(
        "(1, 1, 'a', '')", "(1, 1, 'a', 'as cast, machined, coated')"
    )
    with engine.begin() as c:
        c.execute(text(said + CARDS))
    for _ in range(2):
        upgrade(own)
        with engine.begin() as c:
            sets = c.execute(text("select sets, number, follows_id from test_card order by id")).all()
            assert [s[0] for s in sets] == [[["A", n], ["B", n], ["A", n]] for n in (3, 4)]
            assert [tuple(s[1:]) for s in sets] == [(1, None), (2, 1)]
            assert c.execute(
                text("select called from card_variant where letter = 'B' order by card_id")
            ).scalars().all() == ["ours, as cast", "ours, machined"]
            assert c.execute(
                text("select casting, machining, coating, finish, modified from variant_part limit 1")
            ).one() == ("as cast", "machined", "coated", "", "")
            assert c.execute(text("select a, b from card_pair where card_id = 2")).one() == ("A", "B")
        downgrade(own, "0008")
        with engine.begin() as c:
            words = c.execute(text("select a_is, b_is, pulls_per_set from test_card order by id")).all()
        assert [tuple(w) for w in words] == [
            ("the stock one", "ours, as cast", 3),
            ("the stock one", "ours, machined", 4),
        ]
    engine.dispose()
