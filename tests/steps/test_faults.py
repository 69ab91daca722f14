"""Our own faults: a number in the log, a sentence on the page, no trace; and checks that span two records."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy.exc import IntegrityError, OperationalError, ProgrammingError

from longbreath.app import create_app
from longbreath.dossier import coverage, library
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import PASSWORD, errors_of, read
from tests.steps.tools import SESSION, base


@pytest.fixture
def served(database: Any, shop: SimpleNamespace) -> FlaskClient:
    """A client of the application as it is served, not as it is tested: faults are shown, not raised."""
    app = create_app({"WTF_CSRF_ENABLED": False, "SECRET_KEY": "t", "DATABASE_URL": "unused"}, database)
    client = app.test_client()
    client.post("/account/login", data={"email": "tester@example.test", "password": PASSWORD})
    return client


def test_a_fault_shows_a_number_and_no_trace(
    served: FlaskClient, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    monkeypatch.setattr(coverage, "grid", lambda *a: 1 / 0)
    answer = served.get("/")
    text = answer.get_data(as_text=True)
    assert answer.status_code == 500
    assert "Something went wrong here, not with you" in text
    assert "Traceback" not in text
    assert "ZeroDivisionError" not in text
    number = text.split("written down as ")[1].split(";")[0]
    assert f"fault {number} at /" in caplog.text


@pytest.mark.parametrize(
    "error",
    [
        ProgrammingError("select nothing", {}, Exception("no such column")),
        IntegrityError("insert", {}, Exception("a check that is ours to keep")),
        OSError(5, "input/output error"),
        RuntimeError("anything"),
    ],
)
def test_every_fault_has_its_number_whatever_it_is(
    served: FlaskClient, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture, error: Exception
) -> None:
    def broken(*arguments: Any) -> None:
        raise error

    monkeypatch.setattr(coverage, "grid", broken)
    answer = served.get("/")
    assert answer.status_code == 500
    number = answer.text.split("written down as ")[1].split(";")[0]
    assert len(number) == 8
    assert f"fault {number} at /" in caplog.text


def test_two_who_cross_are_told_to_send_it_again_with_what_they_wrote(
    served: FlaskClient, shop: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    cause = Exception("deadlock detected")
    cause.sqlstate = "40P01"  # type: ignore[attr-defined]

    def crossed(*arguments: Any) -> None:
        raise OperationalError("update", {}, cause)

    monkeypatch.setattr("longbreath.dossier.pull.verbs.open_session", crossed)
    answer = served.post(f"{base(shop)}/pull/sessions/new", data={**SESSION, "gear": "5th"})
    assert answer.status_code == 409
    assert "Somebody else saved at the same moment" in answer.text
    assert read(answer).select_one("input[name=gear]")["value"] == "5th"


def test_a_lost_database_is_said_in_words(served: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    def lost(*arguments: Any) -> None:
        raise OperationalError("select 1", {}, Exception("gone"))

    monkeypatch.setattr(coverage, "grid", lost)
    answer = served.get("/")
    assert answer.status_code == 503
    assert "The database cannot be reached" in answer.get_data(as_text=True)


def test_a_leak_range_of_another_bench_is_refused(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    other = library.add_bench(db, library.BenchCard("Other", 0.001, 20.0), library.RangeCard("1", 0.1))
    db.commit()
    form = {
        "bench_id": str(other.id),
        "held_on": "2026-05-06",
        "test_pressure": "28 inH2O",
        "temperature": "20C",
        "pressure": "1010 hPa",
        "humidity": "40",
        "kind": "sweep",
        "fixture_id": str(shop.fixture.id),
        "direction": "intake",
        "leak_percent": "2",
        "leak_pressure": "28 inH2O",
        "leak_range_id": str(shop.bench.ranges[0].id),
    }
    answer = tester.post(f"{base(shop)}/measure/sessions/new", data=form)
    assert answer.status_code == 422
    assert "belongs to another bench" in errors_of(answer)


def test_a_spark_ignition_factor_is_refused_for_a_diesel(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    shop.application.vehicle.fuel = "diesel"
    db.commit()
    answer = tester.post(f"{base(shop)}/pull/sessions/new", data=SESSION)
    assert answer.status_code == 422
    assert "This factor is for spark ignition" in errors_of(answer)
    assert tester.post(f"{base(shop)}/pull/sessions/new", data={**SESSION, "standard": "none"}).status_code == 302


def test_an_element_must_have_its_section_and_say_how_it_was_measured(
    tester: FlaskClient, shop: SimpleNamespace
) -> None:
    form = {
        "kind": "runner",
        "name": "r",
        "side": "intake",
        "belongs_to": "B",
        "position": "5",
        "length": "300 mm",
        "shape": "rounded_rectangle",
        "width": "40 mm",
        "height": "30 mm",
        "corner_radius": "20 mm",
        "tool": "calliper",
        "provenance": "measured",
        "branches": "4",
        "given_as": "inside",
        "wall_surface": "cast",
        "face_id": "0",
    }
    address = f"{base(shop)}/measure/path/elements/new"
    assert "more than half the shorter side" in errors_of(tester.post(address, data=form))
    assert "Say what it was measured with" in errors_of(
        tester.post(address, data={**form, "corner_radius": "8 mm", "tool": ""})
    )
    assert "missing for the section chosen" in errors_of(tester.post(address, data={**form, "shape": "round"}))
    assert "needs its volume" in errors_of(
        tester.post(address, data={**form, "corner_radius": "8 mm", "kind": "plenum"})
    )
    assert tester.post(address, data={**form, "corner_radius": "8 mm"}).status_code == 302
