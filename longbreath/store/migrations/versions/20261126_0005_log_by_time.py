"""The log is read by time: an index for it.

Revision ID: 0005
Revises: 0004
"""

from __future__ import annotations

from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add the index."""
    op.create_index("ix_audit_entry_at", "audit_entry", ["at"])


def downgrade() -> None:
    """Drop the index."""
    op.drop_index("ix_audit_entry_at", "audit_entry")
