"""Fixtures: a private PostgreSQL, a client whose every change is rolled back, people and an application to work on."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from argon2 import PasswordHasher
from bs4 import BeautifulSoup
from flask.testing import FlaskClient
from sqlalchemy import Connection, create_engine, text
from sqlalchemy.engine import make_url
from sqlalchemy.orm import Session, sessionmaker

from longbreath.app import create_app
from longbreath.core.basis.units import parse
from longbreath.demo import load, parts, paths
from longbreath.dossier import coverage, library
from longbreath.dossier import people as dossier_people
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.store import audit
from longbreath.store.database import Database, acting, downgrade, upgrade

ROOT = Path(__file__).parent.parent
INCHES_28 = parse("28 inH2O", "column").value
PASSWORD = "a password for tests"


@pytest.fixture(scope="session", autouse=True)
def quick_hashes() -> Iterator[None]:
    """Passwords of tests are hashed with little memory: the real cost is for attackers, not for every fixture."""
    kept, dossier_people._hasher = (
        dossier_people._hasher,
        PasswordHasher(time_cost=1, memory_cost=1024, parallelism=1),
    )
    yield
    dossier_people._hasher = kept


@pytest.fixture(scope="session")
def database_url() -> str:
    """Address of the test database: from the environment, or of a cluster started for the purpose.

    Tests that run beside each other have a database each.
    """
    url = os.environ.get("LONGBREATH_TEST_DATABASE_URL")
    url = url or subprocess.check_output([ROOT / "bin" / "cluster", "start", "test"], text=True).strip()
    worker = os.environ.get("PYTEST_XDIST_WORKER")
    return url if worker is None else new_database(url, f"longbreath_{worker}")


def new_database(url: str, name: str) -> str:
    """Address of an empty database of that name in the same cluster; one that is there goes."""
    admin = create_engine(make_url(url).set(database="postgres"), isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        connection.execute(text(f"drop database if exists {name} with (force)"))
        connection.execute(text(f"create database {name}"))
    admin.dispose()
    return make_url(url).set(database=name).render_as_string(hide_password=False)


@pytest.fixture(scope="session")
def migrated(database_url: str) -> str:
    """The database at the newest migration, empty."""
    downgrade(database_url)
    upgrade(database_url)
    return database_url


@pytest.fixture(scope="session")
def connections(migrated: str) -> Iterator[Any]:
    engine = create_engine(migrated)
    yield engine
    engine.dispose()


class RolledBack(Database):
    """A database whose sessions all live in one outer transaction."""

    def __init__(self, connection: Connection) -> None:
        self.engine = connection.engine
        self.sessions = sessionmaker(connection, expire_on_commit=False, join_transaction_mode="create_savepoint")
        audit.attach(self.sessions)


@pytest.fixture
def database(connections: Any) -> Iterator[RolledBack]:
    """A database that forgets everything after the test."""
    with connections.connect() as connection:
        outer = connection.begin()
        yield RolledBack(connection)
        outer.rollback()


@pytest.fixture
def db(database: RolledBack) -> Iterator[Session]:
    """A session for arranging and looking; commit what a page shall see."""
    with database.session() as session:
        yield session


@pytest.fixture
def app(database: RolledBack) -> Any:
    """The application on the rolled-back database, without CSRF and rate limits."""
    overrides = {
        "TESTING": True, "WTF_CSRF_ENABLED": False, "RATELIMIT_ENABLED": False, "SECRET_KEY": "test",
        "LONGBREATH_DATABASE_URL": "unused",
    }  # fmt: skip
    return create_app(overrides, database)


@pytest.fixture
def shop(db: Session) -> SimpleNamespace:
    """People of each role, a bench, a dyno, and the Gannet application with path, bench session and card."""
    people = {
        role: dossier_people.add_person(db, role.title(), f"{role}@example.test", role, PASSWORD)
        for role in ("viewer", "tester", "approver", "admin")
    }
    bench = library.add_bench(
        db,
        name="Bench",
        meter="range",
        percent_step=0.001,
        pressure_step=24.9,
        label="1",
        full_scale=parse("60 cfm", "flow").value,
    )
    library.add_range(db, bench, "4", parse("360 cfm", "flow").value)
    db.refresh(bench)
    dyno = library.add_dyno(
        db, name="Rollers", measured_at="wheel", repeatability=0.9, repeatability_source="12 repeats"
    )
    heron = library.add_vehicle(db, **parts.HERON)
    plain = {"family": "manifold", "side": "intake"}
    stock = library.add_product(db, "stock", "", name="Heron stock manifold", is_stock=True, **plain)
    gannet = library.add_product(
        db, "rev C", "as cast", name="Gannet long-runner manifold", is_stock=False, **plain
    )
    application = coverage.open_application(db, heron.id, gannet.id, stock.id)
    acting(db, people["tester"], application.id)
    load.lay_path(db, application, paths.GANNET)
    fixture = bench_verbs.save_fixture(db, application, None, **parts.INTAKE_FIXTURE)
    session = bench_verbs.open_session(
        db, application, fixture, bench_id=bench.id, held_on=date(2026, 5, 6), test_pressure=INCHES_28,
        temperature=293.15, pressure=100900.0, humidity=0.46, meter_temperature=None, leak_range_id=bench.ranges[0].id,
        leak_percent=0.02, leak_flow=None, leak_pressure=INCHES_28,
    )  # fmt: skip
    card = load._card(db, application, dyno, "tune")
    db.commit()
    return SimpleNamespace(people=people, bench=bench, dyno=dyno, application=application, session=session, fixture=fixture, card=card,
                           traces={t.label: t for t in session.traces})  # fmt: skip


@pytest.fixture
def log_in(app: Any, shop: SimpleNamespace) -> Callable[[str], FlaskClient]:
    """A client logged in with a role."""

    def logged_in(role: str) -> FlaskClient:
        client = app.test_client()
        answer = client.post("/account/login", data={"email": f"{role}@example.test", "password": PASSWORD})
        assert answer.status_code == 302
        return client

    return logged_in


@pytest.fixture
def tester(log_in: Callable[[str], FlaskClient]) -> FlaskClient:
    """A client logged in as tester."""
    return log_in("tester")


def read(answer: Any) -> BeautifulSoup:
    """A response as a parsed page."""
    return BeautifulSoup(answer.get_data(as_text=True), "html.parser")


def errors_of(answer: Any) -> str:
    """All error sentences of a page, in one text."""
    return " ".join(
        node.get_text(" ", strip=True) for node in read(answer).select(".error, .flash.is-error, [role=alert]")
    )


__all__ = ["PASSWORD", "ROOT", "errors_of", "new_database", "read"]
