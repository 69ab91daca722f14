"""Claims of every kind, what goes out with them, road use, selling text, saved views, one-time codes

Revision ID: 0015
Revises: 0014
"""

import sqlalchemy as sa
from alembic import op

from longbreath.store.migrations.columns import BOOL, DATE, DOUBLE, INT, JSONB, MOMENT, TEXT, col, foreign, make_table

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

HELD = (
    "fact_comment",
    "claim_rules",
    "signing_key",
    "claim_bundle",
    "certificate",
    "covered_vehicle",
    "sheet_note",
    "selling_text",
)
"""New append-only tables."""
OLD_ACTS = "act in ('drafted', 'changed', 'submitted', 'returned', 'published', 'withdrawn', 'superseded')"
ACTS = OLD_ACTS.replace("'withdrawn'", "'questioned', 'restored', 'withdrawn'")
COLUMNS = (
    ("claim", "sources", JSONB, "what else it rests on, by name: school, bench session, trial, miles and price", "{}"),
    ("claim_act", "due_on", DATE, "the day on which a questioned claim is withdrawn by itself", None),
    (
        "claim_sheet",
        "rests_on",
        JSONB,
        "digest of each thing it rests on, by name, so that what changed can be named",
        "{}",
    ),
    ("claim_sheet", "retest_on", DATE, "the day from which the house wants it tested again", None),
    (
        "dyno",
        "fitting_repeatability",
        DOUBLE,
        "N m, standard deviation from set to set, the part off and on again",
        None,
    ),
    ("dyno", "fitting_freedom", INT, "degrees of freedom behind it: sets less one", "0"),
    ("trial", "origin", TEXT, "own test, or somebody else's: that backs nothing", "own"),
    ("user_account", "code_secret", TEXT, "secret of one-time codes, sealed; none: not set up", None),
    ("user_account", "code_used", INT, "time step of the last code: none counts twice", "0"),
    ("user_account", "tour", INT, "stop of the tour where they left it", None),
)
CHECKS = (
    ("dyno", "fitting", "fitting_repeatability is null or (fitting_repeatability > 0 and fitting_freedom > 0)"),
    ("trial", "origin", "origin in ('own', 'supplier', 'published', 'hearsay')"),
)


def upgrade() -> None:
    """Add columns and tables; the kind of old claims is torque."""
    for table, name, kind, comment, default in COLUMNS:
        op.add_column(table, col(name, kind, comment, default is None, default))
        if default is not None:
            op.alter_column(table, name, server_default=None)
    for table, name, words in CHECKS:
        op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, words)
    op.alter_column("claim", "kind", comment="kind of statement")
    op.alter_column("claim_act", "by_id", nullable=True, comment="none: Long Breath itself")
    _acts(ACTS)
    _make_tables()
    for table in ("fact_comment", "certificate", "covered_vehicle", "sheet_note"):
        column = "claim_id" if table == "fact_comment" else "application_id"
        op.create_index(op.f(f"ix_{table}_{column}"), table, [column])
    for table in HELD:
        op.execute(
            f"create trigger append_only before update or delete on {table} for each row execute function forbid_change()"
        )
        op.execute(
            f"create trigger no_truncate before truncate on {table} for each statement execute function forbid_truncate()"
        )


def _acts(words: str) -> None:
    op.drop_constraint(op.f("ck_claim_act_act"), "claim_act", type_="check")
    op.create_check_constraint(op.f("ck_claim_act_act"), "claim_act", words)


def _made(table: str, application: bool = True, null: bool = False) -> tuple[sa.schema.SchemaItem, ...]:
    own = (col("application_id", INT), foreign(table, "application_id", "application")) if application else ()
    return (
        *own,
        col("made_at", MOMENT),
        col("made_by_id", INT, null=null),
        foreign(table, "made_by_id", "user_account"),
    )


def _make_tables() -> None:
    make_table(
        "fact_comment",
        col("claim_id", INT),
        col("fact", TEXT, "key of the fact; empty: the whole statement"),
        col("words", TEXT),
        col("at", MOMENT),
        col("by_id", INT),
        foreign("fact_comment", "claim_id", "claim"),
        foreign("fact_comment", "by_id", "user_account"),
    )
    make_table(
        "claim_rules",
        col("house", TEXT, "name of the house on its sheets"),
        col("code_required", BOOL, "approval asks for a one-time code"),
        col("clock_days", INT, "days from a question to withdrawal by itself"),
        col("at_once", JSONB, "causes that withdraw a claim at once"),
        col("most_age", INT, "days: older evidence is not published"),
        col("retest_days", INT, "days from publishing to the next test"),
        col("raw_files", BOOL, "bundles hold raw files, not channels with their hash"),
        col("money", TEXT, "name of the money of the house"),
        *_made("claim_rules", application=False, null=True),
        sa.CheckConstraint("clock_days between 0 and 365", name=op.f("ck_claim_rules_clock")),
        sa.CheckConstraint(
            "most_age between 30 and 3650 and retest_days between 30 and 3650", name=op.f("ck_claim_rules_age")
        ),
    )
    make_table(
        "signing_key",
        col("public", TEXT, "32 bytes, hexadecimal"),
        col("sealed", TEXT, "private half, sealed"),
        col("made_at", MOMENT),
        sa.UniqueConstraint("public", name=op.f("uq_signing_key_public")),
    )
    make_table(
        "claim_bundle",
        col("claim_id", INT),
        col("blob_id", INT),
        col("sha256", TEXT),
        col("size", INT),
        col("discloses", JSONB, "what it holds, as its approver confirmed it"),
        col("confirmed_by_id", INT),
        col("made_at", MOMENT),
        foreign("claim_bundle", "claim_id", "claim"),
        foreign("claim_bundle", "blob_id", "blob"),
        foreign("claim_bundle", "confirmed_by_id", "user_account"),
        sa.UniqueConstraint("claim_id", name=op.f("uq_claim_bundle_claim_id")),
    )
    _make_road()
    make_table(
        "selling_text",
        col("title", TEXT),
        col("text", TEXT),
        col("application_id", INT, "what all of it is about", True),
        foreign("selling_text", "application_id", "application"),
        *_made("selling_text", application=False),
    )
    make_table(
        "saved_view",
        col("user_id", INT),
        col("name", TEXT),
        col("query", TEXT, "query of the address"),
        foreign("saved_view", "user_id", "user_account"),
        sa.UniqueConstraint("user_id", "name", name=op.f("uq_saved_view_user_id")),
    )


def _make_road() -> None:
    make_table(
        "certificate",
        col("kind", TEXT),
        col("number", TEXT),
        col("market", TEXT),
        col("first_year", INT),
        col("last_year", INT),
        col("until", DATE, "last day it holds", True),
        col("scope", TEXT),
        col("forbids", TEXT, "what it forbids"),
        col("document", TEXT, "where the document is"),
        *_made("certificate"),
        sa.CheckConstraint("kind in ('emissions', 'noise')", name=op.f("ck_certificate_kind")),
        sa.CheckConstraint("first_year <= last_year", name=op.f("ck_certificate_years")),
    )
    make_table(
        "covered_vehicle",
        col("make", TEXT),
        col("model", TEXT),
        col("first_year", INT),
        col("last_year", INT),
        col("engine_code", TEXT),
        col("covers", TEXT),
        col("reason", TEXT),
        *_made("covered_vehicle"),
        sa.CheckConstraint("covers in ('direct', 'reasoned', 'not covered')", name=op.f("ck_covered_vehicle_covers")),
        sa.CheckConstraint("first_year <= last_year", name=op.f("ck_covered_vehicle_years")),
    )
    make_table("sheet_note", col("about", TEXT), col("words", TEXT), *_made("sheet_note"))


def downgrade() -> None:
    """Drop tables and columns. Bundles, keys, certificates, notes and questions are lost; published sheets stay."""
    op.drop_table("saved_view")
    for table in reversed(HELD):
        op.drop_table(table)
    op.execute("alter table claim_act disable trigger append_only")
    op.execute("delete from claim_act where act in ('questioned', 'restored') or by_id is null")
    op.execute("alter table claim_act enable trigger append_only")
    _acts(OLD_ACTS)
    op.alter_column("claim_act", "by_id", nullable=False, comment=None)
    op.alter_column("claim", "kind", comment=None)
    for table, name, _ in CHECKS:
        op.drop_constraint(op.f(f"ck_{table}_{name}"), table, type_="check")
    for table, name, *_ in reversed(COLUMNS):
        op.drop_column(table, name)
