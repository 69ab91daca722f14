"""geometry

Revision ID: 0003
Revises: 0002
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


# evidence: rows of these tables are added, never changed or removed
APPEND_ONLY = ("size_reading", "face_lay", "fit_spot", "wheel_sheet", "build_sheet", "attachment", "attachment_mark")

CHECKS = (
    ("element", "shape", "shape in ('round', 'oval', 'squashed', 'rounded_rectangle', 'd', 'outline')"),
    ("element", "given_as", "given_as in ('inside', 'outside')"),
    ("element", "wall_surface", "wall_surface in ('drawn', 'cast', 'smooth')"),
    ("element", "length", "length > 0 and branches > 0"),
    ("element", "loss", "(loss_drop is null) = (loss_flow is null)"),
)

# runners, ports and primaries were measured as one of many: there is one to each cylinder
BRANCHES = """
update element e set branches = v.cylinders from application a join vehicle v on v.id = a.vehicle_id
where a.id = e.application_id and e.kind in ('runner', 'port', 'primary')
"""


def _added(column: sa.Column, default: str) -> None:
    """Add a column that must have a value; the elements there are get `default`."""
    column.server_default = sa.DefaultClause(sa.text(default))
    op.add_column("element", column)
    op.alter_column("element", column.name, server_default=None)


def upgrade() -> None:
    op.create_table(
        "attachment",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("record_kind", sa.String(), nullable=False, comment="table of the record it hangs on"),
        sa.Column("record_id", sa.Integer(), nullable=False),
        sa.Column("filename", sa.String(), nullable=False),
        sa.Column("media_type", sa.String(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False, comment="bytes"),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("caption", sa.String(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=True, comment="pixels, of a photo"),
        sa.Column("height", sa.Integer(), nullable=True, comment="pixels"),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("thumbnail", sa.LargeBinary(), nullable=True),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_attachment_application_id_application")
        ),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_attachment_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_attachment")),
    )
    op.create_index("ix_attachment_record", "attachment", ["application_id", "record_kind", "record_id"], unique=False)
    op.create_table(
        "build_sheet",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False, comment="version of the sheet of this title"),
        sa.Column("label", sa.String(), nullable=False, comment="A, B or neither"),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column("values", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="line → words"),
        sa.Column("why", sa.String(), nullable=False, comment="what changed since the version before"),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("label in ('A', 'B', '')", name=op.f("ck_build_sheet_label")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_build_sheet_application_id_application")
        ),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_build_sheet_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_build_sheet")),
        sa.UniqueConstraint("application_id", "title", "number", name=op.f("uq_build_sheet_application_id")),
    )
    op.create_index(op.f("ix_build_sheet_application_id"), "build_sheet", ["application_id"], unique=False)
    op.create_table(
        "face",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("belongs_to", sa.String(), nullable=False),
        sa.Column("shape", sa.String(), nullable=False),
        sa.Column(
            "sizes",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="m, sizes it was made from; empty for a traced outline",
        ),
        sa.Column(
            "outline",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="m, pairs of x and y, centred on nought, y up",
        ),
        sa.Column("came_from", sa.String(), nullable=False, comment="file or photo it was taken from"),
        sa.Column("wall", sa.Double(), nullable=True, comment="m, least wall around it"),
        sa.Column("wall_limit", sa.Double(), nullable=False, comment="m, wall that must stay"),
        sa.Column("tool", sa.String(), nullable=False),
        sa.Column("precision", sa.Double(), nullable=True, comment="m"),
        sa.Column("provenance", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("belongs_to in ('A', 'B', 'both')", name=op.f("ck_face_belongs_to")),
        sa.CheckConstraint("provenance in ('measured', 'nominal')", name=op.f("ck_face_provenance")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_face_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_face")),
    )
    op.create_index(op.f("ix_face_application_id"), "face", ["application_id"], unique=False)
    op.create_table(
        "fit",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=True, comment="s, service time to fit it"),
        sa.Column("minutes_from", sa.String(), nullable=False, comment="who timed it, on what"),
        sa.Column("drained", sa.String(), nullable=False),
        sa.Column("removed", sa.String(), nullable=False),
        sa.Column("wall", sa.Double(), nullable=True, comment="m, least wall left on the part"),
        sa.Column("wall_limit", sa.Double(), nullable=True, comment="m, wall that must stay"),
        sa.Column("done", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="keys of the checklist"),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("minutes is null or minutes > 0", name=op.f("ck_fit_minutes")),
        sa.ForeignKeyConstraint(["application_id"], ["application.id"], name=op.f("fk_fit_application_id_application")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fit")),
        sa.UniqueConstraint("application_id", name=op.f("uq_fit_application_id")),
    )
    op.create_table(
        "fit_spot",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("gap", sa.Double(), nullable=True, comment="m"),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("state in ('clear', 'close', 'touches')", name=op.f("ck_fit_spot_state")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_fit_spot_application_id_application")
        ),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_fit_spot_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fit_spot")),
    )
    op.create_index(op.f("ix_fit_spot_application_id"), "fit_spot", ["application_id"], unique=False)
    op.create_table(
        "ladder_rung",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column(
            "values",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="column → {value: SI or words, grade}",
        ),
        sa.Column("version", sa.Integer(), nullable=False, comment="counts changes; must match when saving"),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_ladder_rung_application_id_application")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_ladder_rung")),
    )
    op.create_index(op.f("ix_ladder_rung_application_id"), "ladder_rung", ["application_id"], unique=False)
    op.create_table(
        "wheel_sheet",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("label", sa.String(), nullable=False, comment="A, B or neither"),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("held_on", sa.Date(), nullable=False),
        sa.Column(
            "readings", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="rad, as named on the wheel"
        ),
        sa.Column(
            "totals", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="rad, noted totals by port"
        ),
        sa.Column(
            "tares", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="rad, taken off for a worked port"
        ),
        sa.Column(
            "window", postgresql.JSONB(astext_type=sa.Text()), nullable=False, comment="SI, sizes for the time-area"
        ),
        sa.Column("stop_before", sa.Double(), nullable=True, comment="rad, piston stop met before dead centre"),
        sa.Column("stop_after", sa.Double(), nullable=True, comment="rad"),
        sa.Column("checking_lift", sa.Double(), nullable=True, comment="m"),
        sa.Column("says", sa.String(), nullable=False, comment="what the maker calls it, and what is meant"),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("supersedes_id", sa.Integer(), nullable=True),
        sa.Column("why", sa.String(), nullable=False, comment="why it was read again"),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("kind in ('poppet', 'disc', 'piston', 'rotary')", name=op.f("ck_wheel_sheet_kind")),
        sa.CheckConstraint("label in ('A', 'B', '')", name=op.f("ck_wheel_sheet_label")),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_wheel_sheet_application_id_application")
        ),
        sa.ForeignKeyConstraint(
            ["supersedes_id"], ["wheel_sheet.id"], name=op.f("fk_wheel_sheet_supersedes_id_wheel_sheet")
        ),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_wheel_sheet_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_wheel_sheet")),
    )
    op.create_index(op.f("ix_wheel_sheet_application_id"), "wheel_sheet", ["application_id"], unique=False)
    op.create_table(
        "attachment_mark",
        sa.Column("attachment_id", sa.Integer(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["attachment_id"], ["attachment.id"], name=op.f("fk_attachment_mark_attachment_id_attachment")
        ),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_attachment_mark_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_attachment_mark")),
    )
    op.create_index(op.f("ix_attachment_mark_attachment_id"), "attachment_mark", ["attachment_id"], unique=False)
    op.create_table(
        "face_lay",
        sa.Column("application_id", sa.Integer(), nullable=False),
        sa.Column("upstream_id", sa.Integer(), nullable=False),
        sa.Column("downstream_id", sa.Integer(), nullable=False),
        sa.Column("right", sa.Double(), nullable=False, comment="m"),
        sa.Column("up", sa.Double(), nullable=False, comment="m"),
        sa.Column("turn", sa.Double(), nullable=False, comment="rad"),
        sa.Column("overlap", sa.Double(), nullable=False, comment="m2, shared area as judged"),
        sa.Column("worst", sa.Double(), nullable=False, comment="m, largest lip against the flow as judged"),
        sa.Column("judgement", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["application_id"], ["application.id"], name=op.f("fk_face_lay_application_id_application")
        ),
        sa.ForeignKeyConstraint(["downstream_id"], ["face.id"], name=op.f("fk_face_lay_downstream_id_face")),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_face_lay_taken_by_id_user_account")
        ),
        sa.ForeignKeyConstraint(["upstream_id"], ["face.id"], name=op.f("fk_face_lay_upstream_id_face")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_face_lay")),
    )
    op.create_index(op.f("ix_face_lay_application_id"), "face_lay", ["application_id"], unique=False)
    op.create_table(
        "size_reading",
        sa.Column("element_id", sa.Integer(), nullable=False),
        sa.Column("size", sa.String(), nullable=False, comment="which size of the element"),
        sa.Column("batch", sa.Integer(), nullable=False, comment="readings taken together; the newest batch counts"),
        sa.Column("value", sa.Double(), nullable=False, comment="m"),
        sa.Column("place", sa.String(), nullable=False, comment="where it was taken, such as 60°"),
        sa.Column("tool", sa.String(), nullable=False),
        sa.Column("precision", sa.Double(), nullable=False, comment="m, ± of the tool"),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("taken_by_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.CheckConstraint("value > 0 and precision >= 0", name=op.f("ck_size_reading_value")),
        sa.ForeignKeyConstraint(["element_id"], ["element.id"], name=op.f("fk_size_reading_element_id_element")),
        sa.ForeignKeyConstraint(
            ["taken_by_id"], ["user_account.id"], name=op.f("fk_size_reading_taken_by_id_user_account")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_size_reading")),
    )
    op.create_index(op.f("ix_size_reading_element_id"), "size_reading", ["element_id"], unique=False)
    _added(
        sa.Column(
            "out_reason", sa.String(), nullable=False, comment="why it is not part of the path any more; empty: it is"
        ),
        "''",
    )
    _added(
        sa.Column("branches", sa.Integer(), nullable=False, comment="how many equal ones lie beside each other"), "1"
    )
    _added(
        sa.Column("given_as", sa.String(), nullable=False, comment="of a round tube: inside, or outside and wall"),
        "'inside'",
    )
    op.add_column("element", sa.Column("outside_diameter", sa.Double(), nullable=True, comment="m, before squashing"))
    op.add_column("element", sa.Column("wall", sa.Double(), nullable=True, comment="m, thickness"))
    op.add_column(
        "element", sa.Column("minor_outside", sa.Double(), nullable=True, comment="m, outside height after squashing")
    )
    op.add_column(
        "element",
        sa.Column("outline", postgresql.JSONB(astext_type=sa.Text()), nullable=True, comment="m, pairs of x and y"),
    )
    op.add_column(
        "element",
        sa.Column(
            "exit_diameter",
            sa.Double(),
            nullable=True,
            comment="m, equal-area inside diameter at exit, where it differs",
        ),
    )
    _added(sa.Column("wall_surface", sa.String(), nullable=False, comment="drawn, cast or smooth"), "'drawn'")
    op.add_column("element", sa.Column("bend_angle", sa.Double(), nullable=True, comment="rad"))
    op.add_column(
        "element",
        sa.Column("bend_radius", sa.Double(), nullable=True, comment="m, of the centre line; none for a mitre"),
    )
    op.add_column("element", sa.Column("mouth_radius", sa.Double(), nullable=True, comment="m, of the edge at entry"))
    op.add_column("element", sa.Column("burr", sa.Double(), nullable=True, comment="m, left standing inside at entry"))
    op.add_column(
        "element", sa.Column("proud", sa.Double(), nullable=True, comment="m, gasket standing into the flow at entry")
    )
    op.add_column("element", sa.Column("loss_drop", sa.Double(), nullable=True, comment="Pa, measured across it"))
    op.add_column(
        "element", sa.Column("loss_flow", sa.Double(), nullable=True, comment="m3/s, at which it was measured")
    )
    op.add_column(
        "element", sa.Column("pressure_ratio", sa.Double(), nullable=True, comment="of a compressor or turbine")
    )
    op.add_column(
        "element", sa.Column("outlet_temperature", sa.Double(), nullable=True, comment="K, measured after it")
    )
    op.add_column(
        "element", sa.Column("stack_height", sa.Double(), nullable=True, comment="m, how far the runners stick into it")
    )
    op.add_column(
        "element",
        sa.Column("stack_outside", sa.Double(), nullable=True, comment="m, outside diameter of what sticks in"),
    )
    op.add_column(
        "element", sa.Column("spacer_area", sa.Double(), nullable=True, comment="m2, inside area of a plenum spacer")
    )
    op.add_column("element", sa.Column("spacer_height", sa.Double(), nullable=True, comment="m"))
    _added(
        sa.Column(
            "nominal_sizes",
            postgresql.JSONB(astext_type=sa.Text()),
            nullable=False,
            comment="names of sizes that are nominal or remembered",
        ),
        "'[]'",
    )
    op.alter_column(
        "element",
        "volume",
        existing_type=sa.DOUBLE_PRECISION(precision=53),
        comment="m3, for plenums and boxes, without what sticks in",
        existing_comment="m3, for plenums and boxes",
        existing_nullable=True,
    )
    op.add_column("vehicle", sa.Column("rod", sa.Double(), nullable=True, comment="m, between centres"))
    op.alter_column(
        "vehicle",
        "strokes",
        existing_type=sa.INTEGER(),
        comment="strokes per cycle: 4 or 2; a rotary counts 2",
        existing_comment="strokes per cycle: 4 or 2",
        existing_nullable=False,
    )
    op.add_column(
        "vehicle",
        sa.Column("case_volume", sa.Double(), nullable=True, comment="m3, of a two-stroke crankcase, piston down"),
    )
    op.execute(BRANCHES)
    for name in ("shape", "length"):
        op.drop_constraint(op.f(f"ck_element_{name}"), "element", type_="check")
    for table, name, condition in CHECKS:
        op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, condition)
    for table in APPEND_ONLY:
        op.execute(
            f"create trigger append_only before update or delete on {table} "
            "for each row execute function forbid_change()"
        )


def downgrade() -> None:
    for table in APPEND_ONLY:
        op.execute(f"drop trigger append_only on {table}")
    for table, name, _ in CHECKS:
        op.drop_constraint(op.f(f"ck_{table}_{name}"), table, type_="check")
    # shapes of before: anything else becomes a circle of its entry, as far as that is known
    op.execute("update element set shape = 'round' where shape not in ('round', 'rounded_rectangle')")
    op.create_check_constraint(op.f("ck_element_shape"), "element", "shape in ('round', 'rounded_rectangle')")
    op.create_check_constraint(op.f("ck_element_length"), "element", "length > 0")
    op.alter_column(
        "vehicle",
        "strokes",
        existing_type=sa.INTEGER(),
        comment="strokes per cycle: 4 or 2",
        existing_comment="strokes per cycle: 4 or 2; a rotary counts 2",
        existing_nullable=False,
    )
    op.drop_column("vehicle", "case_volume")
    op.drop_column("vehicle", "rod")
    op.alter_column(
        "element",
        "volume",
        existing_type=sa.DOUBLE_PRECISION(precision=53),
        comment="m3, for plenums and boxes",
        existing_comment="m3, for plenums and boxes, without what sticks in",
        existing_nullable=True,
    )
    op.drop_column("element", "nominal_sizes")
    op.drop_column("element", "out_reason")
    op.drop_column("element", "spacer_height")
    op.drop_column("element", "spacer_area")
    op.drop_column("element", "stack_outside")
    op.drop_column("element", "stack_height")
    op.drop_column("element", "outlet_temperature")
    op.drop_column("element", "pressure_ratio")
    op.drop_column("element", "loss_flow")
    op.drop_column("element", "loss_drop")
    op.drop_column("element", "proud")
    op.drop_column("element", "burr")
    op.drop_column("element", "mouth_radius")
    op.drop_column("element", "bend_radius")
    op.drop_column("element", "bend_angle")
    op.drop_column("element", "wall_surface")
    op.drop_column("element", "exit_diameter")
    op.drop_column("element", "outline")
    op.drop_column("element", "minor_outside")
    op.drop_column("element", "wall")
    op.drop_column("element", "outside_diameter")
    op.drop_column("element", "given_as")
    op.drop_column("element", "branches")
    op.drop_index(op.f("ix_size_reading_element_id"), table_name="size_reading")
    op.drop_table("size_reading")
    op.drop_index(op.f("ix_face_lay_application_id"), table_name="face_lay")
    op.drop_table("face_lay")
    op.drop_index(op.f("ix_attachment_mark_attachment_id"), table_name="attachment_mark")
    op.drop_table("attachment_mark")
    op.drop_index(op.f("ix_wheel_sheet_application_id"), table_name="wheel_sheet")
    op.drop_table("wheel_sheet")
    op.drop_index(op.f("ix_ladder_rung_application_id"), table_name="ladder_rung")
    op.drop_table("ladder_rung")
    op.drop_index(op.f("ix_fit_spot_application_id"), table_name="fit_spot")
    op.drop_table("fit_spot")
    op.drop_table("fit")
    op.drop_index(op.f("ix_face_application_id"), table_name="face")
    op.drop_table("face")
    op.drop_index(op.f("ix_build_sheet_application_id"), table_name="build_sheet")
    op.drop_table("build_sheet")
    op.drop_index("ix_attachment_record", table_name="attachment")
    op.drop_table("attachment")
