"""A database that goes away and comes back, and disks that are full: every page says so, nothing is lost or half saved."""

from __future__ import annotations

import logging
import os
import pwd
import signal
import subprocess
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import create_engine, func, select, text
from sqlalchemy.exc import DataError, IntegrityError, OperationalError
from sqlalchemy.exc import TimeoutError as NoneFree

from longbreath.app import create_app
from longbreath.store.database import Database
from longbreath.store.models import Attachment, DynoSession
from longbreath.store.unit_of_work import UnitOfWork
from longbreath.web.outage import AWAY, CROSSED, FULL, TOO_LARGE, TWICE, UNWRITABLE, outage_of
from tests.conftest import PASSWORD, ROOT, read, shop_on
from tests.databases import ready
from tests.steps.test_permissions import PATHS
from tests.steps.tools import SESSION

pytestmark = pytest.mark.slow
"""A cluster of its own is stopped and started."""

CLUSTER = [str(ROOT / "bin" / "cluster")]


def cluster(*words: str) -> str:
    return subprocess.check_output([*CLUSTER, *words], text=True).strip()


@pytest.fixture(scope="module")
def place() -> Iterator[SimpleNamespace]:
    """A shop on a cluster of its own, which may be killed."""
    admin = cluster("start", "outage", "admin")
    own = ready(admin, "longbreath_outage")
    database = Database(own)
    shop = shop_on(database)
    base = f"/applications/{shop.application.id}"
    app = create_app({"WTF_CSRF_ENABLED": False, "SECRET_KEY": "t", "DATABASE_URL": own}, database)

    def log_in(role: str) -> FlaskClient:
        client = app.test_client()
        assert (
            client.post("/account/login", data={"email": f"{role}@example.test", "password": PASSWORD}).location == "/"
        )
        return client

    yield SimpleNamespace(app=app, database=database, admin=admin, base=base, log_in=log_in, session=shop.session.id)
    database.engine.dispose()
    cluster("stop", "outage")


def kill(place: SimpleNamespace) -> None:
    """End the server of the database as a machine does that falls over."""
    engine = create_engine(place.admin)
    with engine.connect() as connection:
        pid = Path(connection.execute(text("select current_setting('data_directory')")).scalar_one()) / "postmaster.pid"
        number = int(connection.execute(text("select pg_read_file(:p)"), {"p": str(pid)}).scalar_one().split()[0])
    engine.dispose()
    os.kill(number, signal.SIGKILL)


@pytest.fixture
def away(place: SimpleNamespace) -> Iterator[FlaskClient]:
    """A tester who was logged in when the database fell over; it is there again afterwards."""
    client: FlaskClient = place.log_in("tester")
    assert client.get("/").status_code == 200
    kill(place)
    yield client
    url = cluster("start", "outage", "admin")
    assert url == place.admin  # the same port: whoever used it finds it again
    assert client.get("/").status_code == 200  # nothing was restarted


def test_while_it_is_away_every_page_says_so_and_files_are_served(away: FlaskClient, place: SimpleNamespace) -> None:
    for paths in PATHS.values():
        for path in paths:
            answer = away.get(path.format(a=1))
            assert answer.status_code == 503, path
            assert answer.headers["Retry-After"] == "10"
            assert "The database cannot be reached" in answer.text
            assert "Traceback" not in answer.text
    for path in (
        "/nothing/here",
        "/library/vehicles/" + "9" * 30,
    ):  # the page that says so has a frame that asks the database
        assert away.get(path).status_code == 503, path
    assert away.post("/log").status_code == 503
    assert away.get("/static/dist/mark.svg").status_code == 200
    reckoned = "/api/reckon/tube_inside?outside_diameter=63.5mm&wall=1.6mm"
    assert place.app.test_client().get(reckoned).status_code == 200
    assert "cannot be reached" in away.get(reckoned).json["error"]
    chart = away.get(f"{place.base}/weigh/chart.json")
    assert (chart.status_code, chart.mimetype) == (503, "application/json")
    assert "cannot be reached" in chart.json["error"]
    part = away.get(f"{place.base}/weigh", headers={"HX-Request": "true"})
    assert part.text.startswith('<p class="flash is-error"')
    stranger = place.app.test_client()
    answer = stranger.post("/account/login", data={"email": "tester@example.test", "password": PASSWORD})
    assert answer.status_code == 503
    assert PASSWORD not in answer.text


def test_what_was_typed_is_on_the_page_and_is_sent_again(place: SimpleNamespace) -> None:
    client = place.log_in("tester")
    address = f"{place.base}/pull/sessions/new"
    form = {**SESSION, "gear": "4th <b>&quot;", "once": "a key"}
    kill(place)
    try:
        answer = client.post(address, data=form)
    finally:
        cluster("start", "outage", "admin")
    assert answer.status_code == 503
    page = read(answer)
    assert "4th <b>&quot;" in page.select_one("dl.kept").text
    kept = {field["name"]: field["value"] for field in page.select("form input[type=hidden]")}
    assert kept == form
    with place.database.session() as work:
        before = work.scalar(select(func.count(DynoSession.id)))
    assert client.post(page.select_one("form")["action"], data=kept).status_code == 302
    with place.database.session() as work:
        assert work.scalar(select(func.count(DynoSession.id))) == before + 1


def test_a_database_that_goes_in_the_middle_of_a_form_is_answered_as_not_saved(
    place: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    client = place.log_in("tester")

    def lost(*arguments: Any) -> None:
        kill(place)
        arguments[0].execute(text("select 1"))

    form = {**SESSION, "gear": "5th", "once": "in the middle"}
    with monkeypatch.context() as patched:
        patched.setattr("longbreath.dossier.pull.verbs.open_session", lost)
        answer = client.post(f"{place.base}/pull/sessions/new", data=form)
    cluster("start", "outage", "admin")
    assert answer.status_code == 503
    assert "5th" in read(answer).select_one("dl.kept").text
    assert client.post(f"{place.base}/pull/sessions/new", data=form).status_code == 302


def test_a_commit_that_fails_is_answered_as_not_saved(place: SimpleNamespace, monkeypatch: pytest.MonkeyPatch) -> None:
    client = place.log_in("tester")

    def lost(work: UnitOfWork) -> None:
        raise OperationalError("commit", {}, Exception("server closed the connection unexpectedly"))

    with monkeypatch.context() as patched:
        patched.setattr(UnitOfWork, "commit", lost)
        answer = client.post(f"{place.base}/pull/sessions/new", data=SESSION)
    assert answer.status_code == 503
    assert answer.location is None
    assert "nothing was saved" in answer.text
    assert client.get("/").status_code == 200


def fake(code: str, kind: type = OperationalError) -> Any:
    """An error of the database with a code."""
    cause = Exception("said")
    cause.sqlstate = code  # type: ignore[attr-defined]
    return kind("select 1", {}, cause)


@pytest.mark.parametrize(
    ("error", "expected"),
    [
        (fake("57P01"), AWAY),
        (fake("57P03"), AWAY),
        (fake("08006"), AWAY),
        (fake("53300"), AWAY),
        (fake("53100"), FULL),
        (fake("40P01"), CROSSED),
        (fake("40001"), CROSSED),
        (fake("22003", DataError), TOO_LARGE),
        (fake("22021", DataError), UNWRITABLE),
        (DataError("x", {}, Exception("text fields cannot contain NUL (0x00) bytes")), UNWRITABLE),
        (fake("23505", IntegrityError), TWICE),
        (fake("23514", IntegrityError), None),
        (NoneFree("QueuePool limit"), AWAY),
    ],
)
def test_what_went_wrong_is_told_by_its_code(error: Any, expected: Any) -> None:
    """Codes: PostgreSQL 15 documentation, appendix A."""
    assert outage_of(error) == expected


def test_no_secret_is_written_to_the_log(place: SimpleNamespace, caplog: pytest.LogCaptureFixture) -> None:
    caplog.set_level(logging.DEBUG)
    admin = place.log_in("admin")
    form = {"name": "Nul", "email": "nul@example.test", "role": "viewer", "password": "a password of many words"}
    assert admin.post("/account/people", data={**form, "name": "x" * 80}).status_code == 302
    with place.database.session() as work, pytest.raises(IntegrityError) as problem:
        work.execute(
            text("insert into user_account (email, password_hash) values (:e, :p)"), {"e": "x", "p": "$argon2id$secret"}
        )
    assert "$argon2id$secret" not in str(problem.value)
    place.app.logger.error("said: %s", problem.value)
    assert "argon2id" not in caplog.text
    assert "a password of many words" not in caplog.text


def cluster_owner() -> tuple[int, int]:
    """The user who runs PostgreSQL here: it refuses to run as root."""
    entry = pwd.getpwnam("postgres")
    return (entry.pw_uid, entry.pw_gid) if os.getuid() == 0 else (os.getuid(), os.getgid())


def small_disk(folder: Path, size: str) -> Callable[[], None]:
    """Mount a disk of that size on a folder; what unmounts it. Skips the test where that is not allowed."""
    folder.mkdir(parents=True, exist_ok=True)
    done = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={size},mode=1777", "tmpfs", str(folder)], capture_output=True
    )
    if done.returncode:
        pytest.skip("a small disk can only be mounted by root")
    return lambda: subprocess.run(["umount", "-l", str(folder)], check=True)  # type: ignore[return-value]


def hang(client: FlaskClient, place: SimpleNamespace, megabytes: int, salt: int = 0) -> Any:
    data = b"%PDF-1.7 " + bytes([salt]) + os.urandom(megabytes * 1024 * 1024)
    address = f"{place.base}/attachments/bench_session/{place.session}"
    head = b'--b\r\nContent-Disposition: form-data; name="file"; filename="a.pdf"\r\n\r\n'
    body = head + data + b"\r\n--b--\r\n"  # written out: the client of the tests would need the disk itself
    return client.post(address, data=body, content_type="multipart/form-data; boundary=b")


def test_a_full_disk_for_uploads_is_said(
    place: SimpleNamespace, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    client = place.log_in("tester")
    unmount = small_disk(tmp_path / "uploads", "1m")
    try:
        monkeypatch.setattr(tempfile, "tempdir", str(tmp_path / "uploads"))
        answer = hang(client, place, 4)
        assert answer.status_code == 507
        assert "disk of this machine is full" in answer.text
        assert client.get("/").status_code == 200
    finally:
        unmount()
    monkeypatch.undo()
    assert hang(client, place, 4).status_code == 302


def test_a_full_disk_of_the_database_is_said_and_nothing_is_half_saved(place: SimpleNamespace) -> None:
    folder = Path("/var/tmp/longbreath-small-disk")
    unmount = small_disk(folder, "8m")
    engine = create_engine(place.admin, isolation_level="AUTOCOMMIT")
    own = create_engine(engine.url.set(database="longbreath_outage"), isolation_level="AUTOCOMMIT")
    client = place.log_in("tester")
    try:
        os.chown(folder, *cluster_owner())
        with own.connect() as connection:
            connection.execute(text(f"create tablespace small location '{folder}'"))
            connection.execute(text("alter table attachment set tablespace small"))
        with place.database.session() as work:
            before = work.scalar(select(func.count(Attachment.id))) or 0
        answers = [hang(client, place, 3, salt) for salt in range(4)]
        codes = [answer.status_code for answer in answers]
        assert 507 in codes
        assert "The disk of the database is full; nothing was saved." in answers[codes.index(507)].text
        with place.database.session() as work:
            assert work.scalar(select(func.count(Attachment.id))) == before + codes.count(302)
        assert client.get("/").status_code == 200
    finally:
        with own.connect() as connection:
            connection.execute(text("alter table attachment set tablespace pg_default"))
            connection.execute(text("drop tablespace small"))
        own.dispose()
        engine.dispose()
        unmount()
