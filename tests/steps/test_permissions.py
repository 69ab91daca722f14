"""Deny unless allowed: every route names its permission; roles get what they should and nothing more."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient

from longbreath.dossier import coverage
from longbreath.store.unit_of_work import UnitOfWork

PATHS = {
    "view": ("/", "/library", "/log", "/reckoner", "/applications/{a}/measure", "/applications/{a}/weigh"),
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
        "/account/choose/<key>",
        "/calendar/<key>.ics",
        "/sheet/<slug>",
        "/sheet/<slug>/printed.pdf",
        "/sheet/<slug>/bundle.zip",
        "/sheet/<slug>/badge.svg",
        "/sheet/<slug>/code.svg",
        "/sheet/<slug>/state.json",
        "/sheet/<slug>/embed",
        "/claims",
        "/claims.json",
        "/claims.csv",
        "/claims.atom",
        "/claims/keys.json",
        "/claims/context.jsonld",
        "/claims/check",
        "/api/reckon",
        "/api/reckon/<name>",
        "/method",
        "/method/nomenclature",
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


def test_parts_of_the_bench_belong_to_their_application(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    other = coverage.open_application(
        db, shop.application.vehicle_id, shop.application.stock_revision_id, shop.application.stock_revision_id
    )
    db.commit()
    trace, session = shop.traces["A"].id, shop.session.id
    mine, theirs = (f"/applications/{a}/measure" for a in (shop.application.id, other.id))
    paths = (
        f"traces/{trace}/desk",
        f"traces/{trace}",
        f"sessions/{session}",
        f"sessions/{session}/change",
        f"sessions/{session}/traces/new",
        f"fixtures/{shop.fixture.id}",
        f"sessions/{session}/readings.csv",
        f"sessions/{session}/sheet.pdf",
    )
    for path in paths:
        assert tester.get(f"{mine}/{path}").status_code == 200, path
        assert tester.get(f"{theirs}/{path}").status_code == 404, path
    for path in (f"traces/{trace}/capture", f"traces/{trace}/take-back", f"traces/{trace}/stand-in"):
        assert tester.post(f"{theirs}/{path}").status_code == 404, path


def test_a_viewer_reads_the_bench_and_touches_nothing(
    log_in: Callable[[str], FlaskClient], shop: SimpleNamespace
) -> None:
    viewer = log_in("viewer")
    here = f"/applications/{shop.application.id}/measure"
    for path in ("curves", "stacks", "parts", "maps", "porting", f"sessions/{shop.session.id}"):
        page = viewer.get(f"{here}/{path}")
        assert page.status_code == 200, path
        assert "Add a part" not in page.get_data(as_text=True)
    trace = shop.traces["A"].id
    for path in (
        f"traces/{trace}/capture",
        f"traces/{trace}/take-back",
        f"sessions/{shop.session.id}/sheets",
        "maps/1/points",
        "porting/1/bouts",
    ):
        assert viewer.post(f"{here}/{path}").status_code == 403, path


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
