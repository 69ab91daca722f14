"""The path's pages: the weakest element named, trials that touch nothing, elements, readings, to-dos."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.store.models import Element, SizeReading
from tests.conftest import errors_of, read

Pages = tuple[FlaskClient, str]


@pytest.fixture
def at(tester: FlaskClient, shop: SimpleNamespace) -> Pages:
    """The client and the address of the path."""
    return tester, f"/applications/{shop.application.id}/measure/path"


def element(db: Session, name: str) -> Element:
    return db.scalars(select(Element).where(Element.name == name)).one()


TUBE = {
    "kind": "tube",
    "name": "adapter",
    "side": "intake",
    "belongs_to": "both",
    "position": "9",
    "length": "40 mm",
    "branches": "1",
    "shape": "round",
    "given_as": "inside",
    "diameter": "60 mm",
    "tool": "calliper",
    "precision": "0.1 mm",
    "provenance": "measured",
    "wall_surface": "drawn",
    "face_id": "0",
}


def test_the_weakest_element_is_named_with_what_fixing_it_gives(at: Pages) -> None:
    client, base = at
    page = read(client.get(base))
    assert page.select_one("h1").text.startswith("Most is lost in Gannet runner; a rounded mouth would give back")
    assert "more air at most" in page.text
    svg = page.select_one("svg.long-section")
    assert len(svg.select(".block")) == 8
    assert len(svg.select(".ghost-wall")) == 8
    assert [t.text for t in svg.select("text.axis")][2].startswith("Mach number; dashed: 0.3")
    assert "squashed to" in page.select_one(".path-table").text
    assert page.select_one(".trouble title").text.startswith("step against the flow")


def test_the_exhaust_is_hotter_and_counts_back_pressure(at: Pages) -> None:
    client, base = at
    page = read(client.get(f"{base}?side=exhaust"))
    assert "Back pressure at the head" in page.text
    working = read(client.get(f"{base}?side=exhaust&working=B-total"))
    assert "gas at the exhaust port" in working.select_one("#drawer").text


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("5000 rpm", "at 5 000 rpm"),
        ("250 cfm", "at 250 cfm (as at"),
        ("150 kW", "at 201.2 hp (as at"),
        ("100 g/s", "at 13.23 lb/min (as at"),
        ("5000", "at 5 000 rpm"),
    ],
)
def test_a_flow_may_be_asked_as_speed_flow_power_or_mass(at: Pages, text: str, words: str) -> None:
    client, base = at
    page = read(client.get(base, query_string={"at": text}))
    assert words in page.select_one(".conditions").text.replace("\u202f", " ").replace("\u00a0", " ")


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ({"at": "quick"}, "Write an engine speed, a flow or a power"),
        ({"at": "0"}, "more than nought"),
        ({"at": "6000", "filling": "900 %"}, "cannot be more"),
        ({"at": "90000 rpm"}, "choked there"),
        ({"at": "6000", "exhaust_temperature": "hot"}, "hot"),
    ],
)
def test_a_flow_that_cannot_be_is_said_beside_the_field(at: Pages, query: dict[str, str], words: str) -> None:
    client, base = at
    answer = client.get(base, query_string=query)
    assert answer.status_code == 422
    assert words in errors_of(answer)
    assert query["at"] in str(read(answer).select_one("#at"))


def test_a_trial_shows_its_loss_and_touches_nothing(at: Pages, db: Session) -> None:
    client, base = at
    runner = element(db, "Gannet runner")
    page = read(client.get(f"{base}?try-{runner.id}=38+mm"))
    assert "with the trial" in page.select_one(".conditions").text
    assert page.select_one(f"#try-{runner.id}")["value"] == "38 mm"
    assert page.select_one("polyline[stroke-dasharray]")
    db.expire_all()
    assert element(db, "Gannet runner").shape == "rounded_rectangle"


@pytest.mark.parametrize(("text", "words"), [("wide", "wide"), ("3 mm²", "mm²"), ("4 m", "cannot be")])
def test_a_trial_that_cannot_be_is_answered_beside_it(at: Pages, db: Session, text: str, words: str) -> None:
    client, base = at
    key = element(db, "Gannet runner").id
    answer = client.get(base, query_string={f"try-{key}": text})
    assert answer.status_code == 422
    assert words in read(answer).select_one(f"#try-{key}-error").text or words in errors_of(answer)
    assert read(answer).select_one(f"#try-{key}")["value"] == text


def test_a_trial_is_drawn_so_only_for_the_product(at: Pages, db: Session) -> None:
    client, base = at
    runner, stock = element(db, "Gannet runner"), element(db, "stock runner")
    kept = client.post(f"{base}/keep", data={"element": runner.id, "diameter": "44 mm"}, follow_redirects=True)
    assert "nominal until it is measured" in kept.text
    assert "measure inside diameter: nominal so far" in read(client.get(base)).select_one("#drawer").text
    refused = client.post(f"{base}/keep", data={"element": stock.id, "diameter": "44 mm"})
    assert refused.status_code == 422
    assert client.post(f"{base}/keep", data={"element": runner.id, "diameter": "x"}).status_code == 422
    assert client.post(f"{base}/keep", data={"element": 99999, "diameter": "44 mm"}).status_code == 404


BAD = [
    ({"diameter": ""}, "diameter", "missing"),
    ({"given_as": "outside", "diameter": ""}, "outside_diameter", "outside diameter and wall"),
    ({"given_as": "outside", "outside_diameter": "60 mm", "wall": "2 mm"}, "diameter", "not mixed"),
    ({"given_as": "outside", "diameter": "", "outside_diameter": "60 mm", "wall": "30 mm"}, "wall", "less than half"),
    (
        {"shape": "squashed", "outside_diameter": "60 mm", "wall": "2 mm", "minor_outside": "70 mm"},
        "minor_outside",
        "after squashing",
    ),
    ({"shape": "d", "width": "40 mm", "height": "10 mm"}, "height", "half as high"),
    ({"shape": "oval", "width": "40 mm"}, "height", "missing"),
    ({"shape": "outline"}, "face_id", "trace one under Faces"),
    ({"kind": "plenum"}, "volume", "needs its volume"),
    ({"tool": " "}, "tool", "Say what"),
    ({"loss_drop": "1 kPa"}, "loss_flow", "both"),
    ({"loss_flow": "100 L/s"}, "loss_drop", "both"),
    ({"bend_angle": "90", "bend_radius": "20 mm"}, "bend_radius", "tighter than half"),
    ({"bend_radius": "90 mm"}, "bend_angle", "how far"),
    ({"burr": "19 mm", "diameter": "30 mm"}, "burr", "further into the duct"),
    ({"stack_height": "10 mm"}, "volume", "stick into"),
    ({"position": "0"}, "position", "From 1 to 99"),
    ({"branches": "x"}, "branches", "not a whole number"),
    ({"name": ""}, "name", "missing"),
    ({"length": "12 parsec"}, "length", "parsec"),
]


@pytest.mark.parametrize(("change", "field", "words"), BAD, ids=[f"{f}-{i}" for i, (_, f, _) in enumerate(BAD)])
def test_an_element_that_cannot_be_is_refused_beside_its_field(
    at: Pages, change: dict[str, str], field: str, words: str
) -> None:
    client, base = at
    answer = client.post(f"{base}/elements/new", data={**TUBE, **change})
    assert answer.status_code == 422
    page = read(answer)
    assert words in page.select_one(f"#{field}-error").text
    assert page.select_one("#name")["value"] == {**TUBE, **change}["name"]  # nothing typed is lost


GOOD = [
    {"given_as": "outside", "diameter": "", "outside_diameter": "2-1/2 in", "wall": "0.065 in"},
    {"shape": "oval", "width": "60 mm", "height": "44 mm"},
    {"shape": "squashed", "outside_diameter": "63.5 mm", "wall": "1.6 mm", "minor_outside": "45 mm"},
    {"shape": "d", "width": "34 mm", "height": "40 mm"},
    {"kind": "bend", "bend_angle": "90", "bend_radius": "90 mm"},
    {"kind": "plenum", "volume": "3 L", "stack_height": "10 mm", "stack_outside": "45 mm"},
    {"provenance": "nominal", "tool": ""},
    {"nominal_sizes": ["diameter", "wall"]},
    {"burr": "0.5 mm", "proud": "0.4 mm", "mouth_radius": "6 mm"},
    {"kind": "catalyst", "side": "exhaust", "loss_drop": "1 kPa", "loss_flow": "100 L/s"},
]


@pytest.mark.parametrize("change", GOOD, ids=range(len(GOOD)))
def test_elements_of_every_kind_are_drawn_and_counted(at: Pages, db: Session, change: dict[str, Any]) -> None:
    client, base = at
    answer = client.post(f"{base}/elements/new", data={**TUBE, **change})
    assert answer.status_code == 302
    found = element(db, "adapter")
    side = change.get("side", "intake")
    page = read(client.get(f"{base}?side={side}"))
    assert page.select_one(f"#element-{found.id}")
    assert page.select_one(f".block[data-key='{found.id}']")
    assert client.get(f"{base}/elements/{found.id}").status_code == 200


def test_readings_are_recorded_with_mean_and_ovality(at: Pages, db: Session) -> None:
    client, base = at
    key = element(db, "throttle body").id
    form = {
        "size": "diameter",
        "tool": "bore gauge",
        "precision": "0.02 mm",
        "readings": "62.1 mm at 0°\n62.0 mm @ 60°\n62.2 mm",
    }
    assert client.post(f"{base}/elements/{key}/readings/add", data=form).status_code == 302
    page = read(client.get(f"{base}/elements/{key}/readings"))
    assert "Ovality" in page.text
    assert [r.place for r in db.scalars(select(SizeReading).order_by(SizeReading.id))] == ["0°", "60°", ""]
    for change, field in (
        ({"readings": "62 mm\nsixty"}, "readings"),
        ({"readings": "90 m"}, "readings"),
        ({"tool": ""}, "tool"),
        ({"size": "wall"}, "size"),
    ):
        answer = client.post(f"{base}/elements/{key}/readings/add", data={**form, **change})
        assert answer.status_code == 422
        assert read(answer).select_one(f"#{field}-error")
    assert "Line 2" in errors_of(
        client.post(f"{base}/elements/{key}/readings/add", data={**form, "readings": "62 mm\nsixty"})
    )


def test_taking_an_element_out_wants_a_reason(at: Pages, db: Session) -> None:
    client, base = at
    found = element(db, "tube under the latch")
    address = f"{base}/elements/{found.id}/out"
    version = read(client.get(address)).select_one("[name=version]")["value"]
    assert client.post(address, data={"out_reason": "", "version": version}).status_code == 422
    assert client.post(address, data={"out_reason": "other car", "version": "0"}).status_code == 409
    assert client.post(address, data={"out_reason": "other car", "version": version}).status_code == 302
    page = read(client.get(base))
    assert "tube under the latch" not in page.select_one(".path-table").text
    assert "tube under the latch (intake): other car" in page.select_one("#drawer").text
    assert client.post(f"{base}/elements/{found.id}/back").status_code == 302
    assert "tube under the latch" in read(client.get(base)).select_one(".path-table").text


def test_a_viewer_sees_the_path_and_changes_nothing(log_in: Any, shop: SimpleNamespace) -> None:
    client = log_in("viewer")
    base = f"/applications/{shop.application.id}/measure/path"
    page = read(client.get(base))
    assert page.select_one("svg.long-section")
    assert "Measure an element" not in page.text
    assert client.get(f"{base}/elements/new").status_code == 403
    assert client.post(f"{base}/keep").status_code == 403
