"""the cycle of an engine by its name

Revision ID: 0004
Revises: 0003
"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

# until now a rotary was a two-stroke whose induction began with "rotary, "
TO_CYCLE = """
update vehicle set
  cycle = case when induction like 'rotary, %' then 'rotary' when strokes = 2 then 'two-stroke' else 'four-stroke' end,
  induction = regexp_replace(induction, '^rotary, ', '')
"""
TO_STROKES = """
update vehicle set
  strokes = case when cycle = 'four-stroke' then 4 else 2 end,
  induction = case when cycle = 'rotary' then 'rotary, ' || induction else induction end,
  intake_duration = coalesce(intake_duration, 0)
"""


def upgrade() -> None:
    op.add_column(
        "vehicle",
        sa.Column(
            "cycle",
            sa.String(),
            nullable=False,
            server_default="four-stroke",
            comment="four-stroke, two-stroke or rotary",
        ),
    )
    op.execute(TO_CYCLE)
    op.alter_column("vehicle", "cycle", server_default=None)
    op.drop_column("vehicle", "strokes")
    op.alter_column(
        "vehicle",
        "intake_duration",
        nullable=True,
        comment="rad of crank; a two-stroke's is on the wheel",
        existing_comment="rad of crank",
    )
    op.create_check_constraint(op.f("ck_vehicle_cycle"), "vehicle", "cycle in ('four-stroke', 'two-stroke', 'rotary')")


def downgrade() -> None:
    op.drop_constraint(op.f("ck_vehicle_cycle"), "vehicle", type_="check")
    op.add_column(
        "vehicle",
        sa.Column(
            "strokes",
            sa.Integer(),
            nullable=False,
            server_default="4",
            comment="strokes per cycle: 4 or 2; a rotary counts 2",
        ),
    )
    op.execute(TO_STROKES)
    op.alter_column("vehicle", "strokes", server_default=None)
    op.alter_column(
        "vehicle",
        "intake_duration",
        nullable=False,
        comment="rad of crank",
        existing_comment="rad of crank; a two-stroke's is on the wheel",
    )
    op.drop_column("vehicle", "cycle")
