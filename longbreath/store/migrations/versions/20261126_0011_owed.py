"""Things owed, calendars, scatter of dynos, background work

Revision ID: 0011
Revises: 0010
"""

from importlib.resources import files

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql
from sqlalchemy.types import TypeEngine

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

JSONB, TEXT, INT, DOUBLE = postgresql.JSONB(), sa.String(), sa.Integer(), sa.Double()
DATE, BOOL, MOMENT = sa.Date(), sa.Boolean(), sa.DateTime(timezone=True)


def _col(
    name: str, kind: TypeEngine, comment: str | None = None, null: bool = False, default: str | None = None
) -> sa.Column:
    return sa.Column(name, kind, nullable=null, comment=comment, server_default=default)


def _version() -> sa.Column:
    return _col("version", INT, "counts changes; must match when saving")


def _key(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=op.f(f"fk_{table}_{column}_{other}"))


def _table(name: str, *parts: sa.schema.SchemaItem) -> None:
    op.create_table(name, *parts, _col("id", INT), sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}")))


FIND_OWN = """
do $$ declare said text; begin
  for said in select format('alter function %s set search_path = jobs, public', oid::regprocedure) from pg_proc
    where pronamespace = 'jobs'::regnamespace loop execute said; end loop;
end $$;
"""
TABLES = ("owed", "owed_link", "calendar_key", "dyno_scatter", "work_task")


def upgrade() -> None:
    """Make the tables, and those of the job queue in a schema of their own."""
    _table(
        "owed",
        _col("application_id", INT, "None: of the house", null=True),
        _col("card_id", INT, null=True),
        _col("kind", TEXT),
        _col("what", TEXT),
        _col("who_id", INT, null=True),
        _col("outside", TEXT, "who owes it outside the house"),
        _col("due_on", DATE, null=True),
        _col("not_before", DATE, "a part's day of arrival, say", null=True),
        _col("hours", DOUBLE, "h of work"),
        _col("cost", DOUBLE, "money of the house, beside hours and cell"),
        _col("cell_id", INT, null=True),
        _col("slot", MOMENT, "booked beginning", null=True),
        _col("blocks", TEXT, "what waits for it, in words"),
        _col("raised_by", TEXT, "what the software raised it for; empty: written by hand"),
        _col("raised_at", MOMENT),
        _col("raised_by_id", INT, null=True),
        _col("closed_at", MOMENT, null=True),
        _col("closed_by_id", INT, null=True),
        _col("closed_with", TEXT, "what closed it"),
        _version(),
        sa.CheckConstraint(
            "kind in ('measurement', 'figure', 'part', 'sample', 'slot', 'tune', 'certificate', 'person', "
            "'retest', 'bench', 'swap', 'dyno', "
            "'reason', 'weighing', 'approval', 'publishing', 'other')",
            name=op.f("ck_owed_kind"),
        ),
        sa.CheckConstraint("hours >= 0 and cost >= 0", name=op.f("ck_owed_amounts")),
        _key("owed", "application_id", "application"),
        _key("owed", "card_id", "test_card"),
        _key("owed", "cell_id", "cell"),
        _key("owed", "closed_by_id", "user_account"),
        _key("owed", "raised_by_id", "user_account"),
        _key("owed", "who_id", "user_account"),
    )
    op.create_index("ix_owed_open", "owed", ["application_id"], postgresql_where=sa.text("closed_at is null"))
    op.create_index("ix_owed_raised", "owed", ["raised_by"], unique=True, postgresql_where=sa.text("raised_by <> ''"))
    _table(
        "owed_link",
        _col("before_id", INT),
        _col("after_id", INT),
        sa.CheckConstraint("before_id <> after_id", name=op.f("ck_owed_link_two")),
        _key("owed_link", "after_id", "owed"),
        _key("owed_link", "before_id", "owed"),
        sa.UniqueConstraint("before_id", "after_id", name=op.f("uq_owed_link_before_id")),
    )
    op.create_index(op.f("ix_owed_link_after_id"), "owed_link", ["after_id"])
    op.create_index(op.f("ix_owed_link_before_id"), "owed_link", ["before_id"])
    _table(
        "calendar_key",
        _col("user_id", INT),
        _col("digest", TEXT, "SHA-256 of the key in the address"),
        _col("made_at", MOMENT),
        _col("revoked_at", MOMENT, null=True),
        _key("calendar_key", "user_id", "user_account"),
        sa.UniqueConstraint("digest", name=op.f("uq_calendar_key_digest")),
    )
    op.create_index(op.f("ix_calendar_key_user_id"), "calendar_key", ["user_id"])
    _table(
        "dyno_scatter",
        _col("dyno_id", INT),
        _col("from_day", DATE),
        _col("key", TEXT, "hash of the pulls it was fitted to"),
        _col("pull", DOUBLE, "N m, standard deviation from pull to pull"),
        _col("pull_df", DOUBLE),
        _col("fitting", DOUBLE, "N m, from set to set (part off and on again); None: not known", null=True),
        _col("fitting_df", DOUBLE),
        _col("day", DOUBLE, "N m, from day to day; None: not known", null=True),
        _col("day_df", DOUBLE),
        _col("working", JSONB, "what it was fitted to"),
        _col("made_at", MOMENT),
        _key("dyno_scatter", "dyno_id", "dyno"),
    )
    op.create_index(op.f("ix_dyno_scatter_dyno_id"), "dyno_scatter", ["dyno_id"])
    _table(
        "work_task",
        _col("kind", TEXT),
        _col("key", TEXT, "hash of everything that goes in"),
        _col("inputs", JSONB),
        _col("title", TEXT),
        _col("application_id", INT, null=True),
        _col("state", TEXT),
        _col("share", DOUBLE, "how much is done, 0 to 1"),
        _col("told", TEXT, "what it does just now, or why it failed"),
        _col("stop_asked", BOOL),
        _col("tries", INT),
        _col("result", JSONB, null=True),
        _col("asked_by_id", INT, null=True),
        _col("asked_at", MOMENT),
        _col("begun_at", MOMENT, null=True),
        _col("ended_at", MOMENT, null=True),
        sa.CheckConstraint(
            "state in ('waiting', 'running', 'done', 'failed', 'cancelled')", name=op.f("ck_work_task_state")
        ),
        _key("work_task", "application_id", "application"),
        _key("work_task", "asked_by_id", "user_account"),
        sa.UniqueConstraint("kind", "key", name=op.f("uq_work_task_kind")),
    )
    op.create_index(op.f("ix_work_task_application_id"), "work_task", ["application_id"])
    op.execute(
        "create trigger append_only before update or delete on dyno_scatter for each row execute function forbid_change()"
    )
    op.execute(
        "create trigger no_truncate before truncate on dyno_scatter for each statement execute function forbid_truncate()"
    )
    op.execute("create schema jobs")
    op.execute("set local search_path to jobs, public")
    connection = op.get_bind().connection.driver_connection
    connection.execute(files("procrastinate").joinpath("sql/schema.sql").read_text())
    op.execute("set local search_path to public")
    op.execute(FIND_OWN)


def downgrade() -> None:
    """Drop them all; the queue goes with its schema."""
    op.execute("drop schema jobs cascade")
    for table in reversed(TABLES):
        op.drop_table(table)
