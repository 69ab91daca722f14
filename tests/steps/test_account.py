"""Logging in: words for a miss, a limit on tries, a token on every form, no way off this site."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient

from longbreath.app import create_app
from longbreath.web.security import limiter
from tests.conftest import PASSWORD, errors_of, read


def test_a_wrong_password_is_answered_in_words_and_keeps_the_address(app: Any, shop: SimpleNamespace) -> None:
    answer = app.test_client().post("/account/login", data={"email": "tester@example.test", "password": "no"})
    assert answer.status_code == 422
    assert "do not belong together" in errors_of(answer)
    assert read(answer).select_one("#email")["value"] == "tester@example.test"


def test_log_in_goes_on_to_the_page_that_was_asked_but_never_off_the_site(app: Any, shop: SimpleNamespace) -> None:
    for then, expected in (
        ("/library", "/library"),
        ("//evil.test", "/"),
        ("https://evil.test", "/"),
        ("/\\evil.test", "/"),
    ):
        data = {"email": "tester@example.test", "password": PASSWORD, "then": then}
        assert app.test_client().post("/account/login", data=data).location == expected


def test_tries_are_limited(database: Any, shop: SimpleNamespace, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limiter, "enabled", True)
    app = create_app(
        {"TESTING": True, "WTF_CSRF_ENABLED": False, "SECRET_KEY": "t", "DATABASE_URL": "unused"}, database
    )
    client = app.test_client()
    codes = [client.post("/account/login", data={"email": "x@y.test", "password": "z"}).status_code for _ in range(12)]
    assert codes[0] == 422
    assert codes[-1] == 429


def test_a_form_without_its_token_is_refused(database: Any, shop: SimpleNamespace) -> None:
    app = create_app(
        {"TESTING": True, "SECRET_KEY": "t", "RATELIMIT_ENABLED": False, "DATABASE_URL": "unused"}, database
    )
    answer = app.test_client().post("/account/units/us")
    assert answer.status_code == 400
    assert "open too long" in answer.get_data(as_text=True)


def test_admin_adds_a_person_and_keeps_one_out(
    log_in: Callable[[str], FlaskClient], app: Any, shop: SimpleNamespace
) -> None:
    admin = log_in("admin")
    new = {"name": "New", "email": "new@example.test", "role": "tester", "password": "long enough now"}
    assert admin.post("/account/people", data=new).status_code == 302
    assert "already has this mail address" in errors_of(admin.post("/account/people", data=new))
    admin.post(f"/account/people/{shop.people['tester'].id}/active")
    kept_out = app.test_client().post("/account/login", data={"email": "tester@example.test", "password": PASSWORD})
    assert kept_out.status_code == 422


def test_units_are_remembered_and_pages_follow(tester: FlaskClient, shop: SimpleNamespace) -> None:
    address = f"/applications/{shop.application.id}/measure/traces/{shop.traces['A'].id}/desk"
    assert "A, cfm" in tester.get(address).get_data(as_text=True)
    tester.post("/account/units/metric")
    assert "A, L/s" in tester.get(address).get_data(as_text=True)
