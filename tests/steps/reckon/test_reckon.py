"""Quick reckoner: page, JSON endpoint and command line give the same figures from the same register."""

from __future__ import annotations

import json
from types import SimpleNamespace

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from longbreath.cli.main import main
from longbreath.core.basis.register import Reckoning, all_reckonings
from longbreath.dossier import coverage, library
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read


def example(entry: Reckoning) -> dict[str, str]:
    return {field.name: field.example for field in entry.fields}


@pytest.mark.parametrize("entry", all_reckonings(), ids=lambda entry: entry.name)
def test_page_endpoint_and_command_line_agree(entry: Reckoning, tester: FlaskClient) -> None:
    texts = example(entry)
    answer = tester.get(f"/api/reckon/{entry.name}", query_string=texts).get_json()
    line = CliRunner().invoke(main, ["reckon", entry.name, "--json", *(f"{k}={v}" for k, v in texts.items())])
    assert line.exit_code == 0
    assert json.loads(line.output) == answer
    page = read(tester.get(f"/reckoner/{entry.name}", query_string=texts))
    assert answer["figures"][0]["display"]["us"] in page.select_one(".outcome").get_text(" ")


def test_the_command_line_lists_and_explains() -> None:
    listed = CliRunner().invoke(main, ["reckon", "--list"]).output
    assert all(entry.name in listed for entry in all_reckonings())
    text = (
        CliRunner()
        .invoke(main, ["reckon", "tube_inside", "outside_diameter=2-1/2 in", "wall=0.065in", "--units", "us"])
        .output
    )
    assert "Inside diameter: 2.37 in" in text
    assert "ID = OD − 2·w" in text


def test_the_command_line_refuses_in_words() -> None:
    wrong = CliRunner().invoke(main, ["reckon", "tube_inside", "outside_diameter=2 parsec", "wall=0.065 in"])
    assert wrong.exit_code == 2
    assert "not a unit of a length" in wrong.output
    assert "There is no reckoning “tubes”" in CliRunner().invoke(main, ["reckon", "tubes"]).output
    assert "not of the form field=value" in CliRunner().invoke(main, ["reckon", "tube_inside", "wall"]).output


def test_page_and_endpoint_refuse_beside_the_field(tester: FlaskClient) -> None:
    page = tester.get("/reckoner/tube_inside?outside_diameter=60+mm&wall=40+mm")
    assert page.status_code == 422
    assert "less than half the outside diameter" in errors_of(page)
    assert read(page).select_one("#q-wall")["value"] == "40 mm"
    answer = tester.get("/api/reckon/tube_inside?outside_diameter=60+mm")
    assert answer.status_code == 422
    assert "Wall is missing" in answer.get_json()["errors"]["wall"]
    assert tester.get("/api/reckon/nothing").status_code == 404
    assert tester.get("/reckoner/nothing").status_code == 404


def test_the_register_is_public_as_json(app: object) -> None:
    names = [entry["name"] for entry in app.test_client().get("/api/reckon").get_json()]  # type: ignore[attr-defined]
    assert names == [entry.name for entry in all_reckonings()]


def test_sample_values_are_marked_until_somebody_chooses(tester: FlaskClient, shop: SimpleNamespace) -> None:
    here = f"/applications/{shop.application.id}/reckon"
    page = read(tester.get(here))
    assert "Nobody set a target yet" in page.select_one(".flash").text
    shape = {"power": "160 hp", "speed": "6000", "velocity_least": "200", "velocity_most": "300", "version": ""}
    assert tester.post(f"{here}/target", data=shape).status_code == 302
    assert "Nobody set" not in read(tester.get(here)).text
    assert "Sample values" in read(tester.get("/reckoner/tube_inside")).select_one(".flash").text
    typed = {"outside_diameter": "60 mm", "wall": "2 mm"}
    assert read(tester.get("/reckoner/tube_inside", query_string=typed)).select_one(".flash") is None


def test_a_part_of_the_exhaust_is_not_reckoned_as_an_intake_runner(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    stock, pipe = (
        library.add_product(db, library.ProductCard(name, "tuned pipe", "exhaust", "rev A", is_stock=stock))
        for name, stock in (("stock pipe", True), ("new pipe", False))
    )
    found = coverage.open_application(db, shop.application.vehicle_id, pipe.id, stock.id)
    db.act_as(shop.people["tester"], found.id)
    factories.lay_path(db, found)
    db.commit()
    titles = [h.text for h in read(tester.get(f"/applications/{found.id}/reckon")).select(".question h3")]
    assert "How much air does it want?" in titles
    assert "How long should the primaries be?" in titles
    assert "How long should the runner be?" not in titles
    measure = read(tester.get(f"/applications/{found.id}/measure")).select_one(".spine .step .sum").text
    assert "element" in measure
