"""The dyno day live: instruments of a cell, runs that the gateway follows, tuning rounds, closing a session, practice

Revision ID: 0013
Revises: 0012
"""

import sqlalchemy as sa
from alembic import op

from longbreath.store.migrations.columns import BOOL, DOUBLE, INT, JSONB, MOMENT, TEXT, col, foreign, make_table

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

TABLES = ("cell_run", "cell_block", "tuning_round", "session_closing", "practice_round")
APPEND_ONLY = ("tuning_round", "session_closing", "practice_round")
COLUMNS = (
    ("dyno", "device_url", "where it answers live"),
    ("dyno", "logger_url", "where the logger beside it answers"),
    ("dyno", "weather_url", "where the weather station of its cell answers"),
    ("instrument_address", "kind", "bench, dyno, logger, weather or tool; empty: not said"),
    ("instrument_line", "kind", "what kind of device answers there"),
)


def upgrade() -> None:
    """Make the tables, and say of each line what kind of device answers there: benches, so far."""
    for table, name, comment in COLUMNS:
        op.add_column(table, col(name, TEXT, comment, default="bench" if table == "instrument_line" else ""))
        op.alter_column(table, name, server_default=None)
    op.execute("update instrument_address set kind = 'bench' where address in (select device_url from bench)")
    _make_runs()
    _make_day()
    for table, column in (
        ("cell_run", "session_id"),
        ("tuning_round", "session_id"),
        ("session_closing", "session_id"),
        ("practice_round", "user_id"),
    ):
        op.create_index(op.f(f"ix_{table}_{column}"), table, [column])
    for table in APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


def _make_runs() -> None:
    make_table(
        "cell_run",
        col("session_id", INT),
        col("dyno_id", INT),
        col("opened_by_id", INT),
        col("opened_at", MOMENT),
        col("closed_at", MOMENT, null=True),
        col("fitted", TEXT, "letter of the variant that somebody said is on"),
        col("armed_place", INT, "place that the next pull takes; none: it is not recorded", null=True),
        col("armed_at", DOUBLE, "s since 1970"),
        col("armed_label", TEXT),
        col("armed_by_id", INT, "who takes the pull", null=True),
        col("phase", TEXT),
        col("turn", INT, "counts whatever a screen should show anew"),
        col("words", TEXT, "what the gateway last said"),
        col("recorded_to", DOUBLE, "s since 1970 up to which the lines are dealt with"),
        col("clocks", JSONB, "share by which each device's clock runs off"),
        sa.CheckConstraint("phase in ('idle', 'pulling', 'judging')", name=op.f("ck_cell_run_phase")),
        foreign("cell_run", "session_id", "dyno_session"),
        foreign("cell_run", "dyno_id", "dyno"),
        foreign("cell_run", "opened_by_id", "user_account"),
        foreign("cell_run", "armed_by_id", "user_account"),
    )
    op.create_index(
        "ix_cell_run_open", "cell_run", ["dyno_id"], unique=True, postgresql_where=sa.text("closed_at is null")
    )
    make_table(
        "cell_block",
        col("run_id", INT),
        col("role", TEXT, "dyno, logger or weather"),
        col("last_at", DOUBLE, "s since 1970 of its last line"),
        col("lines", sa.LargeBinary(), "JSON, packed: moment and values [SI] of each line"),
        foreign("cell_block", "run_id", "cell_run"),
    )
    op.create_index("ix_cell_block_run_at", "cell_block", ["run_id", "last_at"])


def _make_day() -> None:
    make_table(
        "tuning_round",
        col("session_id", INT),
        col("label", TEXT),
        col("number", INT, "of this letter, from 1"),
        col("kind", TEXT, "jet, fuel, injection, ignition, map, back to the start"),
        col("before", TEXT),
        col("after", TEXT),
        col("words", TEXT),
        col("factor", DOUBLE, "what lambda should be multiplied by; none: not foretold", null=True),
        col("fuel_id", INT, null=True),
        col("after_place", INT, "place of the last pull before it"),
        col("made_at", MOMENT),
        col("made_by_id", INT),
        foreign("tuning_round", "session_id", "dyno_session"),
        foreign("tuning_round", "fuel_id", "fuel_batch"),
        foreign("tuning_round", "made_by_id", "user_account"),
        sa.UniqueConstraint("session_id", "label", "number", name=op.f("uq_tuning_round_session_id")),
    )
    make_table(
        "session_closing",
        col("session_id", INT),
        col("is_closed", BOOL),
        col("gaps", JSONB, "key, what is missing, reason, number of the owed thing"),
        col("made_at", MOMENT),
        col("made_by_id", INT),
        foreign("session_closing", "session_id", "dyno_session"),
        foreign("session_closing", "made_by_id", "user_account"),
    )
    make_table(
        "practice_round",
        col("user_id", INT),
        col("desk", TEXT, "cell or bench"),
        col("seed", INT),
        col("fault", TEXT, "what was made wrong; none where nothing was"),
        col("said", TEXT, "what the learner said it was"),
        col("found", TEXT, "key of the check that the software named first"),
        col("points", INT, "0 missed, 1 seen that it is out, 2 named"),
        col("made_at", MOMENT),
        foreign("practice_round", "user_id", "user_account"),
    )


def downgrade() -> None:
    """Drop the tables and columns. Rounds, closings and practice are lost."""
    for table in reversed(TABLES):
        op.drop_table(table)
    for table, name, _ in reversed(COLUMNS):
        op.drop_column(table, name)
