"""Columns, keys and tables as migrations write them."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql
from sqlalchemy.types import TypeEngine

JSONB, TEXT, INT, DOUBLE = postgresql.JSONB(), sa.String(), sa.Integer(), sa.Double()
DATE, BOOL, MOMENT = sa.Date(), sa.Boolean(), sa.DateTime(timezone=True)


def col(
    name: str, kind: TypeEngine, comment: str | None = None, null: bool = False, default: str | None = None
) -> sa.Column:
    """A column that must be filled unless `null`, with its comment and the default for rows that are there."""
    return sa.Column(name, kind, nullable=null, comment=comment, server_default=default)


def fresh(made: sa.Column) -> sa.Column:
    """The same column anew: one may stand in one table only, and migrations run more than once in a process."""
    default = made.server_default.arg if made.server_default is not None else None
    return col(made.name, made.type, made.comment, made.nullable, default)


def version() -> sa.Column:
    """The column that counts changes."""
    return col("version", INT, "counts changes; must match when saving")


def foreign(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    """A key into another table, named as the models name it."""
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=op.f(f"fk_{table}_{column}_{other}"))


def make_table(name: str, *parts: sa.schema.SchemaItem) -> None:
    """A table with its number."""
    op.create_table(name, *parts, col("id", INT), sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{name}")))
