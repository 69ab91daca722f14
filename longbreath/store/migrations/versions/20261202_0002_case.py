"""A sheet keeps the whole case that it was published on; the digests of its parts are in its snapshot and are no longer kept twice."""

from alembic import op

revision = "case"
down_revision = "first"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Keep the case of a sheet."""
    op.execute('alter table claim_sheet add column "case" jsonb')
    op.execute(
        """comment on column claim_sheet."case" is
           'all that it rests on, as plain data; none of sheets from before it was kept'"""
    )
    op.execute("alter table claim_sheet drop column rests_on")


def downgrade() -> None:
    """Forget the case."""
    op.execute("alter table claim_sheet add column rests_on jsonb not null default '{}'")
    op.execute('alter table claim_sheet drop column "case"')
