"""longbreath init: migrations run as the owner of the tables, and the application is another user."""

from __future__ import annotations

from click.testing import CliRunner, Result
from sqlalchemy import create_engine, text
from sqlalchemy.engine import make_url

from longbreath.cli.main import main
from tests.databases import admitted, new_database


def init(**environment: str) -> Result:
    return CliRunner().invoke(main, ["init"], env={f"LONGBREATH_{k}_URL": v for k, v in environment.items()})


def test_the_owner_migrates_and_the_application_gets_its_rights_and_no_more(database_url: str) -> None:
    own = new_database(database_url, "longbreath_init")
    app = make_url(own).set(username="longbreath_tests", password="tests").render_as_string(hide_password=False)
    assert init(DATABASE=app, OWNER=own).exit_code == 0
    assert admitted(own) == app  # again: nothing changes
    assert init(DATABASE=app, OWNER=own).exit_code == 0
    engine = create_engine(app)
    with engine.connect() as c:
        may = "select string_agg(privilege_type, ' ' order by privilege_type) from information_schema.role_table_grants"
        may += " where grantee = current_user and table_name = :t"
        rights = {
            t: c.execute(text(may), {"t": t}).scalar() for t in ("claim", "claim_sheet", "verdict", "alembic_version")
        }
        owned = c.execute(text("select count(*) from pg_tables where tableowner = current_user")).scalar()
    engine.dispose()
    assert rights == {
        "claim": "INSERT SELECT UPDATE",
        "claim_sheet": "INSERT SELECT",
        "verdict": "DELETE INSERT SELECT UPDATE",
        "alembic_version": "SELECT",
    }
    assert owned == 0


def test_it_says_what_is_missing_or_wrong(database_url: str) -> None:
    assert "LONGBREATH_OWNER_URL is not set" in init(DATABASE="postgresql+psycopg://a@h/d", OWNER="").output
    same = init(DATABASE=database_url, OWNER=database_url)
    assert same.exit_code == 1
    assert "must not own its tables" in same.output
