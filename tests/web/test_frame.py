"""What the steps share: kept results, assets, addresses of workings, the frame, and query counts."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import event

from longbreath.core.basis.errors import Conflict
from longbreath.web.figures import moment, subscripts, with_args
from longbreath.web.guard import PERMISSIONS, route
from longbreath.web.saving import _check_version
from tests.conftest import read
from tests.steps.tools import base

STEPS = ("measure", "reckon", "plan", "pull", "weigh", "claim")


def test_a_stale_form_is_given_the_newest_version() -> None:
    form, record = SimpleNamespace(version=SimpleNamespace(data="3")), SimpleNamespace(version=4)
    with pytest.raises(Conflict, match="Somebody else saved this page"):
        _check_version(record, form)  # type: ignore[arg-type]
    assert form.version.data == "4"
    _check_version(record, form)  # type: ignore[arg-type]


def test_a_route_with_an_unknown_permission_cannot_be_made() -> None:
    with pytest.raises(ValueError, match="unknown permission"):
        route(None, "/x", lambda: "", "everybody")  # type: ignore[arg-type]
    assert set(PERMISSIONS["view"]) > set(PERMISSIONS["edit"]) > set(PERMISSIONS["approve"]) > set(PERMISSIONS["admin"])


@pytest.mark.parametrize(
    ("symbol", "html"),
    [
        ("V_d", "V<sub>d</sub>"),
        ("Q_n·√(Δp_t/Δp)", "Q<sub>n</sub>·√(Δp<sub>t</sub>/Δp)"),
        ("A", "A"),
        ("<b>_x", "&lt;b&gt;<sub>x</sub>"),
    ],
)
def test_indices_are_set_low_and_nothing_else_gets_through(symbol: str, html: str) -> None:
    assert str(subscripts(symbol)) == html


def test_addresses_keep_their_state(app: Any) -> None:
    with app.test_request_context("/applications/7/weigh?session=1&session=2&working=low"):
        assert with_args(working="top") == "/applications/7/weigh?session=1&session=2&working=top"
        assert with_args(working=None) == "/applications/7/weigh?session=1&session=2"


def test_moments_are_short() -> None:
    from datetime import UTC, datetime

    assert moment(datetime(2026, 5, 4, 9, 5, tzinfo=UTC)) == "4 May 09:05"


@pytest.mark.parametrize("step", STEPS)
def test_every_step_carries_the_frame(step: str, tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(shop)}/{step}"))
    assert [node.text for node in page.select(".spine .word")] == [
        "Measure",
        "Reckon",
        "Plan",
        "Pull",
        "Weigh",
        "Claim",
    ]
    assert page.select_one(".spine [aria-current=step] .word").text.lower() == step
    assert len(page.select(".airline polygon")) == 17
    assert page.select_one("#drawer") is not None
    assert len(page.select("h1")) == 1
    assert page.select_one(".strip .log span") is not None


def test_the_air_line_shows_the_path_with_the_product_fitted(tester: FlaskClient, shop: SimpleNamespace) -> None:
    titles = [node.text for node in read(tester.get(f"{base(shop)}/measure")).select(".airline title")]
    assert any(title.startswith("Gannet runner") for title in titles)
    assert not any(title.startswith("stock runner") for title in titles)


def test_a_page_asks_the_database_a_fixed_number_of_times(
    tester: FlaskClient, shop: SimpleNamespace, connections: Any
) -> None:
    counted: list[str] = []
    event.listen(connections, "before_cursor_execute", lambda *a: counted.append(a[2]))
    tester.get(f"{base(shop)}/measure")
    first = len(counted)
    for lift in ("1 mm", "2 mm", "3 mm", "4 mm"):
        data = {
            "lift": lift,
            "range_id": shop.bench.ranges[1].id,
            "percent": "50",
            "direct_flow": "",
            "pressure": "28 inH2O",
        }
        tester.post(f"{base(shop)}/measure/traces/{shop.traces['A'].id}/desk", data=data)
    counted.clear()
    tester.get(f"{base(shop)}/measure")
    assert len(counted) <= first + 2
    assert len(counted) < 40


def test_files_are_served_under_the_hash_of_their_content(app: Any) -> None:
    page = read(app.test_client().get("/account/login"))
    address = page.select_one("link[rel=stylesheet]")["href"]
    assert "?v=" in address
    assert app.test_client().get(address).status_code == 200


def test_htmx_gets_a_fragment_for_an_error(tester: FlaskClient) -> None:
    answer = tester.get("/applications/99999/measure", headers={"HX-Request": "true"})
    assert answer.status_code == 404
    assert "<html" not in answer.get_data(as_text=True)
    assert read(answer).select_one("[role=alert]") is not None


def test_the_endpoint_answers_errors_as_json(app: Any) -> None:
    assert app.test_client().get("/api/reckon/nothing").get_json()["error"].startswith("There is no reckoning")
    assert app.test_client().post("/api/reckon/tube_inside").get_json()["error"]


@pytest.mark.parametrize("number", ["0", "-1", "²", "٣", "1e3", "9" * 11, "9" * 5000, str(2**31), "1.5", "0x1", " 1"])
def test_a_number_that_no_record_has_leads_nowhere(tester: FlaskClient, number: str) -> None:
    answer = tester.get(f"/applications/{number}/measure")
    assert answer.status_code == 404
    assert "nothing at this address" in answer.text


@pytest.mark.parametrize(
    "query", ["q=%00", "q=%ff%fe", "q=" + "x" * 9000, "page=" + "9" * 5000, "session=²", "family=%00"]
)
def test_a_query_of_nonsense_is_answered_in_words(tester: FlaskClient, shop: SimpleNamespace, query: str) -> None:
    for path in ("/find", "/", "/log", f"{base(shop)}/pull"):
        answer = tester.get(f"{path}?{query}")
        assert answer.status_code in (200, 400), path
        assert answer.status_code == 200 or "cannot be kept" in answer.text or "larger than" in answer.text
