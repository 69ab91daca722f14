"""The engine and its sessions, and the migrations from code."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from pydantic_core import from_json
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine import ExceptionContext
from sqlalchemy.orm import sessionmaker

from longbreath.store import audit
from longbreath.store.unit_of_work import UnitOfWork


def _withhold_rows(context: ExceptionContext) -> None:
    """Keep of an error of the database its first line: what follows quotes the row at fault, with everything that is in it."""
    said = context.sqlalchemy_exception
    for error in (context.original_exception, said):
        if error is not None and error.args and isinstance(error.args[0], str):
            error.args = (error.args[0].partition("\n")[0], *error.args[1:])


class Database:
    """One PostgreSQL database: its engine and the sessions opened on it, with the audit trail attached."""

    def __init__(self, url: str) -> None:
        usual = {"pool_pre_ping": True, "pool_size": 10, "hide_parameters": True, "json_deserializer": from_json}
        self.engine: Engine = create_engine(url, **usual)
        event.listen(self.engine, "handle_error", _withhold_rows)
        self.sessions = sessionmaker(self.engine, class_=UnitOfWork, expire_on_commit=False)
        audit.attach(self.sessions)

    def session(self) -> UnitOfWork:
        """A new unit of work."""
        return self.sessions()


def migrations(url: str) -> Config:
    """The Alembic configuration for a database address."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["url"] = url
    return config


BEFORE_FIRST = (
    "This database was made before the first state of Long Breath and cannot be brought up to it. "
    "Of the demo, delete the folder var/ and start again; else begin with an empty database."
)


def upgrade(url: str, revision: str = "head") -> None:
    """Bring the database to a migration. Raises ValueError where it stands at one that nobody knows any more."""
    config = migrations(url)
    known = {script.revision for script in ScriptDirectory.from_config(config).walk_revisions()}
    engine = create_engine(url)
    with engine.connect() as connection:
        stands = MigrationContext.configure(connection).get_current_heads()
    engine.dispose()
    if set(stands) - known:
        raise ValueError(BEFORE_FIRST)
    command.upgrade(config, revision)


def downgrade(url: str, revision: str = "base") -> None:
    """Take the database back to a migration."""
    command.downgrade(migrations(url), revision)
