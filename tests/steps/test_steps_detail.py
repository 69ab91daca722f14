"""Details of Measure, Reckon, Plan and Pull that a user relies on."""

from __future__ import annotations

from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.core.basis.constants import RPM
from longbreath.dossier import coverage
from longbreath.dossier.records.sessions import channels_of, dyno_sessions
from longbreath.store.models import Element, SourceMapping
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read
from tests.steps.tools import base, capture, good, open_session, record, upload


def test_a_over_b_per_lift_with_difference_and_velocity(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    capture(tester, shop, "A", "2 mm", "40")
    capture(tester, shop, "B", "2 mm", "44")
    runner = db.scalars(select(Element).where(Element.name == "Gannet runner")).one()
    tester.post(f"{base(shop)}/measure/traces/{shop.traces['B'].id}/section", data={"section_id": runner.id})
    page = read(tester.get(f"{base(shop)}/measure?working=difference-0"))
    cells = [cell.get_text("", strip=True) for cell in page.select(".ladder tbody td")]
    assert cells[0] == "0.079"
    assert cells[3].startswith("+14.4")  # 4 % of 360 cfm
    assert cells[5] != ""
    assert "not multiplied by the number of cylinders" in page.select_one("#drawer").text


def test_a_direct_flow_needs_no_range(tester: FlaskClient, shop: SimpleNamespace) -> None:
    capture(tester, shop, "A", "3 mm", "", direct_flow="120 cfm")
    page = read(tester.get(f"{base(shop)}/measure/traces/{shop.traces['A'].id}/desk"))
    assert "118.80" in page.select_one(".ladder tbody").text


def test_the_desk_offers_the_next_lift_of_the_other_trace(tester: FlaskClient, shop: SimpleNamespace) -> None:
    capture(tester, shop, "A", "2 mm", "40")
    capture(tester, shop, "A", "5 mm", "60")
    page = read(tester.get(f"{base(shop)}/measure/traces/{shop.traces['B'].id}/desk"))
    assert page.select_one("#by-hand #lift")["value"] == "2 mm"
    capture(tester, shop, "B", "2 mm", "41")
    page = read(tester.get(f"{base(shop)}/measure/traces/{shop.traces['B'].id}/desk"))
    assert page.select_one("#by-hand #lift")["value"] == "5 mm"


def test_nominal_elements_carry_that_mark(tester: FlaskClient, shop: SimpleNamespace) -> None:
    tip = next(
        row
        for row in read(tester.get(f"{base(shop)}/measure/path?side=exhaust")).select(".path-table tbody tr")
        if "tip" in row.text
    )
    assert "nominal" in tip.text


def test_assumptions_live_in_the_address_and_change_the_answer(tester: FlaskClient, shop: SimpleNamespace) -> None:
    address = f"{base(shop)}/reckon/ask/air"
    page = read(tester.get(address))
    form = {f["name"]: f.get("value", "") for f in page.select(".what-if-form input[name]")}
    same = read(tester.get(address, query_string=form))
    more = read(tester.get(address, query_string={**form, "filling": "110 %"}))
    before, unchanged, after = (float(p.select_one("#answer .num").text) for p in (page, same, more))
    assert unchanged == before
    assert after / before == pytest.approx(110 / 95, rel=0.01)
    assert "what if, in place of 95 (estimated)" in more.select_one("#u-filling").text
    wrong = tester.get(address, query_string={**form, "filling": "full"})
    assert wrong.status_code == 422
    assert read(wrong).select_one("#q-filling")["value"] == "full"
    assert "does not begin with a number" in read(wrong).select_one("#u-filling").text


def test_both_schools_of_length_are_shown_with_the_measured_runner(tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(shop)}/reckon/ask/length?working=helmholtz"))
    assert [h.text for h in page.select(".school-answer h2")] == [
        "Runner length, reflected wave",
        "Runner length, Helmholtz",
    ]
    words = page.select_one("#answer").text
    assert "The records have 18.23 in" in words.replace("\u00a0", " ")
    assert "The schools lie a factor" in words
    assert "Helmholtz resonance" in page.select_one("#drawer").text


def test_the_card_says_what_it_can_prove(tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(shop)}/plan?pulls=4&working=provable-4"))
    assert "4 pulls a set, 12 in all" in page.select_one(".statement").get_text(" ", strip=True)
    assert "80 %" in page.select_one("#drawer").text.replace(" ", " ").replace(" %", " %")
    assert "Extinguisher at hand" in page.select_one(".caution").text
    assert "local codes" in page.select_one(".caution").text.lower()


def test_a_mapping_is_remembered_for_its_source(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", good(1)))
    here = f"{base(shop)}/pull/sessions/{session}/mapping"
    assert "remembered" not in read(tester.get(here)).select_one(".source-block h2").text
    record(tester, shop, session)
    assert len(db.scalars(select(SourceMapping)).all()) == 1
    upload(tester, shop, session, ("2.csv", good(2)))
    assert "remembered from before" in read(tester.get(here)).select_one(".source-block h2").text


def test_trying_a_mapping_records_nothing(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", good(1)))
    wrong = {
        "g0-speed-header": "Engine Speed",
        "g0-speed-unit": "rpm",
        "g0-torque-header": "Torque",
        "g0-torque-unit": "N·m",
        "g0-power-header": "Power",
        "g0-power-unit": "hp",
        "preview": "1",
    }
    answer = tester.post(f"{base(shop)}/pull/sessions/{session}/mapping", data=wrong)
    assert answer.status_code == 200
    assert "will not count" in read(answer).text
    assert "Check the units of both columns" in read(answer).text
    assert dyno_sessions(db, shop.application.id)[0].pulls == []


def test_a_file_left_out_waits(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", good(1)), ("2.csv", good(2)))
    second = dyno_sessions(db, shop.application.id)[0].files[1].id
    record(tester, shop, session, **{f"f{second}-label": "leave"})
    assert "1 file waits" in read(tester.get(f"{base(shop)}/pull")).text


def test_tokens_tell_what_is_owed(tester: FlaskClient, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, *((f"{n}.csv", good(n)) for n in (1, 2, 3)))
    record(tester, shop, session)
    page = read(tester.get(f"{base(shop)}/pull"))
    assert page.select_one("h1").text == "Still owed: 3 of A, 3 of B."
    assert len(page.select(".tokens .is-counts")) == 3
    assert len(page.select(".tokens .is-owed")) == 6


def test_figures_already_corrected_are_not_multiplied_again(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop, already_corrected="y")
    upload(tester, shop, session, ("1.csv", good(1)))
    record(tester, shop, session)
    rows = next(iter(tester.get(f"{base(shop)}/pull/sessions/{session}/chart.json").get_json()["datasets"].values()))
    pull = dyno_sessions(db, shop.application.id)[0].pulls[0]
    by_name = channels_of(db, [pull])[pull.id]
    near = min(range(len(by_name["speed"])), key=lambda i: abs(by_name["speed"][i] - 4000 * RPM))
    drawn = next(row["torque"] for row in rows if row["rpm"] == 4000)
    assert drawn * 1.3558179 == pytest.approx(by_name["torque"][near], rel=0.01)


def test_weather_outside_the_permitted_range_is_said_in_the_cell(tester: FlaskClient, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop, temperature="38 C", pressure="835 hPa")
    text = read(tester.get(f"{base(shop)}/pull?session={session}")).text
    assert "outside 15 to 35" in text
    assert "do not publish under this standard" in text


def test_without_a_card_there_is_no_session(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    bare = coverage.open_application(
        db,
        shop.application.vehicle_id,
        factories.add_part(db, "Curlew manifold").id,
        shop.application.stock_revision_id,
    )
    db.commit()
    answer = tester.get(f"/applications/{bare.id}/pull/sessions/new")
    assert answer.status_code == 409
    assert "Write the test card first" in errors_of(answer)
