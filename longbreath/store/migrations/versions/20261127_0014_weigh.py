"""Weigh: lines of the ledger, the margin of a card, weights of use, kit sheets, trials

Revision ID: 0014
Revises: 0013
"""

import sqlalchemy as sa
from alembic import op

from longbreath.store.migrations.columns import DATE, DOUBLE, INT, JSONB, MOMENT, TEXT, col, foreign, make_table

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

TABLES = ("use_weights", "kit_sheet", "trial")
LINE = (
    ("kind", TEXT, "measured, bounded, none or unknown; empty: a reason alone", False),
    ("low", DOUBLE, "least share of A's torque that it may move B − A by, of a bounded one", True),
    ("high", DOUBLE, "most, of a bounded one", True),
    ("session_id", INT, "the session in which it was measured alone", True),
    ("from_label", TEXT, "letter without the change there", False),
    ("to_label", TEXT, "letter with it", False),
)


def upgrade() -> None:
    """Let a reason be a line of the ledger, give cards their margin, and make the tables."""
    for name, kind, comment, null in LINE:
        op.add_column("difference_reason", col(name, kind, comment, null, None if null else ""))
        if not null:
            op.alter_column("difference_reason", name, server_default=None)
    op.create_check_constraint(
        op.f("ck_difference_reason_kind"), "difference_reason", "kind in ('', 'measured', 'bounded', 'none', 'unknown')"
    )
    op.create_foreign_key(
        op.f("fk_difference_reason_session_id_dyno_session"),
        "difference_reason",
        "dyno_session",
        ["session_id"],
        ["id"],
    )
    op.add_column(
        "test_card", col("no_matter", DOUBLE, "share of A below which a difference does not matter", default="0.01")
    )
    op.alter_column("test_card", "no_matter", server_default=None)
    op.create_check_constraint(op.f("ck_test_card_no_matter"), "test_card", "no_matter between 0.001 and 0.03")
    _make_tables()
    for table in TABLES:
        op.create_index(op.f(f"ix_{table}_application_id"), table, ["application_id"])
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


def _make_tables() -> None:
    make_table(
        "use_weights",
        col("application_id", INT),
        col("shares", JSONB, "share of each band [1], by its name"),
        col("origin", TEXT, "where they come from, in words"),
        *_made("use_weights"),
    )
    make_table(
        "kit_sheet",
        col("application_id", INT),
        col("number", INT, "version, from 1"),
        col("priced_on", DATE, null=True),
        col("values", JSONB, "prices in the money of the house, items, minutes, words, by name"),
        *_made("kit_sheet"),
        sa.UniqueConstraint("application_id", "number", name=op.f("uq_kit_sheet_application_id")),
    )
    make_table(
        "trial",
        col("application_id", INT),
        col("kind", TEXT),
        col("title", TEXT),
        col("held_on", DATE),
        col("tool", TEXT, "what it was read with"),
        col("step", DOUBLE, "SI, the tool's own step"),
        col("conditions", JSONB, "words or SI figures by name"),
        col("rows", JSONB, "readings, SI, as the kind wants them"),
        col("replaces_id", INT, null=True),
        col("why", TEXT, "why it takes the place of the earlier one"),
        *_made("trial"),
        foreign("trial", "replaces_id", "trial"),
        sa.UniqueConstraint("replaces_id", name=op.f("uq_trial_replaces_id")),
        sa.CheckConstraint("kind in ('fuel', 'temperature', 'noise', 'mass', 'track')", name=op.f("ck_trial_kind")),
        sa.CheckConstraint("step >= 0", name=op.f("ck_trial_step")),
    )


def _made(table: str) -> tuple[sa.schema.SchemaItem, ...]:
    return (
        col("made_at", MOMENT),
        col("made_by_id", INT),
        foreign(table, "application_id", "application"),
        foreign(table, "made_by_id", "user_account"),
    )


def downgrade() -> None:
    """Drop the tables and columns. Weights, kit sheets, trials, and what a ledger knows of its lines are lost."""
    for table in reversed(TABLES):
        op.drop_table(table)
    op.drop_column("test_card", "no_matter")
    for name, *_ in reversed(LINE):
        op.drop_column("difference_reason", name)
