"""Things owed, calendars, scatter of dynos, background work

Revision ID: 0011
Revises: 0010
"""

from importlib.resources import files

import sqlalchemy as sa
from alembic import op

from longbreath.store.migrations.columns import (
    BOOL,
    DATE,
    DOUBLE,
    INT,
    JSONB,
    MOMENT,
    TEXT,
    col,
    foreign,
    make_table,
    version,
)

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

FIND_OWN = """
do $$ declare said text; begin
  for said in select format('alter function %s set search_path = jobs, public', oid::regprocedure) from pg_proc
    where pronamespace = 'jobs'::regnamespace loop execute said; end loop;
end $$;
"""
TABLES = ("owed", "owed_link", "calendar_key", "dyno_scatter", "work_task")


def upgrade() -> None:
    """Make the tables, and those of the job queue in a schema of their own."""
    make_table(
        "owed",
        col("application_id", INT, "None: of the house", null=True),
        col("card_id", INT, null=True),
        col("kind", TEXT),
        col("what", TEXT),
        col("who_id", INT, null=True),
        col("outside", TEXT, "who owes it outside the house"),
        col("due_on", DATE, null=True),
        col("not_before", DATE, "a part's day of arrival, say", null=True),
        col("hours", DOUBLE, "h of work"),
        col("cost", DOUBLE, "money of the house, beside hours and cell"),
        col("cell_id", INT, null=True),
        col("slot", MOMENT, "booked beginning", null=True),
        col("blocks", TEXT, "what waits for it, in words"),
        col("raised_by", TEXT, "what the software raised it for; empty: written by hand"),
        col("raised_at", MOMENT),
        col("raised_by_id", INT, null=True),
        col("closed_at", MOMENT, null=True),
        col("closed_by_id", INT, null=True),
        col("closed_with", TEXT, "what closed it"),
        version(),
        sa.CheckConstraint(
            "kind in ('measurement', 'figure', 'part', 'sample', 'slot', 'tune', 'certificate', 'person', "
            "'retest', 'bench', 'swap', 'dyno', "
            "'reason', 'weighing', 'approval', 'publishing', 'other')",
            name=op.f("ck_owed_kind"),
        ),
        sa.CheckConstraint("hours >= 0 and cost >= 0", name=op.f("ck_owed_amounts")),
        foreign("owed", "application_id", "application"),
        foreign("owed", "card_id", "test_card"),
        foreign("owed", "cell_id", "cell"),
        foreign("owed", "closed_by_id", "user_account"),
        foreign("owed", "raised_by_id", "user_account"),
        foreign("owed", "who_id", "user_account"),
    )
    op.create_index("ix_owed_open", "owed", ["application_id"], postgresql_where=sa.text("closed_at is null"))
    op.create_index("ix_owed_raised", "owed", ["raised_by"], unique=True, postgresql_where=sa.text("raised_by <> ''"))
    make_table(
        "owed_link",
        col("before_id", INT),
        col("after_id", INT),
        sa.CheckConstraint("before_id <> after_id", name=op.f("ck_owed_link_two")),
        foreign("owed_link", "after_id", "owed"),
        foreign("owed_link", "before_id", "owed"),
        sa.UniqueConstraint("before_id", "after_id", name=op.f("uq_owed_link_before_id")),
    )
    op.create_index(op.f("ix_owed_link_after_id"), "owed_link", ["after_id"])
    op.create_index(op.f("ix_owed_link_before_id"), "owed_link", ["before_id"])
    make_table(
        "calendar_key",
        col("user_id", INT),
        col("digest", TEXT, "SHA-256 of the key in the address"),
        col("made_at", MOMENT),
        col("revoked_at", MOMENT, null=True),
        foreign("calendar_key", "user_id", "user_account"),
        sa.UniqueConstraint("digest", name=op.f("uq_calendar_key_digest")),
    )
    op.create_index(op.f("ix_calendar_key_user_id"), "calendar_key", ["user_id"])
    make_table(
        "dyno_scatter",
        col("dyno_id", INT),
        col("from_day", DATE),
        col("key", TEXT, "hash of the pulls it was fitted to"),
        col("pull", DOUBLE, "N m, standard deviation from pull to pull"),
        col("pull_df", DOUBLE),
        col("fitting", DOUBLE, "N m, from set to set (part off and on again); None: not known", null=True),
        col("fitting_df", DOUBLE),
        col("day", DOUBLE, "N m, from day to day; None: not known", null=True),
        col("day_df", DOUBLE),
        col("working", JSONB, "what it was fitted to"),
        col("made_at", MOMENT),
        foreign("dyno_scatter", "dyno_id", "dyno"),
    )
    op.create_index(op.f("ix_dyno_scatter_dyno_id"), "dyno_scatter", ["dyno_id"])
    make_table(
        "work_task",
        col("kind", TEXT),
        col("key", TEXT, "hash of everything that goes in"),
        col("inputs", JSONB),
        col("title", TEXT),
        col("application_id", INT, null=True),
        col("state", TEXT),
        col("share", DOUBLE, "how much is done, 0 to 1"),
        col("told", TEXT, "what it does just now, or why it failed"),
        col("stop_asked", BOOL),
        col("tries", INT),
        col("result", JSONB, null=True),
        col("asked_by_id", INT, null=True),
        col("asked_at", MOMENT),
        col("begun_at", MOMENT, null=True),
        col("ended_at", MOMENT, null=True),
        sa.CheckConstraint(
            "state in ('waiting', 'running', 'done', 'failed', 'cancelled')", name=op.f("ck_work_task_state")
        ),
        foreign("work_task", "application_id", "application"),
        foreign("work_task", "asked_by_id", "user_account"),
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
