"""What the steps do beyond the browser's path: seals, judgements, staleness, gates, the sheet."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.demo import load
from longbreath.store.models import Claim, Prediction, Pull, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, press, read, send
from tests.steps.tools import base


@pytest.fixture
def pulled(db: UnitOfWork, shop: SimpleNamespace) -> SimpleNamespace:
    """The application with its ten pulls."""
    db.act_as(shop.people["tester"], shop.application.id)
    load._predict(db, shop.application, "more in the middle")
    load.pulled(db, shop.application, shop.card)
    db.commit()
    return shop


def test_the_first_pull_seals_the_prediction(db: UnitOfWork, pulled: SimpleNamespace, tester: FlaskClient) -> None:
    prediction = db.scalars(select(Prediction)).one()
    assert prediction.sealed_at is not None
    tester.post(f"{base(pulled)}/reckon/prediction", data={"expects": "I knew it"})
    later = db.scalars(select(Prediction).order_by(Prediction.id.desc())).first()
    assert later is not None
    assert later.after_test


def test_judging_a_pull_changes_the_verdict_and_keeps_the_earlier_judgement(
    db: UnitOfWork, pulled: SimpleNamespace, tester: FlaskClient
) -> None:
    before = db.scalars(select(Verdict)).one().evidence_key
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    assert pull is not None
    address = f"{base(pulled)}/pull/pulls/{pull.id}/judge"
    assert send(tester, address, {"counts": "no", "reason": ""}).status_code == 422
    assert send(tester, address, {"counts": "no", "reason": "tyre slip heard"}).status_code == 302
    db.expire_all()
    assert db.scalars(select(Verdict)).one().evidence_key != before
    assert [j.valid for j in pull.judgements] == [True, False]


def test_weigh_shows_figures_with_their_workings(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh?working=middle"))
    assert "A little more in the middle, a little less at the top." in page.h1.text
    assert "1 left out" in page.select_one(".conditions").text
    drawer = page.select_one("#drawer").get_text(" ", strip=True)
    assert "Verdict: gain" in drawer
    assert "gannet-01.csv" in drawer


def test_any_band_may_be_asked_about(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    asked = tester.get(f"{base(pulled)}/weigh?low=3500+rpm&high=4300+rpm")
    assert "Gain" in read(asked).select_one(".peaks").text
    wrong = tester.get(f"{base(pulled)}/weigh?low=4300&high=3500")
    assert wrong.status_code == 422
    assert "must end above where it begins" in errors_of(wrong)


def draft(client: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, **words: str) -> Claim:
    address = f"{base(shop)}/claim/draft"
    page = read(client.get(address))
    form = {name: page.select_one(f"#{name}").text.strip() for name in ("statement", "trade_off")}
    assert send(client, address, {**form, **words}).status_code == 302
    return db.scalars(select(Claim).order_by(Claim.id.desc())).first()  # type: ignore[return-value]


def state_approval(client: FlaskClient, shop: SimpleNamespace) -> None:
    version = read(client.get(f"{base(shop)}/claim")).select_one("#version")["value"]
    answer = client.post(
        f"{base(shop)}/claim/approval", data={"approval": "closed_course", "approval_note": "", "version": version}
    )
    assert answer.status_code == 302


def test_a_claim_goes_out_only_through_its_gates_and_a_second_person(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    drafter, second = log_in("approver"), log_in("admin")
    claim = draft(drafter, db, pulled, trade_off="It is louder.")
    here = f"{base(pulled)}/claim/{claim.id}"
    refused = press(drafter, db, claim, f"{here}/submit")
    assert refused.status_code == 409
    assert "trade-off disclosed, approval for road use stated" in errors_of(refused)
    assert second.get(f"/sheet/{claim.slug}").status_code == 404
    state_approval(drafter, pulled)
    claim = draft(drafter, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    assert press(second, db, claim, f"{here}/approve").status_code == 409
    assert press(drafter, db, claim, f"{here}/submit").status_code == 302
    own = press(drafter, db, claim, f"{here}/approve")
    assert own.status_code == 403
    assert "A second person must approve it" in errors_of(own)
    assert press(second, db, claim, f"{here}/approve").status_code == 302
    sheet = second.get(f"/sheet/{claim.slug}")
    assert sheet.status_code == 200
    assert "Closed course only" in sheet.get_data(as_text=True)
    assert len(read(sheet).select("details.working")) >= 8


def test_two_people_stating_approval_lose_nothing(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    old = read(tester.get(f"{base(pulled)}/claim")).select_one("#version")["value"]
    state_approval(tester, pulled)
    typed = {"approval": "approved", "approval_note": "EO-1234", "version": old}
    answer = tester.post(f"{base(pulled)}/claim/approval", data=typed)
    assert answer.status_code == 409
    assert "Somebody else saved this page" in errors_of(answer)
    assert read(answer).select_one("#approval_note")["value"] == "EO-1234"


def test_an_empty_prediction_is_answered_beside_the_field_and_the_answers_stay(
    tester: FlaskClient, shop: SimpleNamespace
) -> None:
    answer = tester.post(f"{base(shop)}/reckon/prediction", data={"expects": "  "})
    assert answer.status_code == 422
    assert "Say what you expect" in errors_of(answer)
    assert len(read(answer).select(".question")) == 4


def test_evidence_that_changes_makes_a_published_claim_stale(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    state_approval(tester, pulled)
    claim = draft(tester, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    press(tester, db, claim, f"{here}/submit")
    press(approver, db, claim, f"{here}/approve")
    frozen = read(approver.get(f"/sheet/{claim.slug}")).select_one("table").text
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    send(tester, f"{base(pulled)}/pull/pulls/{pull.id}/judge", {"counts": "no", "reason": "slip"})  # type: ignore[union-attr]
    assert "The evidence changed" in errors_of(tester.get(f"{base(pulled)}/claim"))
    assert "evidence changed" in tester.get("/").get_data(as_text=True)
    assert read(approver.get(f"/sheet/{claim.slug}")).select_one("table").text == frozen
    send(approver, f"{here}/withdraw", {"reason": "a pull slipped"})
    assert "withdrawn" in read(approver.get(f"/sheet/{claim.slug}")).select_one(".withdrawn").text


def test_words_written_on_earlier_evidence_must_be_read_again(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    state_approval(tester, pulled)
    claim = draft(tester, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    press(tester, db, claim, f"{here}/submit")
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    send(tester, f"{base(pulled)}/pull/pulls/{pull.id}/judge", {"counts": "no", "reason": "slip"})  # type: ignore[union-attr]
    refused = press(approver, db, claim, f"{here}/approve")
    assert refused.status_code == 409
    assert "words belong to the evidence" in errors_of(refused)
    press(approver, db, claim, f"{here}/return")
    words = {
        "statement": claim.statement,
        "trade_off": claim.trade_off,
        "version": read(tester.get(here)).select_one("#version")["value"],
    }
    assert tester.post(here, data=words).status_code == 302
    assert press(tester, db, claim, f"{here}/submit").status_code == 302
    assert press(approver, db, claim, f"{here}/approve").status_code == 302


def test_changing_the_weather_changes_the_corrected_figures(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    key = db.scalars(select(Verdict)).one().evidence_key
    page = tester.get(f"{base(pulled)}/pull")
    edit = read(page).select_one("a.after")["href"]
    form = {
        "held_on": "2026-05-14",
        "temperature": "30 C",
        "pressure": "990 hPa",
        "humidity": "60",
        "standard": "sae_j1349",
        "version": read(tester.get(edit)).select_one("#version")["value"],
    }
    assert tester.post(edit, data=form).status_code == 302
    db.expire_all()
    assert db.scalars(select(Verdict)).one().evidence_key != key


def test_excluded_readings_stay_in_the_record(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    trace = shop.traces["A"]
    data = {
        "lift": "2 mm",
        "range_id": shop.bench.ranges[1].id,
        "percent": "50",
        "direct_flow": "",
        "pressure": "25.4 inH2O",
    }
    tester.post(f"{base(shop)}/measure/traces/{trace.id}/desk", data=data)
    page = read(tester.get(f"{base(shop)}/measure"))
    assert "referred" in page.select_one(".ladder").text
    address = page.select_one(".ladder a.ghost")["href"]
    assert "Say why" in errors_of(send(tester, address, {"reason": " "}))
    send(tester, address, {"reason": "plug left out"})
    assert "No reading yet" in read(tester.get(f"{base(shop)}/measure")).select_one(".ladder").text
    db.expire_all()
    assert trace.readings[0].marks[0].reason == "plug left out"


def test_a_raw_file_comes_back_as_received(tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace) -> None:
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    assert pull is not None
    answer = tester.get(f"{base(pulled)}/pull/files/{pull.file_id}")
    assert answer.data == pull.file.content
    assert "attachment" in answer.headers["Content-Disposition"]
