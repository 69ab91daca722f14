"""Databases for tests: empty ones, and copies of what is made once in a run: migrated, with the shop, with its day, with the demo."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from functools import cache
from pathlib import Path

from sqlalchemy import Connection, create_engine, text
from sqlalchemy.engine import make_url

from longbreath.demo.load import load_demo
from longbreath.store.database import upgrade
from longbreath.store.privileges import admit

ROOT = Path(__file__).parent.parent
MADE = "longbreath_made_"
MAKERS = (
    "longbreath/**/*.py",
    "longbreath/**/*.sql",
    "longbreath/demo/**/*",
    "demo/**/*",
    "tests/*.py",
    "tests/made/*.py",
)
"""Files that decide what is in a database that is made once and copied."""
APP_ROLE = """
do $$ begin create role longbreath_tests login password 'tests'; exception when duplicate_object then null; end $$
"""


CLOSE = "select pg_terminate_backend(pid) from pg_stat_activity where datname = :name"


@cache
def made_of() -> str:
    """A short hash of the files that make databases, and of the day: the demo speaks of today."""
    found = hashlib.sha256(date.today().isoformat().encode())
    for path in sorted({path for pattern in MAKERS for path in ROOT.glob(pattern) if path.is_file()}):
        found.update(str(path.relative_to(ROOT)).encode() + path.read_bytes())
    return found.hexdigest()[:12]


@contextmanager
def _cluster(database_url: str) -> Iterator[Connection]:
    admin = create_engine(make_url(database_url).set(database="postgres"), isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        yield connection
    admin.dispose()


def _named(database_url: str, name: str) -> str:
    return make_url(database_url).set(database=name).render_as_string(hide_password=False)


def new_database(database_url: str, name: str) -> str:
    """Address of an empty database of that name in the same cluster; one that is there goes."""
    with _cluster(database_url) as connection:
        connection.execute(text(f"drop database if exists {name} with (force)"))
        connection.execute(text(f"create database {name}"))
    return _named(database_url, name)


def admitted(owner_url: str) -> str:
    """Address of a migrated database for the application's own user, who owns nothing and may only what it may in earnest."""
    owner = create_engine(owner_url)
    with owner.begin() as connection:
        connection.execute(text("select pg_advisory_xact_lock(20260506)"))  # roles are shared by the whole cluster
        connection.execute(text(APP_ROLE))
    owner.dispose()
    url = make_url(owner_url).set(username="longbreath_tests", password="tests").render_as_string(hide_password=False)
    admit(owner_url, url)
    return url


def copied(database_url: str, name: str, what: str, make: Callable[[str], object]) -> str:
    """Address, for the application's own user, of a new database of that name: a copy of what is made once, and kept until one of
    the files that make it changes, or the day.

    make: fills a database of that address; whichever worker comes first makes it, the others wait. What was made of other files goes.
    """
    origin = f"{MADE}{what}_{made_of()}"
    with _cluster(database_url) as connection:
        connection.execute(text(f"select pg_advisory_lock(hashtext('{origin}'))"))
        there = set(connection.scalars(text(f"select datname from pg_database where datname like '{MADE}{what}_%'")))
        if origin not in there:
            for old in there:
                connection.execute(text(f"drop database if exists {old} with (force)"))
            half = f"{origin}_half"
            connection.execute(text(f"drop database if exists {half} with (force)"))
            connection.execute(text(f"create database {half}"))
            make(_named(database_url, half))
            connection.execute(text(CLOSE), {"name": half})
            connection.execute(text(f"alter database {half} rename to {origin}"))
        connection.execute(text(CLOSE), {"name": origin})
        connection.execute(text(f"drop database if exists {name} with (force)"))
        connection.execute(text(f"create database {name} template {origin}"))
    return admitted(_named(database_url, name))


def ready(database_url: str, name: str) -> str:
    """Address, for the application's own user, of a new database of that name at the newest migration."""
    return copied(database_url, name, "empty", upgrade)


def with_demo(database_url: str, name: str) -> str:
    """The same with the demo in it."""
    return copied(database_url, name, "demo", lambda own: load_demo(ready(database_url, make_url(own).database or "")))
