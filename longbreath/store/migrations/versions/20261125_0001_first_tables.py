"""first tables

Revision ID: 0001
Revises:
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None

# evidence: rows of these tables are added, never changed or removed
APPEND_ONLY = ("audit_entry", "raw_file", "reading", "reading_mark", "pull", "channel", "pull_judgement")

FORBID = """
create function forbid_change() returns trigger language plpgsql as $$
begin
  raise exception 'rows of % are evidence: they are added, never changed or removed', tg_table_name;
end $$
"""


def upgrade() -> None:
    op.create_table(
        "bench",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("percent_step", sa.Double(), nullable=False, comment="smallest step of the percentage, share of one"),
        sa.Column("pressure_step", sa.Double(), nullable=False, comment="smallest step of the test pressure, Pa"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bench")),
        sa.UniqueConstraint("name", name=op.f("uq_bench_name")),
    )
    op.create_table(
        "dyno",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("measured_at", sa.String(), nullable=False),
        sa.Column("repeatability", sa.Double(), nullable=False, comment="N m, standard deviation"),
        sa.Column("repeatability_source", sa.String(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("measured_at in ('wheel', 'crank')", name=op.f("ck_dyno_measured_at")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_dyno")),
        sa.UniqueConstraint("name", name=op.f("uq_dyno_name")),
    )
    op.create_table(
        "product",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("family", sa.String(), nullable=False),
        sa.Column("side", sa.String(), nullable=False),
        sa.Column("is_stock", sa.Boolean(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("side in ('intake', 'exhaust')", name=op.f("ck_product_side")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_product")),
        sa.UniqueConstraint("name", name=op.f("uq_product_name")),
    )
    op.create_table(
        "source_mapping",
        sa.Column("fingerprint", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("columns", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_source_mapping")),
        sa.UniqueConstraint("fingerprint", name=op.f("uq_source_mapping_fingerprint")),
    )
    op.create_table(
        "user_account",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("email", sa.String(), nullable=False),
        sa.Column("role", sa.String(), nullable=False),
        sa.Column("password_hash", sa.String(), nullable=False),
        sa.Column("units", sa.String(), nullable=False, comment="display system: us or metric"),
        sa.Column("theme", sa.String(), nullable=False, comment="paper or cell"),
        sa.Column("is_active", sa.Boolean(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("role in ('viewer', 'tester', 'approver', 'admin')", name=op.f("ck_user_account_role")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_user_account")),
        sa.UniqueConstraint("email", name=op.f("uq_user_account_email")),
    )
    op.create_table(
        "vehicle",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("years", sa.String(), nullable=False),
        sa.Column("strokes", sa.Integer(), nullable=False, comment="strokes per cycle: 4 or 2"),
        sa.Column("bore", sa.Double(), nullable=False, comment="m"),
        sa.Column("stroke", sa.Double(), nullable=False, comment="m"),
        sa.Column("cylinders", sa.Integer(), nullable=False),
        sa.Column("compression_ratio", sa.Double(), nullable=False),
        sa.Column("intake_duration", sa.Double(), nullable=False, comment="rad of crank"),
        sa.Column("induction", sa.String(), nullable=False),
        sa.Column("fuel", sa.String(), nullable=False),
        sa.Column("use", sa.String(), nullable=False),
        sa.Column("market", sa.String(), nullable=False),
        sa.Column("redline", sa.Double(), nullable=False, comment="rad/s"),
        sa.Column("band_low", sa.Double(), nullable=False, comment="rad/s"),
        sa.Column("band_middle", sa.Double(), nullable=False, comment="rad/s"),
        sa.Column("band_top", sa.Double(), nullable=False, comment="rad/s"),
        sa.Column("band_end", sa.Double(), nullable=False, comment="rad/s"),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "band_low < band_middle and band_middle < band_top and band_top < band_end", name=op.f("ck_vehicle_bands")
        ),
        sa.CheckConstraint("bore > 0 and stroke > 0 and cylinders > 0", name=op.f("ck_vehicle_geometry")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_vehicle")),
        sa.UniqueConstraint("name", name=op.f("uq_vehicle_name")),
    )
    op.create_table(
        "audit_entry",
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("user_id", sa.Integer(), nullable=True),
        sa.Column("user_name", sa.String(), nullable=False, comment="as it was at the time"),
        sa.Column(
            "application_id", sa.Integer(), nullable=True, comment="the dossier it belongs to; kept without a key"
        ),
        sa.Column("action", sa.String(), nullable=False, comment="added, changed or removed"),
        sa.Column("entity", sa.String(), nullable=False),
        sa.Column("entity_id", sa.Integer(), nullable=False),
        sa.Column("sentence", sa.String(), nullable=False),
        sa.Column("changes", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["user_id"], ["user_account.id"], name=op.f("fk_audit_entry_user_id_user_account")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_audit_entry")),
    )
    op.create_index("ix_audit_entry_application_at", "audit_entry", ["application_id", "at"], unique=False)
    op.create_table(
        "bench_range",
        sa.Column("bench_id", sa.Integer(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("full_scale", sa.Double(), nullable=False, comment="m3/s"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("full_scale > 0", name=op.f("ck_bench_range_full_scale")),
        sa.ForeignKeyConstraint(["bench_id"], ["bench.id"], name=op.f("fk_bench_range_bench_id_bench")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bench_range")),
        sa.UniqueConstraint("bench_id", "label", name=op.f("uq_bench_range_bench_id")),
    )
    op.create_table(
        "revision",
        sa.Column("product_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False, comment="as cast, hand-finished, machined, coated …"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["product_id"], ["product.id"], name=op.f("fk_revision_product_id_product")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_revision")),
        sa.UniqueConstraint("product_id", "name", name=op.f("uq_revision_product_id")),
    )
    op.create_table(
        "application",
        sa.Column("vehicle_id", sa.Integer(), nullable=False),
        sa.Column("revision_id", sa.Integer(), nullable=False),
        sa.Column("stock_revision_id", sa.Integer(), nullable=False),
        sa.Column("approval", sa.String(), nullable=False, comment="status for road use"),
        sa.Column("approval_note", sa.String(), nullable=False, comment="certificate or market"),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "approval in ('unknown', 'closed_course', 'approved', 'not_required')", name=op.f("ck_application_approval")
        ),
        sa.ForeignKeyConstraint(["revision_id"], ["revision.id"], name=op.f("fk_application_revision_id_revision")),
        sa.ForeignKeyConstraint(
            ["stock_revision_id"], ["revision.id"], name=op.f("fk_application_stock_revision_id_revision")
        ),
        sa.ForeignKeyConstraint(["vehicle_id"], ["vehicle.id"], name=op.f("fk_application_vehicle_id_vehicle")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_application")),
        sa.UniqueConstraint("vehicle_id", "revision_id", name=op.f("uq_application_vehicle_id")),
    )
    op.create_table(
        "bench_session",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("bench_id", sa.Integer(), nullable=False),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column("test_pressure", sa.Double(), nullable=False, comment="Pa"),
        sa.Column("temperature", sa.Double(), nullable=False, comment="K"),
        sa.Column("pressure", sa.Double(), nullable=False, comment="Pa, station"),
        sa.Column("humidity", sa.Double(), nullable=False, comment="share of one"),
        sa.Column("fixture", sa.String(), nullable=False),
        sa.Column("leak_range_id", sa.Integer(), nullable=True),
        sa.Column("leak_percent", sa.Double(), nullable=True, comment="share of one"),
        sa.Column("leak_pressure", sa.Double(), nullable=True, comment="Pa"),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_bench_session_application_id_application")
        ),
        sa.ForeignKeyConstraint(["bench_id"], ["bench.id"], name=op.f("fk_bench_session_bench_id_bench")),
        sa.ForeignKeyConstraint(
            ["leak_range_id"], ["bench_range.id"], name=op.f("fk_bench_session_leak_range_id_bench_range")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bench_session")),
    )
    op.create_index(op.f("ix_bench_session_application_id"), "bench_session", ["application_id"], unique=False)
    op.create_table(
        "claim",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("slug", sa.String(), nullable=False, comment="stable public address"),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("statement", sa.String(), nullable=False),
        sa.Column("trade_off", sa.String(), nullable=False),
        sa.Column(
            "session_ids", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="dyno sessions it rests on"
        ),
        sa.Column(
            "snapshot", postgresql.JSONB(astext_type=sa.Text()), nullable=True, comment="all that the sheet shows"
        ),
        sa.Column("evidence_key", sa.String(), nullable=False, comment="identifies the evidence it was published on"),
        sa.Column("drafted_by_id", sa.Integer(), nullable=False),
        sa.Column("drafted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("approved_by_id", sa.Integer(), nullable=True),
        sa.Column("published_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("withdrawn_by_id", sa.Integer(), nullable=True),
        sa.Column("withdrawal_reason", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("state in ('draft', 'submitted', 'published', 'withdrawn')", name=op.f("ck_claim_state")),
        sa.CheckConstraint(
            "approved_by_id is null or approved_by_id <> drafted_by_id", name=op.f("ck_claim_second_person")
        ),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_claim_application_id_application")
        ),
        sa.ForeignKeyConstraint(
            ["approved_by_id"], ["user_account.id"], name=op.f("fk_claim_approved_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(
            ["drafted_by_id"], ["user_account.id"], name=op.f("fk_claim_drafted_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(
            ["withdrawn_by_id"], ["user_account.id"], name=op.f("fk_claim_withdrawn_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_claim")),
        sa.UniqueConstraint("slug", name=op.f("uq_claim_slug")),
    )
    op.create_index(op.f("ix_claim_application_id"), "claim", ["application_id"], unique=False)
    op.create_table(
        "element",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False, comment="order from the mouth"),
        sa.Column("belongs_to", sa.String(), nullable=False, comment="A, B or both"),
        sa.Column("side", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False, comment="filter, tube, plenum, runner, primary …"),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("length", sa.Double(), nullable=False, comment="m, along the flow"),
        sa.Column("shape", sa.String(), nullable=False),
        sa.Column("diameter", sa.Double(), nullable=True, comment="m, inside, at entry"),
        sa.Column("width", sa.Double(), nullable=True, comment="m, inside"),
        sa.Column("height", sa.Double(), nullable=True, comment="m, inside"),
        sa.Column("corner_radius", sa.Double(), nullable=True, comment="m"),
        sa.Column("volume", sa.Double(), nullable=True, comment="m3, for plenums and boxes"),
        sa.Column("tool", sa.String(), nullable=False),
        sa.Column("precision", sa.Double(), nullable=True, comment="m, ± of the tool"),
        sa.Column("volume_precision", sa.Double(), nullable=True, comment="m3, ± of the volume"),
        sa.Column("provenance", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("belongs_to in ('A', 'B', 'both')", name=op.f("ck_element_belongs_to")),
        sa.CheckConstraint("provenance in ('measured', 'nominal')", name=op.f("ck_element_provenance")),
        sa.CheckConstraint("shape in ('round', 'rounded_rectangle')", name=op.f("ck_element_shape")),
        sa.CheckConstraint("side in ('intake', 'engine', 'exhaust')", name=op.f("ck_element_side")),
        sa.CheckConstraint("length > 0", name=op.f("ck_element_length")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_element_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_element")),
    )
    op.create_index(op.f("ix_element_application_id"), "element", ["application_id"], unique=False)
    op.create_table(
        "prediction",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("inputs", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="SI values by name"),
        sa.Column(
            "figures", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="figures with their working"
        ),
        sa.Column("expects", sa.String(), nullable=False, comment="what is expected, in words"),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("made_by_id", sa.Integer(), nullable=False),
        sa.Column("sealed_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("after_test", sa.Boolean(), nullable=False, comment="made after pulls were already recorded"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_prediction_application_id_application")
        ),
        sa.ForeignKeyConstraint(
            ["made_by_id"], ["user_account.id"], name=op.f("fk_prediction_made_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_prediction")),
    )
    op.create_index(op.f("ix_prediction_application_id"), "prediction", ["application_id"], unique=False)
    op.create_table(
        "test_card",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("dyno_id", sa.Integer(), nullable=False),
        sa.Column("a_is", sa.String(), nullable=False),
        sa.Column("b_is", sa.String(), nullable=False),
        sa.Column("held", sa.String(), nullable=False, comment="what is kept the same"),
        sa.Column(
            "also_changed", sa.String(), nullable=False, comment="what else differs between A and B, or 'nothing'"
        ),
        sa.Column("pulls_per_set", sa.Integer(), nullable=False),
        sa.Column("effect_wanted", sa.Double(), nullable=False, comment="N m, smallest gain worth finding"),
        sa.Column("mixture_target", sa.Double(), nullable=True, comment="lambda"),
        sa.Column("mixture_tolerance", sa.Double(), nullable=False, comment="lambda"),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("pulls_per_set between 2 and 12", name=op.f("ck_test_card_pulls_per_set")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_test_card_application_id_application")
        ),
        sa.ForeignKeyConstraint(["dyno_id"], ["dyno.id"], name=op.f("fk_test_card_dyno_id_dyno")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_test_card")),
    )
    op.create_index(op.f("ix_test_card_application_id"), "test_card", ["application_id"], unique=False)
    op.create_table(
        "verdict",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column(
            "evidence_key", sa.String(), nullable=False, comment="identifies the pulls and judgements it was made from"
        ),
        sa.Column("headline", sa.String(), nullable=False),
        sa.Column(
            "bands",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="name, verdict, value, half_width, kind of each band; SI",
        ),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_verdict_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_verdict")),
        sa.UniqueConstraint("application_id", name=op.f("uq_verdict_application_id")),
    )
    op.create_table(
        "dyno_session",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("card_id", sa.Integer(), nullable=False),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column("temperature", sa.Double(), nullable=False, comment="K"),
        sa.Column("pressure", sa.Double(), nullable=False, comment="Pa, station"),
        sa.Column("humidity", sa.Double(), nullable=False, comment="share of one"),
        sa.Column("standard", sa.String(), nullable=False),
        sa.Column("already_corrected", sa.Boolean(), nullable=False, comment="the files carry corrected figures"),
        sa.Column("gear", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_dyno_session_application_id_application")
        ),
        sa.ForeignKeyConstraint(["card_id"], ["test_card.id"], name=op.f("fk_dyno_session_card_id_test_card")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_dyno_session")),
    )
    op.create_index(op.f("ix_dyno_session_application_id"), "dyno_session", ["application_id"], unique=False)
    op.create_table(
        "trace",
        sa.Column("session_id", sa.Integer(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("section_id", sa.Integer(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("label in ('A', 'B')", name=op.f("ck_trace_label")),
        sa.ForeignKeyConstraint(["section_id"], ["element.id"], name=op.f("fk_trace_section_id_element")),
        sa.ForeignKeyConstraint(["session_id"], ["bench_session.id"], name=op.f("fk_trace_session_id_bench_session")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_trace")),
        sa.UniqueConstraint("session_id", "label", name=op.f("uq_trace_session_id")),
    )
    op.create_index(op.f("ix_trace_session_id"), "trace", ["session_id"], unique=False)
    op.create_table(
        "raw_file",
        sa.Column("session_id", sa.Integer(), nullable=False),
        sa.Column("filename", sa.String(), nullable=False),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("fingerprint", sa.String(), nullable=False, comment="identifies the source by its header"),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("received_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("received_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["received_by_id"], ["user_account.id"], name=op.f("fk_raw_file_received_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(["session_id"], ["dyno_session.id"], name=op.f("fk_raw_file_session_id_dyno_session")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_raw_file")),
        sa.UniqueConstraint("session_id", "sha256", name=op.f("uq_raw_file_session_id")),
    )
    op.create_index(op.f("ix_raw_file_session_id"), "raw_file", ["session_id"], unique=False)
    op.create_table(
        "reading",
        sa.Column("trace_id", sa.Integer(), nullable=False),
        sa.Column("lift", sa.Double(), nullable=False, comment="m"),
        sa.Column("range_id", sa.Integer(), nullable=True),
        sa.Column("percent", sa.Double(), nullable=True, comment="share of one"),
        sa.Column("direct_flow", sa.Double(), nullable=True, comment="m3/s"),
        sa.Column("pressure", sa.Double(), nullable=False, comment="Pa, when it was read"),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "(direct_flow is null) <> (percent is null or range_id is null)", name=op.f("ck_reading_one_way")
        ),
        sa.CheckConstraint("direct_flow is null or direct_flow >= 0", name=op.f("ck_reading_direct_flow")),
        sa.CheckConstraint("lift >= 0 and pressure > 0", name=op.f("ck_reading_positive")),
        sa.CheckConstraint("percent is null or (percent >= 0 and percent <= 1)", name=op.f("ck_reading_percent")),
        sa.ForeignKeyConstraint(["range_id"], ["bench_range.id"], name=op.f("fk_reading_range_id_bench_range")),
        sa.ForeignKeyConstraint(["taken_by_id"], ["user_account.id"], name=op.f("fk_reading_taken_by_id_user_account")),
        sa.ForeignKeyConstraint(["trace_id"], ["trace.id"], name=op.f("fk_reading_trace_id_trace")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_reading")),
    )
    op.create_index(op.f("ix_reading_trace_id"), "reading", ["trace_id"], unique=False)
    op.create_table(
        "pull",
        sa.Column("session_id", sa.Integer(), nullable=False),
        sa.Column("file_id", sa.Integer(), nullable=False),
        sa.Column("sequence", sa.Integer(), nullable=False, comment="place in the order of the session, from 1"),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column(
            "columns",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="the column mapping it was read with",
        ),
        sa.Column(
            "checks",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="outcome of each check when it was recorded",
        ),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("label in ('A', 'B')", name=op.f("ck_pull_label")),
        sa.ForeignKeyConstraint(["file_id"], ["raw_file.id"], name=op.f("fk_pull_file_id_raw_file")),
        sa.ForeignKeyConstraint(["session_id"], ["dyno_session.id"], name=op.f("fk_pull_session_id_dyno_session")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pull")),
        sa.UniqueConstraint("file_id", name=op.f("uq_pull_file_id")),
        sa.UniqueConstraint("session_id", "sequence", name=op.f("uq_pull_session_id")),
    )
    op.create_index(op.f("ix_pull_session_id"), "pull", ["session_id"], unique=False)
    op.create_table(
        "reading_mark",
        sa.Column("reading_id", sa.Integer(), nullable=False),
        sa.Column("replaced_by_id", sa.Integer(), nullable=True),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("made_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("length(trim(reason)) > 0", name=op.f("ck_reading_mark_reason")),
        sa.ForeignKeyConstraint(
            ["made_by_id"], ["user_account.id"], name=op.f("fk_reading_mark_made_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(["reading_id"], ["reading.id"], name=op.f("fk_reading_mark_reading_id_reading")),
        sa.ForeignKeyConstraint(
            ["replaced_by_id"], ["reading.id"], name=op.f("fk_reading_mark_replaced_by_id_reading")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_reading_mark")),
    )
    op.create_index(op.f("ix_reading_mark_reading_id"), "reading_mark", ["reading_id"], unique=False)
    op.create_table(
        "channel",
        sa.Column("pull_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False, comment="kind of quantity; values are SI"),
        sa.Column("values", postgresql.ARRAY(sa.Double()), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["pull_id"], ["pull.id"], name=op.f("fk_channel_pull_id_pull")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_channel")),
        sa.UniqueConstraint("pull_id", "name", name=op.f("uq_channel_pull_id")),
    )
    op.create_index(op.f("ix_channel_pull_id"), "channel", ["pull_id"], unique=False)
    op.create_table(
        "pull_judgement",
        sa.Column("pull_id", sa.Integer(), nullable=False),
        sa.Column("valid", sa.Boolean(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("automatic", sa.Boolean(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("made_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("length(trim(reason)) > 0", name=op.f("ck_pull_judgement_reason")),
        sa.ForeignKeyConstraint(
            ["made_by_id"], ["user_account.id"], name=op.f("fk_pull_judgement_made_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(["pull_id"], ["pull.id"], name=op.f("fk_pull_judgement_pull_id_pull")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pull_judgement")),
    )
    op.create_index(op.f("ix_pull_judgement_pull_id"), "pull_judgement", ["pull_id"], unique=False)
    op.execute(FORBID)
    for table in APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} "
            "for each row execute function forbid_change()"
        )


def downgrade() -> None:
    for table in APPEND_ONLY:
        op.execute(f"drop trigger append_only on {table}")
    op.execute("drop function forbid_change()")
    op.drop_index(op.f("ix_pull_judgement_pull_id"), table_name="pull_judgement")
    op.drop_table("pull_judgement")
    op.drop_index(op.f("ix_channel_pull_id"), table_name="channel")
    op.drop_table("channel")
    op.drop_index(op.f("ix_reading_mark_reading_id"), table_name="reading_mark")
    op.drop_table("reading_mark")
    op.drop_index(op.f("ix_pull_session_id"), table_name="pull")
    op.drop_table("pull")
    op.drop_index(op.f("ix_reading_trace_id"), table_name="reading")
    op.drop_table("reading")
    op.drop_index(op.f("ix_raw_file_session_id"), table_name="raw_file")
    op.drop_table("raw_file")
    op.drop_index(op.f("ix_trace_session_id"), table_name="trace")
    op.drop_table("trace")
    op.drop_index(op.f("ix_dyno_session_application_id"), table_name="dyno_session")
    op.drop_table("dyno_session")
    op.drop_table("verdict")
    op.drop_index(op.f("ix_test_card_application_id"), table_name="test_card")
    op.drop_table("test_card")
    op.drop_index(op.f("ix_prediction_application_id"), table_name="prediction")
    op.drop_table("prediction")
    op.drop_index(op.f("ix_element_application_id"), table_name="element")
    op.drop_table("element")
    op.drop_index(op.f("ix_claim_application_id"), table_name="claim")
    op.drop_table("claim")
    op.drop_index(op.f("ix_bench_session_application_id"), table_name="bench_session")
    op.drop_table("bench_session")
    op.drop_table("application")
    op.drop_table("revision")
    op.drop_table("bench_range")
    op.drop_index("ix_audit_entry_application_at", table_name="audit_entry")
    op.drop_table("audit_entry")
    op.drop_table("vehicle")
    op.drop_table("user_account")
    op.drop_table("source_mapping")
    op.drop_table("product")
    op.drop_table("dyno")
    op.drop_table("bench")
