"""What the shop keeps: cells, engines, tunes, fuel, sensors, samples, checklists

Revision ID: 0009
Revises: 0008
"""

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
    fresh,
    make_table,
    version,
)

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

WIDER = (
    ("dyno", col("kind", TEXT, "roller inertia, roller with brake, hub, engine, or not said", default="")),
    ("dyno", col("channels", TEXT, "what it logs beside speed and torque", default="")),
    ("dyno", col("calibrated_on", DATE, null=True)),
    ("dyno", col("calibration_due", DATE, null=True)),
    ("dyno", col("cell_id", INT, null=True)),
    ("dyno", col("version", INT, "counts changes; must match when saving", default="1")),
    ("dyno_session", col("engine_id", INT, "test engine, where it was one", null=True)),
    ("dyno_session", col("fuel_id", INT, null=True)),
    ("user_account", col("skills", TEXT, "what they can do, comma separated", default="")),
    ("user_account", col("rate", DOUBLE, "money of the house an hour of work", default="0")),
)
KEYS = (
    ("dyno", "cell_id", "cell"),
    ("dyno_session", "engine_id", "test_engine"),
    ("dyno_session", "fuel_id", "fuel_batch"),
)
KIND = "kind in ('', 'roller inertia', 'roller with brake', 'hub', 'engine')"
SPREAD = "N m, standard deviation of band-mean torque, pull to pull"
TABLES = (
    "cell",
    "checklist",
    "fuel_batch",
    "outside_table",
    "sensor",
    "test_engine",
    "tune_file",
    "engine_stay",
    "sample",
)


def upgrade() -> None:
    """Make the tables; dynos, visits and people get what they lacked."""
    make_table(
        "cell",
        col("name", TEXT),
        col("opens", INT, "minutes after midnight, local"),
        col("closes", INT, "minutes after midnight, local"),
        col("days", TEXT, "days of the week that it is open on, 1 Monday"),
        col("rate", DOUBLE, "money of the house an hour"),
        col("note", TEXT),
        version(),
        sa.CheckConstraint("opens < closes", name=op.f("ck_cell_hours")),
        sa.CheckConstraint("rate >= 0", name=op.f("ck_cell_rate")),
        sa.UniqueConstraint("name", name=op.f("uq_cell_name")),
    )
    make_table(
        "checklist",
        col("family", TEXT, "family of part, or “every”"),
        col("lines", JSONB),
        version(),
        sa.UniqueConstraint("family", name=op.f("uq_checklist_family")),
    )
    make_table(
        "fuel_batch",
        col("name", TEXT),
        col("grade", TEXT),
        col("delivered_on", DATE),
        col("density", DOUBLE, "kg/m3", null=True),
        col("note", TEXT),
        version(),
        sa.UniqueConstraint("name", name=op.f("uq_fuel_batch_name")),
    )
    make_table(
        "outside_table",
        col("name", TEXT),
        col("source", TEXT, "where it stands"),
        col("grade", TEXT, "supplier's test with data, published table, hearsay"),
        col("test_bed", TEXT, "on what it was tested"),
        col("interest", TEXT, "what the source gains by it"),
        col("quantity", TEXT, "kind of its columns"),
        col("columns", JSONB, "names of the curves"),
        col("rows", JSONB, "speed [rad/s] and one value [SI] a curve"),
        version(),
        sa.CheckConstraint("grade in ('supplier', 'published', 'hearsay')", name=op.f("ck_outside_table_grade")),
        sa.UniqueConstraint("name", name=op.f("uq_outside_table_name")),
    )
    make_table(
        "sensor",
        col("name", TEXT),
        col("measures", TEXT, "channel it feeds"),
        col("kind", TEXT, "kind of its range"),
        col("low", DOUBLE, "SI"),
        col("high", DOUBLE, "SI"),
        col("is_absolute", BOOL),
        col("due_on", DATE, "day its calibration lapses", null=True),
        col("note", TEXT),
        version(),
        sa.CheckConstraint("low < high", name=op.f("ck_sensor_range")),
        sa.UniqueConstraint("name", name=op.f("uq_sensor_name")),
    )
    make_table(
        "test_engine",
        col("serial", TEXT),
        col("what", TEXT, "which engine it is"),
        col("repairs", TEXT, "repairs of the block"),
        col("ring_gaps", TEXT),
        col("gaskets", TEXT),
        col("breakaway", DOUBLE, "N m, torque that starts it turning", null=True),
        col("running", DOUBLE, "N m, torque that keeps it turning", null=True),
        col("note", TEXT),
        version(),
        sa.UniqueConstraint("serial", name=op.f("uq_test_engine_serial")),
    )
    make_table(
        "tune_file",
        col("name", TEXT, "its identity"),
        col("author", TEXT),
        col("sha256", TEXT, "of the file; the file itself is not kept"),
        col("sensors", TEXT, "pressure sensor it expects"),
        col("injectors", TEXT, "injectors it expects"),
        col("runner_valves", TEXT, "runner valves it drives"),
        col("mixture_target", DOUBLE, "lambda under full load", null=True),
        col("note", TEXT),
        version(),
        sa.UniqueConstraint("name", name=op.f("uq_tune_file_name")),
    )
    make_table(
        "engine_stay",
        col("engine_id", INT),
        col("vehicle_id", INT, "None: on the stand", null=True),
        col("since", DATE),
        col("taken_at", MOMENT),
        col("taken_by_id", INT),
        foreign("engine_stay", "engine_id", "test_engine"),
        foreign("engine_stay", "taken_by_id", "user_account"),
        foreign("engine_stay", "vehicle_id", "vehicle"),
    )
    op.create_index(op.f("ix_engine_stay_engine_id"), "engine_stay", ["engine_id"])
    make_table(
        "sample",
        col("revision_id", INT),
        col("serial", TEXT),
        col("place", TEXT, "where it lies"),
        col("state", TEXT),
        col("note", TEXT),
        version(),
        foreign("sample", "revision_id", "revision"),
        sa.UniqueConstraint("revision_id", "serial", name=op.f("uq_sample_revision_id")),
    )
    for name, made in WIDER:
        op.add_column(name, fresh(made))
        if made.server_default is not None:
            op.alter_column(name, made.name, server_default=None)
    for table, column, other in KEYS:
        op.create_foreign_key(op.f(f"fk_{table}_{column}_{other}"), table, other, [column], ["id"])
    op.create_check_constraint(op.f("ck_dyno_kind"), "dyno", KIND)
    op.alter_column("dyno", "repeatability", comment=SPREAD)
    op.execute(
        "create trigger append_only before update or delete on engine_stay for each row execute function forbid_change()"
    )
    op.execute(
        "create trigger no_truncate before truncate on engine_stay for each statement execute function forbid_truncate()"
    )


def downgrade() -> None:
    """Drop them all."""
    op.drop_constraint(op.f("ck_dyno_kind"), "dyno", type_="check")
    for name, made in WIDER:
        op.drop_column(name, made.name)
    op.alter_column("dyno", "repeatability", comment="N m, standard deviation")
    for table in reversed(TABLES):
        op.drop_table(table)
