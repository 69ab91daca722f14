"""What the shop keeps: cells, engines, tunes, fuel, sensors, samples, checklists

Revision ID: 0009
Revises: 0008
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql
from sqlalchemy.types import TypeEngine

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

JSONB, TEXT, INT, DOUBLE = postgresql.JSONB(), sa.String(), sa.Integer(), sa.Double()
DATE, BOOL, MOMENT = sa.Date(), sa.Boolean(), sa.DateTime(timezone=True)


def _col(
    name: str, kind: TypeEngine, comment: str | None = None, null: bool = False, default: str | None = None
) -> sa.Column:
    return sa.Column(name, kind, nullable=null, comment=comment, server_default=default)


def _fresh(column: sa.Column) -> sa.Column:
    """The same column anew: one may stand in one table only, and migrations run more than once in a process."""
    default = column.server_default.arg if column.server_default is not None else None
    return _col(column.name, column.type, column.comment, column.nullable, default)


def _version() -> sa.Column:
    return _col("version", INT, "counts changes; must match when saving")


def _key(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=op.f(f"fk_{table}_{column}_{other}"))


def _table(name: str, *parts: sa.schema.SchemaItem) -> None:
    op.create_table(name, *parts, _col("id", INT), sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}")))


WIDER = (
    ("dyno", _col("kind", TEXT, "roller inertia, roller with brake, hub, engine, or not said", default="")),
    ("dyno", _col("channels", TEXT, "what it logs beside speed and torque", default="")),
    ("dyno", _col("calibrated_on", DATE, null=True)),
    ("dyno", _col("calibration_due", DATE, null=True)),
    ("dyno", _col("cell_id", INT, null=True)),
    ("dyno", _col("version", INT, "counts changes; must match when saving", default="1")),
    ("dyno_session", _col("engine_id", INT, "test engine, where it was one", null=True)),
    ("dyno_session", _col("fuel_id", INT, null=True)),
    ("user_account", _col("skills", TEXT, "what they can do, comma separated", default="")),
    ("user_account", _col("rate", DOUBLE, "money of the house an hour of work", default="0")),
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
    _table(
        "cell",
        _col("name", TEXT),
        _col("opens", INT, "minutes after midnight, local"),
        _col("closes", INT, "minutes after midnight, local"),
        _col("days", TEXT, "days of the week that it is open on, 1 Monday"),
        _col("rate", DOUBLE, "money of the house an hour"),
        _col("note", TEXT),
        _version(),
        sa.CheckConstraint("opens < closes", name=op.f("ck_cell_hours")),
        sa.CheckConstraint("rate >= 0", name=op.f("ck_cell_rate")),
        sa.UniqueConstraint("name", name=op.f("uq_cell_name")),
    )
    _table(
        "checklist",
        _col("family", TEXT, "family of part, or “every”"),
        _col("lines", JSONB),
        _version(),
        sa.UniqueConstraint("family", name=op.f("uq_checklist_family")),
    )
    _table(
        "fuel_batch",
        _col("name", TEXT),
        _col("grade", TEXT),
        _col("delivered_on", DATE),
        _col("density", DOUBLE, "kg/m3", null=True),
        _col("note", TEXT),
        _version(),
        sa.UniqueConstraint("name", name=op.f("uq_fuel_batch_name")),
    )
    _table(
        "outside_table",
        _col("name", TEXT),
        _col("source", TEXT, "where it stands"),
        _col("grade", TEXT, "supplier's test with data, published table, hearsay"),
        _col("test_bed", TEXT, "on what it was tested"),
        _col("interest", TEXT, "what the source gains by it"),
        _col("quantity", TEXT, "kind of its columns"),
        _col("columns", JSONB, "names of the curves"),
        _col("rows", JSONB, "speed [rad/s] and one value [SI] a curve"),
        _version(),
        sa.CheckConstraint("grade in ('supplier', 'published', 'hearsay')", name=op.f("ck_outside_table_grade")),
        sa.UniqueConstraint("name", name=op.f("uq_outside_table_name")),
    )
    _table(
        "sensor",
        _col("name", TEXT),
        _col("measures", TEXT, "channel it feeds"),
        _col("kind", TEXT, "kind of its range"),
        _col("low", DOUBLE, "SI"),
        _col("high", DOUBLE, "SI"),
        _col("is_absolute", BOOL),
        _col("due_on", DATE, "day its calibration lapses", null=True),
        _col("note", TEXT),
        _version(),
        sa.CheckConstraint("low < high", name=op.f("ck_sensor_range")),
        sa.UniqueConstraint("name", name=op.f("uq_sensor_name")),
    )
    _table(
        "test_engine",
        _col("serial", TEXT),
        _col("what", TEXT, "which engine it is"),
        _col("repairs", TEXT, "repairs of the block"),
        _col("ring_gaps", TEXT),
        _col("gaskets", TEXT),
        _col("breakaway", DOUBLE, "N m, torque that starts it turning", null=True),
        _col("running", DOUBLE, "N m, torque that keeps it turning", null=True),
        _col("note", TEXT),
        _version(),
        sa.UniqueConstraint("serial", name=op.f("uq_test_engine_serial")),
    )
    _table(
        "tune_file",
        _col("name", TEXT, "its identity"),
        _col("author", TEXT),
        _col("sha256", TEXT, "of the file; the file itself is not kept"),
        _col("sensors", TEXT, "pressure sensor it expects"),
        _col("injectors", TEXT, "injectors it expects"),
        _col("runner_valves", TEXT, "runner valves it drives"),
        _col("mixture_target", DOUBLE, "lambda under full load", null=True),
        _col("note", TEXT),
        _version(),
        sa.UniqueConstraint("name", name=op.f("uq_tune_file_name")),
    )
    _table(
        "engine_stay",
        _col("engine_id", INT),
        _col("vehicle_id", INT, "None: on the stand", null=True),
        _col("since", DATE),
        _col("taken_at", MOMENT),
        _col("taken_by_id", INT),
        _key("engine_stay", "engine_id", "test_engine"),
        _key("engine_stay", "taken_by_id", "user_account"),
        _key("engine_stay", "vehicle_id", "vehicle"),
    )
    op.create_index(op.f("ix_engine_stay_engine_id"), "engine_stay", ["engine_id"])
    _table(
        "sample",
        _col("revision_id", INT),
        _col("serial", TEXT),
        _col("place", TEXT, "where it lies"),
        _col("state", TEXT),
        _col("note", TEXT),
        _version(),
        _key("sample", "revision_id", "revision"),
        sa.UniqueConstraint("revision_id", "serial", name=op.f("uq_sample_revision_id")),
    )
    for table, column in WIDER:
        op.add_column(table, _fresh(column))
        if column.server_default is not None:
            op.alter_column(table, column.name, server_default=None)
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
    for table, column in WIDER:
        op.drop_column(table, column.name)
    op.alter_column("dyno", "repeatability", comment="N m, standard deviation")
    for table in reversed(TABLES):
        op.drop_table(table)
