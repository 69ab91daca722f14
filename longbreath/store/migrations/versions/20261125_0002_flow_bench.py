"""flow bench

Revision ID: 0002
Revises: 0001
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


# evidence: rows of these tables are added, never changed or removed
APPEND_ONLY = ("calibration", "bench_sheet", "traverse_point", "porting_bout")

CHECKS = (
    ("bench", "meter", "meter in ('range', 'orifice', 'direct')"),
    ("bench", "temperature_rule", "temperature_rule in ('none', 'temperature', 'state', 'volume')"),
    ("bench", "card", "repeatability >= 0 and check_days > 0 and leak_limit > 0"),
    ("bench_range", "plate_diameter", "plate_diameter is null or plate_diameter > 0"),
    ("trace", "label", "label in ('A', 'B', '')"),
    ("trace", "kind", "kind in ('sweep', 'fixed')"),
    ("reading", "meter_drop", "meter_drop is null or meter_drop >= 0"),
    ("reading", "one_way", "num_nonnulls(percent, direct_flow, meter_drop) = 1"),
    ("reading", "range", "direct_flow is not null or range_id is not null"),
    ("reading", "source", "source in ('hand', 'bench', 'sheet')"),
)

# the words a session had for its fixture become a fixture of its own, which its traces share
FIXTURES = """
create temporary table fixture_of as
  select id as session_id, nextval('fixture_id_seq') as fixture_id, application_id, fixture from bench_session;
insert into fixture (id, application_id, direction, port, mouth, outlet, note, version)
  select f.fixture_id, f.application_id, p.side, 'as noted', 'as noted', '', f.fixture, 1
  from fixture_of f join application a on a.id = f.application_id join revision r on r.id = a.revision_id
  join product p on p.id = r.product_id;
update trace set fixture_id = f.fixture_id from fixture_of f where f.session_id = trace.session_id;
"""

BACK = """
update bench_session s set fixture = coalesce(
  (select nullif(concat_ws(', ', nullif(f.port, 'as noted'),
    nullif(f.mouth, 'as noted'), nullif(f.outlet, ''), nullif(f.note, '')), '')
   from fixture f join trace t on t.fixture_id = f.id where t.session_id = s.id order by t.id limit 1), 'not stated')
"""


def _added(table: str, column: sa.Column, default: str) -> None:
    """Add a column that must have a value; the rows there are get `default`, new rows get it from the application."""
    column.server_default = sa.DefaultClause(sa.text(default))
    op.add_column(table, column)
    op.alter_column(table, column.name, server_default=None)


def upgrade() -> None:
    op.drop_constraint(op.f("ck_trace_label"), "trace", type_="check")
    op.drop_constraint(op.f("ck_reading_one_way"), "reading", type_="check")
    op.create_table(
        "calibration",
        sa.Column("bench_id", sa.Integer(), nullable=False),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column("plate", sa.String(), nullable=False, comment="which plate"),
        sa.Column("plate_flow", sa.Double(), nullable=False, comment="m3/s, known, at the test pressure"),
        sa.Column("plate_uncertainty", sa.Double(), nullable=False, comment="expanded, share of the flow"),
        sa.Column("read_flow", sa.Double(), nullable=False, comment="m3/s, read here at that pressure"),
        sa.Column("made_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("length(trim(plate)) > 0", name=op.f("ck_calibration_plate")),
        sa.CheckConstraint(
            "plate_flow > 0 and read_flow > 0 and plate_uncertainty >= 0", name=op.f("ck_calibration_positive")
        ),
        sa.ForeignKeyConstraint(["bench_id"], ["bench.id"], name=op.f("fk_calibration_bench_id_bench")),
        sa.ForeignKeyConstraint(
            ["made_by_id"], ["user_account.id"], name=op.f("fk_calibration_made_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_calibration")),
    )
    op.create_index(op.f("ix_calibration_bench_id"), "calibration", ["bench_id"], unique=False)
    op.create_table(
        "fixture",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("direction", sa.String(), nullable=False),
        sa.Column("port", sa.String(), nullable=False, comment="which port or runner"),
        sa.Column("mouth", sa.String(), nullable=False, comment="radius plate, clay, bellmouth, nothing …"),
        sa.Column("outlet", sa.String(), nullable=False, comment="pipe stub … or nothing"),
        sa.Column("bore", sa.Double(), nullable=True, comment="m, bore adapter"),
        sa.Column("valves", sa.Integer(), nullable=True),
        sa.Column("valve_diameter", sa.Double(), nullable=True, comment="m, head"),
        sa.Column("throat_diameter", sa.Double(), nullable=True, comment="m"),
        sa.Column("stem_diameter", sa.Double(), nullable=True, comment="m"),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("direction in ('intake', 'exhaust')", name=op.f("ck_fixture_direction")),
        sa.CheckConstraint("valves is null or valves > 0", name=op.f("ck_fixture_valves")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_fixture_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fixture")),
    )
    op.create_index(op.f("ix_fixture_application_id"), "fixture", ["application_id"], unique=False)
    op.create_table(
        "bench_sheet",
        sa.Column("session_id", sa.Integer(), nullable=False),
        sa.Column("filename", sa.String(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("received_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("received_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["received_by_id"], ["user_account.id"], name=op.f("fk_bench_sheet_received_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(
            ["session_id"], ["bench_session.id"], name=op.f("fk_bench_sheet_session_id_bench_session")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bench_sheet")),
    )
    op.create_index(op.f("ix_bench_sheet_session_id"), "bench_sheet", ["session_id"], unique=False)
    op.create_table(
        "porting_job",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("lift", sa.Double(), nullable=False, comment="m, at which flow is judged"),
        sa.Column("test_pressure", sa.Double(), nullable=False, comment="Pa"),
        sa.Column("start_flow", sa.Double(), nullable=False, comment="m3/s, before the first bout"),
        sa.Column("target_flow", sa.Double(), nullable=False, comment="m3/s"),
        sa.Column("flow_uncertainty", sa.Double(), nullable=False, comment="m3/s, expanded, of one flow here"),
        sa.Column("hours_allowed", sa.Double(), nullable=False, comment="s"),
        sa.Column("wall_limit", sa.Double(), nullable=False, comment="m, wall that must stay"),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("hours_allowed > 0 and wall_limit >= 0", name=op.f("ck_porting_job_limits")),
        sa.CheckConstraint("target_flow > start_flow and start_flow > 0", name=op.f("ck_porting_job_target")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_porting_job_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_porting_job")),
    )
    op.create_index(op.f("ix_porting_job_application_id"), "porting_job", ["application_id"], unique=False)
    op.create_table(
        "traverse",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column("lift", sa.Double(), nullable=False, comment="m"),
        sa.Column("test_pressure", sa.Double(), nullable=False, comment="Pa"),
        sa.Column("temperature", sa.Double(), nullable=False, comment="K"),
        sa.Column("pressure", sa.Double(), nullable=False, comment="Pa, station"),
        sa.Column("shape", sa.String(), nullable=False),
        sa.Column(
            "outline",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="m, pairs of x and y, centred on nought",
        ),
        sa.Column("columns", sa.Integer(), nullable=False),
        sa.Column("rows", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("shape in ('round', 'rounded_rectangle', 'outline')", name=op.f("ck_traverse_shape")),
        sa.CheckConstraint("columns between 1 and 15 and rows between 1 and 15", name=op.f("ck_traverse_grid")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_traverse_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_traverse")),
    )
    op.create_index(op.f("ix_traverse_application_id"), "traverse", ["application_id"], unique=False)
    op.create_table(
        "porting_bout",
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column("hours", sa.Double(), nullable=False, comment="s"),
        sa.Column("flow", sa.Double(), nullable=False, comment="m3/s at the test pressure"),
        sa.Column(
            "walls",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="pairs of point and thickness in m",
        ),
        sa.Column("done", sa.String(), nullable=False, comment="what was cut"),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("hours > 0 and flow > 0", name=op.f("ck_porting_bout_positive")),
        sa.ForeignKeyConstraint(["job_id"], ["porting_job.id"], name=op.f("fk_porting_bout_job_id_porting_job")),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_porting_bout_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_porting_bout")),
    )
    op.create_index(op.f("ix_porting_bout_job_id"), "porting_bout", ["job_id"], unique=False)
    op.create_table(
        "traverse_point",
        sa.Column("traverse_id", sa.Integer(), nullable=False),
        sa.Column("x", sa.Double(), nullable=False, comment="m, from the middle, to the right"),
        sa.Column("y", sa.Double(), nullable=False, comment="m, from the middle, up"),
        sa.Column("velocity_pressure", sa.Double(), nullable=False, comment="Pa"),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("velocity_pressure >= 0", name=op.f("ck_traverse_point_velocity_pressure")),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_traverse_point_taken_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(["traverse_id"], ["traverse.id"], name=op.f("fk_traverse_point_traverse_id_traverse")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_traverse_point")),
    )
    op.create_index(op.f("ix_traverse_point_traverse_id"), "traverse_point", ["traverse_id"], unique=False)
    _added(
        "bench", sa.Column("meter", sa.String(), nullable=False, comment="range, orifice or direct"), default="'range'"
    )
    _added(
        "bench",
        sa.Column("flow_step", sa.Double(), nullable=False, comment="m3/s, smallest step of a direct flow"),
        default="0",
    )
    _added(
        "bench",
        sa.Column("drop_step", sa.Double(), nullable=False, comment="Pa, smallest step of the drop across a plate"),
        default="0",
    )
    op.add_column(
        "bench", sa.Column("pipe_diameter", sa.Double(), nullable=True, comment="m, inside, of an orifice meter")
    )
    _added("bench", sa.Column("taps", sa.String(), nullable=False), default="'corner'")
    _added("bench", sa.Column("temperature_rule", sa.String(), nullable=False), default="'none'")
    _added(
        "bench",
        sa.Column("repeatability", sa.Double(), nullable=False, comment="standard deviation, share of the flow"),
        default="0",
    )
    _added("bench", sa.Column("repeatability_source", sa.String(), nullable=False), default="''")
    _added(
        "bench",
        sa.Column("leak_limit", sa.Double(), nullable=False, comment="m3/s at the test pressure"),
        default="0.001",
    )
    _added(
        "bench",
        sa.Column("check_days", sa.Integer(), nullable=False, comment="days from one plate check to the next"),
        default="30",
    )
    _added(
        "bench",
        sa.Column("device_url", sa.String(), nullable=False, comment="serial port or socket:// of the live bench"),
        default="''",
    )
    _added(
        "bench",
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        default="1",
    )
    _added(
        "trace",
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        default="1",
    )
    op.alter_column(
        "bench",
        "pressure_step",
        existing_type=sa.DOUBLE_PRECISION(precision=53),
        comment="Pa, smallest step of the test pressure",
        existing_comment="smallest step of the test pressure, Pa",
        existing_nullable=False,
    )
    op.add_column(
        "bench_range", sa.Column("plate_diameter", sa.Double(), nullable=True, comment="m, bore of an orifice plate")
    )
    op.add_column(
        "bench_session", sa.Column("meter_temperature", sa.Double(), nullable=True, comment="K, air before the meter")
    )
    op.add_column(
        "bench_session", sa.Column("leak_flow", sa.Double(), nullable=True, comment="m3/s, where it was read as a flow")
    )
    op.add_column("reading", sa.Column("meter_drop", sa.Double(), nullable=True, comment="Pa, across an orifice plate"))
    op.add_column(
        "reading", sa.Column("inlet_temperature", sa.Double(), nullable=True, comment="K, where the bench sends it")
    )
    op.add_column(
        "reading", sa.Column("meter_temperature", sa.Double(), nullable=True, comment="K, where the bench sends it")
    )
    _added(
        "reading",
        sa.Column("spread", sa.Double(), nullable=False, comment="standard deviation in the settle window, share"),
        default="0",
    )
    _added("reading", sa.Column("samples", sa.Integer(), nullable=False), default="1")
    _added(
        "reading",
        sa.Column(
            "flags",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="what spoke against it when it was taken",
        ),
        default="'[]'",
    )
    _added(
        "reading", sa.Column("source", sa.String(), nullable=False, comment="hand, bench or sheet"), default="'hand'"
    )
    op.add_column(
        "reading", sa.Column("capture_key", sa.String(), nullable=True, comment="so that one press is one reading")
    )
    op.alter_column(
        "reading",
        "lift",
        existing_type=sa.DOUBLE_PRECISION(precision=53),
        comment="m; 0 for a fixed part",
        existing_comment="m",
        existing_nullable=False,
    )
    op.add_column("reading", sa.Column("sheet_id", sa.Integer(), nullable=True))
    op.create_foreign_key(op.f("fk_reading_sheet_id_bench_sheet"), "reading", "bench_sheet", ["sheet_id"], ["id"])
    op.create_unique_constraint(op.f("uq_reading_capture_key"), "reading", ["capture_key"])
    _added(
        "trace",
        sa.Column("kind", sa.String(), nullable=False, comment="sweep over lift, or a fixed part read once"),
        default="'sweep'",
    )
    _added(
        "trace", sa.Column("runner", sa.String(), nullable=False, comment="which runner of a fixed part"), default="''"
    )
    _added(
        "trace",
        sa.Column("stack", sa.String(), nullable=False, comment="pieces in flow order, joined by +"),
        default="''",
    )
    _added(
        "trace",
        sa.Column("ladder", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="planned lifts, m"),
        default="'[]'",
    )
    op.add_column("trace", sa.Column("fixture_id", sa.Integer(), nullable=True))
    op.drop_constraint(op.f("uq_trace_session_id"), "trace", type_="unique")
    op.create_foreign_key(op.f("fk_trace_fixture_id_fixture"), "trace", "fixture", ["fixture_id"], ["id"])
    for table, name, condition in CHECKS:
        op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, condition)
    op.execute(FIXTURES)
    op.execute("drop table fixture_of")
    op.alter_column("trace", "fixture_id", nullable=False)
    op.drop_column("bench_session", "fixture")
    for table in APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} "
            "for each row execute function forbid_change()"
        )


def downgrade() -> None:
    for table in APPEND_ONLY:
        op.execute(f"drop trigger append_only on {table}")
    op.add_column("bench_session", sa.Column("fixture", sa.String(), nullable=True))
    op.execute(BACK)
    op.alter_column("bench_session", "fixture", nullable=False)
    for table, name, _ in CHECKS:
        op.drop_constraint(op.f(f"ck_{table}_{name}"), table, type_="check")
    op.drop_constraint(op.f("fk_trace_fixture_id_fixture"), "trace", type_="foreignkey")
    op.create_unique_constraint(
        op.f("uq_trace_session_id"), "trace", ["session_id", "label"], postgresql_nulls_not_distinct=False
    )
    op.drop_column("trace", "fixture_id")
    op.drop_column("trace", "ladder")
    op.drop_column("trace", "stack")
    op.drop_column("trace", "runner")
    op.drop_column("trace", "kind")
    op.drop_constraint(op.f("uq_reading_capture_key"), "reading", type_="unique")
    op.drop_constraint(op.f("fk_reading_sheet_id_bench_sheet"), "reading", type_="foreignkey")
    op.drop_column("reading", "sheet_id")
    op.alter_column(
        "reading",
        "lift",
        existing_type=sa.DOUBLE_PRECISION(precision=53),
        comment="m",
        existing_comment="m; 0 for a fixed part",
        existing_nullable=False,
    )
    op.drop_column("reading", "capture_key")
    op.drop_column("reading", "source")
    op.drop_column("reading", "flags")
    op.drop_column("reading", "samples")
    op.drop_column("reading", "spread")
    op.drop_column("reading", "meter_temperature")
    op.drop_column("reading", "inlet_temperature")
    op.drop_column("reading", "meter_drop")
    op.drop_column("bench_session", "leak_flow")
    op.drop_column("bench_session", "meter_temperature")
    op.drop_column("bench_range", "plate_diameter")
    op.alter_column(
        "bench",
        "pressure_step",
        existing_type=sa.DOUBLE_PRECISION(precision=53),
        comment="smallest step of the test pressure, Pa",
        existing_comment="Pa, smallest step of the test pressure",
        existing_nullable=False,
    )
    op.drop_column("trace", "version")
    op.drop_column("bench", "version")
    op.drop_column("bench", "device_url")
    op.drop_column("bench", "check_days")
    op.drop_column("bench", "leak_limit")
    op.drop_column("bench", "repeatability_source")
    op.drop_column("bench", "repeatability")
    op.drop_column("bench", "temperature_rule")
    op.drop_column("bench", "taps")
    op.drop_column("bench", "pipe_diameter")
    op.drop_column("bench", "drop_step")
    op.drop_column("bench", "flow_step")
    op.drop_column("bench", "meter")
    op.drop_index(op.f("ix_traverse_point_traverse_id"), table_name="traverse_point")
    op.drop_table("traverse_point")
    op.drop_index(op.f("ix_porting_bout_job_id"), table_name="porting_bout")
    op.drop_table("porting_bout")
    op.drop_index(op.f("ix_traverse_application_id"), table_name="traverse")
    op.drop_table("traverse")
    op.drop_index(op.f("ix_porting_job_application_id"), table_name="porting_job")
    op.drop_table("porting_job")
    op.drop_index(op.f("ix_fixture_application_id"), table_name="fixture")
    op.drop_table("fixture")
    op.drop_index(op.f("ix_bench_sheet_session_id"), table_name="bench_sheet")
    op.drop_table("bench_sheet")
    op.drop_index(op.f("ix_calibration_bench_id"), table_name="calibration")
    op.drop_table("calibration")
    op.create_check_constraint(op.f("ck_trace_label"), "trace", "label in ('A', 'B')")
    op.create_check_constraint(
        op.f("ck_reading_one_way"), "reading", "(direct_flow is null) <> (percent is null or range_id is null)"
    )
