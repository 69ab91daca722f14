"""Deny unless allowed: every route names its permission; roles get what they should and nothing more."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient

PATHS = {
    "view": (
        "/",
        "/library",
        "/log",
        "/reckoner",
        "/applications/{a}/measure",
        "/applications/{a}/weigh",
    ),
    "edit": (
        "/applications/new",
        "/library/vehicles/new",
        "/applications/{a}/measure/sessions/new",
        "/applications/{a}/plan/card",
    ),
    "admin": ("/account/people",),
}
ALLOWED = {
    "viewer": {"view"},
    "tester": {"view", "edit"},
    "approver": {"view", "edit"},
    "admin": {"view", "edit", "admin"},
}


def test_every_route_names_its_permission(app: Any) -> None:
    unnamed = [
        rule.rule
        for rule in app.url_map.iter_rules()
        if rule.endpoint != "static" and not hasattr(app.view_functions[rule.endpoint], "permission")
    ]
    assert unnamed == []


def test_only_these_routes_are_public(app: Any) -> None:
    public = {
        rule.rule
        for rule in app.url_map.iter_rules()
        if getattr(app.view_functions[rule.endpoint], "permission", "") == "public"
    }
    assert public == {
        "/account/login",
        "/sheet/<slug>",
        "/api/reckon",
        "/api/reckon/<name>",
        "/method",
        "/method/<name>",
    }


@pytest.mark.parametrize("role", list(ALLOWED))
def test_roles_by_path(role: str, log_in: Callable[[str], FlaskClient], shop: SimpleNamespace) -> None:
    client = log_in(role)
    for permission, paths in PATHS.items():
        for path in paths:
            expected = 200 if permission in ALLOWED[role] else 403
            assert client.get(path.format(a=shop.application.id)).status_code == expected, (role, path)


def test_without_log_in_every_page_leads_to_it(app: Any, shop: SimpleNamespace) -> None:
    client = app.test_client()
    for path in (p for paths in PATHS.values() for p in paths):
        answer = client.get(path.format(a=shop.application.id))
        assert answer.status_code == 302
        assert "/account/login" in answer.location


def test_a_part_of_another_application_is_not_found(tester: FlaskClient, shop: SimpleNamespace) -> None:
    wrong = shop.application.id + 1000
    assert tester.get(f"/applications/{wrong}/measure").status_code == 404
    assert tester.get(f"/applications/{wrong}/measure/sessions/{shop.session.id}").status_code == 404


def test_headers_are_strict(app: Any) -> None:
    headers = app.test_client().get("/account/login").headers
    policy = headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self'" in policy
    assert "unsafe" not in policy
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["X-Frame-Options"] == "SAMEORIGIN"


def test_no_page_carries_inline_script_or_style(tester: FlaskClient, shop: SimpleNamespace) -> None:
    for step in ("measure", "reckon", "plan", "pull", "weigh", "claim"):
        text = tester.get(f"/applications/{shop.application.id}/{step}").get_data(as_text=True)
        assert "<script>" not in text
        assert ' style="' not in text
        assert "onclick" not in text
