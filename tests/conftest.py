"""Fixtures: a private PostgreSQL, a client whose every change is rolled back, people and an application to work on."""

from __future__ import annotations

import gc
import os
import subprocess
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import partial
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from argon2 import PasswordHasher
from flask.testing import FlaskClient
from hypothesis import HealthCheck, settings
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.engine import make_url
from sqlalchemy.orm import sessionmaker

from longbreath.app import create_app
from longbreath.demo import office
from longbreath.demo.days import work_day
from longbreath.dossier import passwords, subscribers
from longbreath.dossier import people as dossier_people
from longbreath.store import audit
from longbreath.store.database import Database
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.databases import copied, new_database, ready
from tests.made import dyno_day
from tests.pages import Part, page_of

ROOT = Path(__file__).parent.parent
subscribers.attach()
PASSWORD = "a password for tests"

FIXTURES = [HealthCheck.function_scoped_fixture]
settings.register_profile("pinned", derandomize=True, max_examples=40, deadline=None, suppress_health_check=FIXTURES)
settings.register_profile("hunt", max_examples=1000, deadline=None, suppress_health_check=FIXTURES, print_blob=True)
settings.load_profile("pinned")
"""Property tests take the same examples everywhere; `--hypothesis-profile=hunt` looks for new ones."""


FIRST = (
    "demo/test_demo",
    "steps/test_claim_machine",
    "dossier/test_weighing",
    "steps/test_job",
    "steps/test_published",
)
"""What begins: one worker loads the demo, which the browser needs as well, while the others have long files without it."""
LATER = {"jobs": 0, "browser": 1}
"""Then what waits; jobs before the browser, which leaves an event loop behind in its process."""
SLOWEST = 10


def pytest_terminal_summary(terminalreporter: Any) -> None:
    """The files that took longest, all their tests together."""
    spent: Counter[str] = Counter()
    for reports in terminalreporter.stats.values():
        for report in reports:
            if hasattr(report, "duration"):
                spent[report.nodeid.partition("::")[0]] += report.duration
    if len(spent) > SLOWEST:
        terminalreporter.write_sep("=", f"the {SLOWEST} slowest files, of {sum(spent.values()):.0f} s in {len(spent)}")
        for name, seconds in spent.most_common(SLOWEST):
            terminalreporter.write_line(f"{seconds:6.1f} s  {name}")


def pytest_addoption(parser: pytest.Parser) -> None:
    """`--slow` also runs what is marked slow, `--long` what is marked slow or long."""
    parser.addoption("--slow", action="store_true", help="also run the tests marked slow")
    parser.addoption("--long", action="store_true", help="also run the tests marked slow or long")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Without --slow or --long the tests marked so are left out, and said to be.

    The longest files and what waits come first, so that the workers end together.
    """
    places = {name: place for place, name in enumerate(FIRST)}
    items.sort(
        key=lambda item: places.get(
            f"{item.path.parent.name}/{item.path.stem}", len(FIRST) + LATER.get(item.path.parent.name, 2)
        )
    )
    long = config.getoption("--long")
    for mark, runs in (("slow", long or config.getoption("--slow")), ("long", long)):
        for item in items:
            if not runs and item.get_closest_marker(mark):
                item.add_marker(pytest.mark.skip(reason=f"{mark}: bin/test --{mark}"))


@event.listens_for(Engine, "connect")
def _prepare(connection: Any, record: object) -> None:
    """A worker's few connections ask the same all the time: PostgreSQL plans each question once."""
    if hasattr(connection, "prepared_max"):
        connection.prepare_threshold, connection.prepared_max = 1, 1000


@pytest.fixture(scope="session", autouse=True)
def quick_hashes() -> Iterator[None]:
    """Passwords of tests are hashed with little memory: the real cost is for attackers, not for every fixture."""
    gc.collect()
    gc.freeze()  # what is imported is never rubbish: it need not be looked through again and again
    gc.set_threshold(20_000, 20, 50)
    kept, passwords._hasher = passwords._hasher, PasswordHasher(time_cost=1, memory_cost=1024, parallelism=1)
    yield
    passwords._hasher = kept


@pytest.fixture(scope="session")
def database_url() -> str:
    """Address of the test database: from the environment, or of a cluster started for the purpose.

    Tests that run beside each other have a database each.
    """
    url = os.environ.get("LONGBREATH_TEST_DATABASE_URL")
    url = url or subprocess.check_output([ROOT / "bin" / "cluster", "start", "test", "admin"], text=True).strip()
    worker = os.environ.get("PYTEST_XDIST_WORKER")
    return url if worker is None else new_database(url, f"longbreath_{worker}")


@pytest.fixture(scope="session")
def connections(database_url: str) -> Iterator[Any]:
    """Connections to an empty database at the newest migration, as the application's own user has them."""
    engine = create_engine(ready(database_url, f"{make_url(database_url).database}_empty"))
    yield engine
    engine.dispose()


@dataclass(frozen=True)
class Day:
    """A day on the dyno: whether its build sheets are written, what they say beside the usual, and whether it was foretold."""

    sheets: bool = True
    foretold: bool = False
    differing: Mapping[str, str] = field(default_factory=dict)


DAYS = {
    "day_done": Day(),
    "day_without_sheets": Day(sheets=False),
    "day_foretold": Day(foretold=True),
    "day_of_open_bonnet": Day(differing={"bonnet": "open"}),
    "day_of_other_fuel": Day(differing={"fuel": "98, June delivery"}),
}
PUBLISHED = "day_published"
"""By the fixture that asks for it: days whose ten pulls are taken once in a run, not for every test; and one after which a claim
was published."""


@pytest.fixture(scope="session")
def laid(database_url: str) -> Iterator[Callable[[str], Engine]]:
    """Connections to a database of its own in which the shop, or one of its days, stands already."""
    kept: dict[str, Engine] = {}

    def engine(what: str) -> Engine:
        if what not in kept:
            kept[what] = Database(copy_with(what, database_url, f"{make_url(database_url).database}_{what}")).engine
        return kept[what]

    yield engine
    for one in kept.values():
        one.dispose()


def copy_with(what: str, database_url: str, name: str) -> str:
    """Address of a database of that name in which the shop, or one of its days, stands already."""
    if what == "shop":
        return copied(database_url, name, what, partial(_lay, database_url, ready, shop_on))
    before, lay = ("day_foretold", publish_on) if what == PUBLISHED else ("shop", partial(day_on, DAYS[what]))
    return copied(database_url, name, what, partial(_lay, database_url, partial(copy_with, before), lay))


def _lay(url: str, begin: Callable[[str, str], str], lay: Callable[[Database], object], own: str) -> None:
    database = Database(begin(url, make_url(own).database or ""))
    lay(database)
    database.engine.dispose()


def day_on(day: Day, database: Database) -> None:
    """Have a day on the dyno done in a shop, with its build sheets of A and B."""
    with database.session() as work:
        shop = factories.shop_in(work)
        if day.sheets:
            factories.add_builds(work, shop.application, **day.differing)
        if day.foretold:
            dyno_day.predicted(work, shop.application, "more in the middle")
        dyno_day.pulled(work, shop.application, shop.card)
        work.commit()


def publish_on(database: Database) -> None:
    """Publish a claim on the day that is done."""
    with database.session() as work:
        shop = factories.shop_in(work)
        work_day(work, date(2026, 5, 14), hour=15)
        dyno_day.closed_course(work, shop.application, "all of them")
        office.publish(work, shop.application, shop.people["approver"], "torque")
        work.commit()


def shop_on(database: Database) -> SimpleNamespace:
    """Lay the shop down in a database, for good: its people by role, and what `factories.shop_of` makes."""
    with database.session() as work:
        crew = {
            role: dossier_people.add_person(
                work, dossier_people.NewPerson(role.title(), f"{role}@example.test", role, PASSWORD)
            )
            for role in factories.ROLES
        }
        shop = factories.shop_of(work, crew)
        work.commit()
    return shop


class RolledBack(Database):
    """A database whose sessions all live in one outer transaction."""

    def __init__(self, connection: Connection) -> None:
        self.engine = connection.engine
        self.sessions = sessionmaker(
            connection, class_=UnitOfWork, expire_on_commit=False, join_transaction_mode="create_savepoint"
        )
        audit.attach(self.sessions)


@pytest.fixture
def database(request: pytest.FixtureRequest) -> Iterator[RolledBack]:
    """A database that forgets everything after the test: empty, or with the shop or its day where a test asks for it."""
    asked = set(request.fixturenames)
    what = next((day for day in (*DAYS, PUBLISHED) if day in asked), "shop" if "shop" in asked else "")
    engine = request.getfixturevalue("laid")(what) if what else request.getfixturevalue("connections")
    with engine.connect() as connection:
        outer = connection.begin()
        yield RolledBack(connection)
        outer.rollback()


@pytest.fixture
def db(database: RolledBack) -> Iterator[UnitOfWork]:
    """A session for arranging and looking; commit what a page shall see."""
    with database.session() as session:
        yield session


class Reader(FlaskClient):
    """A client that reads every answer to its end, as a browser does: one that is left half read keeps its request open."""

    def open(self, *arguments: Any, **keywords: Any) -> Any:
        """The answer; a stream of events goes on."""
        answer = super().open(*arguments, **keywords)
        if answer.mimetype != "text/event-stream":
            answer.get_data()
            answer.close()
        return answer


@pytest.fixture(scope="session")
def made_app(database_url: str) -> Any:
    """The application, without CSRF and rate limits: made once, so that its templates are compiled once."""
    overrides = {"TESTING": True, "WTF_CSRF_ENABLED": False, "SECRET_KEY": "test", "DATABASE_URL": "unused"}
    found = create_app(overrides, Database(database_url))
    found.test_client_class = Reader
    return found


@pytest.fixture
def app(made_app: Any, database: RolledBack) -> Any:
    """The application on the rolled-back database."""
    made_app.extensions["longbreath"] = database
    return made_app


@pytest.fixture
def shop(db: UnitOfWork) -> SimpleNamespace:
    """People of each role, a bench, a dyno, and the Gannet application with path, bench session and card."""
    return factories.shop_in(db)


def _asks_for(day: str) -> Any:
    @pytest.fixture(name=day)
    def done(db: UnitOfWork, shop: SimpleNamespace) -> SimpleNamespace:
        work_day(db, date(2026, 5, 14), hour=15)
        return shop

    return done


for _day in (*DAYS, PUBLISHED):
    globals()[_day] = _asks_for(_day)


@pytest.fixture
def pulled(day_done: SimpleNamespace) -> SimpleNamespace:
    """The shop after its day on the dyno: build sheets of A and B that differ in the part alone, ten pulls, the clock of that day."""
    return day_done


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


def read(answer: Any) -> Part:
    """A response as a parsed page, its text with white space as a browser shows it."""
    return page_of(answer.get_data(as_text=True))


def send(client: FlaskClient, address: str, data: dict[str, Any]) -> Any:
    """Fill in the form at an address as a person would: its hidden version goes along."""
    version = read(client.get(address)).select_one("main form input[name=version]")
    return client.post(address, data={"version": version["value"] if version is not None else "", **data})


def press(client: FlaskClient, db: UnitOfWork, record: Any, action: str) -> Any:
    """Press a button that posts to an action, on a page that shows the record as it is now."""
    db.refresh(record)
    return client.post(action, data={"version": str(record.version)})


def errors_of(answer: Any) -> str:
    """All error sentences of a page, in one text."""
    return " ".join(
        node.get_text(" ", strip=True) for node in read(answer).select(".error, .flash.is-error, [role=alert]")
    )


__all__ = ["PASSWORD", "ROOT", "errors_of", "press", "read", "send", "shop_on"]
