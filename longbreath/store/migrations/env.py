"""Alembic environment: the models' metadata against the database address it is given."""

from alembic import context
from sqlalchemy import create_engine

from longbreath.store.base import Base
from longbreath.store.models import User  # noqa: F401  (loads all models)

engine = create_engine(context.config.attributes["url"])
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
