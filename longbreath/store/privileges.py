"""What the application's own user may do in the database: it reads and adds, changes what may change, and owns nothing.

Evidence is held against it by PostgreSQL itself: it has no right to change, remove or truncate an append-only row, to disable a
trigger or to drop a function. Migrations run under the owner of the tables.
"""

from __future__ import annotations

from sqlalchemy import Connection, create_engine, text
from sqlalchemy.engine import make_url

PASSING = (
    "verdict",
    "kept",
    "kept_weighing",
    "prediction_score",
    "sign_in_try",
    "sent_form",
    "instrument_line",
    "instrument_sample",
    "cell_block",
    "saved_view",
)
"""Tables that hold nothing but what can be made anew, or is kept for a while only: their rows may be removed."""
PLANNED = ("card_variant", "card_pair", "variant_part", "owed_link")
"""Rows that a changed plan takes back; triggers hold them as soon as pulls were taken by it."""

_TABLES = """
select c.relname, exists (select from pg_trigger t where t.tgrelid = c.oid and t.tgname = 'append_only')
from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind = 'r' order by c.relname
"""


def admit(owner_url: str, app_url: str) -> None:
    """Give the user of `app_url` exactly its rights, as the owner of the tables. Raises ValueError if they are one user."""
    role = str(make_url(app_url).username)
    if make_url(owner_url).username == role:
        raise ValueError(f"The application must not own its tables: give it another user than {role}.")
    engine = create_engine(owner_url)
    with engine.begin() as connection:
        grant(connection, role)
    engine.dispose()


def grant(connection: Connection, role: str) -> None:
    """Give a role the rights of the application on every table, and no other."""
    named = connection.dialect.identifier_preparer.quote(role)
    for table, append_only in connection.execute(text(_TABLES)).all():
        rights = (
            "select" if table == "alembic_version" else "select, insert" if append_only else "select, insert, update"
        )
        if table in PASSING + PLANNED:
            rights += ", delete"
        connection.execute(text(f'revoke all on "{table}" from {named}'))
        connection.execute(text(f'grant {rights} on "{table}" to {named}'))
    own = connection.dialect.identifier_preparer.quote(str(connection.engine.url.database))
    connection.execute(text(f"grant connect on database {own} to {named}"))
    connection.execute(text(f"grant usage on schema public to {named}"))
    connection.execute(text(f"grant usage on all sequences in schema public to {named}"))
    if connection.scalar(
        text("select to_regnamespace('jobs') is not null")
    ):  # the queue is worked off by the application
        connection.execute(text(f"grant usage on schema jobs to {named}"))
        connection.execute(text(f"grant select, insert, update, delete on all tables in schema jobs to {named}"))
        connection.execute(text(f"grant usage on all sequences in schema jobs to {named}"))
