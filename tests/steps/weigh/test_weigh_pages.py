"""Pages of Weigh beyond the verdict, and of trials under Measure."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.store.models import DifferenceReason, KitSheet, Trial, UseWeights
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read, send
from tests.steps.tools import base


@pytest.fixture
def pulled(day_of_other_fuel: SimpleNamespace) -> SimpleNamespace:
    return day_of_other_fuel


def test_the_verdict_says_what_its_interval_counts_and_on_which_pull_it_depends(
    tester: FlaskClient, pulled: SimpleNamespace
) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh"))
    told = page.select_one(".remarks").text
    assert "The interval counts scatter from pull to pull" in told
    assert "It does not count" in told
    assert "without pull" in told
    assert "this is the result of a" in page.select_one(".differing").text
    assert page.select_one("[data-chart]")["data-chart"].endswith("chart.json?session=" + _session(page))


def _session(page: Any) -> str:
    return str(page.select_one('input[name="session"]')["value"]) if page.select_one('input[name="session"]') else ""


def test_single_pulls_are_switched_off_in_the_picture_alone(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    address = f"{base(pulled)}/weigh/chart.json"
    whole, less = tester.get(address).get_json(), tester.get(f"{address}?off=1&off=2").get_json()
    drawn = {row["pull"] for row in less["datasets"]["repeats"]}
    assert {row["pull"] for row in whole["datasets"]["repeats"]} - drawn == {1, 2}
    assert less["datasets"]["difference"] == whole["datasets"]["difference"]


def test_the_picture_is_taken_away_with_its_conditions(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    svg = tester.get(f"{base(pulled)}/weigh/picture.svg")
    assert "valid pulls of A" in svg.text
    assert "does not start at nought" in svg.text
    assert "Result of a package" in svg.text
    assert tester.get(f"{base(pulled)}/weigh/picture.png").data.startswith(b"\x89PNG")
    assert tester.get(f"{base(pulled)}/weigh/picture.gif").status_code == 404


def test_numbers_as_a_page_and_as_a_file(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh/table"))
    assert len(page.select("table.numbers tbody tr")) > 40
    data = tester.get(f"{base(pulled)}/weigh/table?csv=1")
    assert data.mimetype == "text/csv"
    assert data.text.startswith("rpm,")


def ledger(**more: str) -> dict[str, str]:
    return {
        "reason_fuel": "the tank ran dry",
        "kind_fuel": "bounded",
        "low_fuel": "-0.3",
        "high_fuel": "0.3",
        "test_fuel": "",
        **more,
    }


def test_the_ledger_is_written_and_the_net_drawn(tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace) -> None:
    address = f"{base(pulled)}/weigh/differences"
    assert "Not known yet: fuel and batch" in read(tester.get(address)).text
    assert send(tester, address, ledger()).status_code == 302
    page = read(tester.get(address))
    assert "Every line is known" in page.text
    assert len(page.select("svg.waterfall")) == 3
    row = db.scalars(select(DifferenceReason)).one()
    assert (row.kind, row.low, row.high) == ("bounded", pytest.approx(-0.003), pytest.approx(0.003))
    overview = read(tester.get(f"{base(pulled)}/weigh"))
    assert "net middle" in " ".join(overview.select_one(".differing").text.split())
    assert "figure" not in errors_of(tester.get(f"{base(pulled)}/weigh?working=net-middle"))


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"low_fuel": ""}, "a least and a most"),
        ({"low_fuel": "1", "high_fuel": "-1"}, "ends before it begins"),
        ({"low_fuel": "-90"}, "cannot be less than"),
        ({"low_fuel": "0.2"}, "leaves nought out"),
        ({"kind_fuel": "measured"}, "Choose the test"),
        ({"kind_fuel": "sworn"}, "Choose what is known"),
        ({"reason_fuel": ""}, "Say in words why"),
        ({"kind_fuel": "measured", "test_fuel": "7/A"}, "Choose the test"),
    ],
)
def test_a_line_that_is_wrong_is_answered_beside_its_field(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace, more: dict[str, str], words: str
) -> None:
    answer = send(tester, f"{base(pulled)}/weigh/differences", ledger(**more))
    assert answer.status_code == 422
    assert words in errors_of(answer)
    assert db.scalars(select(DifferenceReason)).first() is None


def test_several_are_ranked_and_the_weights_declared(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh/several"))
    assert page.select_one("svg.ranking") is not None
    assert "first in" in page.text
    address = f"{base(pulled)}/weigh/several/weights"
    weights = {"weight_low": "10", "weight_middle": "80", "weight_top": "10", "reason": "", "gears": "", "shift": ""}
    assert "Say why" in errors_of(send(tester, address, weights))
    assert send(tester, address, {**weights, "reason": "commuting"}).status_code == 302
    assert db.scalars(select(UseWeights)).one().shares["middle"] == pytest.approx(0.8)
    assert "commuting" in read(tester.get(f"{base(pulled)}/weigh/several")).text
    assert "smaller than the one before" in errors_of(send(tester, address, {**weights, "gears": "1.0 2.0"}))
    assert "as numbers" in errors_of(send(tester, address, {**weights, "gears": "first, second"}))
    assert send(tester, address, {**weights, "gears": "3.2 1.9 1.3 1.0", "shift": "6800 rpm"}).status_code == 302
    assert "gears 3.2 / 1.9" in read(tester.get(f"{base(pulled)}/weigh/several")).text
    curves = tester.get(f"{base(pulled)}/weigh/several/chart.json").get_json()
    assert {row["label"] for row in curves["datasets"]["curves"]} == {"A", "B"}


KIT = {
    "price": "590",
    "vendor": "",
    "priced_on": "2026-05-20",
    "in_box": "gasket set\nspacer",
    "added": "throttle gasket = 12.50\nsealant",
    "fit_minutes": "90",
    "service_minutes": "",
    "available": "on the shelf",
    "years": "2013 to 2018",
    **{f"limit_{name}": "" for name in ("displacement", "boost", "revs", "cams", "course")},
}


def test_a_kit_is_written_down_and_laid_beside_stock(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    address = f"{base(pulled)}/weigh/kits/edit"
    assert "After “=” stands a price" in errors_of(send(tester, address, {**KIT, "added": "gasket = dear"}))
    assert "A price has a day" in errors_of(send(tester, address, {**KIT, "priced_on": ""}))
    assert send(tester, address, KIT).status_code == 302
    page = read(tester.get(f"{base(pulled)}/weigh/kits"))
    assert "the price of sealant not known" in page.text
    assert send(tester, address, {**KIT, "added": "throttle gasket = 12.50\nsealant = 8"}).status_code == 302
    page = read(tester.get(f"{base(pulled)}/weigh/kits?hourly=60"))
    assert page.select_one("table.kits tbody tr").text.count("best value") == 1
    assert "700.5" in page.select_one("table.kits").text.replace("\u202f", "").replace(" ", "")
    again = read(tester.get(address))
    assert "sealant = 8" in again.select_one("#added").text
    assert db.scalars(select(KitSheet).order_by(KitSheet.number.desc())).first().number == 2


def test_two_people_write_one_kit(log_in: Callable[[str], FlaskClient], pulled: SimpleNamespace) -> None:
    address = f"{base(pulled)}/weigh/kits/edit"
    one, other = log_in("tester"), log_in("admin")
    shown = read(other.get(address)).select_one('input[name="version"]')["value"]
    assert send(one, address, KIT).status_code == 302
    late = other.post(address, data={**KIT, "price": "1", "version": shown, "units": "us"})
    assert late.status_code == 409


TRIAL = {
    "origin": "own",
    "title": "Scale",
    "held_on": "2026-05-20",
    "tool": "bench scale",
    "step": "10 g",
    "condition_with": "nuts",
    "rows": "A, 6.42 kg\nA, 6.41 kg\nB, 5.18 kg\nB, 5.19 kg",
    "why": "",
}


def test_a_trial_is_recorded_shown_corrected_and_weighed(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    here = f"{base(pulled)}/measure/trials"
    assert "No trial is kept yet" in read(tester.get(here)).text
    assert tester.get(f"{here}/new/magic").status_code == 404
    wrong = send(tester, f"{here}/new/mass", {**TRIAL, "rows": "A, heavy"})
    assert wrong.status_code == 422
    assert "Line 1, mass" in errors_of(wrong)
    assert "A, heavy" in read(wrong).select_one("#rows").text
    assert send(tester, f"{here}/new/mass", TRIAL).status_code == 302
    trial = db.scalars(select(Trial)).one()
    assert "14.15" in read(tester.get(f"{here}/{trial.id}")).select_one("tbody").text
    shown = read(tester.get(f"{base(pulled)}/weigh/trials"))
    assert "lighter" in shown.text
    assert "Say why" in errors_of(send(tester, f"{here}/{trial.id}/correct", TRIAL))
    assert send(tester, f"{here}/{trial.id}/correct", {**TRIAL, "why": "scale was not level"}).status_code == 302
    assert "A correction took the place" in read(tester.get(f"{here}/{trial.id}")).text
    assert len(read(tester.get(here)).select("tbody tr")) == 1


def test_what_a_fuel_trial_is_worth_is_asked_in_the_address(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    rows = "\n".join(
        f"van {n}, {'part' if n < 3 else 'control'}, {when}, 1000 km, {90 + n - 6 * (k == 1) * (n < 3) + 0.2 * n * k} L"
        for n in range(6)
        for k, when in enumerate(("before", "after"))
    )
    fuel = {
        "title": "Six vans",
        "held_on": "2026-05-20",
        "tool": "receipts",
        "step": "",
        "rows": rows,
        "why": "",
        "origin": "own",
    }
    fuel |= {f"condition_{name}": "" for name in ("fuel", "load", "season")}
    assert send(tester, f"{base(pulled)}/measure/trials/new/fuel", fuel).status_code == 302
    page = read(tester.get(f"{base(pulled)}/weigh/trials?distance=20000+km&price=1.70"))
    assert "A saving is proven" in page.text
    assert "money saved a year" in page.text
    assert tester.get(f"{base(pulled)}/weigh/trials?distance=far").status_code == 422


def test_viewers_see_everything_and_write_nothing(
    log_in: Callable[[str], FlaskClient], pulled: SimpleNamespace
) -> None:
    viewer = log_in("viewer")
    for page in ("weigh", "weigh/several", "weigh/kits", "weigh/trials", "weigh/table", "measure/trials"):
        assert viewer.get(f"{base(pulled)}/{page}").status_code == 200
    for page in ("weigh/differences", "weigh/several/weights", "weigh/kits/edit", "measure/trials/new/mass"):
        assert viewer.get(f"{base(pulled)}/{page}").status_code == 403


def test_an_engine_that_nothing_fills_has_no_boost_to_compare(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh/boost"))
    assert "There is no comparison at equal boost" in page.text
    assert "No manifold pressure was logged" in page.text
    assert tester.get(f"{base(pulled)}/weigh/boost/chart.json").status_code == 409
    assert "Boost" not in [a.text for a in read(tester.get(f"{base(pulled)}/weigh")).select(".ways a")]


def test_a_stack_is_asked_in_the_address(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh/stack"))
    values = [o["value"] for o in page.select("#first option") if o["value"]]
    assert len(values) == 2
    forth, back = values
    found = read(tester.get(f"{base(pulled)}/weigh/stack?first={forth}&second={back}&whole={forth}"))
    assert "they do not" in found.text
    assert tester.get(f"{base(pulled)}/weigh/stack?first=1/A/Z&second={back}&whole={forth}").status_code == 422


def test_airflow_stands_beside_the_trials(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh/trials"))
    assert "it is no power" in page.text or "There is no trial" in page.text


def test_nothing_pulled_yet_is_said_on_every_page(tester: FlaskClient, shop: SimpleNamespace) -> None:
    for page in ("weigh", "weigh/several", "weigh/kits"):
        answer = tester.get(f"{base(shop)}/{page}")
        assert answer.status_code == 200
        assert "There are no pulls to weigh yet." in read(answer).text
