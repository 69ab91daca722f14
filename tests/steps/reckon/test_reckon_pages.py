"""Pages of Reckon: what-if in the address, targets, candidates, predictions; who may do what; nothing typed is lost."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.dossier.reckon.questions import BY_KEY
from longbreath.store.models import CandidatePart, KeptAnswer, Prediction, Product, Target
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read, send
from tests.made import dyno_day

TARGET = {
    "power": "160 hp",
    "speed": "6000",
    "velocity_least": "50 m/s",
    "velocity_most": "80 m/s",
    "height": "235 mm",
    "why": "pull from 3,800",
}
BANDS = {f"band{n}_{part}": text for n in range(3) for part, text in (("low", "-1"), ("middle", "1"), ("high", "3"))}
SAID = {**BANDS, "expects": "a little more"}


def base(shop: SimpleNamespace) -> str:
    return f"/applications/{shop.application.id}/reckon"


def fill_in(client: FlaskClient, address: str, data: dict[str, str]) -> Any:
    """Send a form with everything that stands in it, as a browser does, and with what is typed over it."""
    form = read(client.get(address)).select_one("main form")
    sent = {f["name"]: f.get("value", "") for f in form.select("input[name]")}
    for offered in form.select("select[name]"):
        chosen = offered.select_one("option[selected]") or offered.select_one("option")
        sent[offered["name"]] = chosen["value"]
    return client.post(address, data={**sent, **data})


@pytest.mark.parametrize("system", ["us", "metric"])
def test_every_question_has_a_page_in_both_systems(system: str, tester: FlaskClient, shop: SimpleNamespace) -> None:
    tester.post(f"/account/units/{system}")
    for key, question in BY_KEY.items():
        answer = tester.get(f"{base(shop)}/ask/{key}")
        assert answer.status_code == 200, key
        page = read(answer)
        assert page.select_one("h1").text == question.words
        assert len(page.select(".what-if-form input:not([type=hidden])")) > 0
        assert all(label.get("for") for label in page.select(".what-if-form label"))


def test_no_such_question(tester: FlaskClient, shop: SimpleNamespace) -> None:
    assert tester.get(f"{base(shop)}/ask/weather").status_code == 404
    assert tester.get(f"{base(shop)}/predictions/boost/draw").status_code == 404


def test_an_address_made_in_other_units_means_the_same(tester: FlaskClient, shop: SimpleNamespace) -> None:
    here = f"{base(shop)}/ask/size"
    us = read(tester.get(here, query_string={"velocity": "262.467", "units": "us"})).select_one("#answer .num").text
    asked = {"velocity": "80", "units": "metric"}
    same = read(tester.get(here, query_string=asked))
    assert same.select_one("#answer .num").text == us
    assert same.select_one("#q-velocity")["value"] in ("262.4672", "80 m/s")


def test_a_section_is_chosen_in_the_address(tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(shop)}/ask/section"))
    chosen = next(o for o in page.select("#q-section option") if "throttle" in o.text)
    other = read(tester.get(f"{base(shop)}/ask/section", query_string={"section": chosen["value"]}))
    assert other.select_one("#q-section option[selected]").text == chosen.text
    assert "throttle body" in other.select_one("#u-area").text


def test_an_answer_is_kept_by_those_who_may(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    here = f"{base(shop)}/ask/air/keep?filling=110+%25"
    assert log_in("viewer").post(here, data={"note": "x"}).status_code == 403
    assert "Keep this answer" not in read(log_in("viewer").get(f"{base(shop)}/ask/air")).text
    assert log_in("tester").post(here, data={"note": "with the new cams"}).status_code == 302
    kept = db.scalars(select(KeptAnswer)).one()
    assert (kept.note, kept.inputs["filling"]["value"]) == ("with the new cams", pytest.approx(1.1))
    assert "with the new cams" in read(log_in("tester").get(f"{base(shop)}/ask/air")).select_one("#drawer").text
    refused = log_in("tester").post(f"{base(shop)}/ask/quotes/keep", data={"note": "n"})
    assert refused.status_code == 422
    assert "missing" in read(refused).select_one("#answer").text


def test_a_target_is_set_once_for_two_people(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    tester = log_in("tester")
    assert log_in("viewer").get(f"{base(shop)}/target").status_code == 403
    wrong = send(tester, f"{base(shop)}/target", {**TARGET, "velocity_most": "40 m/s"})
    assert wrong.status_code == 422
    assert "more than the least" in errors_of(wrong)
    assert read(wrong).select_one("#why")["value"] == "pull from 3,800"
    assert send(tester, f"{base(shop)}/target", TARGET).status_code == 302
    assert db.scalars(select(Target)).one().limits["height"] == pytest.approx(0.235)
    late = tester.post(f"{base(shop)}/target", data={**TARGET, "version": "7"})
    assert late.status_code == 409
    assert "chosen" in read(tester.get(f"{base(shop)}/ask/size")).select_one("#u-power").text


WANTED = {
    "revision_id": "0",
    "name": "Dunlin tall manifold",
    "position": "3",
    "value_section_width": "44 mm",
    "rests_section_width": "supplier",
    "value_section_height": "34 mm",
    "rests_section_height": "supplier",
    "value_length": "210 mm",
    "rests_length": "estimated",
    "value_height": "247 mm",
    "rests_height": "supplier",
    "where_height": "catalogue",
    "value_noted": "polished",
    "rests_noted": "memory",
}


def test_a_wanted_part_is_weighed_up_beside_what_was_measured(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    send(tester, f"{base(shop)}/target", TARGET)
    new = f"{base(shop)}/candidates/new?family=manifold"
    bare = fill_in(tester, new, {**WANTED, "rests_height": ""})
    assert bare.status_code == 422
    assert "Say what this rests on" in errors_of(bare)
    assert read(bare).select_one("#value_height")["value"] == "247 mm"
    assert fill_in(tester, new, {**WANTED, "name": "", "revision_id": "0"}).status_code == 422
    assert fill_in(tester, new, WANTED).status_code == 302
    assert "a candidate here already" in errors_of(fill_in(tester, new, WANTED))
    own = {
        "revision_id": str(shop.application.revision_id),
        "position": "1",
        "value_height": "228 mm",
        "rests_height": "measured",
    }
    assert fill_in(tester, new, own).status_code == 302
    page = read(tester.get(f"{base(shop)}/candidates"))
    rows, after = page.select("tr[class^=of-]"), page.select("tr[class^=of-] + tr")
    verdicts = {row.select_one("th").text.strip(): said.text for row, said in zip(rows, after, strict=True)}
    assert "go It holds" in verdicts[shop.application.revision.title]
    assert "0.4724 in too high" in verdicts["Dunlin tall manifold"].replace("\u00a0", " ")
    measured = next(r for r in page.select("tr.of-go"))
    assert "14.61" in measured.text
    assert page.select_one("tr.of-no-go sup").text == "s"
    part = db.scalars(select(CandidatePart).where(CandidatePart.revision_id.is_(None))).one()
    edit = f"{base(shop)}/candidates/{part.id}"
    assert read(tester.get(edit)).select_one("#where_height")["value"] == "catalogue"
    assert fill_in(tester, edit, {**WANTED, "value_height": "230 mm"}).status_code == 302
    assert not read(tester.get(f"{base(shop)}/candidates")).select("tr.of-no-go")
    assert send(tester, f"{edit}/out", {"reason": " "}).status_code == 422
    assert send(tester, f"{edit}/out", {"reason": "sold"}).status_code == 302
    assert "Dunlin" not in read(tester.get(f"{base(shop)}/candidates")).select_one("table").text
    db.expire_all()
    assert part.out_reason == "sold"


def test_only_those_who_edit_may_change_candidates(log_in: Callable[[str], FlaskClient], shop: SimpleNamespace) -> None:
    viewer = log_in("viewer")
    assert viewer.get(f"{base(shop)}/candidates").status_code == 200
    assert "Add a candidate" not in read(viewer.get(f"{base(shop)}/candidates")).text
    for address in ("candidates/new", "predictions/torque/draw", "predictions/school"):
        assert viewer.get(f"{base(shop)}/{address}").status_code == 403
    assert log_in("tester").get(f"{base(shop)}/candidates/999").status_code == 404


def test_the_same_table_serves_every_family(tester: FlaskClient, shop: SimpleNamespace) -> None:
    for family in ("throttle body", "carburettor", "turbocharger", "porting step", "disc or crank", "other"):
        new = f"{base(shop)}/candidates/new?family={family}"
        assert fill_in(tester, new, {"revision_id": "0", "name": f"a {family}", "position": "1"}).status_code == 302
    page = read(tester.get(f"{base(shop)}/candidates"))
    assert len(page.select("table.candidates")) == 6
    assert {m.text for m in page.select(".verdict-row .mark")} == {"open"}


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"band0_low": "2"}, "between the least and the most"),
        ({"band1_low": "1", "band1_middle": "1", "band1_high": "1"}, "without a band is a promise"),
        ({"band2_high": ""}, "This is missing"),
        ({"band2_high": "a lot"}, "begin with a number"),
        ({"expects": ""}, "Say what you expect"),
    ],
)
def test_a_forecast_that_is_none_is_refused_beside_its_value(
    changed: dict[str, str], words: str, tester: FlaskClient, shop: SimpleNamespace
) -> None:
    answer = send(tester, f"{base(shop)}/predictions/torque/draw", {**SAID, **changed})
    assert answer.status_code == 422
    assert words in errors_of(answer)
    assert read(answer).select_one("#band0_high")["value"] == "3"


def test_predictions_are_drawn_said_anew_and_scored(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    draw = f"{base(shop)}/predictions/torque/draw"
    assert send(tester, draw, SAID).status_code == 302
    first = db.scalars(select(Prediction)).one()
    page = read(tester.get(f"{draw}?instead_of={first.id}"))
    assert page.select_one("#band1_high")["value"] == "3"
    assert "takes the place" in page.select_one(".flash.is-caution").text
    assert (
        send(
            tester, f"{draw}?instead_of={first.id}", {**SAID, "band1_high": "5", "instead_of": str(first.id)}
        ).status_code
        == 302
    )
    peak = {"band0_low": "-900", "band0_middle": "-200", "band0_high": "100", "expects": "lower"}
    assert send(tester, f"{base(shop)}/predictions/peak_speed/draw", peak).status_code == 302
    factories.capture(db, shop.traces["B"], 150.0)
    db.commit()
    air = {**SAID, "top_lift": "10 mm"}
    assert send(tester, f"{base(shop)}/predictions/airflow/draw", air).status_code == 302
    school = {"school": "Helmholtz", "expects": "as it says"}
    assert send(tester, f"{base(shop)}/predictions/school", school).status_code == 302
    assert send(tester, f"{base(shop)}/predictions/school", {"school": "astrology", "expects": "x"}).status_code == 422
    listed = read(tester.get(f"{base(shop)}/predictions"))
    assert len(listed.select(".prediction svg")) == 4
    assert "made after the test" in listed.text
    db.act_as(shop.people["tester"], shop.application.id)
    factories.add_builds(db, shop.application)
    dyno_day.pulled(db, shop.application, shop.card)
    db.commit()
    scored = read(tester.get(f"{base(shop)}/predictions"))
    assert {m.text for m in scored.select(".prediction .mark")} <= {"hit", "miss", "cannot tell"}
    assert len(scored.select(".prediction .mark")) == 7
    assert "Three different numbers" in scored.text
    weigh = read(tester.get(f"/applications/{shop.application.id}/weigh"))
    assert len(weigh.select("#drawer .mark")) == 7
    board = read(tester.get("/predictions"))
    assert "too few to judge" in board.text
    assert "Helmholtz" in board.text
    working = scored.select_one(".prediction td .fig")["href"]
    assert "chance that the truth" in read(tester.get(working)).select_one("#drawer").text


def test_pages_over_all_applications_begin_empty(tester: FlaskClient) -> None:
    assert "No prediction has been scored yet" in read(tester.get("/predictions")).text
    assert "No timing was read yet" in read(tester.get("/timings")).text
    assert "of this kind and use" in read(tester.get("/timings?kind=disc")).text


def test_sections_and_bores_have_their_pages(tester: FlaskClient, shop: SimpleNamespace) -> None:
    for address, words in (
        ("sections", "Gannet runner"),
        ("sections?side=exhaust", "primaries"),
        ("bores", "Gannet runner"),
    ):
        page = read(tester.get(f"{base(shop)}/{address}"))
        assert words in page.select_one("table").text
    assert "peaks choke" in read(tester.get(f"{base(shop)}/sections")).select_one("main svg").text


def test_a_price_has_a_day_and_reaches_the_candidates(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    product = db.get_one(Product, shop.application.product.id)
    here = f"/library/products/{product.id}/price"
    wrong = send(tester, here, {"price": "590", "shelf": "shelf"})
    assert wrong.status_code == 422
    assert "A price has a day" in errors_of(wrong)
    assert send(tester, here, {"price": "590", "price_on": "2026-04-28", "shelf": "shelf"}).status_code == 302
    own = {"revision_id": str(shop.application.revision_id), "position": "1"}
    fill_in(tester, f"{base(shop)}/candidates/new?family=manifold", own)
    row = read(tester.get(f"{base(shop)}/candidates")).select_one("table.candidates tbody tr").text
    assert "590" in row
    assert "on the shelf" in row
    assert "590" in read(tester.get("/library")).text
